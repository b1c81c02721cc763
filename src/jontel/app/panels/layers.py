"""Which values each layer of the build-up has, and how they are set: the tables that the editors are made from."""

from dataclasses import dataclass
from typing import Literal, get_args

from jontel.design.covers import (
    Bare,
    Border,
    Fade,
    Feather,
    Fill,
    Pattern,
    Run,
    RunStyle,
    RunWay,
    Satin,
    Sides,
    Strokes,
    Texture,
    Travel,
)
from jontel.design.ranges import RANGES
from jontel.design.shapes import Corners, LineEnds
from jontel.design.underlays import (
    CentreRun,
    DoubleZigzag,
    EdgeRun,
    Lattice,
    Mesh,
    Parallel,
    Zigzag,
)

Part = Literal["cover", "edges", "shape", "underlay"]
When = tuple[str, tuple[object, ...]]
"""A control is only there while a field of the same part has one of these values."""


class Positive(tuple[object, ...]):
    """Stands for every number above 0 in a ``When``."""

    def __contains__(self, value: object) -> bool:
        return isinstance(value, int | float) and value > 0


@dataclass(frozen=True)
class Control:
    """One value of a layer: its field, its name, and when it is there."""

    field: str
    title: str
    when: When | None = None


@dataclass(frozen=True)
class Value(Control):
    """A number: its kind, its range and its step."""

    kind: str = "length"
    low: float = 0.0
    high: float = 1.0
    step: float = 0.1


@dataclass(frozen=True)
class Choice(Control):
    """One of several words."""

    options: tuple[str, ...] = ()


@dataclass(frozen=True)
class Toggle(Control):
    """Yes or no."""


@dataclass(frozen=True)
class Curve(Control):
    """A profile, drawn by hand; ``top`` is its highest value, ``ready`` are profiles to start from."""

    ready: bool = False


@dataclass(frozen=True)
class Group:
    """Controls that belong together; those that are not always ``open`` have a heading that opens them."""

    title: str
    part: Part
    controls: tuple[Control, ...]
    open: bool = False


def number(field: str, title: str, kind: str, step: float, when: When | None = None) -> Value:
    """A number within the range of its field."""
    low, high = RANGES[field]
    return Value(field, title, when, kind, low, high, step)


_LENGTH = Value("length", "Stitch length", None, "length", 0.5, 12.0, 0.1)
_OPEN = Value("spacing", "Spacing", None, "spacing", 0.3, 20.0, 0.1)
_INSET = Value("inset", "Inset", None, "length", 0.0, 10.0, 0.1)
_TEXTURES: When = ("texture", ("brick", "stair", "chevron", "random"))
_FEATHERS: When = ("feather", ("first", "second", "both"))
_FADES: When = ("fade", ("along", "against", "middle out", "custom"))


def _fade(*more: Control) -> Group:
    return Group(
        "Fade",
        "cover",
        (
            Choice("fade", "Spacing opens", None, get_args(Fade)),
            number("fade_to", "Opens to", "spacing", 0.1, _FADES),
            *more,
            Curve("fade_profile", "Profile", ("fade", ("custom",))),
        ),
    )


