"""Artwork in: what becomes of shapes and strokes, and what is said about the rest."""

import io

import numpy as np
import pytest
from PIL import Image, ImageDraw

from jontel.artwork.digitize import design_from, read_drawing, with_drawing
from jontel.artwork.drawing import Size
from jontel.artwork.svg import read_svg
from jontel.data import find_ground, find_hoop, thread_chart
from jontel.design import Area, CannotRead, Column, Design, Fill, Line, Run, Satin
from jontel.geometry.polyline import flatten
from jontel.geometry.region import region_of
from jontel.sewing.plan import plan


def svg(body: str, attributes: str = 'width="100mm" height="100mm" viewBox="0 0 100 100"') -> bytes:
    """A drawing of 100 x 100 mm."""
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" {attributes}>{body}</svg>'
    ).encode()


def digitized(data: bytes, size: Size = Size()) -> Design:
    """A new design on twill."""
    return design_from(data, "art.svg", find_ground("Woven"), find_hoop("130"), thread_chart(), size)


def bounds(design: Design, n: int = 0) -> tuple[float, ...]:
    """The bounds of an object's path."""
    shape = design.objects[n].shape
    path = shape.edge if isinstance(shape, Column) else shape.path
    xy = np.vstack([line.xy for line in flatten(path)])
    return tuple(float(v) for v in (*xy.min(axis=0), *xy.max(axis=0)))


def test_a_filled_shape_becomes_a_fill_in_the_nearest_thread() -> None:
    design = digitized(svg('<rect id="Sea_near" x="10" y="20" width="40" height="30" fill="#2f7f86"/>'))
    (item,) = design.objects
    assert isinstance(item.cover, Fill) and isinstance(item.shape, Area)
    assert item.name == "Sea near"
    assert design.thread(item.thread).name == "Near sea"
    assert bounds(design) == pytest.approx((-40, -30, 0, 0), abs=1e-3)
    assert [t.code for t in design.brief.threads] == [item.thread]


@pytest.mark.parametrize(
    ("body", "cover", "shape"),
    [
        ('<rect x="10" y="10" width="50" height="3"/>', Satin, Column),
        ('<path d="M10 50 A20 20 0 1 0 50 50 A20 20 0 1 0 10 50 Z M13 50 A17 17 0 1 1 47 50 A17 17 0 1 1 13 50 Z"/>', Satin, Column),
        ('<path fill="none" stroke="red" stroke-width="0.5" d="M0 0 L50 50"/>', Run, Line),
        ('<path fill="none" stroke="red" stroke-width="2.5" d="M0 0 L50 50"/>', Satin, Line),
        ('<circle cx="50" cy="50" r="20"/>', Fill, Area),
    ],
)  # fmt: skip
def test_the_cover_suits_the_shape(body: str, cover: type, shape: type) -> None:
    (item,) = digitized(svg(body)).objects
    assert isinstance(item.cover, cover) and isinstance(item.shape, shape)


def test_a_shape_with_fill_and_stroke_becomes_both_the_border_last() -> None:
    design = digitized(
        svg('<rect id="Plate" x="10" y="10" width="50" height="30" fill="red" stroke="#000" stroke-width="2"/>')
    )
    assert [(o.name, type(o.cover).__name__) for o in design.objects] == [
        ("Plate", "Fill"),
        ("Plate outline", "Satin"),
    ]


def test_unnamed_shapes_are_named_by_what_they_are_sewn_as() -> None:
    body = '<rect width="20" height="20"/><rect x="30" width="20" height="20"/><path fill="none" stroke="red" d="M0 60 L9 60" stroke-width="0.4"/>'
    assert [o.name for o in digitized(svg(body)).objects] == ["Fill 1", "Fill 2", "Run 1"]


def test_groups_transforms_and_use_are_followed() -> None:
    body = (
        '<defs><rect id="r" width="10" height="10"/></defs>'
        '<g transform="translate(20 0) scale(2)"><use xlink:href="#r" x="5" y="5" fill="#b2302f"/></g>'
    )
    design = digitized(svg(body))
    assert bounds(design) == pytest.approx((-20, -40, 0, -20), abs=1e-3)
    assert design.thread(design.objects[0].thread).name == "Signal red"


def test_a_scaled_stroke_is_as_wide_as_it_looks() -> None:
    design = digitized(
        svg('<g transform="scale(2)"><path fill="none" stroke="#000" stroke-width="1.5" d="M0 0 L40 0"/></g>')
    )
    shape = design.objects[0].shape
    assert isinstance(shape, Line) and shape.width == pytest.approx(3.0)


