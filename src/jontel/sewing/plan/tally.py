"""What the pieces of a plan take, one row of numbers each: an edit's starts from those of the plan before."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from jontel.geometry.polyline import Floats
from jontel.sewing.overlaps import NOWHERE
from jontel.sewing.plan.piece import Piece
from jontel.stitching.stitches import Kind

KINDS = len(Kind)


@dataclass(frozen=True, eq=False)
class Tally:
    """The ``pieces`` of a plan, and ``numbers`` (n, 13) of each: rows of each kind, what it takes, its box."""

    pieces: tuple[Piece, ...]
    numbers: Floats

    @classmethod
    def of(cls, pieces: tuple[Piece, ...], before: Tally | None = None) -> Tally:
        """The numbers of ``pieces``; a piece that was there ``before`` is not counted again, wherever it was."""
        if before is None or not before.pieces:
            return cls(pieces, _counted(pieces))
        places = places_in(before.pieces, pieces)
        numbers = before.numbers[places]
        fresh = np.flatnonzero(places < 0)
        numbers[fresh] = _counted([pieces[k] for k in fresh.tolist()])
        return cls(pieces, numbers)

    @property
    def counts(self) -> Floats:
        """How many rows there are of each kind, (n, 6)."""
        return self.numbers[:, :KINDS]

    @property
    def seconds(self) -> Floats:
        """The machine time of each piece, (n,)."""
        return self.numbers[:, KINDS]

    @property
    def metres(self) -> Floats:
        """The thread that each takes, (n,)."""
        return self.numbers[:, KINDS + 1]

    @property
    def bobbin(self) -> Floats:
        """The bobbin thread that each takes, metres, (n,)."""
        return self.numbers[:, KINDS + 2]

    @property
    def boxes(self) -> Floats:
        """The box round the needle points of each, mm, (n, 4); one that meets none where there are none."""
        return self.numbers[:, KINDS + 3 :]

    @cached_property
    def threads(self) -> NDArray[np.int64]:
        """The thread of each, by its place among those of the plan, (n,)."""
        return np.array([piece.around.thread for piece in self.pieces], dtype=np.int64)

    @cached_property
    def owners(self) -> NDArray[np.int64]:
        """The object of each, (n,)."""
        return np.array([piece.around.owner for piece in self.pieces], dtype=np.int64)


def _counted(pieces: Sequence[Piece]) -> Floats:
    rows = [(*one.counts, float(one.seconds[-1]), one.metres, one.bobbin, *(one.bounds or NOWHERE)) for one in pieces]
    return np.array(rows, dtype=np.float64).reshape(-1, KINDS + 7)


def places_in(some: Sequence[Piece], pieces: Sequence[Piece]) -> NDArray[np.int64]:
    """The place of each of ``pieces`` among ``some``, -1 for one that is not there, (n,)."""
    known = dict(zip(map(id, some), range(len(some)), strict=True))
    return np.array([known.get(id(piece), -1) for piece in pieces], dtype=np.int64)
