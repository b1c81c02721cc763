"""From a picture to a design in one step: rows by the shapes, edges that reach under, fewer changes, nothing lost."""

import numpy as np
import pytest
import shapely
from bench.logos import logo
from click.testing import CliRunner
from msgspec.structs import replace

from jontel.artwork.choices import FADED, Choices
from jontel.artwork.digitize import design_from
from jontel.artwork.drawing import Size
from jontel.artwork.placing import placed
from jontel.cli import cli
from jontel.data import find_ground, find_hoop, thread_chart
from jontel.design import Area, Brief, CannotRead, Design, Fill, Satin
from jontel.design.edits import change_objects
from jontel.design.thread import nearest_thread
from jontel.files.formats import open_design
from jontel.geometry.region import region_of
from jontel.sewing.figures import figures
from jontel.sewing.plan import plan
from jontel.sewing.proof import proof
from jontel.shaping.digitizing import digitizing, ready, told
from jontel.shaping.wishes import PLAIN, Digitizing, Sorted
from jontel.stitching.measure import coverage, thread_lines
from jontel.stitching.stitches import Layer, Stitches
from tests.drawings import random_drawing
from tests.test_artwork import svg

NOTHING = Digitizing(least=0, turned=False, under=0, ordered=False, undercut=False, joined=False)


def raw(body: str, width: float = 100) -> Design:
    """What a drawing comes in as."""
    return design_from(
        svg(body), "art.svg", find_ground("Woven twill"), find_hoop("130 x 180"), thread_chart(), Size(width=width)
    )


def made(design: Design, values: Digitizing) -> Design:
    """The same made ready."""
    return ready(design, {item.id for item in design.objects}, values)


def angles(design: Design) -> list[float | None]:
    """How the rows of its fills lie."""
    return [item.cover.angle for item in design.objects if isinstance(item.cover, Fill)]


def apart(one: float, other: float) -> float:
    """How many degrees two ways lie apart."""
    return abs((one - other + 90) % 180 - 90)


def test_without_any_wish_a_drawing_stays_as_it_came_in() -> None:
    design = raw('<rect width="50" height="50" fill="#b2302f"/><rect x="50" width="50" height="50" fill="#184b56"/>')
    assert made(design, NOTHING) == design


def test_rows_follow_shapes_and_lie_apart_from_neighbours() -> None:
    blocks = "".join(
        f'<rect x="{20 * k}" y="{20 * n}" width="20" height="20" fill="{"#b2302f" if (k + n) % 2 else "#184b56"}"/>'
        for k in range(4)
        for n in range(4)
    )
    design = made(raw(blocks), Digitizing(under=0, ordered=False, undercut=False, joined=False))
    found = [(region_of(item.shape), item.cover.angle) for item in design.objects if isinstance(item.cover, Fill)]  # type: ignore[arg-type]
    for k, (one, angle) in enumerate(found):
        for other, other_angle in found[:k]:
            if one.distance(other) < 0.1 and one.boundary.intersection(other.boundary).length > 5:
                assert angle is not None and other_angle is not None and apart(angle, other_angle) >= 25
    for turn in (0, 30, 70):
        bar = made(
            raw(f'<rect x="20" y="44" width="60" height="11" fill="#b2302f" transform="rotate({turn} 50 50)"/>'),
            PLAIN,
        )
        (angle,) = angles(bar) or [90.0 - turn]
        assert (angle is not None and apart(angle, 90 - turn) < 1) or isinstance(bar.objects[0].cover, Satin)


def test_the_lower_of_two_that_touch_reaches_under_the_upper() -> None:
    halves = '<rect width="50" height="60" fill="#b2302f"/><rect x="50" width="50" height="60" fill="#184b56"/>'
    lower, upper = made(raw(halves), Digitizing(ordered=False)).objects
    assert isinstance(lower.shape, Area) and isinstance(upper.shape, Area)
    shared = region_of(lower.shape) & region_of(upper.shape)
    assert shared.area == pytest.approx(0.5 * 60, rel=0.05)
    again = made(raw(halves + '<rect x="20" y="20" width="9" height="9" fill="#eec45a"/>'), Digitizing(ordered=False))
    assert region_of(again.objects[0].shape).area == pytest.approx(50 * 60 + 30, rel=0.02)  # type: ignore[arg-type]