def test_css_classes_and_inherited_colours_count() -> None:
    body = '<style>.sea { fill: #184b56 } #x { fill: #eec45a }</style><g fill="#b2302f"><rect class="sea" width="20" height="20"/><rect id="x" x="30" width="20" height="20"/><rect x="60" width="20" height="20"/></g>'
    design = digitized(svg(body))
    assert [design.thread(o.thread).name for o in design.objects] == ["Deep sea", "Beam gold", "Signal red"]


def test_fill_rules_make_holes() -> None:
    two = "M0 0 H40 V40 H0 Z M10 10 H30 V30 H10 Z"
    odd, whole = (
        digitized(svg(f'<path fill-rule="{rule}" d="{two}"/>')).objects[0].shape for rule in ("evenodd", "nonzero")
    )
    assert isinstance(odd, Area) and isinstance(whole, Area)
    assert region_of(odd).area == pytest.approx(1200, rel=1e-3)
    assert region_of(whole).area == pytest.approx(1600, rel=1e-3)


@pytest.mark.parametrize(
    ("attributes", "width"),
    [
        ('width="50mm" height="50mm" viewBox="0 0 100 100"', 25.0),
        ('width="5cm" height="5cm" viewBox="0 0 50 50"', 50.0),
        ('width="96" height="96"', 50 * 25.4 / 96),
        ('width="2in" height="2in" viewBox="0 0 100 100"', 25.4),
        ('viewBox="0 0 100 100"', 50 * 25.4 / 96),
    ],
)
def test_units_and_view_boxes_give_the_true_size(attributes: str, width: float) -> None:
    design = digitized(svg('<rect width="50" height="50"/>', attributes))
    low_x, _, high_x, _ = bounds(design)
    assert high_x - low_x == pytest.approx(width, rel=1e-3)


@pytest.mark.parametrize(("size", "factor"), [(Size(width=50), 0.5), (Size(height=200), 2.0), (Size(), 1.0)])
def test_a_wanted_size_scales_everything(size: Size, factor: float) -> None:
    design = digitized(svg('<path fill="none" stroke="#000" stroke-width="2" d="M10 50 L90 50"/>'), size)
    shape = design.objects[0].shape
    assert isinstance(shape, Line) and shape.width == pytest.approx(2 * factor)
    assert design.artwork[0].width == pytest.approx(100 * factor)


@pytest.mark.parametrize("width", [0.0, -5.0, 1e9, float("nan")])
def test_a_senseless_size_is_refused(width: float) -> None:
    with pytest.raises(CannotRead, match="size"):
        digitized(svg('<rect width="20" height="20"/>'), Size(width=width))


def test_what_cannot_be_digitized_is_named_and_the_rest_comes_in() -> None:
    body = (
        '<defs><linearGradient id="g"><stop stop-color="#eec45a"/><stop offset="1" stop-color="#000"/></linearGradient>'
        '<filter id="f"><feGaussianBlur stdDeviation="2"/></filter></defs>'
        '<rect width="20" height="20" fill="url(#g)"/><rect x="30" width="20" height="20" filter="url(#f)"/>'
        '<text x="5" y="80">Words</text><image width="10" height="10" href="x.png"/><rect x="60" width="20" height="20"/>'
        '<circle cx="90" cy="90" r="0.1"/>'
    )
    design = digitized(svg(body))
    notes = " ".join(design.artwork[0].notes)
    for word in ("gradient", "filter", "text", "picture", "too small"):
        assert word in notes
    assert len(design.objects) == 4
    assert design.thread(design.objects[0].thread).name == "Old brass"  # its mean


def test_hidden_shapes_stay_out() -> None:
    body = '<rect width="20" height="20" display="none"/><rect width="20" height="20" visibility="hidden"/><rect width="20" height="20" opacity="0"/><rect width="20" height="20" fill="none"/><rect x="40" width="20" height="20"/>'
    assert len(digitized(svg(body)).objects) == 1


def test_internal_entities_of_drawing_programs_are_allowed() -> None:
    head = b'<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY ns "http://example.org/ns">]>'
    assert len(digitized(head + svg('<rect width="20" height="20"/>')).objects) == 1


