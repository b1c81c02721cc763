"""How far apart the rows of a cover are wanted where it fades."""

from functools import lru_cache

import numpy as np

from jontel.design.kinds.fades import Fade, faded
from jontel.design.kinds.fill import FillRecipe
from jontel.design.kinds.satin import SatinRecipe
from jontel.design.kinds.values import Profile
from jontel.geometry.polyline import Floats

FADE_KNOTS = 65


def faded_spacing(recipe: FillRecipe | SatinRecipe, place: Floats) -> Floats:
    """The spacing wanted at places (n,) from 0 to 1 along a fade's way, mm, (n,)."""
    curve = _fade_curve(recipe.fade, recipe.fade_profile)
    part = np.clip(np.interp(place, np.linspace(0, 1, FADE_KNOTS), curve), 0, 1)
    return np.asarray(recipe.spacing + (recipe.fade_to - recipe.spacing) * part)


@lru_cache(maxsize=64)
def _fade_curve(fade: Fade, profile: Profile) -> Floats:
    """``faded`` at ``FADE_KNOTS`` places."""
    return np.array([faded(fade, profile, at) for at in np.linspace(0, 1, FADE_KNOTS).tolist()])
