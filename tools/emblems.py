"""Draw the emblems: ``python tools/emblems.py`` writes ``design/figures/emblems.py``.

Each is put together from circles, bands and smooth outlines in a field of 100 x 100 (x right, y down) and drawn again
with few nodes. A new one is its function here and its word in ``design/figures/emblem.py``.
"""

import math
from collections.abc import Callable
from pathlib import Path

import numpy as np
import shapely
from shapely.affinity import rotate, scale, translate
from shapely.geometry.base import BaseGeometry

from jontel.design.figures.emblem import EmblemName
from jontel.geometry.combining import drawn_again
from jontel.geometry.polyline import flatten
from jontel.geometry.smoothing import smooth_path

NEAR = 0.04
"""Of a field of 100; of an emblem 60 mm wide a fortieth of a millimetre."""
HERE = Path(__file__).parent.parent / "src/jontel/design/figures/emblems.py"
Shape = BaseGeometry
Spots = list[tuple[float, float]]


def disc(x: float, y: float, rx: float, ry: float | None = None) -> Shape:
    """A circle or an ellipse."""
    return translate(scale(shapely.Point(0, 0).buffer(1, 96), rx, rx if ry is None else ry), x, y)


def flat(*spots: tuple[float, float]) -> Shape:
    """A polygon."""
    return shapely.Polygon(spots)


def soft(*spots: tuple[float, float]) -> Shape:
    """A smooth closed outline through places."""
    ring = [*spots, *spots, *spots, spots[0]]
    line = flatten(smooth_path(ring), 0.002)[0].xy
    marks = [int(np.argmin(np.hypot(*(line - spot).T))) for spot in (spots[0],)]
    far = np.hypot(*(line - np.array(spots[0])).T)
    hits = [k for k in range(1, len(line) - 1) if far[k] < 1e-6 and marks]
    return shapely.Polygon(line[hits[0] : hits[1]]).buffer(0)


def band(width: float, *spots: tuple[float, float], curved: bool = False, flat_ends: bool = False) -> Shape:
    """A stroke of one width."""
    line = flatten(smooth_path(list(spots)), 0.002)[0].xy if curved else np.array(spots)
    return shapely.LineString(line).buffer(width / 2, quad_segs=32, cap_style="flat" if flat_ends else "round")


def both(shape: Shape) -> Shape:
    """A shape and its mirror image about the upright axis."""
    return shape | scale(shape, -1, 1, origin=(0, 0))


def round_about(shape: Shape, count: int) -> Shape:
    """Copies about the middle."""
    return shapely.union_all([rotate(shape, 360 * k / count, origin=(0, 0)) for k in range(count)])


def lantern() -> Shape:
    body = flat((-24, -18), (24, -18), (30, 34), (-30, 34)) - flat((-15, -10), (15, -10), (19, 26), (-19, 26))
    flame = soft((0, -6), (7, 8), (5, 18), (0, 21), (-5, 18), (-7, 8))
    roof = flat((-30, -18), (0, -38), (30, -18))
    return body | roof | flame | flat((-34, 34), (34, 34), (34, 44), (-34, 44)) | (disc(0, -42, 8) - disc(0, -42, 4))


def lighthouse() -> Shape:
    tower = flat((-11, -22), (11, -22), (18, 44), (-18, 44))
    stripes = flat((-30, -8), (30, -8), (30, 6), (-30, 6)) | flat((-30, 21), (30, 21), (30, 35), (-30, 35))
    tower = tower - (tower.buffer(-3.4) & stripes)
    room = flat((-9, -38), (9, -38), (9, -25), (-9, -25)) - flat((-4, -35), (4, -35), (4, -27), (-4, -27))
    roof, deck = flat((-13, -37), (0, -48), (13, -37)), flat((-16, -26), (16, -26), (16, -21), (-16, -21))
    return tower | room | roof | deck | flat((-28, 43), (28, 43), (28, 49), (-28, 49))


def anchor() -> Shape:
    arms = band(8, (-36, 12), (-26, 34), (0, 42), (26, 34), (36, 12), curved=True)
    fluke = flat((36, 2), (46, 20), (27, 21))
    return (
        both(fluke)
        | arms
        | band(8, (0, -24), (0, 42))
        | band(8, (-20, -16), (20, -16))
        | (disc(0, -36, 12) - disc(0, -36, 6))
    )


def sail() -> Shape:
    hull = soft((-40, 26), (0, 29), (40, 26), (30, 41), (0, 45), (-30, 41))
    main = flat((-2, -46), (-2, 20), (-34, 20)) & disc(20, 2, 64)
    return hull | main | flat((3, -36), (3, 20), (30, 20)) | band(3, (0.5, -46), (0.5, 30))


def gull() -> Shape:
    wing = soft((0, 2), (14, -14), (30, -18), (48, -8), (32, -8), (18, 0), (6, 16), (0, 18))
    return both(wing) | disc(0, 9, 7, 10)


