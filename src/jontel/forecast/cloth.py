"""The cloth of a ground: what it was given, or what is known of its kind."""

from msgspec.structs import replace

from jontel.design.cloth import Cloth
from jontel.design.ground import Ground, Weave

SHEETS: dict[Weave, Cloth] = {
    "twill": Cloth(30.0, 20.0, 6.0, hold=0.8),
    "canvas": Cloth(40.0, 34.0, 9.0, hold=0.6),
    "knit": Cloth(14.0, 11.0, 4.0, poisson=0.35, hold=1.2),
    "pile": Cloth(12.0, 10.0, 3.5, poisson=0.35, hold=1.2),
    "smooth": Cloth(40.0, 40.0, 15.0, hold=0.4),
    "sheer": Cloth(13.0, 12.0, 2.5, hold=0.8),
    "felt": Cloth(16.0, 14.0, 5.5, hold=0.8),
    "film": Cloth(6.0, 6.0, 2.3, hold=1.0),
}
"""Fabric with its usual backing, N per mm: of the order that tensile and shear tests of such cloth give."""
PULL, PUSH = 0.41, 0.21
"""Parts of length for each mm of a ground's pull and push: so that on twill a column 8 mm wide and 40 long with its
automatic underlay draws in by just the pull of the recipe at each side, and grows by its push at each end."""


def cloth_of(ground: Ground) -> Cloth:
    """How a ground gives: its own numbers, or those of its weave, pulled and pushed as its recipe compensates."""
    if ground.cloth is not None:
        return ground.cloth
    return replace(SHEETS[ground.weave], pull=PULL * ground.edges.pull, push=PUSH * ground.edges.push)
