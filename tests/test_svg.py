"""An SVG comes in as a renderer that follows the standard paints it; what has no stitches is told, nothing hangs."""

import time

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPainterPath, QPen
from resvg_py import svg_to_bytes

from jontel.artwork.digitize import design_from
from jontel.artwork.drawing import Drawing, Drawn
from jontel.artwork.svg import read_svg
from jontel.data import find_ground, find_hoop, thread_chart
from jontel.design import Area, CannotRead, Fill
from jontel.design.paths import commands
from jontel.geometry.polyline import flatten
from jontel.geometry.region import region_of
from jontel.sewing.plan import plan
from tests.drawings import ARROW, BOX, DISC, FEATURES, HEAD, LINE, SMALL, random_drawing

SIZE = 300
pytestmark = pytest.mark.usefixtures("qapp")


def whole(body: str) -> bytes:
    """A drawing of 100 x 100 mm."""
    return f"{HEAD}{body}</svg>".encode()


def read(body: str) -> Drawing:
    """What comes in."""
    return read_svg(whole(body), "it.svg")


def pixels(image: QImage) -> NDArray[np.int64]:
    """The colours of an image, (high, wide, 3)."""
    flat = image.convertToFormat(QImage.Format.Format_RGB888)
    held = flat.constBits()
    assert held is not None
    rows = np.frombuffer(held.asstring(flat.sizeInBytes()), np.uint8).reshape(flat.height(), -1)
    return rows[:, : 3 * flat.width()].reshape(flat.height(), flat.width(), 3).astype(np.int64)


def as_read(drawing: Drawing) -> NDArray[np.int64]:
    """What came in, painted."""
    image = QImage(SIZE, SIZE, QImage.Format.Format_RGB32)
    image.fill(QColor("white"))
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.scale(SIZE / drawing.width, SIZE / drawing.height)
    for one in drawing.shapes:
        path = _path(one)
        if one.fill is not None:
            painter.fillPath(path, QColor(*one.fill))
        if one.stroke is not None:
            cap = Qt.PenCapStyle.RoundCap if one.ends == "round" else Qt.PenCapStyle.FlatCap
            corner = Qt.PenJoinStyle.MiterJoin
            painter.setPen(QPen(QColor(*one.stroke), one.stroke_width, Qt.PenStyle.SolidLine, cap, corner))
            painter.drawPath(path)
    painter.end()
    return pixels(image)


def _path(one: Drawn) -> QPainterPath:
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.OddEvenFill if one.rule == "evenodd" else Qt.FillRule.WindingFill)
    for letter, n in commands(one.path):
        {"M": path.moveTo, "L": path.lineTo, "C": path.cubicTo, "Q": path.quadTo, "Z": path.closeSubpath}[letter](*n)
    return path


def as_painted(data: bytes) -> NDArray[np.int64]:
    """What a renderer makes of it."""
    png = svg_to_bytes(svg_string=data.decode(), width=SIZE, background="#ffffff", skip_system_fonts=True, dpi=96.0)
    return pixels(QImage.fromData(bytes(png)))


def alike(data: bytes) -> float:
    """How many of the pixels are the same."""
    apart = np.abs(as_read(read_svg(data, "it.svg")) - as_painted(data)).max(axis=2)
    return float(np.mean(apart < 48))


@pytest.mark.parametrize("feature", FEATURES)
def test_what_comes_in_is_what_is_painted(feature: str) -> None:
    data = whole(FEATURES[feature])
    assert alike(data) > 0.985
    assert np.abs(255 - as_read(read_svg(data, "it.svg"))).max() > 40  # something is there


@given(st.integers(0, 100_000))
@settings(max_examples=60, deadline=None)
def test_any_drawing_comes_in_as_it_is_painted(seed: int) -> None:
    assert alike(random_drawing(seed).encode()) > 0.97


def test_strokes_stay_as_wide_on_the_page_where_they_say_so() -> None:
    body = '<g transform="scale(3)"><path d="M5 5H25" stroke="#000" stroke-width="12" vector-effect="{}"/></g>'
    (fixed,), (scaled,) = (read(body.format(word)).shapes for word in ("non-scaling-stroke", "none"))
    assert fixed.stroke_width == pytest.approx(12 * 25.4 / 96) and scaled.stroke_width == pytest.approx(36)


