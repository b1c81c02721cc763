"""What was met on the way and mended: each told by what a digitizer saw of it."""

import math
import random
import time

import numpy as np
import pytest
import shapely
from msgspec.structs import replace

from jontel.artwork.digitize import design_from, with_drawing
from jontel.artwork.svg import read_svg
from jontel.data import find_ground, find_hoop, thread_chart
from jontel.design import Area, Bare, CannotRead, Cover, Design, Fill, Line, Run, Satin, Shape, resolve
from jontel.design.design import MOST_ARTWORK, MOST_OBJECTS
from jontel.design.edits import pin, set_ground, transform_objects
from jontel.design.machine import MachineProfile
from jontel.design.paths import ellipse_path
from jontel.design.resolve import keep_values
from jontel.files import working
from jontel.geometry.polyline import flatten
from jontel.geometry.region import region_of
from jontel.sewing.estimate import totals
from jontel.sewing.plan import SewPlan, plan
from jontel.sewing.proof import proof
from jontel.sewing.resize import sewn_size, to_size
from tests.conftest import SHAPES, box_path, design_of, ring_path, star_path


def svg(body: str, size: int = 100) -> bytes:
    """A drawing of so many mm."""
    head = f'<svg xmlns="http://www.w3.org/2000/svg" width="{size}mm" height="{size}mm" viewBox="0 0 {size} {size}">'
    return f"{head}{body}</svg>".encode()


def made(body: str) -> Design:
    """What a drawing becomes."""
    return design_from(svg(body), "it.svg", find_ground("Woven"), find_hoop("130"), thread_chart())


TURNS = {
    "rotate(30 50 50)": lambda x, y: (
        50 + (x - 50) * math.cos(math.pi / 6) - (y - 50) * 0.5,
        50 + (x - 50) * 0.5 + (y - 50) * math.cos(math.pi / 6),
    ),
    "skewX(20)": lambda x, y: (x + y * math.tan(math.radians(20)), y),
    "translate(100 0) scale(-1 1)": lambda x, y: (100 - x, y),
    "matrix(0.5 0.2 -0.4 0.8 40 10)": lambda x, y: (0.5 * x - 0.4 * y + 40, 0.2 * x + 0.8 * y + 10),
}


@pytest.mark.parametrize("turn", TURNS)
@pytest.mark.parametrize("kind", ["rect", "circle", "ellipse"])
def test_turned_skewed_and_mirrored_svg_shapes_stay_where_they_are(turn: str, kind: str) -> None:
    shape = {
        "rect": '<rect x="40" y="30" width="20" height="10"',
        "circle": '<circle cx="50" cy="35" r="8"',
        "ellipse": '<ellipse cx="50" cy="35" rx="10" ry="5"',
    }[kind]
    (drawn,) = read_svg(svg(f'{shape} transform="{turn}"/>'), "it.svg").shapes
    if kind == "rect":
        outline = [(40.0, 30.0), (60.0, 30.0), (60.0, 40.0), (40.0, 40.0)]
    else:
        rx, ry = (8.0, 8.0) if kind == "circle" else (10.0, 5.0)
        outline = [
            (50 + rx * math.cos(t), 35 + ry * math.sin(t)) for t in np.linspace(0, 2 * math.pi, 200, endpoint=False)
        ]
    ought = shapely.Polygon([TURNS[turn](x, y) for x, y in outline])
    found = shapely.Polygon(flatten(drawn.path)[0].xy)
    assert found.symmetric_difference(ought).area < 0.01 * ought.area


def test_the_width_of_a_turned_stroke_follows_its_transform() -> None:
    (drawn,) = read_svg(
        svg(
            '<rect x="9" y="9" width="9" height="9" fill="none" stroke="#000" transform="translate(40) rotate(30) scale(3)"/>'
        ),
        "x",
    ).shapes
    assert drawn.stroke_width == pytest.approx(3.0, abs=0.01)


def test_the_dots_of_line_icons_are_sewn() -> None:
    found = made(
        '<path d="M20 20 L20 60" stroke="#224" stroke-width="6" stroke-linecap="round"/>'
        '<path d="M20 75 L20 75.01" stroke="#224" stroke-width="6" stroke-linecap="round"/>'
        '<path d="M60 60 L60.4 60" stroke="#224" stroke-width="0.9" stroke-linecap="round"/>'
    )
    stroke, dot, speck = found.objects
    assert isinstance(stroke.shape, Line) and isinstance(dot.shape, Area) and isinstance(dot.cover, Fill)
    assert region_of(dot.shape).area == pytest.approx(math.pi * 9, rel=0.01)
    assert isinstance(speck.shape, Area)
    assert not plan(found).failures[1:]


