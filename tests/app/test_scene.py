"""The picture of the stitches: after an edit it is what it would be if everything were painted anew."""

import numpy as np
import pytest
from msgspec.structs import replace
from PyQt6.QtCore import QSize
from PyQt6.QtGui import QImage
from pytestqt.qtbot import QtBot

from jontel.app.cloth.camera import Camera
from jontel.app.cloth.scene import Painter, Wish
from jontel.app.planner import Sewn, sewn_of
from jontel.app.theme import LIGHT
from jontel.design import Area, Design, Fill, Line, Satin
from jontel.design.edits import (
    duplicate_objects,
    hidden_objects,
    pin,
    remove_objects,
    reorder,
    transform_objects,
    use_thread,
)
from jontel.sewing.estimate import clock
from jontel.stitching.stitches import Kind
from tests.conftest import design_of

SQUARE = "M{0} {1} L{2} {1} L{2} {3} L{0} {3} Z"


@pytest.fixture
def several(qtbot: QtBot) -> Design:
    """Areas that lie over each other, a line over two of them, and one far away."""
    assert qtbot is not None
    squares = [(0, 0, 14, 12), (8, 6, 24, 20), (-20, -18, -12, -10)]
    areas = [(Area(SQUARE.format(*ends)), Fill()) for ends in squares]
    return design_of(*areas, (Line("M-4 10 L26 14", width=3.0), Satin()))


def wished(sewn: Sewn, **others: object) -> Wish:
    known = {"camera": Camera(7.0, 240.0, 200.0), "playhead": None, "connections": False, "view": "cloth"}
    return Wish(sewn=sewn, design=sewn.design, size=QSize(520, 420), density=1.0, theme=LIGHT, **{**known, **others})  # type: ignore[arg-type]


def pixels(image: QImage) -> np.ndarray[tuple[int, int, int], np.dtype[np.uint8]]:
    room = image.constBits()
    assert room is not None
    return np.frombuffer(room.asarray(image.sizeInBytes()), np.uint8).reshape(image.height(), -1, 4).copy()


EDITS = {
    "spacing": lambda d: pin(d, {1}, "spacing", 0.55),
    "move": lambda d: transform_objects(d, {2}, (1, 0, 0, 1, -3.0, 1.5)),
    "move out of sight": lambda d: transform_objects(d, {3}, (1, 0, 0, 1, -900.0, 0.0)),
    "delete": lambda d: remove_objects(d, {2}),
    "add": lambda d: duplicate_objects(d, {1}),
    "thread": lambda d: use_thread(d, {1}, d.brief.threads[-1]),
    "order": lambda d: reorder(d, {1}, None),
    "hide": lambda d: hidden_objects(d, {4}),
    "nothing": lambda d: replace(d, name="another name"),
}


@pytest.mark.parametrize("name", EDITS)
def test_an_edit_paints_what_painting_anew_would(several: Design, name: str) -> None:
    painter = Painter()
    before = sewn_of(several)
    first = pixels(painter.paint(wished(before)).image)
    after = sewn_of(EDITS[name](several), before)
    seen = pixels(painter.paint(wished(after)).image)
    assert (seen == pixels(Painter().paint(wished(after)).image)).all()
    assert (seen == first).all() == (name == "nothing")


@pytest.mark.parametrize(
    "others",
    [
        {"camera": Camera(9.0, 200.0, 180.0)},
        {"playhead": 150},
        {"view": "thread"},
        {"view": "plan"},
        {"connections": True},
    ],
    ids=str,
)
def test_what_else_is_to_be_seen_is_painted_anew(several: Design, others: dict[str, object]) -> None:
    painter = Painter()
    before = sewn_of(several)
    after = sewn_of(pin(several, {1}, "spacing", 0.55), before)
    for sewn, one in ((before, {}), (after, others), (before, {}), (after, {})):
        seen = pixels(painter.paint(wished(sewn, **one)).image)
        assert (seen == pixels(Painter().paint(wished(sewn, **one)).image)).all()


def test_the_track_is_told_when_thread_is_cut(several: Design) -> None:
    first = sewn_of(several)
    for sewn in (first, sewn_of(remove_objects(several, {2}), first)):
        moments = clock(sewn.plan)[sewn.plan.kind == Kind.TRIM]
        assert len(moments) and sewn.trims == pytest.approx(moments)
