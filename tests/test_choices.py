"""What is chosen for the colours and the places of a picture: merged, left out, sewn as something else."""

import io

import numpy as np
import pytest
import shapely
from PIL import Image, ImageDraw

from jontel.artwork.choices import AS_READ, NOTHING_CHOSEN, Choices
from jontel.artwork.placing import digitized, placed
from jontel.data import thread_chart
from jontel.design import Area, CannotRead, Design, Fill, Line, Run, Satin
from jontel.geometry.region import Region, polygons_of, region_of
from jontel.shaping.digitizing import chosen, digitizing
from jontel.shaping.wishes import Digitizing, Sorted
from tests.conftest import design_of
from tests.test_artwork import svg

RED, BLUE, GOLD, CREAM = "#b2302f", "#184b56", "#eec45a", "#f4f1e8"
PLAIN = {"least": 0.0, "turned": False, "under": 0.0, "ordered": False, "undercut": False, "joined": False}


def painted() -> bytes:
    """Cream with a red square beside a blue one that touch, two gold discs, and a cream disc deep in the blue."""
    image = Image.new("RGB", (600, 400), CREAM)
    draw = ImageDraw.Draw(image)
    draw.rectangle((40, 100, 259, 299), fill=RED)
    draw.rectangle((260, 100, 459, 299), fill=BLUE)
    draw.ellipse((500, 40, 560, 100), fill=GOLD)
    draw.ellipse((500, 300, 560, 360), fill=GOLD)
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


DRAWN = (
    f'<rect x="10" y="20" width="30" height="30" fill="{RED}"/><rect x="40" y="20" width="30" height="30" '
    f'fill="{BLUE}"/><path d="M10 70 L70 70" stroke="{GOLD}" stroke-width="2" fill="none"/>'
)


def with_picture(data: bytes, name: str = "it.png") -> Design:
    return placed(design_of(), data, name)


def cloth_of(design: Design, colour_of: dict[int, str]) -> dict[str, Region]:
    """The cloth that the objects of each colour cover."""
    found: dict[str, Region] = {}
    for item in design.objects:
        assert isinstance(item.shape, Area)
        colour = colour_of[item.id]
        found[colour] = polygons_of(region_of(item.shape).union(found.get(colour, Region())))
    return found


def sewn(design: Design, choices: Choices) -> dict[str, Region]:
    found = digitized(design, 0, thread_chart(), choices=choices)
    return cloth_of(found.design, found.colour_of)


@pytest.mark.parametrize("data", [painted(), svg(DRAWN)], ids=["picture", "drawing"])
def test_all_colours_of_a_picture_are_told_even_those_that_are_not_sewn(data: bytes) -> None:
    design = with_picture(data, "it.png" if data[:1] != b"<" else "it.svg")
    first = digitized(design, 0, thread_chart())
    told = dict(first.colours)
    assert {(178, 48, 47), (24, 75, 86), (238, 196, 90)} <= set(told)
    assert [rgb for rgb, cloth in first.colours if cloth] == ([(244, 241, 232)] if data[:1] != b"<" else [])
    without = digitized(design, 0, thread_chart(), choices=NOTHING_CHOSEN.with_colour(RED, "left out"))
    assert without.colours == first.colours
    assert set(without.colour_of.values()) == set(first.colour_of.values()) - {RED}


def test_a_colour_that_is_left_out_leaves_bare_cloth_that_no_other_reaches_under() -> None:
    design = with_picture(painted())
    whole, less = sewn(design, NOTHING_CHOSEN), sewn(design, NOTHING_CHOSEN.with_colour(BLUE, "left out"))
    assert set(less) == {RED, GOLD}
    square = less[RED]
    assert square.area < whole[RED].area - 1.0  # it does not reach under what is not there
    assert square.symmetric_difference(square.envelope).area < 0.01 * square.area
    assert less[GOLD].symmetric_difference(whole[GOLD]).area < 1e-6


def test_colours_that_are_one_are_one_region_without_a_seam() -> None:
    design = with_picture(painted())
    one = sewn(design, NOTHING_CHOSEN.with_colour(RED, BLUE))
    assert set(one) == {BLUE, GOLD} and len(one[BLUE].geoms) == 1
    box = one[BLUE].envelope
    assert one[BLUE].symmetric_difference(box).area < 0.01 * box.area
    assert box.bounds[2] - box.bounds[0] == pytest.approx(2.1 * (box.bounds[3] - box.bounds[1]), rel=0.01)


def test_merging_follows_chains_and_stays_out_of_circles() -> None:
    chain = Choices(colours=((RED, BLUE), (BLUE, GOLD)))
    assert chain.merged == {RED: GOLD, BLUE: GOLD}
    circle = Choices(colours=((RED, BLUE), (BLUE, RED)))
    assert set(circle.merged.values()) & {RED, BLUE}
    assert sewn(with_picture(painted()), circle)  # it ends
    assert chain.with_colour(RED, AS_READ).colours == ((BLUE, GOLD),)