def test_a_union_loses_no_area() -> None:
    """Rings that nearly touch themselves: the area of the faces is the area of the whole."""
    for seed in range(40):
        chance = np.random.default_rng(seed)
        turns = np.linspace(0, 2 * math.pi, 400, endpoint=False)
        radius = 15 + 1e-5 * chance.normal(size=400).cumsum()
        outer = "M" + " L".join(
            f"{r * math.cos(t):.7f} {r * math.sin(t):.7f}" for r, t in zip(radius, turns, strict=True)
        )
        inner = "M" + " L".join(
            f"{(r - 1e-6 * k) * math.cos(t):.7f} {(r - 1e-6 * k) * math.sin(t):.7f}"
            for k, (r, t) in enumerate(zip(radius, turns, strict=True))
        )
        assert region_of(Area(f"{outer} Z {inner} Z")).area == pytest.approx(math.pi * 225, rel=0.01)


def test_many_small_triangles_are_digitized_in_moments() -> None:
    chance = np.random.default_rng(1)
    spots = chance.uniform(5, 95, (600, 2))
    body = "".join(f'<path fill="#246" d="M{x} {y} l3 0.4 l-2.2 1.1 Z"/>' for x, y in spots.round(2).tolist())
    start = time.perf_counter()
    found = made(body)
    assert time.perf_counter() - start < 18 and len(found.objects) == 600
    assert not plan(replace(found, objects=found.objects[::40])).failures


@pytest.mark.parametrize("axis", [0, 1])
@pytest.mark.parametrize("shape", ["disc", "star", "crescent", "islands"])
@pytest.mark.parametrize("wanted", [11.0, 77.3])
def test_a_typed_size_is_the_size_that_is_sewn(axis: int, shape: str, wanted: float) -> None:
    design = design_of((Area(SHAPES[shape]), Fill(angle=20.0)), (Line("M-9 0 L9 0", 3.0), Satin()), ground="Pique")
    assert sewn_size(to_size(design, axis, wanted))[axis] == pytest.approx(wanted, abs=0.3)


def random_pile(seed: int) -> Design:
    """Discs, boxes, bars and runs on one another."""
    chance = random.Random(seed)
    items: list[tuple[object, object]] = []
    for _ in range(chance.randrange(3, 9)):
        x, y, r = chance.uniform(-9, 9), chance.uniform(-9, 9), chance.uniform(2, 16)
        items.append(
            chance.choice(
                [
                    (Area(ring_path(r, x, y)), Fill()),
                    (Area(box_path(x, y, r, r)), Fill()),
                    (Line(f"M{x} {y} L{x + r} {y + 2}", 2.0), Satin()),
                    (Line(f"M{x} {y} L{x + r} {y + 2}"), Run()),
                    (Area(star_path(r, r / 2)), Fill()),
                ]
            )
        )
    return design_of(*items)  # type: ignore[arg-type]


@pytest.mark.parametrize("seed", range(12))
def test_mending_what_is_buried_comes_to_an_end(seed: int) -> None:
    for choice in (0, -1):
        design, rounds = random_pile(seed), 0
        while True:
            found = [one for one in proof(design, plan(design)) if one.kind == "buried"]
            if not found:
                break
            assert all(one.fixes and one.fixes[0].label for one in found)
            design, rounds = found[0].fixes[choice].edit(design), rounds + 1
            assert rounds <= 20


def test_what_is_hidden_can_be_cut_away_and_the_rest_stays() -> None:
    design = design_of((Area(box_path(0, 0, 20, 20)), Fill()), (Area(box_path(-5, -5, 23.6, 40)), Fill(angle=45.0)))
    (finding,) = [one for one in proof(design, plan(design)) if one.kind == "buried"]
    cut = next(one for one in finding.fixes if one.label.startswith("Cut away"))
    left = cut.edit(design)
    (before,), (after,) = (region_of(one.objects[0].shape).geoms for one in (design, left))  # type: ignore[arg-type]
    assert after.bounds[2] == pytest.approx(20.0) and after.bounds[0] == pytest.approx(18.6 + 0.2 - 0.8, abs=0.3)
    assert after.area < 0.2 * before.area


def test_only_what_comes_leaves_what_is_there_as_it_was() -> None:
    design = design_of(
        (Area(box_path(0, 0, 20, 20)), Fill(spacing=0.55)),
        (Line("M0 30 L20 30", 3.0), Satin()),
        (Line("M0 40 L9 40"), Run()),
    )
    moved = set_ground(keep_values(design), find_ground("Jersey"))
    for old, new in zip(design.objects, moved.objects, strict=True):
        before, after = resolve(old, design.brief.ground), resolve(new, moved.brief.ground)
        assert before.cover == after.cover and before.edges == after.edges
    assert np.array_equal(plan(design).xy, plan(moved).xy)


