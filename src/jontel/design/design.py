"""The value that everything else is a function of: a design, its brief, its objects."""

from typing import Annotated, Literal

from msgspec import Meta, Struct

from jontel.design.figures import Figure
from jontel.design.ground import Edges, Ground, Hoop, Name, Passes, suited_to
from jontel.design.kinds import Cover
from jontel.design.kinds.values import Group, number
from jontel.design.lettering import Lettering
from jontel.design.machine import STANDARD, USUAL_RATES, MachineProfile, Rates
from jontel.design.monogram import Role
from jontel.design.order import CONNECTIONS, MOST_STEPS, Connections, Instruction, Lock, Step, Strand
from jontel.design.shapes import Coordinate, PathData, Point, Shape
from jontel.design.thread import USUAL, Thread

MOST_OBJECTS, MOST_ARTWORK, MOST_THREADS, MOST_GUIDES, MOST_VERSIONS = 20_000, 60, 1_000, 500, 60
LARGEST_ARTWORK = 200_000_000
"""What a design holds at most; an artwork file in bytes."""
Identity = Annotated[int, Meta(ge=0, le=2_000_000_000)]
LEAST_STITCH = (0.0, 3.0)
"""The range of ``Design.least_stitch``, mm."""

Policy = Literal["auto", "always", "never"]


class Ends(Struct, frozen=True):
    """Entry, exit, locks, trim and the stops before and after an object.

    ``entry`` and ``exit`` are ``None`` until pinned: then the nearest ends are joined. ``stop`` and ``stop_before``
    are instructions for the person at the machine; an empty text still stops. Connections inside the object are cut
    where they cross more than ``leave`` mm of cloth beside it, the one to the next where it shows for more than
    ``cut_over``; ``None`` is what the design or its machine says, and so with the kind and the size of its locks.
    """

    entry: Point | None = None
    exit: Point | None = None
    lock_in: Policy = "auto"
    lock_out: Policy = "auto"
    trim: Policy = "auto"
    stop: Instruction | None = None
    leave: Annotated[float, Meta(ge=0.0, le=50.0)] | None = None
    stop_before: Instruction | None = None
    cut_over: Annotated[float, Meta(ge=0.0, le=50.0)] | None = None
    lock: Lock | None = None
    lock_size: Annotated[float, Meta(ge=0.5, le=3.0)] | None = None


class Beneath(Struct, frozen=True):
    """What a shared underlay lies beneath: objects by id, and how far inside their edges it stays, mm."""

    objects: Annotated[tuple[Identity, ...], Meta(max_length=MOST_OBJECTS)]
    inset: Annotated[float, Meta(ge=-5.0, le=20.0)] = 0.8


class Solved(Struct, frozen=True):
    """The edges that an object is sewn to so that the cloth ends up as drawn, worked out from the forecast.

    ``stamp`` tells of what design: another one has another.
    """

    shape: Shape
    stamp: Annotated[str, Meta(max_length=80)] = ""


MOST_ACCEPTED = 10_000


class Accepted(Struct, frozen=True):
    """A finding of the proof that a person accepts: its kind, and the objects that it is about."""

    kind: Name
    objects: Annotated[tuple[Identity, ...], Meta(max_length=MOST_OBJECTS)] = ()


class StitchObject(Struct, frozen=True, kw_only=True):
    """One thing the machine sews: a shape with its build-up. ``underlay`` ``None`` is automatic.

    ``underlay_once`` lays it once under a whole branched shape, or a whole word, instead of part by part.
    ``beneath`` makes the object an underlay shared by others; its shape follows theirs. ``lettering`` says what words
    its shape is, ``monogram`` which part of which monogram it is, ``figure`` which figure.
    Objects with the same ``group``, unless that is 0, are selected together. A ``hidden`` one is neither shown nor
    sewn; a ``locked`` one is neither selected on the cloth nor changed there. ``undercut`` takes away what later
    objects hide of it, but for so many mm under their edges; ``None`` leaves it whole. ``strand`` says with which
    others it is sewn as one, ``step`` in which step of the design; 0 is none. ``solved`` are the edges that are sewn
    instead of compensated ones.
    """

    id: Identity
    name: Name
    thread: Name
    shape: Shape
    cover: Cover
    underlay: Passes | None = None
    edges: Edges = Edges()
    ends: Ends = Ends()
    underlay_once: bool = False
    beneath: Beneath | None = None
    lettering: Lettering | None = None
    monogram: Role | None = None
    figure: Figure | None = None
    group: Identity = 0
    undercut: Annotated[float, Meta(ge=0.0, le=20.0)] | None = None
    strand: Strand | None = None
    step: Identity = 0
    solved: Solved | None = None
    hidden: bool = False
    locked: bool = False

    @property
    def within_reach(self) -> bool:
        """Whether the hand can take hold of it on the cloth."""
        return not (self.hidden or self.locked)

    def pins(self) -> int:
        """How many values of this object were set by hand and survive a change of ground."""
        structs: tuple[Struct, ...] = (self.cover, self.edges)
        counted = sum(getattr(struct, name) is not None for struct in structs for name in struct.__struct_fields__)
        return counted + (self.underlay is not None)


LOOK = Group("Look", open=True)
MOST_PATCHES = 500
Part = Annotated[float, Meta(ge=0.0, le=1.0)]


