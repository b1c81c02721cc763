"""How a value is declared: its type, range, unit, name, place in the panel, all in the ``Meta`` of its annotation.

From the declaration follow what a file may hold (msgspec checks ``Meta`` on decoding), the controls of the panel
and what rebalance scales. A recipe knows every value; its pins are made from it by ``pins``.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from typing import Annotated, Any, Literal, Optional, TypeVar, get_args, get_origin, get_type_hints

import msgspec
from msgspec import Meta, Struct

Unit = Literal["length", "stitch", "spacing", "strokes", "angle", "percent", "count", "part", "money"]
"""Lengths and spacings in mm, angles in degrees; ``part`` is of a whole, 0 to 1; ``money`` has hundredths.

A ``stitch`` is no longer than the machine moves; ``strokes`` is a spacing of which each holds two strokes.
"""
Sort = Literal["number", "word", "yes or no", "curve"]
MOST_KNOTS = 200
"""A profile has no more knots than this, a shape no more direction lines."""
Share = Annotated[float, Meta(ge=0.0, le=1.0)]
Profile = tuple[tuple[Share, Share], ...]
"""A curve over a way: ``(place, value)``, the place from 0 to 1, straight between."""
S = TypeVar("S", bound=Struct)


class Positive(tuple[object, ...]):
    """Stands for every number above 0 in a ``When``."""

    def __contains__(self, value: object) -> bool:
        return isinstance(value, int | float) and value > 0


ABOVE_ZERO = Positive((1.0, 4.0))
When = tuple[str, tuple[object, ...]]
"""A value is only shown while another of the same part is one of these."""


@dataclass(frozen=True)
class Group:
    """Values that belong together; those not always ``open`` have a heading that opens them."""

    title: str
    open: bool = False


@dataclass(frozen=True)
class Place:
    """Where in a panel a value stands, and when it is there."""

    group: Group
    when: When | None = None


@dataclass(frozen=True)
class Value:
    """One declared value, read back from its annotation.

    ``low`` and ``high`` belong to the range of a number; ``options`` are the words to choose from; ``ready`` offers
    ready-made curves; ``rebalanced`` names it among what rebalance scales.
    """

    field: str
    title: str
    sort: Sort
    places: tuple[Place, ...]
    unit: Unit = "length"
    low: float = 0.0
    high: float = 0.0
    step: float = 0.1
    options: tuple[str, ...] = ()
    ready: bool = False
    rebalanced: str | None = None
    whole: bool = False

    def within(self, number: float) -> float:
        """``number`` held to the range."""
        return min(self.high, max(self.low, number))


def number(
    title: str,
    low: float,
    high: float,
    unit: Unit,
    step: float,
    group: Group,
    when: When | None = None,
    *,
    also: Sequence[Place] = (),
    rebalanced: str | None = None,
) -> Meta:
    """A number from ``low`` to ``high``, both included."""
    places = (Place(group, when), *also)
    extra = {"places": places, "unit": unit, "step": step, "rebalanced": rebalanced}
    return Meta(ge=low, le=high, title=title, extra=extra)


def word(title: str, group: Group, when: When | None = None) -> Meta:
    """One of the words of a ``Literal``."""
    return Meta(title=title, extra={"places": (Place(group, when),)})


def yes_no(title: str, group: Group, when: When | None = None) -> Meta:
    """Yes or no."""
    return Meta(title=title, extra={"places": (Place(group, when),)})


def curve(title: str, group: Group, when: When | None = None, ready: bool = False) -> Meta:
    """A profile, drawn by hand; ``ready`` offers ready-made ones to start from."""
    return Meta(max_length=MOST_KNOTS, title=title, extra={"places": (Place(group, when),), "ready": ready})


@cache
def values_of(struct: type[Struct]) -> tuple[Value, ...]:
    """The declared values of a struct, in the order of their declaration; fields without a title are none."""
    found: list[Value] = []
    for field, hint in get_type_hints(struct, include_extras=True).items():
        meta = next((one for one in _metas(hint) if one.title is not None), None)
        if field not in struct.__struct_fields__ or meta is None:
            continue
        plain = _plain(hint)
        extra: dict[str, Any] = meta.extra or {}
        options = tuple(str(one) for one in get_args(plain)) if get_origin(plain) is Literal else ()
        sort: Sort = (
            "word" if options else "yes or no" if plain is bool else "number" if plain in (int, float) else "curve"
        )
        found.append(
            Value(
                field,
                str(meta.title),
                sort,
                extra["places"],
                extra.get("unit", "length"),
                float(meta.ge or 0.0),
                float(meta.le or 0.0),
                extra.get("step", 0.1),
                options,
                extra.get("ready", False),
                extra.get("rebalanced"),
                plain is int,
            )
        )
    return tuple(found)


def value_of(struct: type[Struct], field: str) -> Value:
    """One declared value."""
    return next(one for one in values_of(struct) if one.field == field)


def groups_of(struct: type[Struct]) -> dict[Group, tuple[tuple[Value, When | None], ...]]:
    """The values of a struct by the group that shows them, each with when it is there."""
    found: dict[Group, tuple[tuple[Value, When | None], ...]] = {}
    for one in values_of(struct):
        for place in one.places:
            found[place.group] = (*found.get(place.group, ()), (one, place.when))
    return found


def _metas(hint: Any) -> list[Meta]:
    if get_origin(hint) is Annotated:
        inner, *metas = get_args(hint)
        return [one for one in metas if isinstance(one, Meta)] + _metas(inner)
    return [meta for one in get_args(hint) for meta in _metas(one)] if get_origin(hint) is not Literal else []


def _plain(hint: Any) -> Any:
    """A hint without its annotation and without ``None``."""
    while get_origin(hint) is Annotated or type(None) in get_args(hint):
        hint = next(one for one in get_args(hint) if one is not type(None))
    return hint


def pins(cls: type[S]) -> type[S]:
    """Class decorator: the pins of the recipe that ``cls`` derives from.

    The same values with the same ranges, each ``None`` until it is set by hand. To the type checker they have the
    types of the recipe; whoever reads one that may not be pinned asks ``resolve`` first, or compares with ``None``.
    """
    recipe = cls.__mro__[1]
    assert issubclass(recipe, Struct)
    hints = get_type_hints(recipe, include_extras=True)
    fields = [(name, Optional[hints[name]], None) for name in recipe.__struct_fields__]  # noqa: UP045
    made = msgspec.defstruct(
        cls.__name__,
        fields,
        bases=(recipe,),
        module=cls.__module__,
        namespace={"__doc__": cls.__doc__},
        frozen=True,
        tag=cls.__struct_config__.tag,
    )
    return made  # type: ignore[return-value]
