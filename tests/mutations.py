"""Working files damaged at random: bytes, structure and values, from a seed."""

import io
import json
import random
import zipfile
from typing import Any

ODD: tuple[Any, ...] = (
    None, True, False, 0, -1, 1, 2, 7, 1e-6, 1e-300, -0.5, 0.3, 4000, 1e6, 1e18, 1e308, -1e308, 2**31, 2**63, 2**70, "", "x", "é" * 300,
    "M0 0", "M0 0 L1 1", "M0 0 L50 0 L50 50 Z", "M0 0 L1e4 0 L1e4 1e4 L0 1e4 Z", "M0 0 C1 1 2 2 nan 3", "Z Z Z", "M1e999 0 L0 0",
    "#12345", "#zzzzzz", "nonzero", "satin", "fill", "custom", "random", "\u0000", "../../etc/passwd", [], {}, [[]], [0, 0], [1e9, -1e9], [None],
    {"type": "fill"}, {"type": "satin", "layers": 8}, {"type": "line", "path": "M0 0 L90 90"}, {"type": "mesh"}, [{"type": "mesh"}] * 9,
)  # fmt: skip


def places(value: Any, at: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """Every place in a document."""
    found = [at] if at else []
    if isinstance(value, dict):
        for key, inner in value.items():
            found += places(inner, (*at, key))
    elif isinstance(value, list):
        for key, inner in enumerate(value):
            found += places(inner, (*at, key))
    return found


def mutated_document(document: Any, chance: random.Random) -> Any:
    """A copy of a document with one to three values changed, left out, doubled or put elsewhere."""
    made = json.loads(json.dumps(document))
    for _ in range(chance.choice((1, 1, 1, 2, 3))):
        at = chance.choice(places(made))
        holder = made
        for key in at[:-1]:
            holder = holder[key]
        value = holder[at[-1]]
        match chance.randrange(6):
            case 0 if isinstance(holder, dict):
                del holder[at[-1]]
            case 1 if isinstance(holder, list):
                holder.insert(at[-1], value)
            case 2 if isinstance(value, int | float) and not isinstance(value, bool):
                holder[at[-1]] = value * chance.choice((-1, 0, 0.01, 0.3, 3, 100, 1e5))
            case 3 if isinstance(value, str) and value:
                k = chance.randrange(len(value))
                holder[at[-1]] = value[:k] + chance.choice(("", "9", "-", "e9", "Z", "M", " ", "é")) + value[k + 1 :]
            case _:
                holder[at[-1]] = json.loads(json.dumps(chance.choice(ODD)))
    return made


def mutated(data: bytes, seed: int) -> bytes:
    """A working file damaged in its bytes (one in three) or in its document."""
    chance = random.Random(seed)
    if seed % 3 == 0:
        raw = bytearray(data)
        for _ in range(chance.choice((1, 2, 8, 40))):
            raw[chance.randrange(len(raw))] = chance.randrange(256)
        return bytes(raw[: chance.choice((len(raw), len(raw), chance.randrange(len(raw))))])
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as old, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as new:
        for name in old.namelist():
            part = old.read(name)
            if name == "design.json":
                part = json.dumps(mutated_document(json.loads(part), chance)).encode()
                if seed % 7 == 0:
                    part = part.replace(b'"', chance.choice((b"\xff", b"'", b'"')), 1)
            if seed % 11 != 0 or name == "design.json":
                new.writestr(name, part)
    return out.getvalue()
