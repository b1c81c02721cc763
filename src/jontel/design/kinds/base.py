"""What the values of all covers, and of all underlays, have in common."""

from msgspec import Struct


class CoverValues(Struct, frozen=True):
    """The values of a cover: a recipe, or the pins laid over it."""


class UnderlayValues(Struct, frozen=True):
    """The values of one underlay pass. ``inset``, mm, is how far inside the sewn edge it stays."""

    inset: float = 0.5