def fish() -> Shape:
    body = soft((-38, 0), (-20, -17), (6, -19), (26, -5), (30, 0), (26, 5), (6, 19), (-20, 17))
    return (body | flat((20, 0), (46, -20), (40, 0), (46, 20))) - disc(-22, -5, 3.6)


def scallop() -> Shape:
    fan = shapely.union_all([disc(0, 0, 1).buffer(0)] + [translate(disc(0, 0, 11), 34 * math.sin(a), 8 - 40 * math.cos(a)) for a in np.radians([-66, -40, -13, 13, 40, 66])])  # fmt: skip
    body = flat((0, 44), *[(36 * math.sin(a), 10 - 42 * math.cos(a)) for a in np.radians(range(-72, 73, 6))])
    ribs = shapely.union_all([band(2.6, (0, 34), (30 * math.sin(a), 6 - 34 * math.cos(a))) for a in np.radians([-53, -27, 0, 27, 53])])  # fmt: skip
    return (fan | body | flat((-16, 32), (16, 32), (12, 46), (-12, 46))) - ribs


def starfish() -> Shape:
    return soft(*[(r * math.sin(math.radians(36 * k)), -r * math.cos(math.radians(36 * k))) for k in range(10) for r in [46 if k % 2 == 0 else 17]]) - disc(0, 0, 4)  # fmt: skip


def breaker() -> Shape:
    return soft((-46, 34), (-34, 4), (-12, -24), (16, -32), (34, -20), (37, -2), (26, 8), (15, 3), (14, -8), (22, -10), (18, -17), (5, -14), (-4, 2), (2, 20), (22, 29), (46, 30), (46, 42), (0, 42), (-40, 42))  # fmt: skip


def moon() -> Shape:
    return disc(-4, 0, 44) - disc(17, -8, 37)


def sun() -> Shape:
    return disc(0, 0, 22) | round_about(flat((-6, -28), (6, -28), (0, -47)), 12)


def cloud() -> Shape:
    return shapely.union_all([disc(-24, 8, 18), disc(-6, -8, 22), disc(20, -2, 17), disc(32, 12, 13), flat((-24, 4), (32, 4), (32, 25), (-24, 25)) | disc(-24, 10, 16)])  # fmt: skip


def leaf() -> Shape:
    blade = soft((0, -46), (16, -28), (24, -4), (14, 20), (0, 32), (-14, 20), (-24, -4), (-16, -28))
    veins = band(2.6, (0, -28), (0, 22)) | both(band(2.4, (0, 10), (13, -4)) | band(2.4, (0, -6), (11, -18)))
    return (blade - veins) | band(4.4, (0, 29), (2, 47))


def fern() -> Shape:
    stem = band(3.6, (0, 48), (0, 10), (2, -20), (0, -46), curved=True)
    leaves: Shape = shapely.Polygon()
    for k in range(8):
        y, long = 36 - 10 * k, 34 - 3.4 * k
        leaves = leaves | both(rotate(disc(long / 2, y, long / 2, 3.9), -28, origin=(0, y)))
    return stem | leaves


def blossom() -> Shape:
    petals = round_about(soft((0, -6), (13, -22), (12, -40), (0, -46), (-12, -40), (-13, -22)), 5)
    return (petals | disc(0, 0, 16)) - (disc(0, 0, 10.5) - disc(0, 0, 6))


def fir() -> Shape:
    tiers = [
        flat((0, -46), (20, -18), (-20, -18)),
        flat((0, -28), (29, 8), (-29, 8)),
        flat((0, -6), (38, 34), (-38, 34)),
    ]
    return shapely.union_all([*tiers, flat((-6, 30), (6, 30), (6, 48), (-6, 48))])


def peaks() -> Shape:
    hills = flat((-48, 38), (-20, -18), (-6, 8), (14, -38), (48, 38))
    snow = band(3, (-34, 0), (-26, 7), (-20, -2), (-13, 7), (-4, -2), (4, 4), (12, -8), (20, 2), (36, -8))
    return hills - snow


def shield() -> Shape:
    outer = soft((-34, -40), (0, -36), (34, -40), (37, -4), (22, 28), (0, 46), (-22, 28), (-37, -4))
    return outer - (outer.buffer(-6) - outer.buffer(-11))


def banner() -> Shape:
    tail = flat((24, -6), (48, -6), (40, 6), (48, 18), (24, 18))
    return both(tail) - both(flat((26, -16), (30, -16), (30, 14), (26, 14))) | flat(
        (-28, -16), (28, -16), (28, 10), (-28, 10)
    )


def key() -> Shape:
    bow = disc(-28, 0, 18) - disc(-28, 0, 9)
    return (
        bow
        | flat((-11, -4), (46, -4), (46, 4), (-11, 4))
        | flat((26, 3), (33, 3), (33, 16), (26, 16))
        | flat((38, 3), (45, 3), (45, 20), (38, 20))
    )


def bell() -> Shape:
    body = soft(
        (0, -36), (16, -30), (22, -8), (27, 14), (38, 26), (0, 29), (-38, 26), (-27, 14), (-22, -8), (-16, -30)
    )
    return body | (disc(0, -39, 8) - disc(0, -39, 3.6)) | disc(0, 36, 8)


