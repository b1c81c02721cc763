"""The hooped cloth as an elastic sheet: plane stress, orthotropic, held at the hoop; solved by finite elements.

Bilinear elements on a grid that is fine where the design lies and coarser towards the hoop. Thread is an eigenstrain
of the elements that it lies in (J. D. Eshelby, "The determination of the elastic field of an ellipsoidal inclusion,
and related problems", 1957). The stiffness of a ground in its hoop is factorised once and kept.
"""

import math
from functools import lru_cache
from typing import Any

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
import shapely
from msgspec.structs import replace
from numpy.typing import NDArray

from jontel.design.cloth import Cloth
from jontel.design.ground import Hoop
from jontel.design.stopping import left_behind
from jontel.geometry.polyline import Floats

ELEMENT = 1.0
"""The side of an element where the design lies, mm."""
BESIDE = 6.0
"""The fine part goes on so far beyond the design, mm."""
GROWTH, COARSEST = 1.35, 12.0
"""Farther out each element is so many times longer than the one before, up to so many mm."""
QUANTUM = 10.0
"""The fine part ends at whole multiples of this, mm: so that most edits leave the grid as it is."""
Box = tuple[float, float, float, float]


def stiffness(cloth: Cloth) -> Floats:
    """The plane-stress stiffness (3, 3) of a cloth for (xx, yy, xy) strains with engineering shear, N/mm; y down."""
    e1, e2, g, nu = cloth.along, cloth.across, cloth.shear, cloth.poisson
    nu21 = nu * e2 / e1
    low = 1 - nu * nu21
    own = np.array([[e1 / low, nu21 * e1 / low, 0.0], [nu21 * e1 / low, e2 / low, 0.0], [0.0, 0.0, g]])
    c, s = math.cos(math.radians(cloth.grain)), -math.sin(math.radians(cloth.grain))
    turn = np.array([[c * c, s * s, c * s], [s * s, c * c, -c * s], [-2 * c * s, 2 * c * s, c * c - s * s]])
    return np.asarray(turn.T @ own @ turn)


def axis(low: float, high: float, fine_low: float, fine_high: float, element: float) -> Floats:
    """Where the lines of a grid lie from ``low`` to ``high``: fine in between, coarser outside, (n,)."""
    fine_low, fine_high = max(low, fine_low), min(high, fine_high)
    count = max(1, round((fine_high - fine_low) / element))
    middle = np.linspace(fine_low, fine_high, count + 1)
    step = (fine_high - fine_low) / count
    return np.concatenate([-_growing(-fine_low, -low, step)[::-1], middle, _growing(fine_high, high, step)])


def _growing(start: float, stop: float, step: float) -> Floats:
    """Lines after ``start`` up to ``stop``, farther and farther apart."""
    room = stop - start
    if room < 1e-9:
        return np.zeros(0)
    sizes: list[float] = []
    while sum(sizes) < room:
        step = min(step * GROWTH, COARSEST)
        sizes.append(step)
    scale = room / sum(sizes)
    return start + np.cumsum(np.array(sizes) * scale)


