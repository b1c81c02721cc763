"""Pictures that an SVG holds, and what is turned about an origin: where they stand in the drawing, sized as it says."""

import base64
import io
import time

import numpy as np
import pytest
import shapely
from PIL import Image, ImageDraw

from jontel.artwork.drawing import Drawing
from jontel.artwork.svg import read_svg, reader
from jontel.design import Area, CannotRead
from jontel.geometry.region import polygons_of, region_of
from tests.test_artwork import svg

RED, BLUE = (178, 48, 47), (24, 75, 86)
BLUE_BOX = '<rect x="20" width="5" height="5" fill="#184b56"/>'


def picture(wide: int = 240, high: int = 120, ground: tuple[int, int, int] = (255, 255, 255)) -> str:
    """White with a red block on the left and a blue disc on the right, as a link."""
    image = Image.new("RGB", (wide, high), ground)
    draw = ImageDraw.Draw(image)
    draw.rectangle((0.1 * wide, 0.2 * high, 0.4 * wide - 1, 0.8 * high - 1), fill=RED)
    draw.ellipse((0.6 * wide, 0.2 * high, 0.9 * wide - 1, 0.8 * high - 1), fill=BLUE)
    out = io.BytesIO()
    image.save(out, "PNG")
    return "data:image/png;base64," + base64.b64encode(out.getvalue()).decode()


def read(body: str) -> Drawing:
    return read_svg(svg(f'<rect x="90" y="90" width="5" height="5" fill="#000"/>{body}'), "it.svg")


def covered(drawing: Drawing, colour: tuple[int, int, int]) -> shapely.MultiPolygon:
    regions = [region_of(Area(one.path, one.rule)) for one in drawing.shapes if one.fill == colour]
    return polygons_of(shapely.union_all(regions))


@pytest.mark.parametrize(
    ("place", "box"),
    [
        ('x="10" y="20" width="60" height="30"', (16, 26, 34, 44)),
        ('x="10" y="20" width="60"', (16, 26, 34, 44)),
        ('x="10" y="20" width="60" height="60"', (16, 41, 34, 59)),
        ('x="10" y="20" width="60" height="60" preserveAspectRatio="xMidYMin"', (16, 26, 34, 44)),
        ('x="10" y="20" width="60" height="60" preserveAspectRatio="none"', (16, 32, 34, 68)),
        ('x="0" y="0" width="30" height="15" transform="translate(10 20) scale(2)"', (16, 26, 34, 44)),
        ('x="10" y="20" width="30" height="30" preserveAspectRatio="xMinYMid slice"', (16, 26, 34, 44)),
    ],
)
def test_a_picture_stands_where_the_drawing_says(place: str, box: tuple[float, ...]) -> None:
    drawing = read(f'<image {place} href="{picture()}"/>')
    assert covered(drawing, RED).bounds == pytest.approx(box, abs=0.6)
    assert any("1 × picture came in as its flat colours" in note for note in drawing.notes)
    assert not [one for one in drawing.shapes if one.fill == (255, 255, 255)], "a white ground is cloth"


def test_slices_clips_turns_and_opacity_are_kept() -> None:
    sliced = read(f'<image width="30" height="30" preserveAspectRatio="xMinYMid slice" href="{picture()}"/>')
    assert not covered(sliced, BLUE), "what is beyond the box is cut off"
    clip = '<clipPath id="c"><rect x="0" y="0" width="30" height="100"/></clipPath>'
    cut = read(f'{clip}<image width="80" height="40" clip-path="url(#c)" href="{picture()}"/>')
    assert covered(cut, RED).bounds[2] == pytest.approx(30, abs=0.05) and not covered(cut, BLUE)
    turned = read(f'<image width="80" height="40" transform="rotate(12 40 20)" href="{picture()}"/>')
    plain = read(f'<image width="80" height="40" href="{picture()}"/>')
    assert covered(turned, RED).area == pytest.approx(covered(plain, RED).area, rel=0.01)
    back = shapely.affinity.rotate(covered(turned, RED), -12, origin=(40, 20))
    assert back.symmetric_difference(covered(plain, RED)).area < 0.03 * back.area
    seen_through = read(f'<image width="80" height="40" opacity="0.5" href="{picture()}"/>')
    assert covered(seen_through, (216, 152, 151)).area > 0
    assert len(read(f'<image width="80" height="40" visibility="hidden" href="{picture()}"/>').shapes) == 1


