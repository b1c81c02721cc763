"""The swatch measured on a scan or a photo of it: crosses found, perspective undone, edges measured.

The light is evened, thread told from cloth by its darkness or lightness against it (N. Otsu, "A threshold selection
method from gray-level histograms", 1979), the four crosses found by correlation; through them the picture is laid
out as the swatch was drawn, and each side of each shape is where thread ends between two lines a little beside it.
"""

import io
import itertools
from dataclasses import replace
from functools import lru_cache

import numpy as np
import scipy  # its parts are loaded when first used: they take longer than the window
from numpy.typing import NDArray
from PIL import Image, ImageDraw, UnidentifiedImageError

from jontel.design.errors import CannotRead
from jontel.design.ground import Ground
from jontel.forecast.forecast import Forecast
from jontel.forecast.showing import shown
from jontel.forecast.swatch import ARM, CROSSES, FIELD, Reading, readings, swatch, through_crosses
from jontel.geometry.polyline import Floats
from jontel.sewing.plan import SewPlan, plan

Grey = NDArray[np.float64]
MOST_PIXELS = 80_000_000
LEAST_SIDE = 400
WORKED = 900
"""Crosses are looked for in a picture no longer than this, px."""
MIDDLE = np.array([FIELD.width / 2, FIELD.height / 2])
FINE = 16
"""The picture is laid out at so many px a mm."""
REACH = 2.2
"""A side is looked for so far on both sides of where it was drawn, mm."""
LIKE = 0.35
"""What looks like a cross correlates with one at least so."""


def measured_on(data: bytes, name: str) -> dict[str, float]:
    """The readings of the swatch on a picture, mm by name. Raises ``CannotRead`` with what is lacking."""
    grey = _grey(data, name)
    thread = _thread(grey)
    places = _crosses(thread, name)
    laid = _laid_out(thread, places)
    drawn = {one.name: one.drawn for one in readings()}
    found = {named: length for named, length in _lengths(laid).items() if abs(length - drawn[named]) < REACH}
    if len(found) < len(readings()) // 2:
        raise CannotRead(
            f"{name} shows four crosses, but only {len(found)} of {len(readings())} lengths of the swatch: "
            "take the picture straight from above, in even light, with all of the swatch in it."
        )
    return found


@lru_cache(maxsize=4)
def unmoved(ground: Ground) -> dict[str, float]:
    """What would be measured on the swatch if no cloth moved, from edge to edge of the thread, mm by name."""
    return _lengths(painted(plan(swatch(ground)), FINE))


def seen_on_picture(seen: Forecast) -> dict[str, float]:
    """What would be measured on a picture of the swatch as it is forecast, laid out by its crosses, mm by name."""
    lay, sewn = through_crosses(seen), shown(seen)
    pieces = tuple(replace(piece, xy=lay(piece.xy), notes={}) for piece in sewn.pieces)
    return _lengths(painted(sewn.with_pieces(pieces), FINE))


def _lengths(laid: Grey) -> dict[str, float]:
    """The readings on the laid-out picture of the swatch, those whose sides are seen."""
    found = {one.name: _length(laid, one) for one in readings()}
    return {name: length for name, length in found.items() if length is not None}


def painted(sewn: SewPlan, fine: float) -> Grey:
    """How much of each pixel of the swatch's field is thread, at ``fine`` px a mm."""
    wide, high = round(FIELD.width * fine), round(FIELD.height * fine)
    image = Image.new("L", (2 * wide, 2 * high), 0)
    pen = ImageDraw.Draw(image)
    rows = np.flatnonzero(sewn.sewn())
    thick = sewn.threads[0].width
    for start, stop in zip(sewn.xy[rows - 1].tolist(), sewn.xy[rows].tolist(), strict=True):
        line = [tuple((np.array(spot) + MIDDLE) * 2 * fine) for spot in (start, stop)]
        pen.line(line, fill=255, width=round(2 * fine * thick))
        for x, y in line:
            half = fine * thick
            pen.ellipse((x - half, y - half, x + half, y + half), fill=255)
    return np.asarray(image.resize((wide, high), Image.Resampling.BOX), dtype=np.float64) / 255


