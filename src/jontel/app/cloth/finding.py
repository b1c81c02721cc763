"""What of a design lies under a place on the cloth, in a box, or inside a lasso."""

from collections.abc import Iterator

import shapely
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainterPath, QPainterPathStroker, QPen, QPolygonF

from jontel.app.drawing import shape_path, xy_of
from jontel.app.session import Document
from jontel.design import Design
from jontel.design.kinds import traits_of

HIT = 1.0
"""How near, mm, a click must be to a line to mean it."""
HIT_PIXELS = 6.0
"""How near, pixels, where that is nearer."""


def objects_under(place: QPointF, document: Document, scale: float) -> Iterator[int]:
    """The objects under a place (mm) from the topmost down, by the edges that the last job found.

    ``scale`` is how many pixels a millimetre has. Hidden and locked objects are not there.
    """
    spot = shapely.Point(*xy_of(place))
    reach = min(HIT, HIT_PIXELS / scale)
    for item in reversed(document.design.objects):
        if not item.within_reach:
            continue
        path = shape_path(item.shape)
        if not path.boundingRect().adjusted(-3, -3, 3, 3).contains(place):
            continue
        region = document.region_of(item)
        if region is None or region.is_empty:
            stroke = QPainterPathStroker(QPen(Qt.GlobalColor.black, 2 * reach + 0.4))
            filled = region is None or traits_of(item.cover).anywhere
            inside = stroke.createStroke(path).contains(place) or (filled and path.contains(place))
        else:
            inside = region.distance(spot) <= reach
        if inside:
            yield item.id


def picture_under(place: QPointF, design: Design) -> int | None:
    """The topmost picture at a place (mm)."""
    for number in reversed(range(len(design.artwork))):
        one = design.artwork[number]
        if one.visible and QRectF(one.x, one.y, one.width, one.height).contains(place):
            return number
    return None


def objects_in(box: QRectF, design: Design) -> frozenset[int]:
    """The objects that lie wholly inside a box (mm)."""
    free = [item for item in design.objects if item.within_reach]
    return frozenset(item.id for item in free if box.contains(shape_path(item.shape).boundingRect()))


def objects_inside(lasso: QPolygonF, design: Design) -> frozenset[int]:
    """The objects that lie wholly inside a lasso (mm)."""
    free = [item for item in design.objects if item.within_reach]
    return frozenset(item.id for item in free if _inside(shape_path(item.shape), lasso))


def _inside(path: QPainterPath, lasso: QPolygonF) -> bool:
    """Whether all of an outline lies inside a lasso."""
    if not lasso.boundingRect().contains(path.boundingRect()):
        return False
    outline = path.toFillPolygon()
    spots = (outline.at(k) for k in range(outline.count()))
    return all(lasso.containsPoint(spot, Qt.FillRule.OddEvenFill) for spot in spots)