@pytest.mark.parametrize(
    ("link", "words"),
    [
        ("photo.png", "picture in another file was left out"),
        ("", "picture without a file was left out"),
        ("data:image/png;base64,!!!!", "damaged picture was left out"),
        ("data:image/png;base64," + base64.b64encode(b"\x89PNG\r\n\x1a\nxxxx").decode(), "damaged picture"),
        ("data:image/png;base64,a", "damaged picture"),
        ("data:image/svg+xml,%3Csvg/%3E", "drawing within a picture was left out"),
        (picture()[:400], "damaged picture"),
    ],
)
def test_what_is_no_picture_is_told(link: str, words: str) -> None:
    drawing = read(f'<image width="50" height="50" href="{link}"/>')
    assert len(drawing.shapes) == 1 and any(words in note for note in drawing.notes)


def test_sizes_of_nothing_and_too_many_pictures() -> None:
    for size in ('width="0" height="5"', 'width="-3" height="5"'):
        assert len(read(f'<image {size} href="{picture()}"/>').shapes) == 1
    tiny = read(f'<image width="0.2" height="0.1" href="{picture()}"/>')
    assert any("too small or too large" in note for note in tiny.notes)
    many = read("".join(f'<image x="{k}" width="20" height="10" href="{picture(60, 30)}"/>' for k in range(15)))
    assert any("3 × picture beyond the 12th was left out" in note for note in many.notes)


def test_only_a_picture_is_a_drawing() -> None:
    drawing = read_svg(svg(f'<image width="100" height="50" href="{picture()}"/>'), "it.svg")
    assert {one.fill for one in drawing.shapes} == {RED, BLUE}


@pytest.mark.parametrize(
    ("said", "about"),
    [
        ("50px 40px", (50, 40)),
        ("50px", (50, 50)),
        ("center", (50, 50)),
        ("left top", (0, 0)),
        ("bottom right", (100, 100)),
        ("top", (50, 0)),
        ("25% 10%", (25, 10)),
        ("10mm 2cm", (10 * 96 / 25.4, 20 * 96 / 25.4)),
    ],
)
@pytest.mark.parametrize("move", ["rotate(40)", "scale(0.5 0.8)", "skewX(20) translate(3 4)"])
def test_a_transform_is_about_its_origin(said: str, about: tuple[float, float], move: str) -> None:
    box = '<rect x="20" y="30" width="30" height="10" fill="#b2302f"'
    x, y = about
    plain = read(f'{box} transform="translate({x} {y}) {move} translate({-x} {-y})"/>')
    for written in (
        f'transform="{move}" transform-origin="{said}"',
        f'transform="{move}" style="transform-origin: {said}"',
    ):
        assert covered(read(f"{box} {written}/>"), RED).symmetric_difference(covered(plain, RED)).area < 1e-3
    assert np.isfinite(covered(plain, RED).area)


OWN_BOXES = {
    "rect": ('<rect x="20" y="30" width="30" height="10" fill="#b2302f" {}/>', (20, 30, 50, 40), 0.0),
    "stroked": ('<rect x="20" y="30" width="30" height="10" fill="#b2302f" stroke="#b2302f" stroke-width="4" {}/>',
                (20, 30, 50, 40), 2.0),
    "group": ('<g {} fill="#b2302f"><circle cx="30" cy="30" r="9"/><path transform="rotate(45 40 50)" '
              'd="M36 46 H44 V54 H36 Z"/></g>', (21, 21, 40 + 32**0.5, 50 + 32**0.5), 0.0),
    "used": ('<defs><rect id="r" width="12" height="6" fill="#b2302f"/></defs><use href="#r" x="30" y="40" {}/>',
             (30, 40, 42, 46), 0.0),
}  # fmt: skip


