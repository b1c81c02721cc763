"""The forecast as a plan of its own, to be painted as any other."""

from dataclasses import replace

from jontel.forecast.forecast import Forecast
from jontel.sewing.plan import SewPlan


def shown(seen: Forecast, exaggerated: float = 1.0) -> SewPlan:
    """The plan with its stitches where they will lie; what moves them is shown so many times as large."""
    pieces = tuple(
        replace(piece, xy=piece.xy + exaggerated * (seen.stitches(number) - piece.xy), notes={})
        for number, piece in enumerate(seen.plan.pieces)
    )
    return seen.plan.with_pieces(pieces)
