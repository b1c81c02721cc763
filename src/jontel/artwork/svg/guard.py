"""A first look at outside XML, before any other reader sees it."""

import contextlib
from xml.etree import ElementTree
from xml.parsers import expat

from jontel.design.errors import CannotRead

LARGEST = 40_000_000
LONGEST_ENTITY = 400
DEEPEST = 400
"""Elements are nested no deeper than this."""


class _Refused(Exception):
    pass


def look_at(data: bytes, name: str) -> ElementTree.Element:
    """The root of an SVG. Raises ``CannotRead`` when it is none or could do harm.

    Entities are allowed as short plain text, which drawing programs write for name spaces; entities that
    reach outside the file or contain others are refused.
    """
    if not data.strip():
        raise CannotRead(f"{name} is empty; choose another file.")
    if len(data) > LARGEST:
        raise CannotRead(f"{name} is over {LARGEST // 1_000_000} MB; simplify the drawing and try again.")
    parser = expat.ParserCreate()
    depth = count = 0

    def started(tag: str, _attributes: dict[str, str]) -> None:
        nonlocal depth, count
        if not count and tag.split(":")[-1] != "svg":
            raise _Refused(f"{name} is not an SVG drawing; save the artwork as SVG and try again.")
        count += 1
        depth += 1
        if depth > DEEPEST:
            raise _Refused(f"{name} is nested too deeply to read; ungroup it and try again.")

    def ended(_tag: str) -> None:
        nonlocal depth
        depth -= 1

    def entity(_n: str, _p: bool, value: str | None, _b: str | None, system: str | None, *_rest: object) -> None:
        if system is not None or value is None:
            raise _Refused(f"{name} refers to another file by an external entity; save it without and try again.")
        if len(value) > LONGEST_ENTITY or "&" in value:
            raise _Refused(f"{name} holds entities within entities; save it as plain SVG and try again.")

    parser.StartElementHandler, parser.EndElementHandler = started, ended
    parser.EntityDeclHandler = entity
    with contextlib.suppress(AttributeError):
        parser.SetParamEntityParsing(expat.XML_PARAM_ENTITY_PARSING_NEVER)
    try:
        parser.Parse(data, True)
        return ElementTree.fromstring(data)
    except _Refused as refused:
        raise CannotRead(str(refused)) from None
    except (expat.ExpatError, ElementTree.ParseError) as error:
        if not count:
            raise CannotRead(f"{name} is not an SVG drawing; save the artwork as SVG and try again.") from error
        line = getattr(error, "lineno", 0) or getattr(error, "position", (0, 0))[0]
        raise CannotRead(
            f"{name} breaks off or is damaged at line {line}; save it again from the drawing program."
        ) from error
