"""A first look at outside XML, before any other reader sees it."""

import contextlib
from dataclasses import dataclass, field
from xml.parsers import expat

from jontel.design.errors import CannotRead

LARGEST = 40_000_000
LONGEST_ENTITY = 400
_UNPAINTED = {"defs", "symbol", "clipPath", "mask", "pattern", "marker", "title", "desc", "metadata", "style"}
"""What stands in these is not painted where it stands."""


@dataclass
class Chunk:
    """Words of a text that stand at a place of their own: ``x`` and ``y`` as written, ``None`` for none."""

    x: str | None
    y: str | None
    words: str = ""


@dataclass
class Seen:
    """What the look found: elements with their attributes, in order, and the words of each text that is painted."""

    elements: list[tuple[str, dict[str, str]]] = field(default_factory=list)
    texts: list[list[Chunk]] = field(default_factory=list)


class _Refused(Exception):
    pass


def look_at(data: bytes, name: str) -> Seen:
    """Read ``data`` once. Raises ``CannotRead`` when it is not an SVG or could do harm.

    Entities are allowed as short plain text, which drawing programs write for name spaces; entities that
    reach outside the file or contain others are refused.
    """
    if not data.strip():
        raise CannotRead(f"{name} is empty; choose another file.")
    if len(data) > LARGEST:
        raise CannotRead(f"{name} is over {LARGEST // 1_000_000} MB; simplify the drawing and try again.")
    seen = Seen()
    parser = expat.ParserCreate()

    def started(tag: str, attributes: dict[str, str]) -> None:
        if not seen.elements and tag.split(":")[-1] != "svg":
            raise _Refused(f"{name} is not an SVG drawing; save the artwork as SVG and try again.")
        seen.elements.append((tag.split(":")[-1], attributes))

    def entity(_n: str, _p: bool, value: str | None, _b: str | None, system: str | None, *_rest: object) -> None:
        if system is not None or value is None:
            raise _Refused(f"{name} refers to another file by an external entity; save it without and try again.")
        if len(value) > LONGEST_ENTITY or "&" in value:
            raise _Refused(f"{name} holds entities within entities; save it as plain SVG and try again.")

    within: list[str] = []

    def started_text(tag: str, attributes: dict[str, str]) -> None:
        started(tag, attributes)
        style = attributes.get("style", "").replace(" ", "")
        hidden = attributes.get("display") == "none" or "display:none" in style
        within.append("defs" if hidden else tag.split(":")[-1])
        if _UNPAINTED.intersection(within):
            return
        if within[-1] == "text":
            seen.texts.append([Chunk(attributes.get("x"), attributes.get("y"))])
        elif within[-1] == "tspan" and "text" in within and ("x" in attributes or "y" in attributes):
            before = seen.texts[-1][-1]
            seen.texts[-1].append(Chunk(attributes.get("x", before.x), attributes.get("y", before.y)))

    def ended(_tag: str) -> None:
        within.pop()

    def words(found: str) -> None:
        if "text" in within and not _UNPAINTED.intersection(within):
            seen.texts[-1][-1].words += found

    parser.StartElementHandler = started_text
    parser.EndElementHandler = ended
    parser.CharacterDataHandler = words
    parser.EntityDeclHandler = entity
    with contextlib.suppress(AttributeError):
        parser.SetParamEntityParsing(expat.XML_PARAM_ENTITY_PARSING_NEVER)
    try:
        parser.Parse(data, True)
    except _Refused as refused:
        raise CannotRead(str(refused)) from None
    except expat.ExpatError as error:
        if not seen.elements:
            raise CannotRead(f"{name} is not an SVG drawing; save the artwork as SVG and try again.") from error
        raise CannotRead(
            f"{name} breaks off or is damaged at line {error.lineno}; save it again from the drawing program."
        ) from error
    return seen