def test_the_machine_of_the_brief_decides_trims_hops_and_time() -> None:
    design = design_of((Area(box_path(-40, 0, 9, 9)), Fill(), "1001"), (Area(box_path(-26, 0, 9, 9)), Fill(), "1001"))
    design = transform_objects(design, {2}, (1, 0, 0, 1, 0, 0))

    def on(machine: MachineProfile) -> Design:
        return replace(design, brief=replace(design.brief, machine=machine))

    assert totals(plan(on(MachineProfile(trim_over=2.0)))).trims == 2
    assert totals(plan(on(MachineProfile(trim_over=30.0)))).trims == 1
    slow, fast = (totals(plan(on(MachineProfile(speed=v)))).seconds for v in (400.0, 800.0))
    assert slow > 1.9 * fast - 20
    hops = plan(on(MachineProfile(longest_move=4.0)))
    size = np.hypot(*np.diff(hops.xy, axis=0).T)[hops.kind[1:] == 1]
    assert size.max() <= 4.0 + 1e-9
    long = pin(design, {1}, "length", 6.0)
    found = [one.kind for one in proof(long, plan(replace(long, brief=on(MachineProfile(longest_move=4.0)).brief)))]
    assert "long stitch" not in found


def test_an_ellipse_of_four_arcs_is_one() -> None:
    xy = flatten(ellipse_path(3.0, -2.0, 10.0, 4.0))[0].xy - (3.0, -2.0)
    assert np.abs((xy[:, 0] / 10) ** 2 + (xy[:, 1] / 4) ** 2 - 1).max() < 2e-3


@pytest.mark.parametrize(
    ("shape", "cover"),
    [
        (Area(box_path(-9000, -9000, 18000, 18000)), Fill(spacing=0.1)),
        (Area(box_path(-9000, -9000, 18000, 18000)), Bare()),
        (Line("M-9000 0 " + "L9000 0 L-9000 5 " * 20, 3.0), Satin(spacing=0.1)),
        (Line("M-9000 0 " + "L9000 0 L-9000 5 " * 50), Run(length=0.3)),
    ],
)
def test_what_no_machine_could_sew_is_refused_at_once(shape: Shape, cover: Cover) -> None:
    start = time.perf_counter()
    sewn = plan(design_of((shape, cover)))
    assert "million stitches" in sewn.failures[0].sentence and time.perf_counter() - start < 5


def test_limits_are_told_where_a_thing_is_made() -> None:
    body = '<rect x="5" y="5" width="20" height="20"/>'
    design = made(body)
    full = replace(design, artwork=design.artwork * MOST_ARTWORK)
    with pytest.raises(CannotRead, match="at most"):
        with_drawing(full, svg(body), "more.svg", thread_chart())
    crowded = replace(design, objects=design.objects * MOST_OBJECTS)
    with pytest.raises(CannotRead, match="20,000"):
        with_drawing(crowded, svg(body), "more.svg", thread_chart())
    wide = made('<path d="M0 50 L100 50" stroke="#224" stroke-width="140"/>')
    assert isinstance(wide.objects[0].shape, Line) and wide.objects[0].shape.width == 100.0
    assert "stroke came in 100 mm wide" in " ".join(wide.artwork[0].notes)
    assert working.decode(working.encode(wide), "it") == wide


def test_no_mend_buries_what_is_to_be_seen() -> None:
    """A dot lies on the end of a bar that the upper box leaves free: the bar sewn after would hide it."""
    bar, dot = Area(box_path(0, 0, 40, 4)), Area(box_path(38.2, 1, 1.4, 2))
    upper = Area(box_path(0, -20, 37.4, 44))
    (finding,) = [
        one
        for one in proof(*pair(design_of((bar, Fill()), (dot, Fill(angle=90.0)), (upper, Fill(angle=45.0)))))
        if one.kind == "buried"
    ]
    assert finding.objects[0] == 1 and not any(fix.label.startswith("Sew") for fix in finding.fixes)
    (finding,) = [
        one for one in proof(*pair(design_of((bar, Fill()), (upper, Fill(angle=45.0))))) if one.kind == "buried"
    ]
    assert finding.fixes[0].label.startswith("Sew")


def pair(design: Design) -> tuple[Design, SewPlan]:
    """A design and its plan."""
    return design, plan(design)


def test_a_pinned_underlay_counts_more_than_the_grounds() -> None:
    leather = find_ground("Leather")
    design = design_of((Line("M0 0 L20 0", 5.0), Satin()), ground="Leather")
    assert resolve(design.objects[0], leather).underlay == leather.column_underlay
    own = replace(design.objects[0], underlay=())
    assert resolve(own, leather).underlay == ()
