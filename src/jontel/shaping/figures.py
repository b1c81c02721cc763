"""Figures of objects: live while the outline is still theirs."""

from msgspec.structs import replace

from jontel.design.design import StitchObject
from jontel.design.figures import FigureValues, shape_of
from jontel.design.paths import commands
from jontel.design.shapes import Area, Column, Line, Shape

SAME = 0.01
"""An outline that leaves its figure by less than this, mm, is still that figure's: places are rounded when moved."""


def live_figure(item: StitchObject) -> FigureValues | None:
    """The figure of an object, as long as nothing else has changed its outline."""
    figure = item.figure
    return figure if figure is not None and _alike(outline_of(item.shape), outline_of(shape_of(figure))) else None


def outline_of(shape: Shape) -> tuple[str, ...]:
    """The path data of a shape."""
    return (shape.edge, shape.other_edge) if isinstance(shape, Column) else (shape.path,)


def _alike(one: tuple[str, ...], other: tuple[str, ...]) -> bool:
    if len(one) != len(other):
        return False
    for a, b in zip(one, other, strict=True):
        if a == b:
            continue
        first, second = list(commands(a)), list(commands(b))
        if [letter for letter, _ in first] != [letter for letter, _ in second]:
            return False
        pairs = zip(first, second, strict=True)
        if any(abs(x - y) > SAME for (_, p), (_, q) in pairs for x, y in zip(p, q, strict=True)):
            return False
    return True


def drawn(item: StitchObject, figure: FigureValues) -> StitchObject:
    """``item`` as another figure: its outline changes, what else its shape knows stays."""
    made, shape = shape_of(figure), item.shape
    if isinstance(made, Area) and isinstance(shape, Area):
        made = replace(shape, path=made.path, rule=made.rule)
    elif isinstance(made, Line) and isinstance(shape, Line):
        made = replace(shape, path=made.path)
    return replace(item, shape=made, figure=figure)