@pytest.mark.parametrize(("kind", "share"), [("fill-box", 0.0), ("stroke-box", 1.0), ("content-box", 0.0)])
@pytest.mark.parametrize("said", ["", "center", "left bottom", "25% 10%", "3px 4px"])
@pytest.mark.parametrize("name", OWN_BOXES)
def test_a_transform_is_about_the_box_of_what_it_moves(name: str, said: str, kind: str, share: float) -> None:
    drawn, (left, top, right, bottom), half = OWN_BOXES[name]
    left, top, right, bottom = left - half * share, top - half * share, right + half * share, bottom + half * share
    wide, high = right - left, bottom - top
    x, y = {
        "": (0, 0), "center": (wide / 2, high / 2), "left bottom": (0, high), "25% 10%": (wide / 4, high / 10),
        "3px 4px": (3, 4),
    }[said]  # fmt: skip
    x, y = left + x, top + y
    plain = read(drawn.format(f'transform="translate({x} {y}) rotate(30) scale(0.7) translate({-x} {-y})"'))
    origin = f"transform-origin: {said};" if said else ""
    found = read(drawn.format(f'style="transform: rotate(30deg) scale(0.7); transform-box: {kind}; {origin}"'))
    assert covered(found, RED).symmetric_difference(covered(plain, RED)).area < 0.02
    assert covered(plain, RED).area > 5 and not found.notes


def test_what_uses_itself_has_a_box_all_the_same() -> None:
    looped = '<g id="a" style="transform: rotate(9deg); transform-box: fill-box">{}<use href="#a"/></g>'
    drawing = read(looped.format('<rect x="20" y="30" width="30" height="10" fill="#b2302f"/>'))
    assert covered(drawing, RED).area > 5


def test_groups_that_are_each_moved_about_their_own_box_are_read_soon() -> None:
    plain = deep = '<rect x="20" y="30" width="30" height="10" fill="#b2302f"/>'
    for _ in range(40):
        deep = f'<g style="transform: rotate(9deg); transform-box: fill-box; transform-origin: center">{deep}</g>'
    begun = time.perf_counter()
    drawing = read(deep)
    assert time.perf_counter() - begun < 10
    drawn = covered(drawing, RED)
    assert drawn.symmetric_difference(covered(read(plain), RED)).area < 0.05 * drawn.area


@pytest.mark.parametrize("many", [40, 900])
def test_a_long_chain_of_templates_leaves_the_rest_as_it_is(many: int) -> None:
    chain = "".join(f'<g id="t{k}"><use href="#t{k + 1}"/></g>' for k in range(many))
    drawing = read(f'<defs>{chain}<rect id="t{many}" width="3" height="3"/></defs><use href="#t0"/>{BLUE_BOX}')
    assert covered(drawing, BLUE).area > 0


def test_more_than_can_be_read_is_refused_where_it_is_met(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(reader, "MOST_ELEMENTS", 300)
    boxes = '<defs><g id="ten">' + '<rect width="3" height="3" fill="#b2302f"/>' * 10 + "</g></defs>"
    assert covered(read(boxes + '<use href="#ten"/>' * 20), RED).area > 0
    with pytest.raises(CannotRead, match="over 300 shapes"):
        read(boxes + '<use href="#ten"/>' * 30)


def test_templates_of_templates_without_end_are_refused_soon() -> None:
    made = '<defs><g id="t0"><rect width="3" height="3" fill="#b2302f"/></g>'
    for k in range(1, 12):
        made += f'<g id="t{k}">' + f'<use href="#t{k - 1}"/>' * 10 + "</g>"
    moved = "transform: rotate(9deg); transform-box: fill-box"
    begun = time.perf_counter()
    with pytest.raises(CannotRead):
        read(made + f'</defs><use href="#t11" style="{moved}"/>')
    assert time.perf_counter() - begun < 5
