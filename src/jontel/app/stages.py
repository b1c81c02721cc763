"""The five stages: places, not a wizard. One table says what each has; a new stage is its panel and its line here."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from jontel.app.panels.artwork import ArtworkPanel
from jontel.app.panels.base import Panel
from jontel.app.panels.brief import BriefPanel
from jontel.app.panels.order import OrderPanel
from jontel.app.panels.sewout import SewOutPanel
from jontel.app.panels.stitch import StitchPanel
from jontel.sewing.proof import Finding

if TYPE_CHECKING:
    from jontel.app.window import MainWindow

MOST_TOOLS = 12
LOOKING = ("select", "measure", "pan")
DRAWING = ("bend", "line", "freehand", "figure", "column", "letter", "direction", "cut", "needle")
BY_KEY = ("shape", "rectangle", "ellipse", "block", "guide")


@dataclass(frozen=True)
class Stage:
    """A stage: its name, its panel, the tools on its rail, and what the cloth shows in it.

    Pictures are moved with the mouse where ``pictures`` is set. Tools beyond the rail (``more``) are reached by key,
    by the finder and from the panel. ``hint`` says what to do next; without one the tool's own does. ``attention``
    tells from the kinds of findings which concern it, and ``wants`` a word for them.
    """

    name: str
    make: Callable[[MainWindow], Panel]
    tools: tuple[str, ...]
    more: tuple[str, ...] = ("zoom",)
    hint: str = ""
    connections: bool = False
    handles: bool = False
    findings: bool = False
    artwork: bool = False
    pictures: bool = False
    attention: tuple[str, ...] = ()
    wants: str = ""

    @property
    def all_tools(self) -> tuple[str, ...]:
        """The tools that can be used here."""
        return (*self.tools, *self.more)


STAGES: tuple[Stage, ...] = (
    Stage(
        "Brief",
        lambda window: BriefPanel(window.aside, window.settings),
        LOOKING,
        hint="Choose what it is sewn on; everything inherits from it",
        attention=("outside hoop",),
        wants="too large",
    ),
    Stage(
        "Artwork",
        lambda window: ArtworkPanel(window.desk),
        ("select", "regions", "brush", "lasso", "scale", "measure", "pan"),
        hint="Bring in a drawing, or place a picture to draw over; pictures are dragged where they belong",
        artwork=True,
        pictures=True,
    ),
    Stage(
        "Stitch",
        lambda _window: StitchPanel(),
        ("select", *DRAWING, "measure", "pan"),
        more=(*BY_KEY, "zoom"),
        handles=True,
        artwork=True,
        attention=("not stitched",),
        wants="{count} not stitched",
    ),
    Stage(
        "Order",
        lambda window: OrderPanel(window.group_by_thread),
        LOOKING,
        hint="Drag a block on the needle track to resew it earlier or later",
        connections=True,
        handles=True,
        findings=True,
        attention=("buried",),
        wants="{count} buried",
    ),
    Stage(
        "Sew-out",
        lambda window: SewOutPanel(window.aside),
        ("select", "needle", "measure", "pan"),
        hint="Play it, look at the findings, then write the files",
        findings=True,
    ),
)
NAMES = tuple(stage.name for stage in STAGES)


def number_of(name: str) -> int:
    """The place of a stage in the row."""
    return NAMES.index(name)


def stage_for(tool: str) -> int:
    """The first stage on whose rail a tool is."""
    return next(number for number, stage in enumerate(STAGES) if tool in stage.all_tools)


def attention(stage: Stage, findings: tuple[Finding, ...]) -> str:
    """What a stage says of the findings that concern it; nothing when there are none."""
    count = sum(finding.kind in stage.attention for finding in findings)
    return stage.wants.format(count=count) if count else ""
