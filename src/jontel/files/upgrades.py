"""Older working files brought up to date, one step a version, before anything is checked."""

from collections.abc import Callable
from typing import Any

VERSION = 3


def upgraded(head: dict[str, Any], version: int) -> dict[str, Any]:
    """The document of ``version`` as this version would have written it; what is not there is left to the decoder."""
    for number in range(max(version, 1), VERSION):
        head = _STEPS[number](head)
    return head


def _same(head: dict[str, Any]) -> dict[str, Any]:
    """Version 2 only added values, each with a default."""
    return head


def _grounds_list_their_recipes(head: dict[str, Any]) -> dict[str, Any]:
    """Version 3: a ground's recipes are a list, and its underlays are named by what they lie on."""
    design = head.get("design")
    brief = design.get("brief") if isinstance(design, dict) else None
    ground = brief.get("ground") if isinstance(brief, dict) else None
    if not isinstance(design, dict) or not isinstance(brief, dict) or not isinstance(ground, dict):
        return head
    ground = dict(ground)
    ground["covers"] = [ground.pop(kind) for kind in ("run", "satin", "fill") if kind in ground]
    for old, new in (("fill_underlay", "area_underlay"), ("satin_underlay", "column_underlay")):
        if old in ground:
            ground[new] = ground.pop(old)
    return {**head, "design": {**design, "brief": {**brief, "ground": ground}}}


_STEPS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {1: _same, 2: _grounds_list_their_recipes}