BOMB = b'<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;&a;&a;">]><svg>&b;</svg>'
EXTERNAL = b'<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]><svg><text>&x;</text></svg>'
MANY = svg('<path d="M0 0 ' + "L1 1 L2 0 " * 100_100 + '"/>')
BAD_SVG = {
    "empty": b"",
    "blank": b"  \n",
    "text": b"this is no drawing",
    "another xml": b"<html><body/></html>",
    "cut short": svg('<rect width="20" height="20"/>')[:-20],
    "binary": bytes(range(256)),
    "bomb": BOMB,
    "external": EXTERNAL,
    "not a number": svg('<rect width="20" height="20"/>', 'width="NaN" height="NaN"'),
    "no size": svg('<rect width="20" height="20"/>', 'width="0" height="0" viewBox="0 0 0 0"'),
    "huge": svg('<rect width="20" height="20"/>', 'width="1e9mm" height="1e9mm"'),
    "200,000 nodes": MANY,
    "nothing to sew": svg("<g/>"),
    "only a picture": svg("<image width='9' height='9'/>"),
    "infinite": svg('<path d="M0 0 L1e400 5 L5 5 Z"/>'),
}


@pytest.mark.parametrize("name", BAD_SVG)
def test_bad_drawings_are_refused_in_one_sentence(name: str) -> None:
    with pytest.raises(CannotRead) as refused:
        digitized(BAD_SVG[name])
    words = str(refused.value)
    assert words.startswith("art.svg") and words.endswith(".") and "\n" not in words and len(words) < 200


def test_a_tangle_is_left_out_and_named_at_once() -> None:
    tangle = " ".join(f"L{(k * 37) % 97} {(k * 53) % 89}" for k in range(20_000))
    body = f'<path id="knot" d="M0 0 {tangle}"/><rect width="20" height="20"/>'
    design = digitized(svg(body))
    assert len(design.objects) == 1
    assert "crosses itself in thousands of places" in design.artwork[0].notes[0]


def test_deeply_nested_groups_are_read_or_refused() -> None:
    deep = svg("<g>" * 3000 + '<rect width="20" height="20"/>' + "</g>" * 3000)
    try:
        assert len(read_svg(deep, "deep.svg").shapes) == 1
    except CannotRead as refused:
        assert "nested" in str(refused)


def test_adding_a_drawing_keeps_what_is_there() -> None:
    first = digitized(svg('<rect width="20" height="20" fill="#b2302f"/>'))
    both = with_drawing(
        first, svg('<rect x="40" width="20" height="20" fill="#184b56"/>'), "more.svg", thread_chart()
    )
    assert both.objects[0] == first.objects[0]
    assert [o.id for o in both.objects] == [1, 2]
    assert [one.name for one in both.artwork] == ["art.svg", "more.svg"]
    assert len(both.brief.threads) == 2


def picture(kind: str = "PNG", size: tuple[int, int] = (200, 120)) -> bytes:
    """A red disc and a blue box on white."""
    image = Image.new("RGB", size, "white")
    draw = ImageDraw.Draw(image)
    draw.ellipse((20, 20, 100, 100), fill="#b2302f")
    draw.rectangle((120, 30, 180, 90), fill="#2d4a70")
    out = io.BytesIO()
    image.save(out, kind)
    return out.getvalue()


@pytest.mark.parametrize("kind", ["PNG", "BMP", "WEBP", "TIFF"])
def test_a_picture_is_traced_into_flat_shapes_and_white_is_cloth(kind: str) -> None:
    design = design_from(picture(kind), f"art.{kind}", find_ground("Woven"), find_hoop("130"), thread_chart())
    named = {design.thread(o.thread).name for o in design.objects}
    assert {"Signal red", "Evening blue"} <= named
    areas = sorted((region_of(o.shape).area for o in design.objects if isinstance(o.shape, Area)), reverse=True)
    assert areas[0] == pytest.approx(np.pi * 8**2, rel=0.05)
    assert areas[1] == pytest.approx(12.0 * 12.0, rel=0.06)
    assert not plan(design).failures


@pytest.mark.parametrize(
    "data", [b"\x89PNG\r\n\x1a\n", picture()[:300], b"BM" + b"\0" * 50, b"\xff\xd8\xff" + b"\0" * 9, b"RIFF0000WEBP"]
)
def test_damaged_pictures_are_refused(data: bytes) -> None:
    with pytest.raises(CannotRead, match=r"^art\.png"):
        read_drawing(data, "art.png")


def test_a_picture_of_one_colour_holds_nothing() -> None:
    out = io.BytesIO()
    Image.new("RGB", (50, 50), "white").save(out, "PNG")
    with pytest.raises(CannotRead, match="nothing"):
        design_from(out.getvalue(), "white.png", find_ground("Woven"), find_hoop("130"), thread_chart())


def test_a_picture_of_absurd_size_is_refused() -> None:
    out = io.BytesIO()
    Image.new("1", (9000, 9000)).save(out, "PNG")
    with pytest.raises(CannotRead, match="million pixels"):
        read_drawing(out.getvalue(), "huge.png")
