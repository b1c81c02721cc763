"""Tools: each turns mouse and keys on the cloth into edits. A new one is its file and its line in ``TOOLS``."""

from jontel.app.tools.base import Tool
from jontel.app.tools.cut import CutTool
from jontel.app.tools.direct import DirectionTool, GuideTool
from jontel.app.tools.draw import ColumnTool, EllipseTool, LineTool, RectangleTool, ShapeTool
from jontel.app.tools.letter import LetterTool
from jontel.app.tools.measure import MeasureTool
from jontel.app.tools.needle import NeedleTool
from jontel.app.tools.pan import PanTool
from jontel.app.tools.select import SelectTool

TOOLS: tuple[type[Tool], ...] = (
    SelectTool,
    LineTool,
    ColumnTool,
    ShapeTool,
    RectangleTool,
    EllipseTool,
    LetterTool,
    DirectionTool,
    GuideTool,
    CutTool,
    NeedleTool,
    MeasureTool,
    PanTool,
)