def test_cloth_is_sewn_where_that_is_chosen() -> None:
    design = with_picture(painted())
    assert CREAM not in sewn(design, NOTHING_CHOSEN)
    cream = sewn(design, NOTHING_CHOSEN.with_colour(CREAM, "fill"))[CREAM]
    one = design.artwork[0]
    assert cream.area > 0.6 * one.width * one.height


def test_all_left_out_is_said() -> None:
    choices = NOTHING_CHOSEN
    for colour in (RED, BLUE, GOLD):
        choices = choices.with_colour(colour, "left out")
    for data, name in ((painted(), "it.png"), (svg(DRAWN), "it.svg")):
        with pytest.raises(CannotRead, match="left out"):
            digitized(with_picture(data, name), 0, thread_chart(), choices=choices)


def test_kinds_are_chosen_by_colour() -> None:
    design = with_picture(svg(DRAWN), "it.svg")
    choices = NOTHING_CHOSEN.with_colour(RED, "outline").with_colour(BLUE, "satin").with_colour(GOLD, "fill")
    found = digitized(design, 0, thread_chart(), choices=choices)
    made, colour_of = chosen(found, choices, design.artwork[0])
    kinds = {colour_of[item.id]: (type(item.shape), type(item.cover)) for item in made.objects}
    assert kinds[RED] == (Line, Run) and kinds[GOLD] == (Area, Fill) and kinds[BLUE][1] is Satin


def test_what_lies_at_a_place_is_chosen_singly() -> None:
    design = with_picture(painted())
    at = NOTHING_CHOSEN.with_place(530 / 600, 70 / 400, "outline")
    found = digitized(design, 0, thread_chart(), choices=at)
    made, colour_of = chosen(found, at, design.artwork[0])
    gold = [item for item in made.objects if colour_of[item.id] == GOLD]
    assert sorted(type(item.cover).__name__ for item in gold) == ["Fill", "Run"]
    less = at.with_place(530 / 600, 70 / 400, "left out").with_place(160 / 600, 200 / 400, "left out")
    made, colour_of = chosen(found, less, design.artwork[0])
    assert sorted(colour_of.values()) == sorted([BLUE, GOLD])
    (disc,) = (region_of(item.shape) for item in made.objects if colour_of[item.id] == GOLD)  # type: ignore[arg-type]
    one = design.artwork[0]
    assert disc.centroid.distance(shapely.Point(one.x + one.width * 530 / 600, one.y + one.height * 330 / 400)) < 0.3


def test_a_choice_where_nothing_lies_changes_nothing() -> None:
    design = with_picture(painted())
    found = digitized(design, 0, thread_chart())
    nothing = Choices(places=((0.01, 0.01, "left out"), (5.0, -3.0, "satin")))
    assert chosen(found, nothing, design.artwork[0]) == (found.design, found.colour_of)


def test_a_proposal_tells_what_each_colour_comes_to() -> None:
    design = with_picture(painted())
    values = Digitizing(choices=NOTHING_CHOSEN.with_colour(GOLD, "left out").with_colour(RED, BLUE))
    made = digitizing(0, thread_chart()).work(design, frozenset(), values, None)
    assert isinstance(made, Sorted) and made.after is not None
    rows = {one.colour: one for one in made.colours}
    assert set(rows) == {RED, BLUE, GOLD, CREAM} and rows[CREAM].cloth
    assert (rows[GOLD].choice, rows[GOLD].objects, rows[GOLD].stitches) == ("left out", 0, 0)
    assert rows[RED].objects == 0 and rows[BLUE].objects == 1
    assert rows[BLUE].stitches == made.after.stitches
    assert 0 < rows[BLUE].seconds <= made.after.seconds
    everywhere = Digitizing(choices=Choices(places=((160 / 600, 0.5, "left out"), (360 / 600, 0.5, "left out"))))
    kept = digitizing(0, thread_chart()).work(design, frozenset(), everywhere, None)
    assert isinstance(kept, Sorted) and {one.colour for one in kept.colours if one.objects} == {GOLD}
    all_out = Choices(
        places=tuple((x, y, "left out") for x, y in ((0.27, 0.5), (0.6, 0.5), (0.883, 0.17), (0.883, 0.82)))
    )
    with pytest.raises(CannotRead, match="left out"):
        digitizing(0, thread_chart()).work(design, frozenset(), Digitizing(choices=all_out), None)


def test_outlines_of_one_colour_stay_as_they_were() -> None:
    """Half a pixel of antialiasing between two merged colours makes no notch where a third meets both."""
    image = Image.fromarray(np.kron(np.array([[0, 1], [2, 2]]), np.ones((150, 150), int)).astype(np.uint8), "P")
    image.putpalette([178, 48, 47, 24, 75, 86, 238, 196, 90])
    turned = image.convert("RGB").rotate(11, Image.Resampling.BICUBIC, fillcolor=(244, 241, 232))
    out = io.BytesIO()
    turned.save(out, "PNG")
    merged = sewn(with_picture(out.getvalue()), NOTHING_CHOSEN.with_colour(RED, BLUE))
    assert all(one.area / one.convex_hull.area > 0.97 for one in merged.values())
