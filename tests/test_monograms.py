"""Monograms: every arrangement, frame and ornament sews; they move, are changed and are kept as a whole."""

import itertools
from typing import get_args

import numpy as np
import pytest
import shapely
from msgspec.structs import replace

from jontel.design import Area, CannotRead, Design, Line, Satin, resolve
from jontel.design.edits import change_objects, transform_objects
from jontel.design.monogram import Arrangement, Frame, Monogram, Ornament
from jontel.files.working import decode, encode
from jontel.geometry.region import Region, region_of
from jontel.lettering.fonts import open_font, shipped_fonts
from jontel.lettering.monograms import pieces_of, remade, with_monogram
from jontel.sewing.plan import plan
from jontel.stitching.covers.fill import region_for
from jontel.stitching.engine import sewn_edge
from tests.conftest import design_of
from tests.test_lettering import SANS

ARRANGED = get_args(Arrangement)


def monogram(**values: object) -> Monogram:
    """A monogram of three letters without a frame."""
    return replace(Monogram("HOT", SANS, height=30.0, frame="none"), **values)


def design_with(whole: Monogram) -> Design:
    """A design of nothing but a monogram."""
    empty = replace(design_of((Area("M0 0 L9 0 L9 9 Z"), Satin())), objects=(), next_id=1)
    return with_monogram(empty, whole, "1001")[0]


def letters(whole: Monogram) -> list[Region]:
    """The letters of a monogram."""
    found = [piece.shape for piece in pieces_of(whole, open_font(whole.font)) if piece.part.startswith("letter")]
    return [region_of(shape) for shape in found if isinstance(shape, Area)]


@pytest.mark.parametrize("arrangement", ARRANGED)
@pytest.mark.parametrize("signs", ["HOT", "Ag", "&"])
def test_letters_stand_in_their_order_about_the_middle_and_sew(arrangement: Arrangement, signs: str) -> None:
    whole = monogram(arrangement=arrangement, letters=signs)
    found = letters(whole)
    assert len(found) == len(signs) and all(not one.is_empty for one in found)
    box = np.array(shapely.unary_union(found).bounds)
    assert box[3] - box[1] == pytest.approx(30.0, abs=0.05)
    assert (box[:2] + box[2:]) / 2 == pytest.approx([0.0, 0.0], abs=0.05)
    for one, other in itertools.pairwise(found):
        assert one.intersection(other).area < 0.01 * min(one.area, other.area)
        a, b = one.centroid, other.centroid
        assert a.x < b.x or a.y < b.y  # one reads on to the right or down
    design = design_with(whole)
    sewn = plan(design)
    assert not sewn.failures and not any(item.cover != Satin() for item in design.objects)


def test_the_middle_letter_is_larger_where_it_is_wanted_so() -> None:
    for arrangement, part in (("middle larger", 1.5), ("in a row", 1.0)):
        one, two, _ = (
            shape.bounds for shape in letters(monogram(letters="HHH", arrangement=arrangement, middle=150.0))
        )
        assert (two[3] - two[1]) / (one[3] - one[1]) == pytest.approx(part, abs=0.01)
    wide = [
        shape.bounds[2] - shape.bounds[0]
        for shape in letters(monogram(letters="HHH", arrangement="circle", middle=200.0))
    ]
    assert wide[1] == pytest.approx(2 * wide[0], rel=0.1)


def test_a_bent_monogram_fills_its_outline() -> None:
    found = shapely.unary_union(letters(monogram(letters="HHH", arrangement="circle", gap=0.4)))
    assert shapely.Point(0, 0).buffer(15.6).covers(found) and found.convex_hull.area > 0.9 * np.pi * 15.0**2 * 0.95
    diamond = shapely.unary_union(letters(monogram(letters="HHH", arrangement="diamond", gap=0.4)))
    corners = diamond.convex_hull
    assert corners.area < 0.75 * np.prod(np.array(corners.bounds[2:]) - corners.bounds[:2])


def test_interlaced_letters_pass_over_and_under_each_other_with_a_gap() -> None:
    whole = monogram(letters="OO", arrangement="interlaced", gap=1.0)
    one, other = letters(whole)
    assert len(one.geoms) > 1 or len(other.geoms) > 1  # each was cut where it passes under
    assert len(one.geoms) + len(other.geoms) >= 3
    assert one.distance(other) == pytest.approx(0.5, abs=0.08)
    plain = letters(replace(whole, arrangement="in a row"))
    assert one.area < plain[0].area