def bolt() -> Shape:
    return flat((8, -48), (-26, 8), (-4, 8), (-12, 48), (26, -12), (3, -12), (20, -48))


def buoy() -> Shape:
    ring, slot = disc(0, 0, 44) - disc(0, 0, 22), flat((-9, -60), (-5, -60), (-5, 0), (-9, 0))
    ties = round_about((disc(0, 0, 48) - disc(0, 0, 18)) & flat((-5, -60), (5, -60), (5, 0), (-5, 0)), 4)
    return (ring - round_about(slot | scale(slot, -1, 1, origin=(0, 0)), 4)) | ties


def compass() -> Shape:
    ring = disc(0, 0, 36) - disc(0, 0, 31)
    points = round_about(flat((0, -48), (7, -7), (-7, -7)), 4) | round_about(
        rotate(flat((0, -27), (6, -5), (-6, -5)), 45, origin=(0, 0)), 4
    )
    return (ring - points.buffer(3)) | points | disc(0, 0, 7) - disc(0, 0, 3)


def hook() -> Shape:
    bend = band(7, (10, -30), (10, 10), (6, 28), (-8, 34), (-20, 24), (-20, 8), curved=True)
    return bend | flat((-24, 18), (-20, 0), (-9, 20), (-18, 14)) | (disc(10, -37, 9) - disc(10, -37, 4))


def house() -> Shape:
    walls = flat((-30, 0), (30, 0), (30, 44), (-30, 44)) - flat((-6, 18), (8, 18), (8, 44.1), (-6, 44.1)) - flat((15, 12), (24, 12), (24, 22), (15, 22)) - flat((-23, 12), (-14, 12), (-14, 22), (-23, 22))  # fmt: skip
    return walls | flat((-42, 2), (0, -36), (42, 2)) | flat((16, -36), (26, -36), (26, -12), (16, -12))


def crown() -> Shape:
    band_ = flat((-38, 22), (38, 22), (36, 38), (-36, 38))
    spikes = flat((-44, -22), (-20, 6), (0, -32), (20, 6), (44, -22), (38, 25), (-38, 25))
    return (band_ | spikes | disc(0, -34, 6) | both(disc(44, -24, 5))) - flat(
        (-35, 19), (35, 19), (35, 22.6), (-35, 22.6)
    )


def kite() -> Shape:
    body = (
        flat((0, -46), (24, -18), (0, 22), (-24, -18))
        - band(2.6, (-17, -18), (17, -18))
        - band(2.6, (0, -36), (0, 10))
    )
    tail = band(2.6, (0, 20), (7, 28), (-3, 36), (5, 46), curved=True)
    return body | tail | both(flat((2, 33), (12, 28), (12, 38)))


def snowflake() -> Shape:
    arm = band(5, (0, 0), (0, -44)) | both(band(4.4, (0, -28), (12, -39)) | band(4.4, (0, -15), (9, -23)))
    return round_about(arm, 6)


def paw() -> Shape:
    pad = soft((0, -2), (17, 10), (26, 28), (14, 38), (0, 34), (-14, 38), (-26, 28), (-17, 10))
    return pad | both(disc(12, -28, 9, 13) | rotate(disc(33, -6, 8, 12), 24))


def whale() -> Shape:
    body = soft(
        (-44, 6), (-34, -14), (-10, -20), (14, -10), (30, 4), (40, 4), (36, 18), (20, 28), (-12, 32), (-36, 26)
    )
    tail = soft((32, 8), (34, -10), (24, -22), (36, -20), (42, -12), (47, -22), (50, -8), (44, 4), (40, 14))
    spout = band(3, (-20, -24), (-24, -36), (-33, -36), curved=True) | band(
        3, (-20, -24), (-16, -36), (-7, -36), curved=True
    )
    return (body | tail | spout) - disc(-30, 4, 3)


def oars() -> Shape:
    oar = band(4.4, (0, -30), (0, 46)) | soft((0, -48), (8, -40), (7, -22), (0, -14), (-7, -22), (-8, -40))
    return rotate(oar, 38, origin=(0, 4)) | rotate(oar, -38, origin=(0, 4))


def main() -> None:
    """Write the file."""
    lines = [
        '"""Path data of the emblems in a field of 100 x 100 about the origin; ``tools/emblems.py`` writes it."""',
        "",
        "EMBLEMS: dict[str, str] = {",
    ]
    for name in EmblemName.__args__:  # type: ignore[attr-defined]
        made: Callable[[], Shape] = globals()[name]
        shape = made()
        x, y, u, v = shape.bounds
        shape = translate(shape, -(x + u) / 2, -(y + v) / 2)
        shape = scale(shape, 100 / max(u - x, v - y), 100 / max(u - x, v - y), origin=(0, 0))
        lines.append(f'    "{name}": "{drawn_again(shape, NEAR)}",')
    HERE.write_text("\n".join([*lines, "}"]) + "\n")


if __name__ == "__main__":
    main()
