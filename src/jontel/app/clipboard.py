"""The clipboard: objects as a working file, and as an SVG for other programs; settings; pictures from elsewhere."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

from PyQt6.QtCore import QByteArray, QMimeData
from PyQt6.QtGui import QGuiApplication

from jontel.app.session import Document
from jontel.design import Design
from jontel.design.edits import remove_objects
from jontel.design.errors import CannotDo, CannotRead, JontelError
from jontel.files import working
from jontel.shaping.clipping import TakeOver, put_in, svg_of, taken_out, taken_over
from jontel.shaping.operations import Operation

if TYPE_CHECKING:
    from jontel.app.window import MainWindow

OBJECTS, SVG = "application/x-jontel", "image/svg+xml"
MOST = 64_000_000
"""So many bytes are taken from a clipboard at most."""


def copy(document: Document) -> None:
    """Put the selection on the clipboard."""
    if document.selection:
        _put(document, taken_out(document.history.design, document.selection))


def cut(document: Document) -> None:
    """Put the selection on the clipboard and take it out of the design."""
    ids = document.selection
    if ids:
        copy(document)
        document.edit("Cut", remove_objects(document.history.design, ids))


def _put(document: Document, clip: Design) -> None:
    clipboard = QGuiApplication.clipboard()
    if clipboard is None:
        return
    try:
        data, drawn = working.encode(clip), svg_of(clip)
    except JontelError as error:
        document.troubled.emit(str(error))
        return
    mime = QMimeData()
    mime.setData(OBJECTS, QByteArray(data))
    mime.setData(SVG, QByteArray(drawn.encode()))
    mime.setText(drawn)
    clipboard.setMimeData(mime)


def _mime() -> QMimeData:
    clipboard = QGuiApplication.clipboard()
    return (clipboard.mimeData() if clipboard is not None else None) or QMimeData()


def clipped() -> Design:
    """The objects on the clipboard. Raises ``CannotRead`` where there are none, or what is there is damaged."""
    mime = _mime()
    if not mime.hasFormat(OBJECTS):
        raise CannotRead("The clipboard holds no objects of a design; copy some first.")
    data = mime.data(OBJECTS)
    if data.size() > MOST:
        raise CannotRead("The clipboard holds more than a design does; nothing was pasted.")
    return working.decode(bytes(data.data()), "The clipboard")


def paste(window: MainWindow, in_place: bool = False) -> None:
    """Put what the clipboard holds into the design in front: objects, or a drawing or picture from elsewhere."""
    mime = _mime()
    if not mime.hasFormat(OBJECTS):
        window.desk.add_pasted(mime)
        return
    if window.session.current is None:
        window.desk.new_design()
    document = window.session.current
    if document is None:
        return
    design = document.history.design
    at = None if in_place else window.canvas.paste_at()
    try:
        clipped_here = clipped()
    except JontelError as error:
        document.told.emit(str(error))
        return
    document.edit_aside("Paste", lambda: put_in(design, clipped_here, at))


def paste_settings(document: Document) -> None:
    """Show the selection with settings of the copied object; which ones is chosen before it is taken."""
    try:
        clip = clipped()
        if not clip.objects:
            raise CannotDo("The clipboard holds no object whose settings could be taken over.")
    except JontelError as error:
        document.told.emit(str(error))
        return
    source = clip.objects[0]
    does = partial(taken_over, source, clip.thread(source.thread))
    hint = f"Settings of “{source.name}”"
    document.shaping.begin(Operation("Take over settings", "Kind", hint, does, TakeOver))
