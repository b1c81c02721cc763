"""What the plan of the program promises about itself: speed by caching, pictures, words, the demo."""

import ast
import struct
from collections.abc import Callable
from dataclasses import replace as replace_fields
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from msgspec.structs import replace

from jontel.data import grounds, resource, thread_chart
from jontel.demo import CREST_ANGLES, FILM, crest, name_bar
from jontel.design import Design, Edges, Fill, Satin, resolve
from jontel.design.edits import change_objects, pin, set_ground
from jontel.design.store import Store, working_in
from jontel.sewing.estimate import totals
from jontel.sewing.plan import plan
from jontel.sewing.proof import proof
from jontel.stitching.covers import GENERATORS
from jontel.stitching.engine import sewn_edge
from jontel.stitching.measure import measure
from jontel.stitching.stitches import Kind, Layer, Stitches

ROOT = Path(__file__).parent.parent


def test_an_edit_restitches_one_object_only(crest_design: Design, monkeypatch: pytest.MonkeyPatch) -> None:
    sewn: list[str] = []
    for name, one in list(GENERATORS.items()):

        def count(*args: Any, name: str = name, sew: Any = one.sew) -> Any:
            sewn.append(name)
            return sew(*args)

        monkeypatch.setitem(GENERATORS, name, replace_fields(one, sew=count))
    sky = next(o.id for o in crest_design.objects if o.name == "Sky")
    with working_in(Store()):
        first = plan(crest_design)
        assert len(sewn) == len(crest_design.objects)
        sewn.clear()
        second = plan(pin(crest_design, {sky}, "spacing", 0.437), first)
        assert sewn == ["fill"]
        plan(change_objects(second.design, {sky}, lambda item: replace(item, name="Heaven")), second)
        assert sewn == ["fill"]


def test_tuning_a_cover_keeps_its_edge(crest_design: Design) -> None:
    item = next(o for o in crest_design.objects if o.name == "Sky")
    ground = crest_design.brief.ground
    other = replace(item, cover=Fill(spacing=0.7, angle=8.0))
    assert sewn_edge(resolve(item, ground)) is sewn_edge(resolve(other, ground))
    wider = replace(item, edges=Edges(pull=1.0))
    assert sewn_edge(resolve(wider, ground)).area > sewn_edge(resolve(item, ground)).area


def test_the_crest_is_what_the_demo_promises() -> None:
    design = crest()
    sums = totals(plan(design))
    assert (sums.width, sums.height) == pytest.approx((90.5, 90.5), abs=0.3)
    assert len(design.brief.threads) >= 6
    assert {type(o.cover).__name__ for o in design.objects} == {"Run", "Satin", "Fill"}
    assert FILM in plan(design).stops.values()
    assert CREST_ANGLES.keys() <= {o.name for o in design.objects}
    assert design.artwork[0].data == resource("demo/crest.svg") and not design.artwork[0].notes


def test_the_name_bar_spells_its_name() -> None:
    design = name_bar()
    words = [o for o in design.objects if o.lettering is not None]
    assert [o.lettering.text for o in words if o.lettering] == ["NELL", "PILOT"]
    assert all(isinstance(o.cover, Satin) for o in words)
    assert proof(design, plan(design)) == ()


@pytest.mark.parametrize("ground", grounds(), ids=lambda g: g.name)
def test_the_crest_sews_on_every_ground(ground) -> None:  # type: ignore[no-untyped-def]
    design = set_ground(crest(), ground)
    sewn = plan(design)
    assert not sewn.failures
    rows = np.flatnonzero(sewn.sewn())
    size = np.hypot(*(sewn.xy[rows] - sewn.xy[rows - 1]).T)
    assert size.max() <= 7.0
    assert (size[sewn.layer[rows] != Layer.LOCK] >= 0.5 - 1e-6).mean() > 0.999


def test_every_fill_of_the_crest_that_is_no_speck_covers_its_shape() -> None:
    design = crest()
    sewn = plan(design)
    for item in design.objects:
        if isinstance(item.cover, Fill) and item.cover.fade in (None, "none"):
            own = (sewn.object == item.id) & (sewn.kind == Kind.STITCH) & (sewn.layer != Layer.LOCK)
            edge = sewn_edge(resolve(item, design.brief.ground))
            if edge.area < 20:
                continue
            seen = measure(Stitches(sewn.xy[own], sewn.kind[own], sewn.layer[own]), edge)
            assert seen.coverage > 0.975, item.name


def test_every_thread_of_the_chart_has_its_own_code_and_colour() -> None:
    chart = thread_chart()
    assert len({t.code for t in chart}) == len(chart)
    assert len({(t.colour, t.weight) for t in chart}) == len(chart)


def test_the_pictures_are_of_the_size_and_linked() -> None:
    shots = sorted((ROOT / "docs/screenshots").glob("*.png"))
    readme = (ROOT / "README.md").read_text()
    assert 6 <= len(shots) < 20
    for shot in shots:
        assert struct.unpack(">II", shot.read_bytes()[16:24]) == (1280, 800), shot.name
        assert f"docs/screenshots/{shot.name}" in readme, shot.name


@pytest.mark.parametrize("path", sorted((ROOT / "src/jontel").rglob("*.py")), ids=lambda p: p.name)
def test_what_is_public_is_explained(path: Path) -> None:
    tree = ast.parse(path.read_text())
    assert ast.get_docstring(tree), f"{path} does not say what it is for"
    open_classes = [n for n in tree.body if isinstance(n, ast.ClassDef) and not n.name.startswith("_")]
    for node in [*tree.body, *(inner for one in open_classes for inner in one.body)]:
        if isinstance(node, ast.FunctionDef | ast.ClassDef) and not node.name.startswith("_"):
            assert ast.get_docstring(node), f"{path}: {node.name} is not explained"


@pytest.mark.parametrize("make", [crest, name_bar])
def test_a_demo_has_no_findings_and_its_plate_reaches_under_the_border(make: Callable[[], Design]) -> None:
    design = make()
    sewn = plan(design)
    assert not proof(design, sewn)
    regions = {item.name: region for item, region in zip(sewn.design.objects, sewn.overlaps.regions, strict=True)}
    for below, above in (("Plate", "Border"), ("Ring", "Rope edge")):
        if below in regions:
            assert (regions[below] & regions[above]).area > 50.0
