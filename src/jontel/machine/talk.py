"""What a head and its driver say to each other: a line of JSON each, a job's bytes after the line that tells of it.

The whole grammar stands in ``docs/sew-out.md``.
"""

import json
from typing import Any

from jontel.design.errors import CannotRead

VERSION = 1
LONGEST_LINE = 64_000
LARGEST_JOB = 50_000_000
PORT = 7420
Message = dict[str, Any]


def said(message: Message) -> bytes:
    """A message as it is sent."""
    return json.dumps(message, separators=(",", ":"), allow_nan=False).encode() + b"\n"


def heard(line: bytes) -> Message:
    """A line as a message. Raises ``CannotRead`` for what is none."""
    if len(line) > LONGEST_LINE:
        raise CannotRead(f"A message is over {LONGEST_LINE:,} bytes; send the job as one.")
    try:
        found = json.loads(line.decode())
    except (ValueError, RecursionError) as error:
        raise CannotRead("A message is no line of JSON; see docs/sew-out.md.") from error
    if not isinstance(found, dict):
        raise CannotRead("A message is no JSON object; see docs/sew-out.md.")
    return found


def whole(message: Message, name: str, most: int) -> int:
    """A whole number from 0 to ``most`` that a message holds. Raises ``CannotRead``."""
    value = message.get(name)
    if not isinstance(value, int) or isinstance(value, bool) or not 0 <= value <= most:
        raise CannotRead(f"“{name}” must be a whole number from 0 to {most:,}.")
    return value


def words(message: Message, name: str, plain: str = "") -> str:
    """A text that a message holds. Raises ``CannotRead``."""
    value = message.get(name, plain)
    if not isinstance(value, str) or len(value) > 1_000:
        raise CannotRead(f"“{name}” must be a text of up to 1,000 signs.")
    return value
