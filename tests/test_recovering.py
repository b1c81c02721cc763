"""Stitch files come back as objects: the right kinds, where they lay, with the values that they were sewn with."""

from collections.abc import Iterator
from pathlib import Path

import numpy as np
import pytest
import shapely
from bench import zoo
from click.testing import CliRunner
from hypothesis import given, settings
from hypothesis import strategies as st

from jontel.cli import cli
from jontel.data import find_ground, find_hoop, thread_chart
from jontel.demo import crest, name_bar
from jontel.design import Area, CannotRead, Column, Cover, Design, Fill, Line, Run, Satin, Shape, resolve
from jontel.design.edits import add_objects, use_thread
from jontel.design.kinds.edge_run import EdgeRun
from jontel.design.kinds.lattice import Lattice
from jontel.design.kinds.parallel import Parallel
from jontel.design.kinds.zigzag import Zigzag
from jontel.design.lettering import Lettering
from jontel.files import gcode, stitchlist
from jontel.files.formats import open_design
from jontel.geometry.polyline import flatten
from jontel.lettering.setting import words_object
from jontel.machine.head import Movement
from jontel.recovering.recover import recovered
from jontel.sewing.plan import SewPlan, plan
from jontel.stitching.engine import sewn_edge
from jontel.stitching.measure import coverage
from jontel.stitching.stitches import Kind, Layer
from tests.conftest import box_path, ring_path, star_path
from tests.test_forecast import design_on

RIGHT = 0.95


def words() -> Design:
    """Letters on a plate, in threads of their own."""
    plate = design_on("Woven twill", (Area(box_path(-30, -15, 60, 30)), Fill(angle=0, pattern="brick")))
    made = add_objects(plate, [words_object(Lettering("Nell & Crew", "IBM Plex Sans SemiBold", 9.0), "1001")])
    return use_thread(made, {made.objects[-1].id}, thread_chart()[4])


def on(ground: str, *objects: tuple[Shape, Cover]) -> Design:
    """Objects on a ground."""
    return design_on(ground, *objects)


ODD = {
    "dense": lambda: on("Denim", (Area(zoo.blob(3, 16, 2)), Fill(angle=30, spacing=0.3, length=4.5))),
    "open": lambda: on("Woven twill", (Area(zoo.gear()), Fill(angle=70, spacing=0.7, length=3.0))),
    "two on jersey": lambda: on("Jersey T-shirt", (Area(ring_path(16)), Fill(angle=15)), (Area(star_path()), Fill(angle=80))),
    "lines": lambda: on(
        "Pique knit",
        (Line("M-30 0 C-10 -30 10 30 30 0", 4.0), Satin()),
        (Line("M-30 20 L30 22", 9.0), Satin(spacing=0.45)),
        (Line("M-30 -25 L0 -20 L30 -28", 1.4), Satin()),
    ),
    "columns": lambda: on(
        "Fleece",
        (Column("M-20 -10 C-10 -25 10 -25 20 -10", "M-16 4 C-8 -8 8 -8 16 4"), Satin(spacing=0.5)),
        (Line("M-25 20 C-5 10 5 30 25 20", 3.0, start="pointed", end="round"), Satin()),
    ),
    "runs": lambda: on(
        "Woven twill",
        (Line("M-30 0 C-10 -30 10 30 30 0"), Run(length=2.0)),
        (Area(star_path()), Run(style="triple", length=2.5)),
        (Line("M-30 20 L30 22"), Run(repeats=2)),
    ),
    "turning": lambda: on(
        "Woven twill",
        (Area(box_path(-20, -15, 40, 30), lines=(((-18, -10), (-10, -2)), ((10, 0), (18, -10)))), Fill()),
    ),
    "words": words,
    "crest": crest,
    "name bar": name_bar,
}  # fmt: skip


def again(design: Design, sewn: SewPlan, as_list: bool = False) -> Design:
    """A design by way of a stitch file."""
    write, read = (stitchlist.write, stitchlist.read) if as_list else (gcode.write, gcode.read)
    moves = read(write(sewn, design), "it")
    return recovered(moves, "it.ngc", design.brief.ground, design.brief.hoop, thread_chart())