def test_what_reaches_under_already_stays() -> None:
    stacked = '<circle cx="50" cy="50" r="40" fill="#b2302f"/><circle cx="50" cy="50" r="20" fill="#184b56"/>'
    design = raw(stacked)
    assert made(design, Digitizing(turned=False, undercut=False, ordered=False)) == design


def test_what_is_hidden_for_good_is_left_out_and_what_shows_a_little_stays() -> None:
    body = (
        '<rect width="100" height="100" fill="#184b56"/>'
        '<circle cx="30" cy="30" r="8" fill="#d08a10"/>'  # hidden by the square
        '<rect x="60" y="20" width="3" height="30" fill="#d08a10"/>'  # reaches out of it
        '<rect x="10" y="10" width="55" height="30" fill="#b2302f"/>'
        '<circle cx="40" cy="20" r="5" fill="#f2e8d5"/>'
    )
    design = raw(body)
    kept = made(design, Digitizing(ordered=False, joined=False))
    assert len(design.objects) == 5 and [item.id for item in kept.objects] == [1, 3, 4, 5]
    whole = made(design, Digitizing(ordered=False, joined=False, undercut=False))
    assert len(whole.objects) == 5
    see_through = change_objects(design, {4}, lambda item: replace(item, cover=Fill(spacing=1.6)))
    assert len(made(see_through, Digitizing(ordered=False, joined=False)).objects) == 5


def test_details_that_are_too_small_are_left_out() -> None:
    body = '<rect width="40" height="40"/><circle cx="70" cy="70" r="0.9"/><circle cx="70" cy="20" r="2"/>'
    counts = [len(made(raw(body), Digitizing(least=least)).objects) for least in (0.0, 3.0, 8.0)]
    assert counts == [3, 2, 1]
    with pytest.raises(CannotRead, match="smaller than"):
        made(raw('<circle cx="70" cy="20" r="2"/>'), Digitizing(least=20))


def test_logos_made_ready_cost_no_more_and_cover_as_much() -> None:
    trims = np.zeros(2, dtype=np.int64)
    for seed in range(6):
        data = logo(seed, 300).png()
        design = design_from(
            data, "logo.png", find_ground("Woven twill"), find_hoop("130 x 180"), thread_chart(), Size(width=70)
        )
        best = made(design, PLAIN)
        before, after = figures(plan(design)), figures(plan(best))
        trims += before.trims, after.trims
        assert after.changes <= before.changes and after.trims <= before.trims + 1
        assert after.stitches < 1.06 * before.stitches + 20
        assert not plan(best).failures
        whole, then = (
            shapely.unary_union([region_of(item.shape) for item in one.objects if isinstance(item.shape, Area)])
            for one in (design, best)
        )
        assert whole.difference(then).area < 0.002 * whole.area + 1
    assert trims[1] <= trims[0] - 2


@pytest.mark.parametrize("seed", range(8))
def test_any_drawing_is_made_ready(seed: int) -> None:
    design = design_from(
        random_drawing(seed).encode(), "x.svg", find_ground("Pique knit"), find_hoop("130 x 180"), thread_chart()
    )
    best = made(design, PLAIN)
    assert not plan(best).failures or plan(design).failures
    assert figures(plan(best)).changes <= figures(plan(design)).changes


def test_a_picture_that_lies_there_is_seen_before_it_is_taken() -> None:
    empty = Design(name="x", brief=Brief(find_ground("Woven twill"), find_hoop("130 x 180"), ()))
    lying = placed(empty, logo(3, 300).png(), "logo.png")
    proposal = digitizing(0, thread_chart())
    every = proposal.work(lying, frozenset(), Digitizing(), None)
    one = proposal.work(lying, frozenset(), Digitizing(colours=1), None)
    assert every.after is not None and every.before.stitches == 0 < every.after.stitches
    threads = [len({item.thread for item in made.design.objects}) for made in (every, one)]
    assert threads[1] == 1 < threads[0]
    assert every.said == told(every.design, {item.id for item in every.design.objects}) and "object" in every.said
    assert every.design.artwork[0].data == lying.artwork[0].data


def test_on_the_command_line(tmp_path) -> None:  # type: ignore[no-untyped-def]
    art = tmp_path / "halves.svg"
    art.write_bytes(svg('<rect width="50" height="60" fill="#b2302f"/><rect x="50" width="50" height="60"/>'))
    found = {}
    for name, more in (("ready", ()), ("drawn", ("--as-drawn",))):
        out = tmp_path / f"{name}.jontel"
        done = CliRunner().invoke(cli, ["digitize", str(art), "-o", str(out), *more])
        assert done.exit_code == 0, done.output
        found[name] = open_design(out)
    assert found["drawn"].objects[0].shape != found["ready"].objects[0].shape
    assert np.ptp([a for a in angles(found["ready"]) if a is not None]) > 20
    assert CliRunner().invoke(cli, ["digitize", str(art), "-o", "x.csv", "--colours", "99"]).exit_code == 2