def _grey(data: bytes, name: str) -> Grey:
    try:
        with Image.open(io.BytesIO(data)) as image:
            if image.width * image.height > MOST_PIXELS:
                raise CannotRead(f"{name} has over {MOST_PIXELS // 1_000_000} million pixels; make it smaller.")
            if min(image.size) < LEAST_SIDE:
                raise CannotRead(f"{name} is too small to measure on; scan it at 300 dots per inch or more.")
            grey = np.asarray(image.convert("L"), dtype=np.float64)
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise CannotRead(f"{name} is no picture that can be read; give a PNG or JPEG, or readings as CSV.") from error
    return grey


def _thread(grey: Grey) -> Grey:
    """How much of each pixel is thread, 0 to 1: its difference from the cloth about it, evened."""
    from skimage.filters import threshold_otsu
    from skimage.transform import resize

    few = 80 / max(grey.shape)
    small = resize(grey, [max(8, round(n * few)) for n in grey.shape], anti_aliasing=True)
    cloth = scipy.ndimage.percentile_filter(small, 80, size=21, mode="nearest")
    dark = scipy.ndimage.percentile_filter(small, 20, size=21, mode="nearest")
    if np.median(cloth - small) > np.median(small - dark):  # most is near the dark side: thread is the lighter one
        cloth = dark
    level = resize(scipy.ndimage.gaussian_filter(cloth, 4), grey.shape, anti_aliasing=False)
    apart = np.abs(grey - level) / np.maximum(level, 20.0)
    apart = scipy.ndimage.gaussian_filter(apart, max(0.7, max(grey.shape) / 2000))
    cut = float(threshold_otsu(apart))
    high = float(np.median(apart[apart > cut])) if (apart > cut).any() else 1.0
    low = float(np.median(apart[apart <= cut]))
    return np.asarray(np.clip((apart - low) / max(high - low, 1e-6), 0.0, 1.0), dtype=np.float64)


def _crosses(thread: Grey, name: str) -> Floats:
    """The middles of the four crosses, px (4, 2): as ``CROSSES`` has them. Raises ``CannotRead``."""
    from skimage.feature import match_template, peak_local_max
    from skimage.transform import resize

    scale = min(1.0, WORKED / max(thread.shape))
    small = resize(thread, [round(n * scale) for n in thread.shape], anti_aliasing=True) if scale < 1 else thread
    spots: list[tuple[float, float, float]] = []
    for wide in np.geomspace(0.035, 0.075, 6) * max(small.shape):  # an arm to arm of 6 mm, in 80 to 170 mm of picture
        pattern = _cross(wide)
        like = match_template(small, pattern, pad_input=True)
        spots += [
            (float(like[y, x]), float(x), float(y))
            for y, x in peak_local_max(like, min_distance=round(wide), threshold_abs=LIKE, num_peaks=10)
        ]
    spots.sort(reverse=True)
    kept: list[tuple[float, float, float]] = []
    for spot in spots:
        if all(np.hypot(spot[1] - x, spot[2] - y) > 0.05 * max(small.shape) for _, x, y in kept):
            kept.append(spot)
    best: tuple[float, Floats] | None = None
    for four in itertools.combinations(kept[:9], 4):
        xy = np.array([spot[1:] for spot in four])
        order = np.argsort(np.arctan2(*(xy - xy.mean(axis=0)).T[::-1]))  # round the middle, from the top left on
        quad = xy[order]
        sides = np.hypot(*(np.roll(quad, -1, axis=0) - quad).T)
        if sides.min() < 0.3 * max(small.shape) or sides.max() > 1.35 * sides.min():
            continue
        worth = sum(spot[0] for spot in four)
        if best is None or worth > best[0]:
            best = worth, quad
    if best is None:
        raise CannotRead(
            f"The four crosses of the swatch were not found in {name}: all of it has to be in the picture, "
            "upright, on cloth of an even colour."
        )
    return np.array([_middle_of(thread, place / scale) for place in best[1]])


def _cross(wide: float) -> Grey:
    size = round(wide * 1.25) | 1
    y, x = np.mgrid[:size, :size] - size // 2
    thick = max(0.7, wide * 0.055)
    arm = np.maximum(np.abs(x), np.abs(y)) <= wide / 2
    return np.asarray((np.minimum(np.abs(x), np.abs(y)) <= thick) & arm, dtype=np.float64)


