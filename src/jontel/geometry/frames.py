"""Frames: coordinates in which rows lie level, straight for one angle, curved for several.

A straight fill turns the shape until its rows are level. A curved one does the same with a curved frame:
``u`` runs along the rows and ``v`` across them, both in mm, so that everything that is known about level
rows (hatching, cells, routing, compensation) holds for rows that turn.

An example: an area from (0, 0) to (40, 30) whose direction lines stand upright on the left and lean by 40 degrees
on the right is sampled every 0.58 mm. Each cell gets a direction, upright on the left, leaning on the right and in
between what is in between; ``u`` is the function that grows by 1 for each mm along it, ``v`` the one that grows by
1 for each mm across, as nearly as both can. A row is then the line of one ``v``, rows 0.4 mm apart are those whose
``v`` differ by 0.4, and a stitch of 4 mm is a step of about 4 in ``u``.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from numpy.typing import NDArray

from jontel.design.errors import CannotStitch
from jontel.design.shapes import Area, Lines
from jontel.design.stopping import go_on, left_behind
from jontel.design.store import kept
from jontel.geometry.polyline import Floats, flatten, lengths
from jontel.geometry.region import Region, polygons_of, region_of

MARGIN = 6.0
"""How far a curved frame reaches beyond the shape, mm: compensation and travel stay inside it."""
FINEST, MOST_CELLS = 0.4, 90
"""How finely a curved frame is sampled, mm, and in how many cells a side at most: a 48 mm fill in steps of 0.67."""
SMOOTHED = 2.5
"""Over about this length, mm, directions are smoothed where two places of a guide are equally near."""
FLAT = 0.05
"""Outside the shape a frame may fold; it is kept from being flatter than this, so that there is a way back."""
FAR_HOLD, NEAR_HOLD, NEAR = 2.0, 100.0, 1.5
"""How much more rows hold their direction than their spacing, anywhere and beside a direction line; mm."""
NEWTON_STEPS = 3
LEAST_STRETCH = 0.2
"""Where a curved frame is squeezed below this part of a mm, its rows would run into each other."""
ASTRAY, BESIDE = 0.3, 1.0
"""Places that go into a curved frame and come back farther off than the first, mm, lie in a fold: there may be none
in a shape, nor beside it as far as the second, where compensation reaches."""
HELD_BACK = (0.0, 3.0, 6.0, 9.0, 12.0)
"""By how many degrees rows lie off the directions asked for at most, the first that keeps them apart."""
PIECE = 0.4
"""How long straight pieces may be when they are carried into a curved frame or out of it, mm."""


class Frame(Protocol):
    """A way to and from coordinates in which rows lie level."""

    @property
    def angle(self) -> float:
        """The mean direction of the rows, degrees counter-clockwise from the x axis."""
        ...

    def to(self, xy: Floats) -> Floats:
        """Level coordinates (n, 2) of points (n, 2) on the cloth."""
        ...

    def back(self, uv: Floats) -> Floats:
        """Points on the cloth (n, 2) of level coordinates (n, 2)."""
        ...

    def level(self, region: Region) -> Region:
        """A region of the cloth in level coordinates."""
        ...

    def cloth(self, region: Region) -> Region:
        """A region in level coordinates on the cloth."""
        ...


def carried(region: Region, how: Callable[[Floats], Floats]) -> Region:
    """A region whose outlines, in pieces of at most ``PIECE``, are taken elsewhere point by point."""
    moved = shapely.transform(shapely.segmentize(region, PIECE), how)
    return polygons_of(moved if moved.is_valid else shapely.make_valid(moved))


@dataclass(frozen=True, eq=False)
class Straight:
    """Rows in one direction."""

    angle: float

    def _matrix(self) -> Floats:
        a = math.radians(self.angle)
        return np.array([[math.cos(a), -math.sin(a)], [math.sin(a), math.cos(a)]])

    def to(self, xy: Floats) -> Floats:
        """See ``Frame``."""
        return np.asarray(xy @ self._matrix().T)

    def back(self, uv: Floats) -> Floats:
        """See ``Frame``."""
        return np.asarray(uv @ self._matrix())

    def level(self, region: Region) -> Region:
        """See ``Frame``."""
        return polygons_of(shapely.transform(region, self.to))

    def cloth(self, region: Region) -> Region:
        """See ``Frame``."""
        return polygons_of(shapely.transform(region, self.back))


@dataclass(frozen=True, eq=False)
class Curved:
    """Rows that turn: ``values`` (8, ny nx) sampled on a grid of the cloth of ``shape`` (ny, nx) from ``origin`` on.

    They are ``u`` and ``v``, the four numbers that take a step in level coordinates to one on the cloth, and how
    much ``u`` and ``v`` are stretched. Rows lie up to ``held_back`` degrees off the directions that were asked for.
    """

    angle: float
    held_back: float
    origin: Floats
    step: float
    shape: tuple[int, int]
    values: Floats
    tree: "scipy.spatial.cKDTree"

    def _at(self, xy: Floats, first: int, last: int) -> Floats:
        """The sampled values ``first`` to ``last`` between the grid points round ``xy`` (n, 2), (last - first, n)."""
        go_on()
        ny, nx = self.shape
        at = (xy - self.origin) / self.step
        column = np.clip(at[:, 0].astype(np.int64), 0, nx - 2)
        row = np.clip(at[:, 1].astype(np.int64), 0, ny - 2)
        x, y = np.clip(at[:, 0] - column, 0.0, 1.0), np.clip(at[:, 1] - row, 0.0, 1.0)
        corner = row * nx + column
        own = self.values[first:last]
        upper = own[:, corner] * (1 - x) + own[:, corner + 1] * x
        lower = own[:, corner + nx] * (1 - x) + own[:, corner + nx + 1] * x
        return np.asarray(upper * (1 - y) + lower * y)

    def to(self, xy: Floats) -> Floats:
        """See ``Frame``."""
        found = self._at(np.atleast_2d(xy), 0, 2).T
        return found if np.ndim(xy) == 2 else np.asarray(found[0])

    def back(self, uv: Floats) -> Floats:
        """See ``Frame``: from the nearest grid point by Newton steps."""
        flat = np.atleast_2d(uv)
        ny, nx = self.shape
        _, nearest = self.tree.query(flat)
        row, column = np.divmod(np.asarray(nearest), nx)
        xy = self.origin + self.step * np.column_stack([column, row])
        low, high = self.origin, self.origin + self.step * (np.array([nx, ny]) - 1)
        for _ in range(NEWTON_STEPS):
            found = self._at(xy, 0, 6)
            miss = flat.T - found[:2]
            move = [found[2 + 2 * i] * miss[0] + found[3 + 2 * i] * miss[1] for i in (0, 1)]
            xy = np.clip(xy + np.stack(move, axis=1), low, high)
        return xy if np.ndim(uv) == 2 else np.asarray(xy[0])

    def level(self, region: Region) -> Region:
        """See ``Frame``."""
        return carried(region, self.to)

    def cloth(self, region: Region) -> Region:
        """See ``Frame``."""
        return carried(region, self.back)

    def stretch(self, uv: Floats) -> tuple[Floats, Floats]:
        """How many mm of ``u`` there are in one mm along the rows, and of ``v`` across, at (n, 2): each (n,)."""
        found = self._at(self.back(uv), 6, 8)
        return found[0], found[1]

    def lean(self, uv: Floats) -> tuple[Floats, Floats]:
        """How a step in ``v`` lies to one in ``u`` on the cloth at (n, 2): how far along it, and its size squared.

        Both (n,), as parts of the step in ``u`` and of its size squared; (0, 1) where they are square and as long.
        """
        along_x, across_x, along_y, across_y = self._at(self.back(uv), 2, 6)
        size = along_x**2 + along_y**2
        return (along_x * across_x + along_y * across_y) / size, (across_x**2 + across_y**2) / size


@kept
def curved_frame(shape: Area) -> Curved:
    """The frame of rows that turn between an area's direction lines or follow its guide.

    The direction at a place is the mean of the lines', weighted by the inverse square of their distance
    (D. Shepard, "A two-dimensional interpolation function for irregularly-spaced data", 1968), or that of the
    nearest place on the guide, smoothed. ``u`` and ``v`` are the functions whose gradients come nearest to it
    and to its normal, by least squares: F. Kälberer, M. Nieser and K. Polthier, "QuadCover: surface
    parameterization using branched coverings" (2007), without branches.

    Rows that would run into each other turn less than they are asked to, everywhere by the same part of it, so
    that they lie no more than the last of ``HELD_BACK`` off.

    Raises ``CannotStitch`` where they would run into each other even then.
    """
    region = region_of(Area(shape.path, shape.rule))
    if region.is_empty:
        raise CannotStitch("it encloses no area that holds a stitch; enlarge it or make it a run")
    grid = _grid_round(region)
    inside = shapely.contains_xy(region, grid.points).reshape(grid.shape)
    asked = _turn_of(shape, grid)
    mean = float(np.average(asked, weights=inside[:-1, :-1] + 1e-9))
    most = float(np.degrees(np.abs(asked - mean)[inside[:-1, :-1]].max(initial=1e-9)))
    hold = None if shape.guide else _hold(shape.lines, grid.centres)
    near = grid.centres[shapely.contains_xy(region.buffer(BESIDE, quad_segs=2), grid.centres)]
    angle = (math.degrees(mean) + 90) % 180 - 90
    for held_back in HELD_BACK:
        u, v = _laid(mean + (asked - mean) * max(0.0, 1.0 - held_back / most), grid, hold)
        u_x, u_y = np.gradient(u, grid.step)[::-1]
        v_x, v_y = np.gradient(v, grid.step)[::-1]
        size, along, apart = u_x * v_y - u_y * v_x, np.hypot(u_x, u_y), np.hypot(v_x, v_y)
        if (inside & ((size < LEAST_STRETCH) | (apart < LEAST_STRETCH))).any():
            continue
        stretched = np.where(np.abs(size) < FLAT, FLAT, size)
        values = np.stack([u, v, v_y / stretched, -u_y / stretched, -v_x / stretched, u_x / stretched, along, apart])
        values = values.reshape(8, -1)
        tree = scipy.spatial.cKDTree(values[:2].T)
        found = Curved(angle, held_back, grid.origin, grid.step, grid.shape, values, tree)
        if np.hypot(*(found.back(found.to(near)) - near).T).max(initial=0.0) < ASTRAY:
            return found
    x, y = grid.points[int(np.argmin(np.where(inside, size, np.inf)))].tolist()
    raise CannotStitch(
        "its rows would run into each other; turn its direction lines less, or move them apart", (x, y)
    )


@dataclass(frozen=True, eq=False)
class _Grid:
    """Where a curved frame is sampled: ``shape`` (ny, nx) nodes, ``step`` mm apart, from ``origin`` (2,) on."""

    origin: Floats
    step: float
    shape: tuple[int, int]

    @property
    def points(self) -> Floats:
        """The nodes, row by row, (ny nx, 2)."""
        ny, nx = self.shape
        x, y = np.meshgrid(self.origin[0] + self.step * np.arange(nx), self.origin[1] + self.step * np.arange(ny))
        return np.column_stack([x.ravel(), y.ravel()])

    @property
    def centres(self) -> Floats:
        """The middles of the cells between four nodes, row by row, ((ny - 1) (nx - 1), 2)."""
        return (self.points.reshape(*self.shape, 2)[:-1, :-1] + self.step / 2).reshape(-1, 2)


def _grid_round(region: Region) -> _Grid:
    """A grid that reaches ``MARGIN`` beyond a region, of at most about ``MOST_CELLS`` cells a side."""
    x0, y0, x1, y1 = region.bounds
    step = max(FINEST, (max(x1 - x0, y1 - y0) + 2 * MARGIN) / MOST_CELLS)
    nx, ny = (math.ceil((high - low + 2 * MARGIN) / step) + 1 for low, high in ((x0, x1), (y0, y1)))
    return _Grid(np.array([x0 - MARGIN, y0 - MARGIN]), step, (ny, nx))


def _laid(turn: Floats, grid: _Grid, hold: Floats | None) -> tuple[Floats, Floats]:
    """``u`` and ``v`` (ny, nx) whose rows come nearest to the directions ``turn`` of cells, held where asked."""
    ahead, across = np.stack([np.cos(turn), -np.sin(turn)]), np.stack([np.sin(turn), np.cos(turn)])
    u = _integrated(ahead, grid.step)
    return u, _integrated(across, grid.step) if hold is None else _held(across, grid.step, hold)


def _turn_of(shape: Area, grid: _Grid) -> Floats:
    """The direction of the rows in each cell of a grid, radians, (ny - 1, nx - 1)."""
    ny, nx = grid.shape
    if not shape.guide:
        return _between_lines(shape.lines, grid.centres).reshape(ny - 1, nx - 1)
    turn = _along_guide(shape.guide, grid.centres).reshape(ny - 1, nx - 1)
    return np.asarray(scipy.ndimage.gaussian_filter(turn, SMOOTHED / grid.step, mode="nearest"))


def _between_lines(lines: Lines, points: Floats) -> Floats:
    """The direction of the rows at ``points`` (n, 2), radians, (n,)."""
    ends = np.array(lines)
    way = ends[:, 1] - ends[:, 0]
    angle = np.arctan2(-way[:, 1], way[:, 0])
    segments = np.asarray(shapely.linestrings(ends))
    done = [0]
    while len(done) < len(angle):
        rest = [k for k in range(len(angle)) if k not in done]
        gaps = shapely.distance(segments[rest][:, None], segments[done][None, :])
        new, old = np.unravel_index(int(np.argmin(gaps)), gaps.shape)
        like = angle[done[int(old)]]
        number = rest[int(new)]
        angle[number] = like + (angle[number] - like + math.pi / 2) % math.pi - math.pi / 2
        done.append(number)
    spots = shapely.points(points)
    weight = np.stack([1.0 / (shapely.distance(one, spots) ** 2 + 0.01) for one in segments])
    return np.asarray((weight * angle[:, None]).sum(axis=0) / weight.sum(axis=0))


def _hold(lines: Lines, points: Floats) -> Floats:
    """How much more rows hold their direction than their spacing at ``points`` (n, 2): most beside a line, (n,)."""
    gap = shapely.distance(shapely.multilinestrings(np.array(lines)), shapely.points(points))
    return np.asarray(FAR_HOLD + NEAR_HOLD * np.exp(-((gap / NEAR) ** 2)))


def _along_guide(guide: str | None, points: Floats) -> Floats:
    """The direction of the guide at the place nearest to each of ``points`` (n, 2), radians, (n,)."""
    found = flatten(guide or "")
    if not found:
        raise CannotStitch("its guide has no length; draw the guide again")
    xy = found[0].xy
    span = float(lengths(xy)[-1])
    line = shapely.segmentize(shapely.LineString(xy), max(0.2, span / 400))
    dense = shapely.get_coordinates(line)
    _, nearest = scipy.spatial.cKDTree(dense).query(points)
    tangent = np.gradient(dense, axis=0)
    smooth = max(1, round(len(dense) / 60))
    kernel = np.ones(2 * smooth + 1) / (2 * smooth + 1)
    heading = np.unwrap(np.arctan2(-tangent[:, 1], tangent[:, 0]))
    heading = np.convolve(np.pad(heading, smooth, mode="edge"), kernel, "valid")
    return np.asarray(heading[np.asarray(nearest)])


def _integrated(way: Floats, step: float) -> Floats:
    """The function (ny, nx) whose gradient comes nearest to the unit vectors ``way`` (2, ny - 1, nx - 1) of cells.

    Poisson's equation, solved by cosine transforms: R. W. Hockney, "A fast direct solution of Poisson's equation
    using Fourier analysis" (1965).
    """
    rows, columns = np.pad(way[0], ((1, 1), (0, 0)), mode="edge"), np.pad(way[1], ((0, 0), (1, 1)), mode="edge")
    level, upright = (rows[1:] + rows[:-1]) / 2 * step, (columns[:, 1:] + columns[:, :-1]) / 2 * step
    ny, nx = way.shape[1] + 1, way.shape[2] + 1
    source = np.zeros((ny, nx))
    source[:, :-1] += level
    source[:, 1:] -= level
    source[:-1] += upright
    source[1:] -= upright
    waves = 2 * np.cos(np.pi * np.arange(nx) / nx)[None] + 2 * np.cos(np.pi * np.arange(ny) / ny)[:, None] - 4
    waves[0, 0] = 1.0
    spectrum = scipy.fft.dctn(source, norm="ortho") / waves
    spectrum[0, 0] = 0.0
    return np.asarray(scipy.fft.idctn(spectrum, norm="ortho"))


def _held(way: Floats, step: float, along: Floats) -> Floats:
    """The function (ny, nx) whose gradient comes nearest to the unit vectors ``way`` (2, ny - 1, nx - 1) of cells.

    A gradient that leans to the side counts ``along`` (one a cell) times as much as one that is too long or
    too short, so that rows keep their direction where they fan out. Least squares over two triangles a cell.
    """
    ny, nx = way.shape[1] + 1, way.shape[2] + 1
    node = np.arange(ny * nx).reshape(ny, nx)
    corner, right, below, across = node[:-1, :-1], node[:-1, 1:], node[1:, :-1], node[1:, 1:]
    x, y = np.tile(way[0].ravel(), 2), np.tile(way[1].ravel(), 2)
    ends = [np.concatenate([one.ravel(), other.ravel()]) for one, other in ((corner, below), (right, across))]
    tops = [np.concatenate([one.ravel(), other.ravel()]) for one, other in ((corner, right), (below, across))]
    row = np.arange(len(x))

    def difference(pair: list[NDArray[np.int64]]) -> "scipy.sparse.csr_array":
        values = np.concatenate([-np.ones(len(row)), np.ones(len(row))]) / step
        where = (np.tile(row, 2), np.concatenate(pair))
        return scipy.sparse.csr_array((values, where), shape=(len(row), ny * nx))

    dx, dy = difference(ends), difference(tops)
    ahead = dx.multiply(x[:, None]) + dy.multiply(y[:, None])
    aside = dx.multiply(-y[:, None]) + dy.multiply(x[:, None])
    held = aside.multiply(np.tile(along, 2)[:, None])
    normal = (ahead.T @ ahead + aside.T @ held).tocsc()
    normal += scipy.sparse.diags_array(np.full(ny * nx, 1e-9), format="csc")
    solver = left_behind(
        lambda: scipy.sparse.linalg.splu(
            normal, permc_spec="MMD_AT_PLUS_A", diag_pivot_thresh=0.0, options={"SymmetricMode": True}
        )
    )
    return np.asarray(solver.solve(ahead.T @ np.ones(len(row)))).reshape(ny, nx)