def covers(sewn: SewPlan) -> Iterator[tuple[object, np.ndarray]]:
    """Every object with the needle points of its cover."""
    for piece in sewn.pieces:
        item = next(entry.item for entry in sewn.entries if entry.item.id == piece.owner)
        yield item, piece.xy[(piece.layer == Layer.COVER) & (piece.kind == Kind.STITCH)]


def cloth_of(item: object, ground: object) -> shapely.Geometry:
    """What an object takes in: what it covers, or the line it runs along."""
    if isinstance(item.cover, Run):  # type: ignore[attr-defined]
        return shapely.unary_union([shapely.LineString(one.loop()) for one in flatten(item.shape.path)])  # type: ignore[attr-defined]
    return sewn_edge(resolve(item, ground))  # type: ignore[arg-type]


def covered(sewn: SewPlan, cloth: shapely.Geometry) -> float:
    """How much of a cloth covers take in."""
    lines = []
    for piece in sewn.pieces:
        rows = (piece.layer[1:] == Layer.COVER) & (piece.kind[1:] == Kind.STITCH) & (piece.kind[:-1] == Kind.STITCH)
        k = np.flatnonzero(rows) + 1
        lines.append(np.stack([piece.xy[k - 1], piece.xy[k]], axis=1))
    return coverage(np.concatenate(lines), cloth)


@pytest.mark.parametrize("name", ODD)
def test_stitches_come_back_in_objects_of_their_kind(name: str) -> None:
    design = ODD[name]()
    sewn = plan(design)
    found = again(design, sewn)
    ground = found.brief.ground
    there = [(type(item.cover), item.thread, cloth_of(item, ground)) for item in found.objects]
    right = total = 0
    for item, points in covers(sewn):
        kind, thread = type(item.cover), item.thread  # type: ignore[attr-defined]
        like = [cloth for one, in_thread, cloth in there if one is kind and in_thread == thread]
        near = shapely.dwithin(shapely.unary_union(like), shapely.points(points), 0.35) if like else np.zeros(1)
        right, total = right + int(near.sum()), total + len(points)
    assert right > RIGHT * total
    resewn = plan(found)
    assert not resewn.failures
    cloth = [cloth_of(item, design.ground_for(item)) for item in design.objects if not isinstance(item.cover, Run)]
    if cloth:
        whole = shapely.unary_union(cloth)
        assert covered(resewn, whole) > covered(sewn, whole) - 0.02
        assert 0.75 * len(sewn) < len(resewn) < 1.3 * len(sewn)


@pytest.mark.parametrize("angle", [60.0, 70.0])
def test_travel_there_and_back_under_open_rows_is_no_object(angle: float) -> None:
    design = on("Woven twill", (Area(zoo.gear()), Fill(angle=angle, spacing=0.7, length=3.0)))
    found = again(design, plan(design))
    fills = [item for item in found.objects if isinstance(item.cover, Fill)]
    assert fills and min(cloth_of(item, found.brief.ground).area for item in fills) > 40


@pytest.mark.parametrize("angle", [0.0, 27.0, 90.0, 133.0])
@pytest.mark.parametrize("ground", ["Woven twill", "Jersey T-shirt"])
def test_a_fill_has_its_angle_spacing_length_and_outline_again(ground: str, angle: float) -> None:
    for path, spacing, length in ((zoo.blob(11, 15, 1), 0.4, 3.5), (zoo.turned_box(30, 18, 12), 0.5, 2.5)):
        design = on(ground, (Area(path), Fill(angle=angle, spacing=spacing, length=length)))
        (item,) = [one for one in again(design, plan(design)).objects if isinstance(one.cover, Fill)]
        assert isinstance(item.cover, Fill) and item.cover.spacing == pytest.approx(spacing, rel=0.05)
        assert item.cover.length == pytest.approx(length, rel=0.08)
        assert item.cover.angle is not None and abs((item.cover.angle - angle + 90) % 180 - 90) < 2
        sewn = sewn_edge(resolve(design.objects[0], design.brief.ground))
        rim = shapely.points(shapely.get_coordinates(shapely.segmentize(sewn.boundary, 0.3)))
        away = shapely.distance(sewn_edge(resolve(item, design.brief.ground)).boundary, rim)
        assert np.mean(away < 0.3) > 0.9


