"""Figures: shapes told by a few numbers, which stay live until they are bent. A new one is its file and its line."""

from typing import TYPE_CHECKING, Union

from jontel.design.figures import (
    arc,
    arrow,
    block,
    drop,
    ellipse,
    emblem,
    heart,
    polygon,
    rectangle,
    ring,
    star,
    wave,
)
from jontel.design.figures.base import Bead, FigureKind, FigureValues
from jontel.design.figures.base import moved_figure as _moved
from jontel.design.kinds import kind_name
from jontel.design.paths import Matrix, transform_shape
from jontel.design.shapes import Shape

FIGURES: tuple[FigureKind, ...] = (
    rectangle.KIND,
    ellipse.KIND,
    polygon.KIND,
    star.KIND,
    ring.KIND,
    drop.KIND,
    heart.KIND,
    arrow.KIND,
    arc.KIND,
    wave.KIND,
    block.KIND,
    emblem.KIND,
)

if TYPE_CHECKING:
    Figure = FigureValues
else:
    Figure = Union[tuple(kind.values for kind in FIGURES)]  # noqa: UP007

_BY_NAME = {kind_name(kind.values()): kind for kind in FIGURES}

__all__ = ["FIGURES", "Bead", "Figure", "FigureKind", "FigureValues", "figure_kind", "moved_figure", "shape_of"]


def figure_kind(figure: FigureValues) -> FigureKind:
    """The kind of a figure."""
    return _BY_NAME[kind_name(figure)]


def shape_of(figure: FigureValues) -> Shape:
    """The shape of a figure where it lies on the cloth."""
    return transform_shape(figure_kind(figure).draw(figure), figure.place)


def moved_figure(figure: FigureValues, matrix: Matrix) -> FigureValues:
    """A figure moved by ``matrix``."""
    return _moved(figure, matrix, figure_kind(figure).lengths)
