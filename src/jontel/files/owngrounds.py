"""Grounds of the user's own: one JSON file each in a folder, beside the shipped ones wherever a ground is chosen."""

import re
from pathlib import Path

import msgspec

from jontel.data import find_ground as find_shipped
from jontel.data import grounds
from jontel.design.errors import CannotRead
from jontel.design.ground import Ground
from jontel.files.atomic import read_whole, write_whole

LARGEST = 1_000_000
MOST = 500


def read_own(folder: Path) -> tuple[tuple[Ground, ...], tuple[str, ...]]:
    """The user's own grounds in a folder, by name, and a sentence for each file that cannot be read and is left."""
    found: list[Ground] = []
    troubles: list[str] = []
    for path in sorted(folder.glob("*.json"))[:MOST] if folder.is_dir() else []:
        try:
            found.append(msgspec.json.decode(read_whole(path, LARGEST), type=Ground))
        except (CannotRead, msgspec.DecodeError, UnicodeDecodeError):
            troubles.append(f"{path} is no ground that can be read; calibrate it again, or take it away.")
    return tuple(sorted(found, key=lambda one: one.name.lower())), tuple(troubles)


def own_grounds(folder: Path) -> tuple[Ground, ...]:
    """The user's own grounds that can be read, by name."""
    return read_own(folder)[0]


def all_grounds(folder: Path) -> tuple[Ground, ...]:
    """The shipped grounds, then the user's own."""
    return (*grounds(), *own_grounds(folder))


def find_ground(name: str, folder: Path) -> Ground:
    """The ground of this name, the user's own first. Raises ``CannotRead``."""
    wanted = name.strip().lower()
    own = [one for one in own_grounds(folder) if one.name.lower() == wanted]
    return own[0] if own else find_shipped(name)


def keep_ground(ground: Ground, folder: Path) -> Path:
    """Keep a ground of the user's own, in the place of one of the same name. Raises ``CannotWrite``."""
    folder.mkdir(parents=True, exist_ok=True)
    stem = re.sub(r"[^\w -]", "-", ground.name).strip() or "ground"
    path = folder / f"{stem}.json"
    write_whole(path, msgspec.json.format(msgspec.json.encode(ground), indent=1))
    return path