def _middle_of(thread: Grey, place: Floats) -> Floats:
    """A cross's middle, finely: where its two bars lie, each seen beside the other, px (2,)."""
    reach = round(0.03 * max(thread.shape))
    x, y = (round(float(v)) for v in place)
    part = thread[max(0, y - reach) : y + reach + 1, max(0, x - reach) : x + reach + 1]
    if part.size == 0:
        return place
    weight = np.maximum(part - 0.3, 0.0)
    across, down = (weight**2).sum(axis=0), (weight**2).sum(axis=1)
    found = []
    for sums in (across, down):
        peak = int(np.argmax(scipy.ndimage.gaussian_filter1d(sums, 2)))
        about = np.arange(max(0, peak - reach // 4), min(len(sums), peak + reach // 4 + 1))
        mass = np.maximum(sums[about] - np.median(sums), 1e-9)
        found.append(float((about * mass).sum() / mass.sum()))
    return np.array([max(0, x - reach) + found[0], max(0, y - reach) + found[1]])


def _laid_out(thread: Grey, places: Floats) -> Grey:
    """The picture as the swatch was drawn, ``FINE`` px a mm, its middle in the middle.

    Upright, the crosses are found more finely: so it is laid out twice.
    """
    from skimage.transform import ProjectiveTransform, warp

    size = (round(FIELD.height * FINE), round(FIELD.width * FINE))
    drawn = (np.array(CROSSES) + MIDDLE) * FINE
    laid: Grey = thread
    for turn in range(3):
        lay = ProjectiveTransform.from_estimate(drawn, places)
        laid = np.asarray(warp(thread, lay, output_shape=size, order=1, cval=0.0), dtype=np.float64)
        if turn < 2:
            places = np.asarray(lay(np.array([_fine_middle(laid, spot) for spot in drawn])))
    return laid


def _fine_middle(laid: Grey, spot: Floats) -> Floats:
    """The middle of an upright cross near a place, px (2,): between the two sides of each of its four arms."""
    x, y = (round(float(v)) for v in spot)
    near, far, wide = round(0.8 * FINE), round(ARM * 0.85 * FINE), round(1.2 * FINE)
    arms = np.concatenate([np.arange(-far, -near), np.arange(near, far)])
    about = np.arange(-wide, wide + 1)
    level = laid[np.ix_(y + about, x + arms)].sum(axis=1)
    upright = laid[np.ix_(y + arms, x + about)].sum(axis=0)
    found = []
    for sums in (upright, level):
        mass = np.maximum(sums - np.median(sums), 0.0)
        found.append(float((about * mass).sum() / max(mass.sum(), 1e-9)))
    return np.array([x + found[0], y + found[1]])


def _length(laid: Grey, one: Reading) -> float | None:
    """A reading on the laid-out picture, mm; ``None`` where a side is not seen."""
    sides = []
    for places, sign in zip(one.ends, (-1, 1), strict=True):
        found = [_edge(laid, place, sign * one.way, one.drawn) for place in places]
        seen = [value for value in found if value is not None]
        if len(seen) < max(1, len(found) // 2):
            return None
        sides.append(float(np.median(seen)))
    return one.drawn + sum(sides)


def _edge(laid: Grey, place: Floats, way: Floats, drawn: float) -> float | None:
    """How far thread goes beyond a place of a side on the way out, mm; below 0 where it ends before."""
    inward = min(REACH, drawn * 0.45)
    steps = np.arange(-inward, REACH, 1 / FINE)
    spots = (place + steps[:, None] * way + MIDDLE) * FINE
    line = scipy.ndimage.map_coordinates(laid, spots[:, ::-1].T, order=1, mode="nearest")
    line = scipy.ndimage.gaussian_filter1d(line, 1.5)
    low, high = (
        float(np.percentile(line[-max(4, FINE // 2) :], 50)),
        float(np.percentile(line[: max(3, FINE // 4)], 50)),
    )
    if high - low < 0.25:
        return None
    half = (high + low) / 2
    after = np.flatnonzero(line < half)
    if not len(after) or after[0] == 0:
        return None
    k = int(after[0])
    part = (line[k - 1] - half) / max(line[k - 1] - line[k], 1e-9)
    return float(steps[k - 1] + part / FINE)
