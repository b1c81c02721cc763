"""What an object is sewn as when its shape becomes one of another sort."""

from msgspec.structs import replace

from jontel.design.design import StitchObject
from jontel.design.kinds import kind_name, kind_of
from jontel.design.kinds.fill import Fill
from jontel.design.kinds.run import Run
from jontel.design.kinds.satin import Satin
from jontel.design.shapes import Shape

FIRST = {"area": Fill, "line": Run, "column": Satin}
"""What a shape is sewn as at first."""


def sewn_as(item: StitchObject, shape: Shape) -> StitchObject:
    """``item`` on ``shape``: with its own cover where such a shape takes it, else with that shape's first.

    A fill could be sewn inside a line, but who makes a line means the line.
    """
    sort = kind_name(shape)
    traits = kind_of(item.cover).traits
    same = sort in traits.lies_on and not (sort == "line" and traits.rows == "one way")
    cover = item.cover if same else FIRST[sort]()
    kept = same and sort == kind_name(item.shape)
    return replace(item, shape=shape, cover=cover, underlay=item.underlay if kept else None, figure=None)
