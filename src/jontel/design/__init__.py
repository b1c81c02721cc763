"""The value: a design, its brief, its objects and their build-up; edits and history. No arrays, no Qt."""

from jontel.design.design import Artwork, Beneath, Brief, Design, Ends, StitchObject
from jontel.design.errors import CannotRead, CannotStitch, CannotWrite, JontelError, MachineRefused
from jontel.design.ground import Edges, EdgesRecipe, Ground, Hoop
from jontel.design.history import History
from jontel.design.kinds import Cover
from jontel.design.kinds.bare import Bare, BareRecipe
from jontel.design.kinds.fill import Fill, FillRecipe
from jontel.design.kinds.run import Run, RunRecipe
from jontel.design.kinds.satin import Satin, SatinRecipe
from jontel.design.resolve import Resolved, resolve
from jontel.design.shapes import Area, Column, Line, Point, Shape
from jontel.design.thread import Thread, nearest_thread

__all__ = [
    "Area", "Artwork", "Bare", "BareRecipe", "Beneath", "Brief", "CannotRead", "CannotStitch", "CannotWrite",
    "Column", "Cover", "Design",
    "Edges", "EdgesRecipe", "Ends", "Fill", "FillRecipe", "Ground", "History", "Hoop", "JontelError",
    "Line", "MachineRefused", "Point", "Resolved", "Run", "RunRecipe", "Satin", "SatinRecipe", "Shape",
    "StitchObject", "Thread", "nearest_thread", "resolve",
]  # fmt: skip
