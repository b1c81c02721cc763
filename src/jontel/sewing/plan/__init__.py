"""The sew plan: every object's stitches in order, with connections, locks, trims, changes and stops."""

from jontel.sewing.overlaps import covered_by, footprint
from jontel.sewing.plan.join import plan
from jontel.sewing.plan.piece import Piece
from jontel.sewing.plan.sewplan import Entry, Failure, SewPlan

__all__ = ["Entry", "Failure", "Piece", "SewPlan", "covered_by", "footprint", "plan"]
