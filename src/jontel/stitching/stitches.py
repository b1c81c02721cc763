"""Stitches: needle movements as arrays, and the needle that lays them down."""

import math
from dataclasses import dataclass
from enum import IntEnum

import numpy as np
from numpy.typing import NDArray

from jontel.design.shapes import Point
from jontel.design.stopping import go_on
from jontel.geometry.polyline import Floats

Bytes = NDArray[np.uint8]
SHORTEST = 0.5
"""The shortest safe stitch, mm; nothing here emits a shorter one."""
LONGEST_REACH = 7.0
"""From the end of one pass to the start of the next no stitch is longer, mm."""


class Kind(IntEnum):
    """What the machine does at a row."""

    STITCH = 0
    JUMP = 1
    TRIM = 2
    STOP = 3
    THREAD = 4
    END = 5


class Layer(IntEnum):
    """Which pass of the build-up a row belongs to."""

    COVER = 0
    TRAVEL = 1
    LOCK = 2
    CENTRE_RUN = 3
    EDGE_RUN = 4
    PARALLEL = 5
    ZIGZAG = 6
    DOUBLE_ZIGZAG = 7
    LATTICE = 8
    MESH = 9

    @property
    def title(self) -> str:
        """The layer's name in words."""
        return TITLES[self]


TITLES = {layer: layer.name.lower().replace("_", " ") for layer in Layer}
TITLES[Layer.DOUBLE_ZIGZAG] = "double zigzag"


@dataclass(frozen=True, eq=False)
class Stitches:
    """Needle movements in order: ``xy`` (n, 2) in mm, ``kind`` and ``layer`` (n,) uint8.

    A ``STITCH`` row is a needle point; a ``JUMP`` row is where the needle, up, arrives.
    """

    xy: Floats
    kind: Bytes
    layer: Bytes

    def __len__(self) -> int:
        return len(self.xy)

    def moved(self, by: Point) -> "Stitches":
        """The same needle movements elsewhere on the cloth."""
        return Stitches(self.xy + np.array(by), self.kind, self.layer)

    @property
    def count(self) -> int:
        """How many needle points there are."""
        return int((self.kind == Kind.STITCH).sum())


def on_the_way(centre: Floats, near: Floats, far: Floats) -> Floats:
    """The place on the way from ``near`` to ``far`` that is a safe stitch away from ``centre``; else ``far``."""
    step, gap = far - near, near - centre
    a, b, c = float(step @ step), float(gap @ step), float(gap @ gap) - (SHORTEST + 1e-6) ** 2
    return np.asarray(near + min(1.0, (-b + math.sqrt(max(b * b - a * c, 0.0))) / max(a, 1e-12)) * step)


NOTHING = Stitches(np.zeros((0, 2)), np.zeros(0, np.uint8), np.zeros(0, np.uint8))


class Needle:
    """Lays down points one piece after another and knows where it is."""

    def __init__(self, at: Floats | None = None) -> None:
        self._pieces: list[tuple[Floats, Bytes, Bytes]] = []
        self._sewn: Floats | None = None
        self.at = at

    def sew(self, xy: Floats, layer: Layer) -> None:
        """Sew through ``xy`` (n, 2); first points nearer than a safe stitch to the needle are left out.

        Those of a cover would leave cloth bare where they are several: it is begun from the first one that is farther
        away instead.
        """
        go_on()
        if self._sewn is not None and len(xy) and math.dist(xy[0], self._sewn) < SHORTEST:
            far = np.hypot(*(xy - self._sewn).T) >= SHORTEST
            first = int(np.argmax(far)) if far.any() else len(xy)
            comes_back = layer == Layer.COVER and 1 < first < len(xy) and math.dist(xy[first], xy[0]) >= SHORTEST
            xy = np.vstack([xy[first : first + 1], xy]) if comes_back else xy[first:]
        if len(xy) == 2 and np.hypot(*(xy[1] - xy[0])) < SHORTEST:
            xy = xy[:1]
        if len(xy):
            self._reach(xy[0])
            self._add(xy, Kind.STITCH, layer)
            self.at = self._sewn = xy[-1]

    def _reach(self, to: Floats) -> None:
        """Step to where a piece begins, where that is farther than a stitch may be."""
        gap = 0.0 if self._sewn is None else math.dist(self._sewn, to)
        if gap > LONGEST_REACH and self._sewn is not None:
            steps = np.linspace(self._sewn, to, math.ceil(gap / LONGEST_REACH) + 1)[1:-1]
            self._add(steps, Kind.STITCH, Layer.TRAVEL)

    def jump(self, to: Floats) -> None:
        """Move with the needle up; before the first stitch there is nothing to jump from."""
        if self._sewn is not None:
            self._add(np.asarray(to, dtype=np.float64)[None], Kind.JUMP, Layer.TRAVEL)
            self._sewn = None
        self.at = to

    def draw_back(self, place: Floats) -> None:
        """Let what lies beneath end a safe stitch before ``place``, where a cover begins, so that it begins there.

        The last needle point moves back along its stitch, or is left out, where that is enough.
        """
        if self._sewn is None or not 0 < math.dist(self._sewn, place) < SHORTEST:
            return
        xy, kind, layer = self._pieces.pop()
        before, own, _ = self._pieces[-1] if len(xy) == 1 and self._pieces else (xy[:-1], kind[:-1], layer[-1:])
        far = before[-1] if len(before) and own[-1] == Kind.STITCH else place
        left = xy
        if layer[-1] != Layer.COVER and math.dist(far, place) >= SHORTEST:
            back = on_the_way(place, xy[-1], far)
            left = xy[:-1] if math.dist(back, far) < SHORTEST else np.vstack([xy[:-1], back])
        if len(left):
            self._pieces.append((left, kind[: len(left)], layer[: len(left)]))
        self.at = self._sewn = left[-1] if len(left) else far

    def sews_on(self, to: Floats, longest: float) -> bool:
        """Whether a place is one stitch on from what is sewn: a safe one, and no longer than ``longest``, mm."""
        return self._sewn is not None and SHORTEST <= math.dist(self._sewn, to) <= longest

    @property
    def sewing(self) -> bool:
        """Whether thread hangs on the needle from a last needle point."""
        return self._sewn is not None

    def aside(self) -> "Needle":
        """Another needle where this one is, to try something with: this one can ``follow`` what it sews."""
        other = Needle(self.at)
        other._sewn = self._sewn
        return other

    def follow(self, sewn: Stitches) -> None:
        """Sew what was laid down elsewhere from where this needle is now."""
        if len(sewn):
            self._pieces.append((sewn.xy, sewn.kind, sewn.layer))
            self.at = self._sewn = sewn.xy[-1]

    def _add(self, xy: Floats, kind: Kind, layer: Layer) -> None:
        n = len(xy)
        self._pieces.append((xy, np.full(n, int(kind), np.uint8), np.full(n, int(layer), np.uint8)))

    def stitches(self) -> Stitches:
        """Everything laid down so far."""
        if not self._pieces:
            return NOTHING
        xy, kind, layer = zip(*self._pieces, strict=True)
        return Stitches(np.concatenate(xy), np.concatenate(kind), np.concatenate(layer))