class Patch(Struct, frozen=True):
    """What of a picture is painted over: ``path``, in parts of the whole, inside or else outside of it.

    In a ``colour``, or, without one, in that of what the picture lies on.
    """

    path: PathData
    inside: bool = True
    colour: Annotated[str, Meta(pattern="^(#[0-9a-fA-F]{6})?$")] = ""


class Look(Struct, frozen=True):
    """How a picture of pixels is seen and digitized; its file stays as it was given.

    Brightness, contrast and sharpness are percent more or less. What is darker than ``one_tone`` percent is black,
    the rest white; 0 keeps the colours. ``crop`` is what is left, in parts of the whole: left, top, right, bottom.
    ``patches`` are painted over it, one after another.
    """

    brightness: Annotated[float, number("Brightness", -100.0, 100.0, "percent", 5, LOOK)] = 0.0
    contrast: Annotated[float, number("Contrast", -100.0, 100.0, "percent", 5, LOOK)] = 0.0
    sharpness: Annotated[float, number("Sharpness", -50.0, 200.0, "percent", 10, LOOK)] = 0.0
    one_tone: Annotated[float, number("One tone at (0: colours)", 0.0, 100.0, "percent", 5, LOOK)] = 0.0
    crop: tuple[Part, Part, Part, Part] = (0.0, 0.0, 1.0, 1.0)
    patches: Annotated[tuple[Patch, ...], Meta(max_length=MOST_PATCHES)] = ()


AS_GIVEN = Look()


class Artwork(Struct, frozen=True):
    """A picture under the stitches, as it was given. Sizes and place (top left) in mm.

    ``data`` is the file's bytes; ``notes`` name what in it could not be digitized.
    """

    name: Name
    media: Literal["svg", "png", "jpeg", "webp", "bmp", "tiff"]
    x: Coordinate
    y: Coordinate
    width: Annotated[float, Meta(gt=0.0, le=10_000.0)]
    height: Annotated[float, Meta(gt=0.0, le=10_000.0)]
    data: bytes = b""
    visible: bool = True
    dim: Annotated[float, Meta(ge=0.0, le=1.0)] = 0.5
    notes: Annotated[tuple[Annotated[str, Meta(max_length=4000)], ...], Meta(max_length=10_000)] = ()
    look: Look = AS_GIVEN


class Brief(Struct, frozen=True):
    """What the design is sewn on, in which hoop, with which threads, on which machine, and what the shop pays."""

    ground: Ground
    hoop: Hoop
    threads: Annotated[tuple[Thread, ...], Meta(max_length=MOST_THREADS)]
    machine: MachineProfile = STANDARD
    rates: Rates = USUAL_RATES


class Guide(Struct, frozen=True):
    """A line across the whole cloth that things snap to: an ``upright`` one at an x, a level one at a y, mm."""

    upright: bool
    at: Coordinate


class Version(Struct, frozen=True):
    """A state of a design that was kept by name: with a note, when, and a photo of its test sew-out, a JPEG.

    ``state`` holds no pictures and no versions of its own.
    """

    name: Name
    note: Annotated[str, Meta(max_length=4000)]
    when: Annotated[str, Meta(max_length=40)]
    state: "Design"
    photo: bytes = b""


class Design(Struct, frozen=True, kw_only=True):
    """One piece of embroidery; ``objects`` are in sewing order.

    ``guides`` help the hand; rulers and the grid count from ``zero``.
    Sewn stitches shorter than ``least_stitch`` mm are merged into their neighbours; 0 leaves them.
    """

    name: Name
    brief: Brief
    objects: Annotated[tuple[StitchObject, ...], Meta(max_length=MOST_OBJECTS)] = ()
    artwork: Annotated[tuple[Artwork, ...], Meta(max_length=MOST_ARTWORK)] = ()
    least_stitch: Annotated[float, Meta(ge=LEAST_STITCH[0], le=LEAST_STITCH[1])] = 0.0
    next_id: Identity = 1
    guides: Annotated[tuple[Guide, ...], Meta(max_length=MOST_GUIDES)] = ()
    zero: Point = (0.0, 0.0)
    connections: Connections = CONNECTIONS
    steps: Annotated[tuple[Step, ...], Meta(max_length=MOST_STEPS)] = ()
    accepted: Annotated[tuple[Accepted, ...], Meta(max_length=MOST_ACCEPTED)] = ()
    versions: Annotated[tuple[Version, ...], Meta(max_length=MOST_VERSIONS)] = ()

    def step(self, identity: int) -> Step | None:
        """The step with this number, or ``None``."""
        return next((one for one in self.steps if one.id == identity), None)

    def object(self, identity: int) -> StitchObject | None:
        """The object with this id, or ``None`` when it is gone."""
        return next((item for item in self.objects if item.id == identity), None)

    def place_of(self, identity: int) -> int:
        """Where in the sewing order an object of this design comes, from 0."""
        return next(place for place, item in enumerate(self.objects) if item.id == identity)

    def thread(self, code: str) -> Thread:
        """The thread with this code; a plain grey stands in for one that the brief has lost."""
        return next((t for t in self.brief.threads if t.code == code), Thread(code, "missing", "#888888"))

    def ground_for(self, item: StitchObject) -> Ground:
        """The ground as an object inherits from it: a thinner thread lies closer."""
        width = self.thread(item.thread).width
        return self.brief.ground if width == USUAL else suited_to(self.brief.ground, width)

    def pins(self) -> int:
        """How many values of all objects are pinned."""
        return sum(item.pins() for item in self.objects)
