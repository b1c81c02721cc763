"""Grounds of the user's own: one JSON file each in a folder, beside the shipped ones wherever a ground is chosen."""

import re
from pathlib import Path

import msgspec
import platformdirs

from jontel.data import find_ground as find_shipped
from jontel.data import grounds
from jontel.design.errors import CannotRead
from jontel.design.ground import Ground
from jontel.files.atomic import read_whole, write_whole

LARGEST = 1_000_000
MOST = 500


def own_folder() -> Path:
    """Where they lie."""
    return Path(platformdirs.user_config_dir("jontel")) / "grounds"


def own_grounds(folder: Path | None = None) -> tuple[Ground, ...]:
    """The user's own grounds by name; a file that cannot be read is passed over, and left where it is."""
    place = folder or own_folder()
    found: list[Ground] = []
    for path in sorted(place.glob("*.json"))[:MOST] if place.is_dir() else []:
        try:
            found.append(msgspec.json.decode(read_whole(path, LARGEST), type=Ground))
        except (CannotRead, msgspec.DecodeError):
            continue
    return tuple(sorted(found, key=lambda one: one.name.lower()))


def all_grounds() -> tuple[Ground, ...]:
    """The shipped grounds, then the user's own."""
    return (*grounds(), *own_grounds())


def find_ground(name: str) -> Ground:
    """The ground of this name, the user's own first. Raises ``CannotRead``."""
    wanted = name.strip().lower()
    own = [one for one in own_grounds() if one.name.lower() == wanted]
    return own[0] if own else find_shipped(name)


def keep_ground(ground: Ground, folder: Path | None = None) -> Path:
    """Keep a ground of the user's own, in the place of one of the same name. Raises ``CannotWrite``."""
    place = folder or own_folder()
    place.mkdir(parents=True, exist_ok=True)
    stem = re.sub(r"[^\w -]", "-", ground.name).strip() or "ground"
    path = place / f"{stem}.json"
    write_whole(path, msgspec.json.format(msgspec.json.encode(ground), indent=1))
    return path
