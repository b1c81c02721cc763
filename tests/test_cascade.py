"""Style sheets of an SVG, square caps, dashes and what is seen through: as a browser shows them."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from jontel.artwork.drawing import RGB, Drawing
from jontel.artwork.svg import read_svg
from jontel.design import CannotRead
from jontel.geometry.polyline import flatten
from tests.test_artwork import svg

BOX = '<rect x="10" y="10" width="50" height="50"{}/>'
RED, GREEN, BLUE = (255, 0, 0), (0, 128, 0), (0, 0, 255)


def read(body: str) -> Drawing:
    """A drawing of 100 x 100 mm."""
    return read_svg(svg(body), "it.svg")


@pytest.mark.parametrize(
    ("sheet", "body", "fill"),
    [
        ("rect{fill:red}", BOX.format(' fill="blue"'), RED),
        ("rect{fill:red}", BOX.format(' style="fill:blue"'), BLUE),
        ("rect{fill:red !important}", BOX.format(' style="fill:blue"'), RED),
        ("rect{fill:red !important}", BOX.format(' style="fill:blue !important"'), BLUE),
        (".a{fill:green} rect{fill:red}", BOX.format(' class="a b"'), GREEN),
        ("#x{fill:red} .a{fill:green}", BOX.format(' id="x" class="a"'), RED),
        (".a{fill:red} .a{fill:green}", BOX.format(' class="a"'), GREEN),
        ("g .b rect{fill:green}", f'<g><g class="b">{BOX.format("")}</g></g>', GREEN),
        ("g>rect{fill:green}", f"<g>{BOX.format('')}</g>", GREEN),
        ("g>rect{fill:green} rect{fill:red}", f'<g><a href="#">{BOX.format("")}</a></g>', RED),
        ("rect[width='50']{fill:blue}", BOX.format(""), BLUE),
        ("rect:not(.z){fill:blue}", BOX.format(""), BLUE),
        (":root{--c:green} rect{fill:var(--c)}", BOX.format(""), GREEN),
        ("g{--c:green} rect{fill:var(--c)}", f"<g>{BOX.format('')}</g>", GREEN),
        ("rect{fill:var(--none, var(--neither, blue))}", BOX.format(""), BLUE),
        ("rect{fill:red} @media print{rect{fill:blue}} rect::before{fill:blue}", BOX.format(""), RED),
        ("rect{fill:red} nonsense[[{fill:blue}", BOX.format(""), RED),
    ],
)
def test_the_cascade(sheet: str, body: str, fill: RGB) -> None:
    (shape,) = read(f"<style>{sheet}</style>{body}").shapes
    assert shape.fill == fill


def test_variables_that_lead_in_a_circle_come_to_an_end() -> None:
    sheet = "<style>:root{--a:var(--b);--b:var(--a)} rect{fill:var(--a)}</style>"
    assert len(read(sheet + BOX.format("")).shapes) <= 1
    grows = "<style>:root{--a:var(--a) var(--a)} rect{fill:var(--a)}</style>"
    assert len(read(grows + BOX.format("")).shapes) <= 1


@pytest.mark.parametrize("path", ["M20 50H80", "M20 50C30 20 70 20 80 50", "M20 50L50 20L80 50"])
def test_square_caps_carry_a_line_on_by_half_its_width(path: str) -> None:
    def long(cap: str) -> tuple[float, float]:
        body = f'<path d="{path}" stroke="#000" stroke-width="10" stroke-linecap="{cap}" fill="none"/>'
        (shape,) = read(body).shapes
        (line,) = flatten(shape.path)
        return float(np.hypot(*np.diff(line.xy, axis=0).T).sum()), float(line.xy[0, 0])

    (plain, first), (square, before) = long("butt"), long("square")
    assert square == pytest.approx(plain + 10, abs=0.05) and before < first


def test_what_is_seen_through_has_the_colour_that_it_has_on_white() -> None:
    for attributes, fill in (
        (' fill="#000" fill-opacity="0.25"', (191, 191, 191)),
        (' fill="#f00" opacity="50%"', (255, 128, 128)),
        (' fill="#f00" fill-opacity="much"', (255, 0, 0)),
    ):
        (shape,) = read(BOX.format(attributes)).shapes
        assert shape.fill == fill
    assert any("seen through" in note for note in read(BOX.format(' fill-opacity="0.5"')).notes)
    assert not read(BOX.format(' fill-opacity="0"')).shapes


@given(st.text(st.characters(codec="utf-8", exclude_characters="\x00"), max_size=60))
def test_any_style_is_read_or_refused_in_a_sentence(sheet: str) -> None:
    body = f"<style><![CDATA[{sheet.replace(']]>', '')}]]></style>{BOX.format('')}"
    try:
        read(body)
    except CannotRead as refused:
        assert str(refused).endswith(".")