@pytest.mark.parametrize("frame", get_args(Frame))
def test_every_frame_lies_round_the_letters_and_sews(frame: Frame) -> None:
    whole = monogram(frame=frame, letters="PL", height=18.0, margin=3.0, border="satin")
    design = design_with(whole)
    ground = design.brief.ground
    assert not plan(design).failures
    parts = {item.monogram.part: item for item in design.objects if item.monogram is not None}
    inner = shapely.unary_union([region_for(item.shape) for part, item in parts.items() if part.startswith("letter")])
    around = [sewn_edge(resolve(item, ground)) for part, item in parts.items() if "frame" in part or part == "border"]
    around = [one for one in around if not one.is_empty]
    assert bool(around) == (frame != "none")
    if around:
        whole_frame = shapely.unary_union(around)
        assert whole_frame.distance(inner) > 0.3
        assert whole_frame.convex_hull.covers(inner)
    assert ("border" in parts) == (frame not in ("none", "laurel", "rope"))


@pytest.mark.parametrize("ornament", get_args(Ornament))
def test_an_ornament_stands_below_the_letters_inside_the_frame(ornament: Ornament) -> None:
    design = design_with(monogram(ornament=ornament, frame="ring", letters="A"))
    parts = {item.monogram.part: item for item in design.objects if item.monogram is not None}
    assert ("ornament" in parts) == (ornament != "none") and not plan(design).failures
    if "ornament" in parts:
        shape, ring = region_for(parts["ornament"].shape), parts["frame"].shape
        assert isinstance(ring, Line)
        radius = region_of(Area(ring.path)).bounds[2]
        assert shape.bounds[1] > region_for(parts["letter 1"].shape).bounds[3] + 1
        assert np.hypot(*shapely.get_coordinates(shape).T).max() < radius - 1


def test_a_monogram_is_changed_as_a_whole_and_its_parts_keep_their_threads_and_build_up() -> None:
    design = design_with(monogram(frame="ring"))
    frame = next(item.id for item in design.objects if item.monogram and item.monogram.part == "frame")
    design = change_objects(design, {frame}, lambda item: replace(item, thread="1005", cover=Satin(spacing=0.5)))
    other = with_monogram(design, monogram(letters="Z"), "1002")[0]
    whole = next(item.monogram.whole for item in other.objects if item.monogram is not None)
    made = remade(other, replace(whole, letters="AB", frame="double ring", height=40.0))
    parts = [
        item.monogram.part for item in made.objects if item.monogram and item.monogram.whole.group == whole.group
    ]
    assert parts == ["frame", "second frame", "letter 1", "letter 2"]
    kept = made.object(frame)
    assert kept is not None and kept.thread == "1005" and kept.cover == Satin(spacing=0.5)
    assert len({item.id for item in made.objects}) == len(made.objects) and made.next_id > max(
        i.id for i in made.objects
    )
    assert [item.name for item in made.objects][-1] == "Z · letter 1"  # the other monogram stays as it was
    assert remade(made, replace(whole, group=99)) == made


def test_a_monogram_moves_as_a_whole_and_is_set_again_where_it_lies() -> None:
    design = design_with(monogram(frame="square"))
    first = design.objects[0].id
    moved = transform_objects(design, {first}, (0.0, 1.2, -1.2, 0.0, 9.0, -4.0))
    assert all(new.shape != old.shape for new, old in zip(moved.objects, design.objects, strict=True))
    wholes = {item.monogram.whole for item in moved.objects if item.monogram is not None}
    assert len(wholes) == 1
    again = remade(moved, wholes.pop())
    for one, other in zip(moved.objects, again.objects, strict=True):
        assert region_for(one.shape).hausdorff_distance(region_for(other.shape)) < 0.02
    assert decode(encode(moved), "m.jontel") == moved


def test_a_sign_that_the_font_lacks_is_named() -> None:
    with pytest.raises(CannotRead, match="has no 漢; choose another font or letter"):
        pieces_of(monogram(letters="A漢"), open_font(SANS))


@pytest.mark.parametrize("font", [file.name for file in shipped_fonts()])
def test_every_shipped_font_makes_every_arrangement(font: str) -> None:
    for arrangement in ARRANGED:
        assert len(letters(monogram(font=font, arrangement=arrangement, letters="QgK"))) == 3
