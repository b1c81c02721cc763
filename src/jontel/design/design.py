"""The value that everything else is a function of: a design, its brief, its objects."""

from typing import Literal

from msgspec import Struct

from jontel.design.covers import Bare, Cover, Fill, Run, Satin
from jontel.design.ground import Edges, Ground, Hoop
from jontel.design.shapes import Point, Shape
from jontel.design.thread import Thread
from jontel.design.underlays import Underlay

Policy = Literal["auto", "always", "never"]


class Ends(Struct, frozen=True):
    """Entry, exit, locks, trim and the stop after an object.

    ``entry`` and ``exit`` are ``None`` until pinned: then the nearest ends are joined. ``stop`` is the
    instruction for the person at the machine; an empty text still stops.
    """

    entry: Point | None = None
    exit: Point | None = None
    lock_in: Policy = "auto"
    lock_out: Policy = "auto"
    trim: Policy = "auto"
    stop: str | None = None


class Beneath(Struct, frozen=True):
    """What a shared underlay lies beneath: objects by id, and how far inside their edges it stays, mm."""

    objects: tuple[int, ...]
    inset: float = 0.8


class StitchObject(Struct, frozen=True, kw_only=True):
    """One thing the machine sews: a shape with its build-up. ``underlay`` ``None`` is automatic.

    ``underlay_once`` lays it once under a whole branched shape instead of part by part. ``beneath`` makes the
    object an underlay shared by others; its shape follows theirs.
    """

    id: int
    name: str
    thread: str
    shape: Shape
    cover: Cover
    underlay: tuple[Underlay, ...] | None = None
    edges: Edges = Edges()
    ends: Ends = Ends()
    underlay_once: bool = False
    beneath: Beneath | None = None

    def pins(self) -> int:
        """How many values of this object were set by hand and survive a change of ground."""
        structs: tuple[Struct, ...] = (self.cover, self.edges)
        counted = sum(getattr(struct, name) is not None for struct in structs for name in struct.__struct_fields__)
        return counted + (self.underlay is not None)


class Artwork(Struct, frozen=True):
    """A picture under the stitches, as it was given. Sizes and place (top left) in mm.

    ``data`` is the file's bytes; ``notes`` name what in it could not be digitized.
    """

    name: str
    media: Literal["svg", "png", "jpeg", "webp", "bmp", "tiff"]
    x: float
    y: float
    width: float
    height: float
    data: bytes = b""
    visible: bool = True
    dim: float = 0.5
    notes: tuple[str, ...] = ()


class Brief(Struct, frozen=True):
    """What the design is sewn on, in which hoop, with which threads."""

    ground: Ground
    hoop: Hoop
    threads: tuple[Thread, ...]


class Design(Struct, frozen=True, kw_only=True):
    """One piece of embroidery; ``objects`` are in sewing order.

    Sewn stitches shorter than ``least_stitch`` mm are merged into their neighbours; 0 leaves them.
    """

    name: str
    brief: Brief
    objects: tuple[StitchObject, ...] = ()
    artwork: tuple[Artwork, ...] = ()
    least_stitch: float = 0.0
    next_id: int = 1

    def object(self, identity: int) -> StitchObject | None:
        """The object with this id, or ``None`` when it is gone."""
        return next((item for item in self.objects if item.id == identity), None)

    def thread(self, code: str) -> Thread:
        """The thread with this code; a plain grey stands in for one that the brief has lost."""
        return next((t for t in self.brief.threads if t.code == code), Thread(code, "missing", "#888888"))

    def pins(self) -> int:
        """How many values of all objects are pinned."""
        return sum(item.pins() for item in self.objects)


__all__ = ["Artwork", "Bare", "Beneath", "Brief", "Design", "Ends", "Fill", "Policy", "Run", "Satin", "StitchObject"]
