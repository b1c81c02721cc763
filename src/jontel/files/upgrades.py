"""Older working files brought up to date, one step a version, before anything is checked."""

from collections.abc import Callable
from typing import Any

VERSION = 9


def upgraded(head: dict[str, Any], version: int) -> dict[str, Any]:
    """The document of ``version`` as this version would have written it; what is not there is left to the decoder.

    The states that a design keeps of itself came with version 8: a step after that is taken with each of them, too.
    """
    for number in range(max(version, 1), VERSION):
        head = _STEPS[number](head)
    return head


def _same(head: dict[str, Any]) -> dict[str, Any]:
    """Versions 2, 5, 7 and 8 only added values, each with a default."""
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


def _each_end_and_each_edge(head: dict[str, Any]) -> dict[str, Any]:
    """Version 4: a line's two ends have shapes of their own, a satin's two edges feather each by their own length."""
    design = head.get("design")
    if not isinstance(design, dict):
        return head
    design = dict(design)
    if isinstance(design.get("objects"), list):
        design["objects"] = [_with_two_ends(item) for item in design["objects"]]
    brief = design.get("brief")
    ground = brief.get("ground") if isinstance(brief, dict) else None
    if isinstance(brief, dict) and isinstance(ground, dict) and isinstance(ground.get("covers"), list):
        covers = [_feathered_apart(cover) for cover in ground["covers"]]
        design["brief"] = {**brief, "ground": {**ground, "covers": covers}}
    return {**head, "design": design}


def _letters_as_thin_as_they_were(head: dict[str, Any]) -> dict[str, Any]:
    """Version 6: small letters are suited to their size; those of earlier versions stay as they were drawn."""
    design = head.get("design")
    objects = design.get("objects") if isinstance(design, dict) else None
    if not isinstance(design, dict) or not isinstance(objects, list):
        return head
    fresh = [
        {**item, "lettering": {"least_stroke": 0.0, **item["lettering"]}}
        if isinstance(item, dict) and isinstance(item.get("lettering"), dict)
        else item
        for item in objects
    ]
    return {**head, "design": {**design, "objects": fresh}}


def _patches_have_a_colour(head: dict[str, Any]) -> dict[str, Any]:
    """Version 9: what is painted over a picture may have a colour; before it was painted out, inside or outside."""
    design = head.get("design")
    artwork = design.get("artwork") if isinstance(design, dict) else None
    if not isinstance(design, dict) or not isinstance(artwork, list):
        return head
    return {**head, "design": {**design, "artwork": [_with_patches(one) for one in artwork]}}


def _with_patches(one: Any) -> Any:
    look = one.get("look") if isinstance(one, dict) else None
    if not isinstance(look, dict) or not isinstance(look.get("masks"), list):
        return one
    rest = {key: value for key, value in look.items() if key != "masks"}
    pairs = [pair for pair in look["masks"] if isinstance(pair, list) and len(pair) == 2]
    return {**one, "look": {**rest, "patches": [{"path": path, "inside": inside} for path, inside in pairs]}}


def _with_two_ends(item: Any) -> Any:
    if not isinstance(item, dict):
        return item
    shape = item.get("shape")
    if isinstance(shape, dict) and shape.get("type") == "line" and "ends" in shape:
        rest = {key: value for key, value in shape.items() if key != "ends"}
        item = {**item, "shape": {**rest, "start": shape["ends"], "end": shape["ends"]}}
    return {**item, "cover": _feathered_apart(item["cover"])} if "cover" in item else item


def _feathered_apart(cover: Any) -> Any:
    if not isinstance(cover, dict) or cover.get("type") != "satin":
        return cover
    old = {key: cover[key] for key in ("feather", "feather_length", "feather_way") if cover.get(key) is not None}
    fresh = {key: value for key, value in cover.items() if key not in ("feather", "feather_length", "feather_way")}
    for edge in ("first", "second"):
        if old.get("feather") in (edge, "both"):
            fresh[f"feather_{edge}"] = old.get("feather_length", 1.0)
            fresh[f"{edge}_way"] = old.get("feather_way", "inwards")
    return fresh


_STEPS: dict[int, Callable[[dict[str, Any]], dict[str, Any]]] = {
    1: _same,
    2: _grounds_list_their_recipes,
    3: _each_end_and_each_edge,
    4: _same,
    5: _letters_as_thin_as_they_were,
    6: _same,
    7: _same,
    8: _patches_have_a_colour,
}