def test_a_clipped_stroke_stays_a_line_where_it_loses_nothing() -> None:
    clip = '<clipPath id="c"><rect width="{}" height="100"/></clipPath><path d="M10 50H80" fill="none" stroke="red" clip-path="url(#c)"/>'
    (kept,), (cut,) = (read(clip.format(wide)).shapes for wide in (90, 40))
    assert kept.stroke is not None and kept.fill is None
    assert cut.fill == (255, 0, 0) and region_of(Area(cut.path)).bounds[2] == pytest.approx(40, abs=0.01)


def test_what_is_clipped_round_keeps_few_nodes() -> None:
    (cut,) = read(f'<clipPath id="c">{DISC}/></clipPath>{BOX} clip-path="url(#c)"/>').shapes
    assert len([letter for letter, _ in commands(cut.path) if letter != "Z"]) < 14
    assert region_of(Area(cut.path)).area == pytest.approx(628.3, rel=0.002)  # half a disc


@pytest.mark.parametrize(
    ("paint", "colour"),
    [
        ('<linearGradient id="g"><stop stop-color="black"/><stop offset="1" stop-color="white"/></linearGradient>', 128),
        ('<linearGradient id="g"><stop offset=".9" stop-color="black"/><stop offset="1" stop-color="white"/>'
         "</linearGradient>", 13),
        ('<radialGradient id="a"><stop stop-color="#404040"/></radialGradient><linearGradient id="g" href="#a"/>', 64),
        ('<pattern id="g" width="10" height="10"><rect width="5" height="10"/><rect x="5" width="5" height="10" '
         'fill="white"/></pattern>', 128),
        ('<linearGradient id="g"><stop stop-color="black" stop-opacity=".5"/></linearGradient>', 128),
    ],
)  # fmt: skip
def test_gradients_and_patterns_come_in_as_their_mean_with_a_word(paint: str, colour: int) -> None:
    drawing = read(f'{paint}{DISC} fill="url(#g)"/>')
    (shape,) = drawing.shapes
    assert shape.fill == pytest.approx((colour,) * 3, abs=2)
    assert any("gradient or pattern" in note for note in drawing.notes)


def test_words_on_a_path_run_along_it() -> None:
    drawing = read(
        '<path id="p" d="M10 60 A40 40 0 0 1 90 60" fill="none"/>'
        '<text font-size="8"><textPath href="#p">Pellan Point</textPath></text>'
    )
    (words,) = [one.words for one in drawing.shapes if one.words is not None]
    assert words.course == "along a line" and words.text == "Pellan Point"
    data = whole('<path id="p" d="M10 60 A40 40 0 0 1 90 60" fill="none"/>'
                 '<text font-size="8"><textPath href="#p">Pellan Point</textPath></text>')  # fmt: skip
    made = design_from(data, "it.svg", find_ground("Woven twill"), find_hoop("100 x 100"), thread_chart())
    (item,) = made.objects
    assert isinstance(item.shape, Area)
    left, top, right, bottom = region_of(item.shape).bounds
    assert right - left > 20 and bottom - top > 20  # bent, not on a level line 8 mm high
    middle = np.array([0.0, 10.0])  # of the arc, with the drawing in the hoop's middle
    feet = region_of(item.shape).boundary
    assert 38 < np.hypot(*(np.array(feet.geoms[0].coords[0]) - middle)) < 50


def test_no_feature_is_sewn_that_is_not_seen() -> None:
    hidden = "".join(f'<{tag} id="{tag}">{BOX}/></{tag}>' for tag in ("symbol", "mask", "clipPath", "marker", "defs"))
    assert len(read(hidden + f"{DISC}/>").shapes) == 1


def test_what_comes_in_sews() -> None:
    for feature in ("clip of a group", "mask", "markers", "dashes", "uneven stroke"):
        made = design_from(
            whole(FEATURES[feature]), "it.svg", find_ground("Woven twill"), find_hoop("100 x 100"), thread_chart()
        )
        assert not plan(made).failures
        assert feature in ("dashes", "markers") or any(isinstance(item.cover, Fill) for item in made.objects)


def test_dashes_come_in_as_dashes() -> None:
    (shape,) = read(f'{LINE} stroke-width="2" stroke-dasharray="10 5"/>').shapes
    long = [float(np.hypot(*np.diff(one.xy, axis=0).T).sum()) for one in flatten(shape.path)]
    assert len(long) == 7 and max(long) == pytest.approx(10, abs=0.02)
    (fine,) = read(f'{LINE} stroke-width="2" stroke-dasharray="0.001 0.001"/>').shapes
    assert len(flatten(fine.path)) == 1