GRADIENTS = {
    "right": ('x2="1"', "", 0.0),
    "down": ('x1="0" y1="0" x2="0" y2="100%"', "", -90.0),
    "askew in a long box": ('x2="1" y2="1"', "", -63.4),  # square to lines of one colour, as it is seen
    "in places of its own": ('x1="0" y1="50" x2="0" y2="10" gradientUnits="userSpaceOnUse"', "", 90.0),
    "turned": ('x2="1" gradientTransform="rotate(90)"', "", -90.0),
    "moved with its shape": ('x2="1"', 'transform="rotate(90 40 30)"', -90.0),
    "mirrored": ('x2="1"', 'transform="translate(100 0) scale(-1 1)"', 180.0),
}


def shaded(name: str, more: str = "") -> str:
    """A drawing of a box that runs from red to blue."""
    said, moved, _ = GRADIENTS[name]
    stops = '<stop stop-color="#b2302f"/><stop offset="1" stop-color="#184b56"/>'
    return (
        f'<linearGradient id="s">{stops}</linearGradient><linearGradient id="g" href="#s" {said}/>'
        f'<rect x="20" y="20" width="40" height="20" {moved} fill="url(#g)"/>{more}'
    )


@pytest.mark.parametrize("name", GRADIENTS)
def test_a_gradient_is_sewn_as_two_threads_that_fade_where_that_is_wanted(name: str) -> None:
    chart, ground = thread_chart(), find_ground("Woven twill")
    empty = Design(name="x", brief=Brief(ground, find_hoop("130 x 180"), ()))
    design = placed(empty, svg(shaded(name)), "art.svg")
    step = digitizing(0, chart)
    once = step.work(design, frozenset(), PLAIN, None)
    assert isinstance(once, Sorted)
    (colour,) = once.colours
    assert colour.shaded and len(once.design.objects) == 1
    wanted = replace(PLAIN, choices=Choices().with_colour(colour.colour, FADED))
    found = step.work(design, frozenset(), wanted, None)
    below, above = found.design.objects
    assert [nearest_thread(rgb, chart).code for rgb in ((178, 48, 47), (24, 75, 86))] == [below.thread, above.thread]
    sewn = plan(found.design)
    assert not [one for one in proof(found.design, sewn) if one.severity == "spoils"]
    upper = (sewn.object == above.id) & (sewn.layer == Layer.COVER)
    angle = np.radians(GRADIENTS[name][2])
    region = region_of(below.shape)
    far = sewn.xy[upper] @ np.array([np.cos(angle), -np.sin(angle)])
    middle = np.array(region.centroid.coords[0]) @ np.array([np.cos(angle), -np.sin(angle)])
    assert (far > middle).sum() > 1.8 * (far < middle).sum() > 0  # thick where the last colour is
    lower = Stitches(sewn.xy, sewn.kind, sewn.layer)
    lines = thread_lines(lower)[(sewn.object[1:] == below.id)[(sewn.kind[1:] == 0) & (sewn.kind[:-1] == 0)]]
    assert coverage(lines, region) > 0.97


def test_only_a_plain_gradient_of_two_colours_can_fade() -> None:
    chart = thread_chart()
    empty = Design(name="x", brief=Brief(find_ground("Woven twill"), find_hoop("130 x 180"), ()))
    ring = shaded("right").replace('linearGradient id="g"', 'radialGradient id="g"')
    one = shaded("right").replace("#b2302f", "#184b56")
    plain = '<rect width="40" height="20" fill="#b2302f"/>'
    torn = [shaded("turned").replace("rotate(90)", said) for said in ("rotate(", "matrix(1 2)", "x", "scale()")]
    for body in (ring, one, plain):
        found = digitizing(0, chart).work(placed(empty, svg(body), "art.svg"), frozenset(), PLAIN, None)
        assert isinstance(found, Sorted) and not any(colour.shaded for colour in found.colours)
    for body in torn:
        found = digitizing(0, chart).work(placed(empty, svg(body), "art.svg"), frozenset(), PLAIN, None)
        assert len(found.design.objects) == 1