@pytest.mark.parametrize(("width", "spacing"), [(1.5, 0.38), (3.0, 0.45), (6.0, 0.38), (10.0, 0.4)])
def test_a_satin_has_its_spacing_and_edges_again(width: float, spacing: float) -> None:
    design = on("Woven twill", (Line("M-30 0 C-10 -20 10 20 30 0", width), Satin(spacing=spacing)))
    (item,) = [one for one in again(design, plan(design), as_list=True).objects if isinstance(one.cover, Satin)]
    assert isinstance(item.cover, Satin) and item.cover.spacing == pytest.approx(spacing, rel=0.06)
    sewn, now = (sewn_edge(resolve(one, design.brief.ground)) for one in (design.objects[0], item))
    assert (sewn & now).area > 0.95 * (sewn | now).area


def test_what_lies_beneath_is_told_apart() -> None:
    under = {
        Lattice: on("Jersey T-shirt", (Area(ring_path(16)), Fill(angle=15))),
        Parallel: on("Denim", (Area(box_path(-20, -12, 40, 24)), Fill(angle=0))),
        Zigzag: on("Woven twill", (Line("M-30 0 L30 4", 5.0), Satin())),
    }
    for kind, design in under.items():
        sewn = plan(design)
        has = {Layer(one).title for one in sewn.pieces[0].layer.tolist()}
        if kind.__struct_config__.tag not in has:  # type: ignore[attr-defined]
            continue
        (item,) = [one for one in again(design, sewn).objects if not isinstance(one.cover, Run)]
        assert item.underlay and any(isinstance(one, kind) for one in item.underlay)
        if "edge run" in has:
            assert any(isinstance(one, EdgeRun) for one in item.underlay)


def test_runs_keep_their_style_and_length() -> None:
    found = again(ODD["runs"](), plan(ODD["runs"]()))
    single, triple, twice = (item.cover for item in found.objects)
    assert isinstance(single, Run) and single.style == "single" and single.length == pytest.approx(2.0, rel=0.1)
    assert isinstance(triple, Run) and triple.style == "triple"
    assert isinstance(twice, Run) and twice.repeats == 2


def test_threads_are_those_of_the_file() -> None:
    design = crest()
    assert {item.thread for item in again(design, plan(design)).objects} == {item.thread for item in design.objects}


def test_on_the_command_line_and_resized(tmp_path: Path) -> None:
    design = ODD["two on jersey"]()
    file, out = tmp_path / "two.ngc", tmp_path / "two.jontel"
    file.write_bytes(gcode.write(plan(design), design))
    done = CliRunner().invoke(cli, ["recover", str(file), "-o", str(out), "--ground", "Jersey T-shirt"])
    assert done.exit_code == 0 and "fills" in done.output
    assert len([item for item in open_design(out).objects if isinstance(item.cover, Fill)]) == 2
    none = tmp_path / "none.csv"
    none.write_text("n,x_mm,y_mm,command,object,layer,thread\n1,0,0,end,,,\n")
    refused = CliRunner().invoke(cli, ["recover", str(none), "-o", str(out)])
    assert refused.exit_code == 1 and "no stitches" in str(refused.exception)


MOVES = st.builds(
    Movement,
    st.integers(1, 9),
    st.sampled_from([Kind.STITCH] * 12 + [Kind.JUMP, Kind.TRIM, Kind.THREAD, Kind.STOP]),
    st.one_of(st.floats(-5, 5), st.floats(-5000, 5000)),
    st.floats(-5, 5),
    st.sampled_from(["", "1001", "no such thread"]),
)


@given(st.lists(MOVES, max_size=120))
@settings(max_examples=80, deadline=None)
def test_any_movements_are_recovered_or_refused(moves: list[Movement]) -> None:
    try:
        made = recovered(moves, "it.ngc", find_ground("Woven twill"), find_hoop("130 x 180"), thread_chart())
    except CannotRead as refused:
        assert str(refused).startswith("it.ngc")
    else:
        plan(made)