HOSTILE = {
    "uses itself": '<g id="a"><use href="#a"/></g>',
    "uses in a ring": '<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g>',
    "templates of templates": "".join(f'<g id="g{k}">' + f'<use href="#g{k + 1}"/>' * 9 + "</g>" for k in range(14))
    + f'<g id="g14">{BOX}/></g>',
    "clips itself": f'<clipPath id="c" clip-path="url(#c)">{DISC}/></clipPath>{BOX} clip-path="url(#c)"/>',
    "masks itself": f'<mask id="m">{DISC} mask="url(#m)" fill="white"/></mask>{BOX} mask="url(#m)"/>',
    "marks itself": f'<marker id="m" {SMALL}><path d="M0 0L5 5" marker-end="url(#m)"/></marker><path d="M0 0L9 9" '
    'stroke="red" marker-end="url(#m)"/>',
    "pattern of itself": f'<pattern id="p">{DISC} fill="url(#p)"/></pattern>{BOX.replace("red", "url(#p)")}/>',
    "gradient of itself": f'<linearGradient id="g" href="#g"/>{BOX.replace("red", "url(#g)")}/>',
    "arrows": f'<marker id="m" {SMALL}>{ARROW}<polyline points="{"1,1 90,90 " * 3000}" marker-mid="url(#m)"/>',
    "flat": f'<g transform="scale(0 1)">{BOX} stroke="blue"/></g>',
    "damaged transform": f'<g transform="rotate(">{BOX}/></g>',
    "no numbers": '<rect x="a" y="NaN" width="inf" height="-3"/><circle r="1e999"/><polygon points="1,2 x,y"/>',
    "half a path": '<path d="M10 10 L20 20 30 C"/>',
    "no move": '<path d="L20 20 30 30"/>',
}


@pytest.mark.parametrize("name", HOSTILE)
def test_what_is_hostile_is_read_or_refused_soon(name: str) -> None:
    began = time.monotonic()
    try:
        read(HOSTILE[name] + f"{DISC}/>")
    except CannotRead as refused:
        assert str(refused).endswith(".") and "\n" not in str(refused)
    assert time.monotonic() - began < 20


PIECES = st.sampled_from(
    [*FEATURES.values(), '<g transform="', "</g>", 'd="M', "<", "&", '="', "e9", "-", *list(HOSTILE.values())[-6:]]
)


@given(st.lists(PIECES, min_size=1, max_size=4), st.integers(0, 400), st.integers(0, 60))
@settings(max_examples=60, deadline=None)
def test_any_drawing_is_read_or_refused_in_a_sentence(parts: list[str], at: int, gone: int) -> None:
    body = "".join(parts)
    body = body[:at] + body[at + gone :]
    try:
        drawing = read(body)
    except CannotRead as refused:
        assert str(refused).endswith(".")
    else:
        assert drawing.width == pytest.approx(100)


def test_what_is_seen_through_is_sewn_in_the_colours_that_are_seen() -> None:
    below = '<rect width="50" height="100" fill="#ff8000"/>'
    over = '<circle cx="50" cy="50" r="30" fill="white" opacity=".5"/>'
    _, *parts = read(below + over).shapes
    left, right = sorted(parts, key=lambda one: region_of(Area(one.path)).bounds[0])
    assert [left.fill, right.fill] == [pytest.approx((255, 192, 128), abs=1), (255, 255, 255)]
    halves = [region_of(Area(one.path)) for one in (left, right)]
    assert [one.area for one in halves] == pytest.approx([450 * np.pi] * 2, rel=0.002)
    assert halves[0].bounds[2] == pytest.approx(50, abs=0.01) and halves[1].bounds[0] == pytest.approx(50, abs=0.01)
    (whole_one,) = read(over.replace("white", "black")).shapes
    assert whole_one.fill == (128, 128, 128), "on the cloth as on white"


def test_a_line_that_is_seen_through_stays_one_line() -> None:
    _, line = read(
        '<rect width="50" height="100"/><path d="M10 50H90"  stroke="red" stroke-width="4" opacity=".5"/>'
    ).shapes
    assert line.stroke == pytest.approx((191, 64, 64), abs=1) and line.stroke_width == pytest.approx(4)


def test_thousands_of_shapes_that_are_seen_through_come_in_in_seconds() -> None:
    many = "".join(
        f'<circle cx="{k % 60 + 20}" cy="{k // 60 + 5}" r="6" fill="navy" opacity=".1"/>' for k in range(4000)
    )
    begun = time.perf_counter()
    drawing = read(many)
    assert time.perf_counter() - begun < 30
    assert len(drawing.shapes) >= 1500
    assert any("as on white: too much lies under it" in note for note in drawing.notes)
