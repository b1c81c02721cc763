"""How rows are laid."""

from collections.abc import Callable
from dataclasses import dataclass

from jontel.design.kinds.fill import Pattern
from jontel.geometry.polyline import Floats


@dataclass(frozen=True)
class RowStyle:
    """How rows are laid: mm, and the pattern of their needle points.

    ``opened`` says how far apart rows are wanted at places on the cloth (n, 2), mm, (n,); ``None`` is
    ``spacing`` everywhere. ``along_rim`` leads travel within a cell along its rim.
    """

    spacing: float
    length: float
    pattern: Pattern = "brick"
    brick_offset: float = 0.4
    brick_rows: int = 5
    pull_percent: float = 0.0
    pull_ceiling: float = 1.0
    ragged: float = 0.0
    seed: int = 1
    along_rim: bool = False
    opened: Callable[[Floats], Floats] | None = None