COVER_GROUPS: dict[type, tuple[Group, ...]] = {
    Run: (
        Group(
            "Run",
            "cover",
            (
                Choice("style", "Style", None, get_args(RunStyle)),
                Value("length", "Stitch length", ("by_hand", (False,)), "length", 0.5, 12.0, 0.1),
                number("repeats", "Repeats", "count", 1),
            ),
            True,
        ),
        Group(
            "Path",
            "cover",
            (
                Choice("way", "Direction", None, get_args(RunWay)),
                number("chord", "May cut curves by", "length", 0.02, ("by_hand", (False,))),
                Toggle("by_hand", "Needle points placed by hand"),
            ),
        ),
    ),
    Satin: (
        Group(
            "Rows",
            "cover",
            (
                Value("spacing", "Spacing", None, "spacing", 0.15, 10.0, 0.02),
                Toggle("short_stitches", "Short stitches on tight insides"),
            ),
            True,
        ),
        Group(
            "Line",
            "shape",
            (
                Value("width", "Width", None, "length", 0.4, 40.0, 0.1),
                Choice("ends", "Ends of the line", None, get_args(LineEnds)),
            ),
            True,
        ),
        Group(
            "Width profile and corners",
            "shape",
            (
                Curve("profile", "Width profile", None, True),
                Choice("corners", "Corners", None, get_args(Corners)),
                number("mitre_over", "Mitred over", "angle", 5, ("corners", ("by angle",))),
                number("cap_over", "Capped over", "angle", 5, ("corners", ("by angle",))),
            ),
        ),
        Group(
            "Width limits",
            "cover",
            (
                number("least_width", "At least", "length", 0.1),
                number("greatest_width", "At most (0: any)", "length", 0.5),
                number("narrow_extra", "Extra where narrow", "length", 0.1),
            ),
        ),
        Group(
            "Long rows",
            "cover",
            (
                number("split", "Split rows over", "length", 0.5),
                number("split_lines", "In lines of (0: apart)", "count", 1),
                number("split_least", "Least piece", "length", 0.1),
                number("anchor", "Anchor every … returns", "count", 1),
            ),
        ),
        Group(
            "Surface",
            "cover",
            (
                Choice("texture", "Needle points", None, get_args(Texture)),
                number("texture_length", "Apart", "length", 0.1, _TEXTURES),
                Choice("texture_on", "On strokes", _TEXTURES, get_args(Strokes)),
                number("layers", "Layers", "count", 1),
                number("layer_inset", "Lower ones narrower", "length", 0.1, ("layers", tuple(range(2, 9)))),
            ),
        ),
        Group(
            "Feathered edge",
            "cover",
            (
                Choice("feather", "Edges", None, get_args(Sides)),
                number("feather_length", "Up to", "length", 0.1, _FEATHERS),
                Choice("feather_way", "Goes", _FEATHERS, get_args(Feather)),
                number("seed", "Seed", "count", 1, _FEATHERS),
            ),
        ),
        _fade(),
    ),
    Fill: (
        Group(
            "Rows",
            "cover",
            (
                Value("spacing", "Spacing", None, "spacing", 0.1, 10.0, 0.02),
                _LENGTH,
                Value("angle", "Angle", None, "angle", -180.0, 180.0, 1.0),
            ),
            True,
        ),
        Group(
            "Needle points",
            "cover",
            (
                Choice("pattern", "Pattern", None, get_args(Pattern)),
                Value("brick_offset", "Brick offset", ("pattern", ("brick",)), "part", 0.0, 0.99, 0.05),
                number("brick_rows", "Brick rows", "count", 1, ("pattern", ("brick",))),
                number("seed", "Seed", "count", 1, ("pattern", ("random",))),
            ),
        ),
        _fade(number("fade_angle", "Towards", "angle", 5, _FADES)),
        Group(
            "Rim",
            "cover",
            (
                number("ragged", "Ragged by up to", "length", 0.5),
                number("seed", "Seed", "count", 1, ("ragged", Positive((1.0, 4.0)))),
                Choice("border", "Border", None, get_args(Border)),
                number("border_width", "Border width", "length", 0.1, ("border", ("satin",))),
                number("border_spacing", "Border spacing", "spacing", 0.02, ("border", ("satin",))),
                Choice("travel", "Travel goes", None, get_args(Travel)),
            ),
        ),
    ),
    Bare: (Group("Passes", "cover", (Value("angle", "Angle", None, "angle", -180.0, 180.0, 1.0),), True),),
}
EDGE_GROUPS = (
    Group(
        "Edges",
        "edges",
        (
            Value("pull", "Pull, each side", None, "length", 0.0, 3.0, 0.05),
            Value("pull_percent", "Pull, of the row", None, "percent", 0.0, 50.0, 1.0),
            Value("pull_ceiling", "Pull at most", None, "length", 0.0, 5.0, 0.1),
            Value("push", "Push, each end", None, "length", 0.0, 3.0, 0.05),
        ),
        True,
    ),
    Group(
        "Along x and y",
        "edges",
        (
            number("pull_x", "More for level rows", "length", 0.05),
            number("pull_y", "More for upright rows", "length", 0.05),
        ),
    ),
)
UNDERLAY_VALUES: dict[type, tuple[Value, ...]] = {
    CentreRun: (_LENGTH, _INSET),
    EdgeRun: (_LENGTH, _INSET),
    Parallel: (_OPEN, _LENGTH, _INSET, Value("angle", "Angle to the rows", None, "angle", -180.0, 180.0, 5.0)),
    Zigzag: (_OPEN, _INSET),
    DoubleZigzag: (_OPEN, _INSET),
    Lattice: (_OPEN, _LENGTH, _INSET, Value("angle", "Angle to the rows", None, "angle", 5.0, 85.0, 5.0)),
    Mesh: (_OPEN, _LENGTH, _INSET, Value("angle", "Angle to the rows", None, "angle", -90.0, 90.0, 5.0)),
}
