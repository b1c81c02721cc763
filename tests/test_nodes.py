"""Outlines as nodes and handles, and edits of them: what stays where it was, and what moves."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from jontel.design.paths import ellipse_path
from jontel.geometry.bending import (
    bent,
    closed_up,
    corners,
    cut_at,
    handle_moved,
    joined,
    node_added,
    nodes_moved,
    nodes_removed,
    of_kind,
    reversed_way,
    rounded,
    simplified,
    started_at,
    straightened,
)
from jontel.geometry.fitting import fitted
from jontel.geometry.nodes import Chain, Chains, chains_of, nearest_on, path_through, place_on
from jontel.geometry.polyline import flatten, lengths
from jontel.geometry.snapping import Picture, Targets, Tracks, snapped

BOX = "M0 0 L10 0 L10 10 L0 10 Z"
ELLIPSE = ellipse_path(0, 0, 20, 10)


def line_of(chains: Chains) -> shapely.geometry.base.BaseGeometry:
    """The outline, finely."""
    return shapely.MultiLineString([one.loop() for one in flatten(path_through(chains), 0.0005)])


def apart(one: Chains, other: Chains) -> float:
    """How far two outlines are from each other at most, mm."""
    return float(shapely.hausdorff_distance(line_of(one), line_of(other)))


def blob(seed: int, count: int, closed: bool = True) -> Chains:
    """A smooth outline with a few corners."""
    rng = np.random.default_rng(seed)
    angle = np.sort(rng.uniform(0, 2 * np.pi, count)) + np.arange(count) * 1e-3
    far = rng.uniform(6, 25, count)
    at = np.column_stack([far * np.cos(angle), far * np.sin(angle)]).round(3)
    chains = (Chain(at, at, at, closed),)
    smooth = frozenset((0, k) for k in range(count) if rng.random() < 0.7)
    return chains_of(path_through(of_kind(chains, smooth, "smooth")))


blobs = st.builds(blob, st.integers(0, 10_000), st.integers(4, 12), st.booleans())
parts = st.floats(0.08, 0.92)


def test_path_data_becomes_nodes_and_the_same_path_data_again() -> None:
    for path in (
        BOX,
        ELLIPSE,
        "M0 0 L10 0 C12 0 14 4 10 8",
        "M0 0 L5 5 M8 8 C9 9 10 9 12 8 Z",
        "M0 0 L3 0 L3 3 Z M5 5 L9 5 L9 9 Z",
    ):
        assert path_through(chains_of(path)) == path


def test_a_quadratic_piece_becomes_a_cubic_on_the_same_curve() -> None:
    (chain,) = chains_of("M0 0 Q5 10 10 0")
    assert np.allclose(place_on(chain, 0, 0.5), (5, 5)) and np.allclose(place_on(chain, 0, 0.25), (2.5, 3.75))


def test_a_ring_that_repeats_its_first_node_has_it_once() -> None:
    (chain,) = chains_of("M0 0 C2 -2 8 -2 10 0 C8 4 2 4 0 0 Z")
    assert len(chain) == 2 and chain.closed and np.allclose(chain.before[0], (2, 4))


def test_what_a_node_is_follows_from_its_handles() -> None:
    assert chains_of(ELLIPSE)[0].kinds() == ("symmetric",) * 4
    assert chains_of(BOX)[0].kinds() == ("corner",) * 4
    (chain,) = chains_of("M0 0 C2 0 4 5 5 5 C8 5 9 2 10 0")
    assert chain.kinds() == ("corner", "smooth", "corner")


@given(blobs, st.integers(0, 30), parts)
@settings(max_examples=60)
def test_a_node_that_is_put_in_moves_nothing_and_taken_out_leaves_nothing(chains: Chains, k: int, t: float) -> None:
    piece = k % chains[0].pieces
    more, node = node_added(chains, 0, piece, t)
    assert len(more[0]) == len(chains[0]) + 1 and apart(more, chains) < 0.005
    back = nodes_removed(more, frozenset({node}))
    assert len(back[0]) == len(chains[0]) and apart(back, chains) < 0.02


@given(blobs, st.integers(0, 30))
@settings(max_examples=40)
def test_a_node_that_is_taken_out_leaves_no_dent(chains: Chains, k: int) -> None:
    node = k % len(chains[0])
    if chains[0].kinds()[node] == "corner" or len(chains[0]) < 5:
        return
    back = nodes_removed(chains, frozenset({(0, node)}))
    assert np.isfinite(back[0].controls()).all()
    there, before = chains[0], len(chains[0])
    ends = ((node - 1) % before, (node + 1) % before)
    chord = float(np.hypot(*(there.at[ends[0]] - there.at[ends[1]])))
    assert apart(back, chains) < 0.45 * max(chord, 10.0)
    kept = [i for i in range(before) if i != node]
    assert np.allclose(back[0].at, there.at[kept])


def test_straight_pieces_stay_straight_when_a_node_between_them_goes() -> None:
    left = nodes_removed(chains_of("M0 0 L5 0 L10 0 L10 10 L0 10 Z"), frozenset({(0, 1)}))
    assert path_through(left) == BOX


def test_what_has_no_piece_left_goes() -> None:
    assert nodes_removed(chains_of(BOX), frozenset({(0, 0), (0, 1)})) == ()
    assert nodes_removed(chains_of("M0 0 L5 5"), frozenset({(0, 0)})) == ()


@given(blobs, st.integers(0, 30), st.floats(0.1, 0.9), st.floats(-6, 6), st.floats(-6, 6))
@settings(max_examples=60)
def test_a_curve_goes_where_it_is_drawn(chains: Chains, k: int, t: float, x: float, y: float) -> None:
    piece = k % chains[0].pieces
    start = place_on(chains[0], piece, t)
    to = (float(start[0]) + x, float(start[1]) + y)
    made = bent(chains, 0, piece, t, to)
    assert np.allclose(place_on(made[0], piece, t), to, atol=1e-6)
    assert np.allclose(made[0].at, chains[0].at)
    before, after = chains[0].kinds(), made[0].kinds()
    assert all(b == "corner" or a != "corner" for b, a in zip(before, after, strict=True))


def test_a_handle_takes_the_other_along_as_its_node_says() -> None:
    smooth = chains_of("M0 0 C2 0 4 5 5 5 C8 5 9 2 10 0")
    made = handle_moved(smooth, (0, 1), "after", (5.0, 9.0))
    assert np.allclose(made[0].before[1], (5, 4))  # as long as it was, the other way
    even = handle_moved(chains_of(ELLIPSE), (0, 1), "before", (0.0, -15.0))
    assert np.allclose(even[0].after[1], (0, -5))
    alone = handle_moved(smooth, (0, 1), "after", (5.0, 9.0), alone=True)
    assert np.allclose(alone[0].before[1], smooth[0].before[1])


def test_nodes_move_with_their_handles_and_no_others() -> None:
    chains = chains_of(ELLIPSE)
    made = nodes_moved(chains, frozenset({(0, 0), (0, 2)}), (1, 0, 0, 1, 3, -1))
    assert np.allclose(made[0].at - chains[0].at, [(3, -1), (0, 0), (3, -1), (0, 0)])
    assert np.allclose(made[0].before - chains[0].before, [(3, -1), (0, 0), (3, -1), (0, 0)])


def test_a_corner_made_smooth_leaves_along_its_neighbours_and_comes_back() -> None:
    chains = chains_of(BOX)
    node = frozenset({(0, 1)})
    smooth = of_kind(chains, node, "smooth")
    assert smooth[0].kinds()[1] in ("smooth", "symmetric")
    way = smooth[0].after[1] - smooth[0].before[1]
    assert abs(math.degrees(math.atan2(way[1], way[0])) - 45) < 1e-6
    corner = of_kind(smooth, node, "corner")
    assert corner[0].kinds()[1] == "corner" and apart(corner, smooth) < 0.3
    assert path_through(of_kind(corner, node, "corner")) == BOX
    assert path_through(straightened(smooth, frozenset({(0, 0), (0, 1), (0, 2)}))) == BOX


@given(blobs)
@settings(max_examples=30)
def test_the_way_back_lies_on_the_way_there(chains: Chains) -> None:
    back = reversed_way(chains)
    assert apart(back, chains) < 1e-3 and path_through(reversed_way(back)) == path_through(chains)


@given(blobs, st.integers(0, 30))
@settings(max_examples=30)
def test_cut_and_joined_an_outline_is_as_it_was(chains: Chains, k: int) -> None:
    node = k % len(chains[0])
    cut = cut_at(chains, frozenset({(0, node)}))
    assert all(not chain.closed for chain in cut) and apart(cut, chains) < 1e-3
    ends_cut = len(cut) == (1 if chains[0].closed or node in (0, len(chains[0]) - 1) else 2)
    assert ends_cut
    if chains[0].closed:
        whole = closed_up(cut, {0})
        assert whole[0].closed and len(whole[0]) == len(chains[0]) and apart(whole, chains) < 1e-3
    elif len(cut) == 2:
        whole = joined(cut, (0, len(cut[0]) - 1), (1, 0))
        assert len(whole) == 1 and len(whole[0]) == len(chains[0]) and apart(whole, chains) < 1e-3


def test_ends_that_are_apart_are_joined_by_a_straight_piece_whichever_way_they_run() -> None:
    for one, other in (((0, 1), (1, 0)), ((0, 0), (1, 0)), ((0, 1), (1, 1)), ((0, 0), (1, 1))):
        made = joined(chains_of("M0 0 L10 0 M20 0 L30 5"), one, other)
        assert len(made) == 1 and len(made[0]) == 4 and not made[0].closed
        places = (np.array([(0, 0), (10, 0)])[one[1]], np.array([(20, 0), (30, 5)])[other[1]])
        assert np.allclose(sorted(made[0].at[1:3].tolist()), sorted(np.array(places).tolist()))
    closed = chains_of(BOX)
    assert joined(closed, (0, 0), (0, 1)) is closed
    ring = joined(chains_of("M0 0 L10 0 L10 10"), (0, 0), (0, 2))
    assert ring[0].closed and len(ring[0]) == 3


def test_an_outline_begins_where_it_is_told_to() -> None:
    made = started_at(chains_of(BOX), (0, 2))
    assert np.allclose(made[0].at[0], (10, 10)) and apart(made, chains_of(BOX)) < 1e-6
    line = started_at(chains_of("M0 0 L5 0 L5 5"), (0, 2))
    assert np.allclose(line[0].at, [(5, 5), (5, 0), (0, 0)])


def test_corners_are_rounded_by_their_radius_and_no_more_than_there_is_room_for() -> None:
    made = rounded(chains_of(BOX), 2.0)
    area = shapely.Polygon(flatten(path_through(made), 0.0005)[0].xy).area
    assert area == pytest.approx(100 - (4 - math.pi) * 4, abs=0.02)
    full = rounded(chains_of(BOX), 50.0)
    assert shapely.Polygon(flatten(path_through(full), 0.0005)[0].xy).area == pytest.approx(math.pi * 25, rel=2e-3)
    some = rounded(chains_of(BOX), 2.0, only=frozenset({(0, 0)}))
    assert len(some[0]) == 5
    assert path_through(rounded(chains_of(ELLIPSE), 2.0)) == ELLIPSE
    line = rounded(chains_of("M0 0 L10 0 L10 10"), 3.0)
    assert len(line[0]) == 4 and np.allclose(line[0].at[[0, -1]], [(0, 0), (10, 10)])


@given(blobs, st.floats(0.2, 4.0))
@settings(max_examples=40)
def test_rounding_any_outline_leaves_no_corner_and_stays_near(chains: Chains, radius: float) -> None:
    made = rounded(chains, radius)
    assert np.isfinite(made[0].controls()).all()
    assert not any(
        np.hypot(*(made[0].at[k] - made[0].at[k - 1])) > 0.5
        and np.hypot(*(made[0].at[(k + 1) % len(made[0])] - made[0].at[k])) > 0.5
        for k in corners(made[0], 40.0)
        if 0 < k < len(made[0]) - 1
    )
    # no rounded corner lies farther from the outline than the sharpest one reaches beyond its circle
    assert apart(made, chains) <= 24 * radius


def test_fewer_nodes_say_the_same_outline() -> None:
    t = np.linspace(0, 2 * np.pi, 200, endpoint=False)
    at = np.column_stack([20 * np.cos(t), 10 * np.sin(t)])
    many = (Chain(at, at, at, True),)
    for within in (0.02, 0.1, 0.4):
        few = simplified(many, within)
        assert len(few[0]) <= 16 and apart(few, many) <= within + 0.02
    box = chains_of("M0 0 L5 0 L10 0 L10 5 L10 10 L0 10 L0 5 Z")
    assert len(simplified(box, 0.05)[0]) == 4
    assert path_through(simplified(chains_of(BOX), 0.05)) == BOX


def test_a_place_snaps_to_the_lines_of_a_drawing_exactly_and_after_nodes_of_ones_own() -> None:
    drawn = Tracks.of([(0, chains_of("M 0 0 L 10 0 L 10 8 Z")), (0, chains_of("M 30 0 C 34 0 38 4 38 8"))])
    near = drawn.near((10.2, 0.3), 0.6)
    assert len(near) == 1 and not drawn.near((20.0, 0.0), 0.6) and not drawn.near((10.2, 0.3), 0.6, {0})
    node = snapped((10.2, 0.3), 0.6, Targets(drawings=near))
    assert node is not None and node.place == (10.0, 0.0) and node.sort == "artwork"
    line = snapped((5.0, 0.3), 0.6, Targets(drawings=drawn.near((5.0, 0.3), 0.6)))
    assert line is not None and line.place == pytest.approx((5.0, 0.0), abs=1e-6) and line.sort == "artwork"
    own = snapped((10.2, 0.3), 0.6, Targets([chains_of("M 10.4 0.4 L 12 3")], drawings=near))
    assert own is not None and own.sort == "node" and own.place == (10.4, 0.4)


@pytest.mark.parametrize("seed", range(8))
def test_what_a_hand_draws_becomes_few_nodes_near_what_it_meant(seed: int) -> None:
    rng = np.random.default_rng(seed)
    x = np.linspace(0, 40, 200)
    meant = np.column_stack([x, 8 * np.sin(x / 6 + seed)])
    drawn = np.round((meant + rng.normal(0, 0.03, meant.shape)) * 7) / 7  # pixels of a window at 7 px a mm
    made = fitted(drawn, 0.15)
    assert len(made) <= 8
    assert shapely.hausdorff_distance(line_of((made,)), shapely.LineString(meant)) < 0.2


def test_a_hand_that_turns_sharply_leaves_a_corner() -> None:
    rng = np.random.default_rng(3)
    way = np.array([(0, 0), (20, 0), (20, 15), (5, 25)], dtype=float)
    along = lengths(way)
    where = np.linspace(0, along[-1], 300)
    drawn = np.column_stack([np.interp(where, along, way[:, k]) for k in (0, 1)]) + rng.normal(0, 0.03, (300, 2))
    made = fitted(drawn, 0.15)
    for corner in way[1:3]:
        assert np.hypot(*(made.at - corner).T).min() < 0.3
    assert len(made) <= 6


@given(st.lists(st.tuples(st.floats(-50, 50), st.floats(-50, 50)), min_size=0, max_size=60), st.booleans())
@settings(max_examples=60)
def test_any_scribble_is_fitted(points: list[tuple[float, float]], closed: bool) -> None:
    made = fitted(np.array(points, dtype=float).reshape(-1, 2), 0.15, closed)
    assert np.isfinite(made.at).all() and np.isfinite(made.before).all() and np.isfinite(made.after).all()


@given(blobs, st.floats(-30, 30), st.floats(-30, 30))
@settings(max_examples=40)
def test_the_nearest_place_is_found(chains: Chains, x: float, y: float) -> None:
    found = nearest_on(chains, (x, y))
    assert found is not None
    assert found[3] <= line_of(chains).distance(shapely.Point(x, y)) + 0.01
    assert math.dist(place_on(chains[0], found[1], found[2]).tolist(), (x, y)) == pytest.approx(found[3], abs=1e-6)


def test_a_place_snaps_to_nodes_before_guides_before_outlines_before_the_grid() -> None:
    box = chains_of(BOX)
    all_ = Targets([box], upright=(4.0,), level=(), grid=1.0)
    near = snapped((0.3, 0.2), 0.6, all_)
    assert near is not None and (near.sort, near.place) == ("node", (0.0, 0.0))
    guide = snapped((4.2, 0.3), 0.6, all_)
    assert guide is not None and (guide.sort, guide.place) == ("guide", (4.0, 0.3))
    edge = snapped((6.4, 0.3), 0.6, all_)
    assert edge is not None and edge.sort == "outline" and edge.place == pytest.approx((6.4, 0.0), abs=1e-3)
    grid = snapped((5.8, 5.1), 0.6, all_)
    assert grid is not None and (grid.sort, grid.place) == ("grid", (6.0, 5.0))
    assert snapped((5.5, 5.5), 0.3, all_) is None
    art = Targets(boxes=[(-20.0, -20.0, -10.0, -12.0)])
    corner = snapped((-10.2, -12.3), 0.6, art)
    assert corner is not None and (corner.sort, corner.place) == ("artwork", (-10.0, -12.0))
    side = snapped((-13.0, -11.7), 0.6, art)
    assert side is not None and side.place == (-13.0, -12.0)


@pytest.mark.parametrize("seed", range(6))
def test_a_place_snaps_to_the_edges_that_a_picture_shows(seed: int) -> None:
    """A disc of another colour, blurred and with noise: places about its rim come to lie on it."""
    rng = np.random.default_rng(seed)
    y, x = np.mgrid[0:400, 0:400]
    far = np.hypot(x + 0.5 - 200, y + 0.5 - 200)
    part = 1 / (1 + np.exp((far - 120) / 1.2))
    colours = np.stack([230 - 150 * part, 225 - 40 * part, 210 + 10 * part], axis=2) + rng.normal(
        0, 1.0, (400, 400, 3)
    )
    picture = Picture(colours.clip(0, 255).astype(np.uint8), (-40.0, -40.0, 40.0, 40.0))  # 5 px a mm, radius 24 mm
    for angle in rng.uniform(0, 2 * np.pi, 40):
        off = rng.uniform(-0.8, 0.8)
        place = ((24 + off) * math.cos(angle), (24 + off) * math.sin(angle))
        snap = snapped(place, 1.5, Targets(pictures=[picture]))
        assert snap is not None and snap.sort == "artwork"
        assert math.hypot(*snap.place) == pytest.approx(24, abs=0.2)
    assert snapped((0.0, 0.0), 1.5, Targets(pictures=[picture])) is None
    assert snapped((90.0, 0.0), 1.5, Targets(pictures=[picture])) is None
