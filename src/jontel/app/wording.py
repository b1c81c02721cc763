"""Commands on words: taken apart, set along a line. They are worked out aside."""

from collections.abc import Callable

from jontel.app.session import Document
from jontel.design import Design
from jontel.design.edits import use_thread
from jontel.design.errors import JontelError
from jontel.design.monogram import Monogram
from jontel.lettering.apart import into_columns, into_letters, set_along, set_inside, taken_apart
from jontel.lettering.fonts import shipped_fonts
from jontel.lettering.monograms import with_monogram

Made = tuple[Design, frozenset[int]]


def break_into_letters(document: Document) -> None:
    """Make an object of each letter of the selected words."""
    _change(document, "Break into letters", lambda design, ids: taken_apart(design, ids, into_letters))


def break_into_columns(document: Document) -> None:
    """Make an object of each stroke of what is selected."""
    _change(document, "Break into columns", lambda design, ids: taken_apart(design, ids, into_columns))


def set_words_along(document: Document) -> None:
    """Set the selected words along the line that is selected with them."""
    _change(document, "Words along a line", lambda design, ids: (set_along(design, ids), ids))


def fit_words_inside(document: Document) -> None:
    """Fit the selected words into the area that is selected with them."""
    _change(document, "Words in a shape", lambda design, ids: (set_inside(design, ids), _words(design, ids)))


def _words(design: Design, ids: frozenset[int]) -> frozenset[int]:
    """Those of some objects that are words."""
    return frozenset(item.id for item in design.objects if item.id in ids and item.lettering is not None)


def new_monogram(document: Document) -> None:
    """A monogram in the middle of the hoop, to be changed in the panel."""
    whole, thread = Monogram("ABC", shipped_fonts()[0].name), document.thread_for_new()

    def with_one(design: Design, _ids: frozenset[int]) -> Made:
        made, ids = with_monogram(design, whole, thread.code)
        return use_thread(made, ids, thread), ids

    _change(document, "Monogram", with_one, needs_selection=False)


def _change(
    document: Document, label: str, change: Callable[[Design, frozenset[int]], Made], needs_selection: bool = True
) -> None:
    before, ids = document.history.design, document.selection
    if needs_selection and not ids:
        return

    def done(made: Made) -> None:
        design, chosen = made
        if document.history.design is not before:
            return
        if design is before:
            document.told.emit("Nothing of what is selected can be taken apart.")
            return
        document.edit(label, design)
        document.select(chosen)

    def refused(error: JontelError) -> None:
        document.told.emit(str(error))

    document.ask(lambda: change(before, ids), done, refused)
