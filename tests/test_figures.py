"""Figures: what they draw, how their beads change them, and that they live until their outline is another's."""

import math
from typing import get_args

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from jontel.design import Area, Column, Fill, Line, Run, Satin, StitchObject
from jontel.design.design import Design
from jontel.design.edits import transform_object
from jontel.design.figures import FIGURES, FigureKind, FigureValues, figure_kind, moved_figure, shape_of
from jontel.design.figures.arc import Arc
from jontel.design.figures.block import Block
from jontel.design.figures.ellipse import Ellipse
from jontel.design.figures.emblem import Emblem, EmblemName
from jontel.design.figures.emblems import EMBLEMS
from jontel.design.figures.polygon import Polygon
from jontel.design.figures.rectangle import Rectangle
from jontel.design.figures.ring import Ring
from jontel.design.figures.star import Star
from jontel.design.figures.wave import Wave
from jontel.design.kinds.values import value_of
from jontel.design.paths import transform_point, transform_shape
from jontel.files import working
from jontel.geometry.combining import fine_region
from jontel.geometry.polyline import flatten
from jontel.geometry.region import self_crossings
from jontel.sewing.plan import plan
from jontel.shaping.covers import FIRST
from jontel.shaping.figures import drawn, live_figure, outline_of
from jontel.shaping.outlines import chains_in, with_chains
from tests.conftest import design_of


def box(figure: FigureValues) -> tuple[float, float]:
    """How wide and tall a figure is drawn."""
    xy = np.vstack([one.xy for path in outline_of(shape_of(figure)) for one in flatten(path)])
    size = xy.max(axis=0) - xy.min(axis=0)
    return float(size[0]), float(size[1])


def area(figure: FigureValues) -> float:
    """How much cloth a figure covers."""
    shape = shape_of(figure)
    assert isinstance(shape, Area)
    return float(fine_region(shape).area)


@pytest.mark.parametrize("kind", FIGURES, ids=lambda kind: kind.title)
def test_every_figure_is_as_large_as_it_says_and_sews(kind: FigureKind) -> None:
    for width, height in ((24.0, 16.0), (12.0, 30.0), (5.0, 5.0)):
        figure = kind.values(width=width, height=height)
        wide, tall = box(figure)
        if kind.title == "Arc":
            assert (wide, tall) == pytest.approx((width, height / 2), rel=0.01)
        elif kind.title in ("Polygon", "Star"):
            assert wide <= width + 1e-6 and tall <= height + 1e-6 and max(wide / width, tall / height) > 0.95
        elif kind.title == "Emblem":
            assert max(wide / width, tall / height) == pytest.approx(1.0, abs=0.02)
        else:
            assert (wide, tall) == pytest.approx((width, height), rel=0.01)
        shape = shape_of(figure)
        cover = {Area: Fill, Line: Run, Column: Satin}[type(shape)]()
        assert not plan(design_of((shape, cover))).failures


def test_areas_are_those_of_the_books() -> None:
    assert area(Ellipse(width=20, height=10)) == pytest.approx(math.pi * 50, rel=1e-3)
    assert area(Ring(width=20, height=20, inner=50.0)) == pytest.approx(math.pi * 75, rel=1e-3)
    assert area(Rectangle(width=20, height=10, corner=3.0)) == pytest.approx(200 - (4 - math.pi) * 9, rel=1e-3)
    assert area(Rectangle(width=20, height=10, corner=99.0)) == pytest.approx(100 + math.pi * 25, rel=1e-3)
    assert area(Polygon(width=20, height=20, sides=6)) == pytest.approx(1.5 * math.sqrt(3) * 100, rel=1e-3)
    assert area(Star(width=20, height=20, points=8, inner=99.0)) == pytest.approx(
        area(Polygon(width=20, height=20, sides=16)), rel=0.03
    )


def test_an_arc_sweeps_and_a_wave_swings_as_told() -> None:
    quarter = flatten(shape_of(Arc(width=20, height=20, start=0.0, sweep=90.0)).path, 0.001)[0].xy  # type: ignore[union-attr]
    assert quarter[0] == pytest.approx([10, 0]) and quarter[-1] == pytest.approx([0, -10], abs=1e-3)
    assert np.hypot(*quarter.T) == pytest.approx(np.full(len(quarter), 10.0), abs=0.01)
    wave = flatten(shape_of(Wave(width=30, height=6, crests=3)).path, 0.001)[0].xy  # type: ignore[union-attr]
    meant = 3 * np.cos((wave[:, 0] + 15) / 5 * np.pi)
    assert np.abs(wave[:, 1] - meant).max() < 0.06


def test_rows_of_a_block_lean_as_told() -> None:
    for lean in (0.0, 20.0, -35.0):
        shape = shape_of(Block(width=40, height=10, lean=lean))
        assert isinstance(shape, Column)
        upper, lower = (flatten(path)[0].xy for path in (shape.edge, shape.other_edge))
        row = upper[0] - lower[0]
        assert math.degrees(math.atan2(row[0], -row[1])) == pytest.approx(lean, abs=0.01)
        assert np.allclose(upper[-1] - lower[-1], row)


def test_the_library_is_drawn_cleanly() -> None:
    assert set(get_args(EmblemName)) == set(EMBLEMS) and len(EMBLEMS) >= 24
    for name, path in EMBLEMS.items():
        shape = shape_of(Emblem(width=40.0, height=40.0, emblem=name))  # type: ignore[arg-type]
        assert isinstance(shape, Area) and not self_crossings(shape.path), name
        region = fine_region(shape)
        assert region.area > 60 and region.bounds[2] - region.bounds[0] <= 40.1, name
        assert not plan(design_of((shape, Fill()))).failures, name
        assert path.count("M") <= 20


