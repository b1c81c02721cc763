"""How a ground gives under thread: what the forecast of the sewn shape is worked out from."""

from typing import Annotated

from msgspec import Meta, Struct

Stiffness = Annotated[float, Meta(gt=0.0, le=10_000.0)]
Strain = Annotated[float, Meta(ge=-1.0, le=1.0)]


class Cloth(Struct, frozen=True):
    """Fabric and backing together as a sheet, and what thread does to it.

    Stiffnesses in N per mm of width: ``along`` the grain, ``across`` it, in ``shear``; ``poisson`` is what a pull
    along the grain takes off across it. ``grain`` is the direction of the grain, degrees counter-clockwise from x.
    Where thread covers the cloth once, it shortens by ``pull`` along the stitches and widens by ``push`` across
    them, as parts of its length; underlay that covers it once takes off both in the ratio 1 to 1 + ``hold``.
    Strains over ``limit`` are likely to pucker.
    """

    along: Stiffness = 30.0
    across: Stiffness = 20.0
    shear: Stiffness = 6.0
    poisson: Annotated[float, Meta(ge=0.0, le=0.49)] = 0.3
    grain: Annotated[float, Meta(ge=-360.0, le=360.0)] = 90.0
    pull: Strain = 0.05
    push: Strain = 0.03
    hold: Annotated[float, Meta(ge=0.0, le=20.0)] = 0.8
    limit: Annotated[float, Meta(gt=0.0, le=1.0)] = 0.08