class Sheet:
    """The sheet of one ground in one hoop, ready to be pulled at. ``xs`` (nx,) and ``ys`` (ny,) are its lines, mm."""

    def __init__(self, cloth: Cloth, hoop: Hoop, xs: Floats, ys: Floats) -> None:
        import skfem
        from skfem.helpers import grad

        self.xs, self.ys = xs, ys
        law = stiffness(cloth)
        mesh = skfem.MeshQuad.init_tensor(xs, ys)
        basis = skfem.Basis(mesh, skfem.ElementVector(skfem.ElementQuad1()), intorder=2)
        flat = basis.with_element(skfem.ElementQuad0())

        def strains(v: Any) -> tuple[Any, Any, Any]:
            g = grad(v)
            return g[0, 0], g[1, 1], g[0, 1] + g[1, 0]

        @skfem.BilinearForm  # type: ignore[untyped-decorator]
        def energy(u: Any, v: Any, _w: Any) -> Any:
            one, other = strains(u), strains(v)
            return sum(law[i, j] * one[i] * other[j] for i in range(3) for j in range(3))

        def load(number: int) -> Any:
            @skfem.BilinearForm  # type: ignore[untyped-decorator]
            def form(u: Any, v: Any, _w: Any) -> Any:
                return sum(law[i, number] * u * strains(v)[i] for i in range(3))

            return form.assemble(flat, basis)

        whole = energy.assemble(basis).tocsc()
        loads = [load(number) for number in range(3)]
        node = np.lexsort((mesh.p[0], mesh.p[1]))  # rows from the top down, each from left to right
        dofs = np.stack([basis.nodal_dofs[0][node], basis.nodal_dofs[1][node]], axis=1)
        places = mesh.p[:, node].T
        free = dofs[_inside(places, hoop)].reshape(-1)
        middles = mesh.p[:, mesh.t].mean(axis=1)
        cell = np.lexsort((middles[0], middles[1]))
        self._dofs, self._free = dofs, free
        self._loads = [one.tocsc()[:, cell].tocsr()[free] for one in loads]
        self._factor = scipy.sparse.linalg.splu(
            whole[free][:, free],
            permc_spec="MMD_AT_PLUS_A",
            diag_pivot_thresh=0.0,
            options={"SymmetricMode": True},
        )
        self.areas = np.outer(np.diff(ys), np.diff(xs))

    @property
    def shape(self) -> tuple[int, int]:
        """How many elements there are down and across."""
        return len(self.ys) - 1, len(self.xs) - 1

    def moved(self, strain: Floats) -> NDArray[np.float32]:
        """How far each crossing of lines moves, mm, (k, ny, nx, 2), for k sets of eigenstrains (k, 3, ny-1, nx-1)."""
        count = len(strain)
        flat = strain.reshape(count, 3, -1)
        force = sum(load @ flat[:, number].T for number, load in enumerate(self._loads))
        solved = left_behind(lambda: self._factor.solve(np.ascontiguousarray(force)))
        whole = np.zeros((self._dofs.size, count))
        whole[self._free] = solved
        found = whole[self._dofs]  # (nodes, 2, k)
        moved = np.moveaxis(found, 2, 0).reshape(count, len(self.ys), len(self.xs), 2)
        return np.asarray(moved, dtype=np.float32)

    def cell_of(self, xy: Floats) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """The element that each of places (n, 2) lies in: down and across, (n,) each."""
        down = np.clip(np.searchsorted(self.ys, xy[:, 1], side="right") - 1, 0, len(self.ys) - 2)
        across = np.clip(np.searchsorted(self.xs, xy[:, 0], side="right") - 1, 0, len(self.xs) - 2)
        return down, across

    def at(self, field: "NDArray[np.float32]", xy: Floats) -> Floats:
        """A field (ny, nx, 2) at places (n, 2), linear within elements, (n, 2)."""
        down, across = self.cell_of(xy)
        x0, y0 = self.xs[across], self.ys[down]
        p = np.clip((xy[:, 0] - x0) / (self.xs[across + 1] - x0), 0.0, 1.0)[:, None]
        q = np.clip((xy[:, 1] - y0) / (self.ys[down + 1] - y0), 0.0, 1.0)[:, None]
        top = field[down, across] * (1 - p) + field[down, across + 1] * p
        low = field[down + 1, across] * (1 - p) + field[down + 1, across + 1] * p
        return np.asarray(top * (1 - q) + low * q, dtype=np.float64)


def _inside(places: Floats, hoop: Hoop) -> NDArray[np.bool_]:
    """Which places are free to move: those inside the hoop, by a hair, (n,)."""
    wide, high = hoop.width / 2, hoop.height / 2
    corner = min(hoop.corner, wide, high)
    field = shapely.box(corner - wide, corner - high, wide - corner, high - corner).buffer(corner, quad_segs=32)
    inner = shapely.buffer(field if corner > 0 else shapely.box(-wide, -high, wide, high), -1e-6)
    return np.asarray(shapely.contains_xy(inner, *places.T))


def sheet_for(cloth: Cloth, hoop: Hoop, box: Box, element: float = ELEMENT) -> Sheet:
    """The sheet of a ground in a hoop, fine where ``box`` is (x0, y0, x1, y1), mm; kept."""
    stiff = replace(cloth, pull=0.0, push=0.0, hold=0.0, limit=1.0)  # what thread does to it is no part of it
    return _sheet_for(stiff, hoop, fine_part(box), element)


@lru_cache(maxsize=6)
def _sheet_for(cloth: Cloth, hoop: Hoop, fine: Box, element: float) -> Sheet:
    x0, y0, x1, y1 = fine
    wide, high = hoop.width / 2, hoop.height / 2
    xs, ys = axis(-wide, wide, x0, x1, element), axis(-high, high, y0, y1, element)
    return left_behind(lambda: Sheet(cloth, hoop, xs, ys))


def fine_part(box: Box) -> Box:
    """``box`` and what is beside it, out to whole multiples."""
    low = [math.floor((value - BESIDE) / QUANTUM) * QUANTUM for value in box[:2]]
    high = [math.ceil((value + BESIDE) / QUANTUM) * QUANTUM for value in box[2:]]
    return low[0], low[1], high[0], high[1]
