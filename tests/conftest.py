"""What all tests share: a home of their own, shapes that are hard, and designs made of them."""

import atexit
import gc
import math
import os
import shutil
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
_HOME = tempfile.mkdtemp(prefix="jontel-test-")
atexit.register(shutil.rmtree, _HOME, ignore_errors=True)
for _name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME", "XDG_DOCUMENTS_DIR"):
    os.environ[_name] = str(Path(_HOME) / _name.lower())

import numpy as np  # noqa: E402
import pytest  # noqa: E402
from hypothesis import HealthCheck, settings  # noqa: E402

from jontel.data import find_ground, find_hoop, thread_chart  # noqa: E402
from jontel.demo import crest  # noqa: E402
from jontel.design import Area, Brief, Cover, Design, Fill, Ground, Shape, StitchObject  # noqa: E402
from jontel.design.edits import add_objects  # noqa: E402
from jontel.design.store import Store, working_in  # noqa: E402

settings.register_profile(
    "jontel",
    deadline=None,
    derandomize=True,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large],
)
settings.load_profile("jontel")


def pytest_collection_finish() -> None:
    """Modules and tests stay until the end: they are not looked through each time that garbage is collected."""
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 40)  # as the application has it


def ring_path(radius: float, x: float = 0.0, y: float = 0.0, reverse: bool = False, n: int = 96) -> str:
    """A circle as a polygon."""
    turns = np.linspace(0, 2 * math.pi, n, endpoint=False)[:: -1 if reverse else 1]
    return "M" + " L".join(f"{x + radius * math.cos(t):.4f} {y + radius * math.sin(t):.4f}" for t in turns) + " Z"


def box_path(x: float, y: float, width: float, height: float, reverse: bool = False) -> str:
    """A rectangle."""
    corners = [(x, y), (x + width, y), (x + width, y + height), (x, y + height)]
    return "M" + " L".join(f"{a} {b}" for a, b in (corners[::-1] if reverse else corners)) + " Z"


def star_path(outer: float = 20.0, inner: float = 7.0, points: int = 7) -> str:
    """A star with sharp points."""
    spots = []
    for k in range(2 * points):
        r = outer if k % 2 == 0 else inner
        spots.append(f"{r * math.sin(k * math.pi / points):.4f} {-r * math.cos(k * math.pi / points):.4f}")
    return "M" + " L".join(spots) + " Z"


def points_path(points: np.ndarray, closed: bool = False) -> str:
    """Straight pieces through points (n, 2)."""
    return "M" + " L".join(f"{x:.4f} {y:.4f}" for x, y in points.tolist()) + (" Z" if closed else "")


def spiral_edges(turns: float = 3.0, width: float = 3.5) -> tuple[np.ndarray, np.ndarray]:
    """The two edges of a spiral band, 6 mm from turn to turn."""
    t = np.linspace(0, 2 * math.pi * turns, 300)
    radius = 4 + 6 * t / (2 * math.pi)
    ray = np.column_stack([np.cos(t), np.sin(t)])
    return ray * (radius + width / 2)[:, None], ray * (radius - width / 2)[:, None]


def s_edges() -> tuple[np.ndarray, np.ndarray]:
    """The two edges of a letter-like S band that swells from 1 to 9 mm and thins again."""
    t = np.linspace(0, 1, 200)
    middle = np.column_stack([20 * np.sin(2 * math.pi * t), 50 * t - 25])
    along = np.gradient(middle, axis=0)
    along /= np.hypot(*along.T)[:, None]
    across = np.column_stack([-along[:, 1], along[:, 0]]) * ((1 + 8 * np.sin(math.pi * t) ** 2) / 2)[:, None]
    return middle + across, middle - across


def band_path(edges: tuple[np.ndarray, np.ndarray]) -> str:
    """The outline of a band between two edges."""
    return points_path(np.vstack([edges[0], edges[1][::-1]]), closed=True)


def afresh(make: Callable[[], Any]) -> Any:
    """What ``make`` computes when nothing that was computed before is looked up."""
    with working_in(Store()):
        return make()


PLATE_HOLES = " ".join(ring_path(4, x, y, True) for x in (-14, 0, 14) for y in (-14, 0, 14))
SHAPES = {
    "disc": ring_path(20),
    "ring": ring_path(20) + " " + ring_path(10, reverse=True),
    "plate": box_path(-25, -25, 50, 50) + " " + PLATE_HOLES,
    "comb": box_path(-25, 10, 50, 8) + " " + " ".join(box_path(-25 + 8 * k, -20, 4, 31) for k in range(6)),
    "star": star_path(),
    "crescent": "M0 0 C10 -14 30 -14 40 0 C30 -7 10 -7 0 0 Z",
    "islands": ring_path(8, -10) + " " + ring_path(8, 12),
    "spiral": band_path(spiral_edges()),
    "S band": band_path(s_edges()),
}


@pytest.fixture(scope="session")
def twill() -> Ground:
    """Woven twill."""
    return find_ground("Woven twill")


@pytest.fixture(scope="session")
def knit() -> Ground:
    """Pique knit."""
    return find_ground("Pique knit")


@pytest.fixture(scope="session")
def crest_design() -> Design:
    """The demo crest."""
    return crest()


def design_of(*items: tuple[Shape, Cover] | tuple[Shape, Cover, str], ground: str = "Woven twill") -> Design:
    """A design of shapes with covers, each in a thread of its own unless a code is given."""
    chart = thread_chart()
    made = [
        StitchObject(
            id=0, name=f"Object {n + 1}", shape=one[0], cover=one[1], thread=one[2] if len(one) > 2 else chart[n].code
        )
        for n, one in enumerate(items)
    ]
    codes = {item.thread for item in made}
    brief = Brief(find_ground(ground), find_hoop("130 x 180"), tuple(t for t in chart if t.code in codes))
    return add_objects(Design(name="Test", brief=brief), made)


@pytest.fixture
def two_boxes() -> Design:
    """Two filled boxes of one thread, 30 mm apart."""
    return design_of(
        (Area(box_path(-30, -10, 20, 20)), Fill(), "1001"), (Area(box_path(20, -10, 20, 20)), Fill(), "1001")
    )
