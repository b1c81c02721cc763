"""DXF in: the lines of its model, as an SVG of the same size, which is read, shown and kept from there on."""

import io

import ezdxf
import ezdxf.path
from ezdxf import colors, recover, units
from ezdxf.document import Drawing as Document
from ezdxf.entities.dxfgfx import DXFGraphic
from ezdxf.entities.insert import Insert
from ezdxf.entities.polygon import DXFPolygon
from ezdxf.enums import InsertUnits
from ezdxf.lldxf.const import DXFError
from ezdxf.path import Curve3To, Curve4To, LineTo, Path

from jontel.design.errors import CannotRead
from jontel.design.stopping import go_on

LARGEST = 60_000_000
MOST_ENTITIES = 50_000
LINE = 0.5
"""How wide lines are that say no width, mm."""
LARGEST_MM = 2_000.0
DRAWN = frozenset({"LINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE", "LWPOLYLINE", "POLYLINE", "SOLID", "TRACE"})
FILLED = frozenset({"SOLID", "TRACE"})


def svg_of_dxf(data: bytes, name: str) -> bytes:
    """What a DXF draws as an SVG in mm, y down. Raises ``CannotRead``."""
    if len(data) > LARGEST:
        raise CannotRead(f"{name} is over {LARGEST // 1_000_000} MB; save the part that you need alone.")
    try:
        document, _ = recover.read(io.BytesIO(data))
        drawn = _Drawn(document, name)
        return drawn.svg().encode()
    except CannotRead:
        raise
    except (DXFError, ValueError, ArithmeticError, LookupError, TypeError, AttributeError, OSError) as error:
        # a damaged DXF stumbles over nearly any error
        raise CannotRead(f"{name} is damaged or no DXF; save it again from the drawing program.") from error


class _Drawn:
    """Writes a drawing down as SVG, entity by entity."""

    def __init__(self, document: Document, name: str) -> None:
        self.document, self.name = document, name
        unit = int(document.header.get("$INSUNITS", 0) or 0)
        self.mm = float(units.conversion_factor(InsertUnits(unit), InsertUnits.Millimeters)) if unit else 1.0
        self.parts: list[str] = []
        self.low, self.high = [float("inf")] * 2, [float("-inf")] * 2
        self.count = 0

    def svg(self) -> str:
        """The whole drawing."""
        for entity in self.document.modelspace():
            self._entity(entity, 0)
        if not self.parts:
            raise CannotRead(f"{self.name} draws no lines that can be read; explode its blocks and texts first.")
        wide, high = (max(b - a, 0.0) + 2 * LINE for a, b in zip(self.low, self.high, strict=True))
        if not (0 < wide < LARGEST_MM and 0 < high < LARGEST_MM):
            raise CannotRead(f"{self.name} is {max(wide, high):,.0f} mm large; check its units and save it again.")
        box = f"{self.low[0] - LINE:.4f} {self.low[1] - LINE:.4f} {wide:.4f} {high:.4f}"
        return (
            f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide:.4f}mm" height="{high:.4f}mm" viewBox="{box}">'
            f'<g fill="none" stroke-linecap="round" stroke-linejoin="round">{"".join(self.parts)}</g></svg>'
        )

    def _entity(self, entity: DXFGraphic, depth: int) -> None:
        go_on()
        self.count += 1
        if self.count > MOST_ENTITIES:
            raise CannotRead(f"{self.name} draws over {MOST_ENTITIES:,} things; simplify the drawing and try again.")
        if entity.dxf.get("invisible", 0) or not self._layer_shown(entity):
            return
        if isinstance(entity, Insert):
            for inner in entity.virtual_entities() if depth < 8 else ():
                self._entity(inner, depth + 1)
        elif isinstance(entity, DXFPolygon):
            data = " ".join(self._data(one, closed=True) for one in ezdxf.path.from_hatch(entity))
            self.parts.append(f'<path d="{data}" fill="{self._colour(entity)}" fill-rule="evenodd"/>')
        elif entity.dxftype() in DRAWN:
            data = self._data(ezdxf.path.make_path(entity), closed=False)
            if entity.dxftype() in FILLED:
                self.parts.append(f'<path d="{data} Z" fill="{self._colour(entity)}"/>')
            elif data:
                weight = entity.dxf.get("lineweight", -1)
                width = weight / 100 if weight > 0 else LINE
                self.parts.append(f'<path d="{data}" stroke="{self._colour(entity)}" stroke-width="{width:.3f}"/>')

    def _layer_shown(self, entity: DXFGraphic) -> bool:
        layers, name = self.document.layers, entity.dxf.get("layer", "0")
        return not layers.has_entry(name) or (layers.get(name).is_on() and not layers.get(name).is_frozen())

    def _colour(self, entity: DXFGraphic) -> str:
        """Its own colour or that of its layer; white is black, as on paper."""
        true = entity.dxf.get("true_color", None)
        if true is not None:
            return "#{:02x}{:02x}{:02x}".format(*colors.int2rgb(true))
        number = entity.dxf.get("color", colors.BYLAYER)
        layers, name = self.document.layers, entity.dxf.get("layer", "0")
        if number == colors.BYLAYER and layers.has_entry(name):
            number = layers.get(name).color
        return (
            "#{:02x}{:02x}{:02x}".format(*colors.aci2rgb(number)) if 1 <= number <= 255 and number != 7 else "#000000"
        )

    def _data(self, path: Path, closed: bool) -> str:
        """Path data in mm, y down."""
        if not len(path):
            return ""
        parts = ["M" + self._place(path.start)]
        for one in path.commands():
            match one:
                case LineTo():
                    parts.append("L" + self._place(one.end))
                case Curve3To():
                    parts.append(f"Q{self._place(one.ctrl)} {self._place(one.end)}")
                case Curve4To():
                    parts.append(f"C{self._place(one.ctrl1)} {self._place(one.ctrl2)} {self._place(one.end)}")
                case _:
                    parts.append("M" + self._place(one.end))
        return " ".join(parts) + (" Z" if closed or path.is_closed else "")

    def _place(self, at: "ezdxf.math.Vec3") -> str:
        spot = at.x * self.mm, -at.y * self.mm
        self.low = [min(a, b) for a, b in zip(self.low, spot, strict=True)]
        self.high = [max(a, b) for a, b in zip(self.high, spot, strict=True)]
        return f"{spot[0]:.4f} {spot[1]:.4f}"
