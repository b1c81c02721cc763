"""Tools: each turns mouse and keys on the cloth into edits. A new one is its file and its line in ``TOOLS``."""

from jontel.app.tools.base import Tool
from jontel.app.tools.bend import BendTool
from jontel.app.tools.brush import BrushTool, LassoTool
from jontel.app.tools.column import ColumnTool
from jontel.app.tools.cut import CutTool
from jontel.app.tools.direct import DirectionTool, GuideTool
from jontel.app.tools.figures import BlockTool, EllipseTool, FigureTool, RectangleTool
from jontel.app.tools.freehand import FreehandTool
from jontel.app.tools.letter import LetterTool
from jontel.app.tools.measure import MeasureTool
from jontel.app.tools.needle import NeedleTool
from jontel.app.tools.pan import PanTool
from jontel.app.tools.pen import AreaPenTool, PenTool
from jontel.app.tools.regions import RegionTool
from jontel.app.tools.scale import ScaleTool
from jontel.app.tools.select import SelectTool
from jontel.app.tools.zoom import ZoomTool

TOOLS: tuple[type[Tool], ...] = (
    SelectTool,
    BendTool,
    PenTool,
    AreaPenTool,
    FreehandTool,
    FigureTool,
    RectangleTool,
    EllipseTool,
    BlockTool,
    ColumnTool,
    LetterTool,
    DirectionTool,
    GuideTool,
    CutTool,
    NeedleTool,
    RegionTool,
    BrushTool,
    LassoTool,
    ScaleTool,
    MeasureTool,
    PanTool,
    ZoomTool,
)