figures = st.one_of(
    st.builds(Rectangle, width=st.floats(5, 40), height=st.floats(5, 40), corner=st.floats(0, 10)),
    st.builds(
        Star, width=st.floats(5, 40), height=st.floats(5, 40), points=st.integers(3, 12), inner=st.floats(10, 90)
    ),
    st.builds(Ring, width=st.floats(5, 40), height=st.floats(5, 40), inner=st.floats(10, 90)),
    st.builds(
        Arc, width=st.floats(5, 40), height=st.floats(5, 40), start=st.floats(0, 360), sweep=st.floats(10, 360)
    ),
    st.builds(Emblem, width=st.floats(5, 40), height=st.floats(5, 40), emblem=st.sampled_from(get_args(EmblemName))),
)
moves = st.sampled_from(
    [
        (1, 0, 0, 1, 7.5, -3),
        (2, 0, 0, 2, 0, 0),
        (1.5, 0, 0, 0.5, 1, 1),
        (0.6, -0.8, 0.8, 0.6, 4, 2),
        (-1, 0, 0, 1, 9, 0),
        (1, 0.2, 0.4, 1, 0, 3),
    ]
)


@given(figures, moves, moves)
@settings(max_examples=60)
def test_a_figure_that_is_moved_is_the_outline_that_is_moved(figure: FigureValues, one: tuple, other: tuple) -> None:  # type: ignore[type-arg]
    item = StitchObject(id=1, name="Figure", thread="1", shape=shape_of(figure), cover=Fill(), figure=figure)
    moved = transform_object(transform_object(item, one), other)
    assert moved.figure is not None
    for mine, theirs in zip(outline_of(shape_of(moved.figure)), outline_of(moved.shape), strict=True):
        a, b = (np.vstack([line.xy for line in flatten(path, 0.01)]) for path in (mine, theirs))
        tolerance = 0.02 if not (isinstance(figure, Rectangle) and figure.corner) else 30.0
        assert shapely.hausdorff_distance(shapely.MultiPoint(a), shapely.MultiPoint(b)) < max(tolerance, 0.02)
    if not isinstance(figure, Rectangle):
        assert live_figure(moved) == moved.figure


def test_a_corner_radius_grows_with_its_figure() -> None:
    figure = Rectangle(width=20, height=10, corner=2.0)
    moved = moved_figure(figure, (2, 0, 0, 2, 5, 5))
    assert (moved.width, moved.height, moved.corner) == (40, 20, 4)  # type: ignore[attr-defined]
    assert moved.place == (1, 0, 0, 1, 5, 5)


@pytest.mark.parametrize("kind", [kind for kind in FIGURES if kind.beads], ids=lambda kind: kind.title)
def test_a_bead_that_is_dragged_to_where_it_is_changes_nothing(kind: FigureKind) -> None:
    figure = kind.values(width=30.0, height=20.0)
    for bead in kind.beads:
        value = value_of(kind.values, bead.field)
        for share in (0.0, 0.3, 0.6):
            known = getattr(figure, bead.field)
            there = bead.at(figure)
            again = value.within(bead.to(figure, *there))
            assert again == pytest.approx(known, abs=0.02 + 1e-3 * abs(known)), (bead.field, share)
            low, high = max(value.low, 0.0), min(value.high, 9.0 if bead.field == "corner" else 60.0)
            wanted = low + (high - low) * (0.2 + share)
            figure = replace(figure, **{bead.field: round(wanted) if value.whole else wanted})


def test_a_figure_lives_until_its_outline_is_bent() -> None:
    figure = Star(width=30, height=30, place=(1, 0, 0, 1, 5.0, 6.0))
    item = StitchObject(id=1, name="Star", thread="1", shape=shape_of(figure), cover=Fill(), figure=figure)
    assert live_figure(item) == figure
    five = drawn(item, replace(figure, points=7))
    assert len(chains_in(five.shape)[0]) == 14 and live_figure(five) is not None
    bent = with_chains(item, chains_in(item.shape))
    assert live_figure(bent) is None
    other = replace(item, shape=transform_shape(item.shape, (1, 0, 0, 1, 3, 0)))
    assert live_figure(other) is None


def test_what_an_area_knows_stays_when_its_figure_changes() -> None:
    figure = Rectangle(width=20, height=20)
    shape = shape_of(figure)
    assert isinstance(shape, Area)
    directed = replace(shape, lines=(((-5.0, 0.0), (5.0, 3.0)),))
    item = StitchObject(id=1, name="Box", thread="1", shape=directed, cover=Fill(), figure=figure)
    made = drawn(item, replace(figure, corner=4.0))
    assert isinstance(made.shape, Area) and made.shape.lines == directed.lines and "C" in made.shape.path


def test_figures_are_kept_in_the_working_file() -> None:
    design = design_of(
        *(
            (
                shape_of(kind.values()),
                FIRST[{Area: "area", Line: "line", Column: "column"}[type(shape_of(kind.values()))]](),
            )
            for kind in FIGURES
        )
    )
    objects = tuple(replace(item, figure=kind.values()) for item, kind in zip(design.objects, FIGURES, strict=True))
    made: Design = replace(design, objects=objects)
    again = working.decode(working.encode(made), "figures")
    assert again == made and [figure_kind(item.figure).title for item in again.objects if item.figure] == [
        k.title for k in FIGURES
    ]
    assert transform_point((1.0, 2.0), objects[0].figure.place) == (1.0, 2.0)  # type: ignore[union-attr]
