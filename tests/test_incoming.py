"""PDF and DXF come in at their true size, as they are painted; damaged and hostile ones are refused in a sentence."""

import io
import time

import ezdxf
import numpy as np
import pypdfium2 as pdfium
import pytest
from ezdxf.document import Drawing as Document
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from jontel.artwork.digitize import design_from, read_drawing
from jontel.artwork.drawing import Drawing
from jontel.artwork.incoming import as_known
from jontel.artwork.placing import placed
from jontel.data import find_ground, find_hoop, thread_chart
from jontel.design import Area, Brief, CannotRead, Design
from jontel.geometry.polyline import flatten
from jontel.geometry.region import region_of
from tests.test_svg import SIZE, as_painted, as_read

pytestmark = pytest.mark.usefixtures("qapp")


def page(turned: int = 0) -> bytes:
    """A PDF of 100 x 100 mm: fills, strokes, dashes, a clip, a form, words, a picture."""
    held = io.BytesIO()
    canvas = Canvas(held, pagesize=(100 * mm, 100 * mm), pageCompression=1)
    canvas.setPageRotation(turned)
    canvas.beginForm("leaf")
    canvas.setFillColor(HexColor("#0a7744"))
    canvas.ellipse(0, 0, 20 * mm, 8 * mm, stroke=0, fill=1)
    canvas.endForm()
    canvas.setFillColor(HexColor("#b2302f"))
    canvas.rect(10 * mm, 60 * mm, 30 * mm, 25 * mm, stroke=0, fill=1)
    canvas.setStrokeColor(HexColor("#184b56"))
    canvas.setLineWidth(2 * mm)
    canvas.setDash(6 * mm, 3 * mm)
    canvas.line(10 * mm, 10 * mm, 90 * mm, 20 * mm)
    canvas.setDash()
    canvas.saveState()
    clip = canvas.beginPath()
    clip.circle(70 * mm, 70 * mm, 15 * mm)
    canvas.clipPath(clip, stroke=0, fill=0)
    canvas.setFillColor(HexColor("#d08a10"))
    canvas.rect(50 * mm, 50 * mm, 40 * mm, 20 * mm, stroke=0, fill=1)
    canvas.restoreState()
    canvas.saveState()
    canvas.translate(20 * mm, 30 * mm)
    canvas.rotate(25)
    canvas.scale(1.5, 1)
    canvas.doForm("leaf")
    canvas.restoreState()
    canvas.bezier(60 * mm, 30 * mm, 70 * mm, 50 * mm, 80 * mm, 10 * mm, 90 * mm, 40 * mm)
    canvas.showPage()
    canvas.save()
    return held.getvalue()


def drawing_of(lines: bool = True, unit: int = 4) -> Document:
    """A DXF in mm, or another unit: a line, an arc, a closed line of bulges, a spline, a block set twice, a hatch."""
    document = ezdxf.new("R2010")
    document.header["$INSUNITS"] = unit
    document.layers.add("sea", color=5)
    space = document.modelspace()
    if lines:
        space.add_line((0, 0), (40, 0), dxfattribs={"layer": "sea", "lineweight": 100})
        space.add_arc((20, 20), 10, 0, 180)
        space.add_lwpolyline([(0, 0, 0, 0, 0.5), (40, 0), (40, 30), (0, 30)], close=True, format="xyseb")
        space.add_spline([(0, 0), (10, 20), (30, 5), (40, 30)])
        block = document.blocks.new("gull")
        block.add_circle((0, 0), 3, dxfattribs={"color": 1})
        space.add_blockref("gull", (10, 10))
        space.add_blockref("gull", (30, 10), dxfattribs={"xscale": 2, "yscale": 2})
    hatch = space.add_hatch(color=3)
    hatch.paths.add_polyline_path([(5, 40), (25, 40), (15, 55)], is_closed=True)
    return document


def written(document: Document) -> bytes:
    """A DXF as its bytes."""
    held = io.StringIO()
    document.write(held)
    return held.getvalue().encode()


def read(data: bytes, name: str = "art.pdf") -> Drawing:
    """What comes in."""
    return read_drawing(data, name)


@pytest.mark.parametrize("turned", [0, 90, 180, 270])
def test_a_page_comes_in_as_it_is_painted_at_its_true_size(turned: int) -> None:
    data = page(turned)
    drawing = read(data)
    assert (drawing.width, drawing.height) == pytest.approx((100, 100), abs=0.01)
    shown = pdfium.PdfDocument(data)[0].render(scale=SIZE / (100 * mm)).to_pil().convert("RGB").resize((SIZE, SIZE))
    for ours in (as_read(drawing), as_painted(as_known(data, "art.pdf"))):
        apart = np.abs(ours - np.asarray(shown).astype(np.int64)).max(axis=2)
        assert np.mean(apart < 60) > 0.985
    assert np.mean(np.asarray(shown).min(axis=2) < 200) > 0.15


def test_words_and_pictures_of_a_page_are_kept() -> None:
    held = io.BytesIO()
    canvas = Canvas(held, pagesize=(80 * mm, 50 * mm))
    canvas.setFont("Times-Bold", 30)
    canvas.drawString(10 * mm, 30 * mm, "Crew")
    picture = io.BytesIO()
    Image.new("RGB", (40, 20), (200, 30, 30)).save(picture, "PNG")
    picture.seek(0)
    from reportlab.lib.utils import ImageReader

    canvas.drawImage(ImageReader(picture), 40 * mm, 5 * mm, 30 * mm, 15 * mm)
    canvas.save()
    drawing = read(held.getvalue())
    (words,) = [one.words for one in drawing.shapes if one.words is not None]
    assert words.text == "Crew" and words.place[4] == pytest.approx(10, abs=0.5)
    assert words.place[5] == pytest.approx(20, abs=0.5)  # the baseline, from the top
    (block,) = [region_of(Area(one.path, one.rule)) for one in drawing.shapes if one.fill == (200, 30, 30)]
    assert block.bounds == pytest.approx((40, 30, 70, 45), abs=0.4) and block.area == pytest.approx(450, rel=0.03)
    assert any("picture came in as its flat colours" in note for note in drawing.notes)
    seen = as_painted(as_known(held.getvalue(), "art.pdf"))
    high = seen.shape[0]
    assert seen[int(high * 37.5 / 50), int(SIZE * 55 / 80)] == pytest.approx((200, 30, 30), abs=12)


def test_a_page_is_placed_and_digitized() -> None:
    empty = Design(name="x", brief=Brief(find_ground("Woven twill"), find_hoop("100 x 100"), ()))
    (one,) = placed(empty, page(), "art.pdf").artwork
    assert one.media == "svg" and (one.width, one.height) == pytest.approx((100, 100), abs=0.01)
    made = design_from(page(), "art.pdf", find_ground("Woven twill"), find_hoop("100 x 100"), thread_chart())
    assert len(made.objects) >= 5 and made.artwork[0].media == "svg"


SHADING = "<< /ShadingType 2 /ColorSpace /DeviceRGB /Coords [0 0 200 0] /Extend [true true] /Function {} >>".format(
    "<< /FunctionType 2 /Domain [0 1] /C0 [1 0 0] /C1 [0 0 1] /N 1 >>"
)


def shaded(content: str) -> bytes:
    """A PDF of 200 x 200 pt with a shading S from red to blue, patterns P of it and D of dots, a form F of a shading."""
    tile, form = "0 0.5 0 rg 0 0 10 10 re f", "q 120 120 60 60 re W n /S sh Q"
    named = "/Pattern << /P 5 0 R /D 7 0 R >> /Shading << /S 6 0 R >> /XObject << /F 8 0 R >>"
    kinds = (
        "<< /Type /Catalog /Pages 2 0 R >>",
        "<< /Type /Pages /Kids [3 0 R] /Count 1 >>",
        f"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 200 200] /Contents 4 0 R /Resources << {named} >> >>",
        f"<< /Length {len(content)} >>\nstream\n{content}\nendstream",
        "<< /Type /Pattern /PatternType 2 /Shading 6 0 R >>",
        SHADING,
        "<< /Type /Pattern /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 10 10] /XStep 10 /YStep 10 "
        f"/Resources << >> /Length {len(tile)} >>\nstream\n{tile}\nendstream",
        "<< /Type /XObject /Subtype /Form /BBox [0 0 200 200] /Resources << /Shading << /S 6 0 R >> >> "
        f"/Length {len(form)} >>\nstream\n{form}\nendstream",
    )
    out, places = b"%PDF-1.4\n", []
    for number, body in enumerate(kinds, 1):
        places.append(len(out))
        out += f"{number} 0 obj\n{body}\nendobj\n".encode()
    table = "".join(f"{place:010d} 00000 n \n" for place in places)
    end = f"trailer << /Size {len(kinds) + 1} /Root 1 0 R >>\nstartxref\n{len(out)}\n%%EOF"
    return out + f"xref\n0 {len(kinds) + 1}\n0000000000 65535 f \n{table}{end}".encode()


@pytest.mark.parametrize(
    ("content", "box", "colour"),
    [
        ("q 10 100 60 60 re W n /S sh Q", (10, 100, 70, 160), (204, 0, 51)),
        ("/F Do", (120, 120, 180, 180), (64, 0, 191)),
        ("/Pattern cs /P scn 10 10 50 50 re f", (10, 10, 60, 60), (210, 0, 45)),
        ("/Pattern cs /D scn 70 10 20 20 re f", (70, 10, 90, 30), (0, 128, 0)),
    ],
)
def test_colours_that_run_into_each_other_come_in_as_their_mean(
    content: str, box: tuple[float, ...], colour: tuple[int, int, int]
) -> None:
    over = " 0 0 0 rg 0 0 200 200 re f 1 1 1 rg 0 0 200 200 re f"  # what lies over it does not change its colour
    drawing = read(shaded(f"q {content} Q{over}"))
    first = drawing.shapes[0]
    assert np.abs(np.subtract(first.fill, colour)).max() < 12  # type: ignore[arg-type]
    left, bottom, right, top = (value / mm for value in box)
    whole = 200 / mm
    assert region_of(Area(first.path, first.rule)).bounds == pytest.approx(
        (left, whole - top, right, whole - bottom), abs=0.05
    )
    assert [one.fill for one in drawing.shapes[1:]] == [(0, 0, 0), (255, 255, 255)]
    assert [note for note in drawing.notes if "one colour, its mean" in note]


def test_a_page_of_many_white_things_is_read_soon() -> None:
    many = " ".join(f"1 1 1 rg {k % 190} {k // 190} 2 2 re f" for k in range(4000))
    begun = time.perf_counter()
    drawing = read(shaded(many + " q 10 100 60 60 re W n /S sh Q"))
    assert time.perf_counter() - begun < 15 and len(drawing.shapes) >= 4000


@pytest.mark.parametrize(("unit", "factor"), [(4, 1.0), (5, 10.0), (1, 25.4), (0, 1.0)])
def test_a_drawing_in_lines_has_the_size_of_its_unit(unit: int, factor: float) -> None:
    drawing = read(written(drawing_of(unit=unit)), "art.dxf")
    (sea,) = [one for one in drawing.shapes if one.stroke == (0, 0, 255)]
    (line,) = flatten(sea.path)
    assert np.hypot(*(line.xy[-1] - line.xy[0])) == pytest.approx(40 * factor, rel=1e-3)
    assert sea.stroke_width == pytest.approx(1.0)
    gulls = [one for one in drawing.shapes if one.stroke == (255, 0, 0)]
    sizes = [np.ptp(np.vstack([line.xy for line in flatten(one.path)]), axis=0)[0] for one in gulls]
    assert sizes == pytest.approx([6 * factor, 12 * factor], rel=1e-2)
    (hatch,) = [one for one in drawing.shapes if one.fill is not None]
    assert region_of(Area(hatch.path)).area == pytest.approx(150 * factor**2, rel=1e-3)


def test_y_goes_up_in_a_drawing_and_down_on_the_cloth() -> None:
    drawing = read(written(drawing_of()), "art.dxf")
    (hatch,) = [one for one in drawing.shapes if one.fill is not None]
    assert region_of(Area(hatch.path)).bounds[1] < 2  # it lies highest


def test_what_a_hidden_layer_holds_stays_out() -> None:
    document = drawing_of()
    document.layers.get("sea").off()
    assert not [one for one in read(written(document), "art.dxf").shapes if one.stroke == (0, 0, 255)]


BAD = {
    "cut short.pdf": page()[:400],
    "only a head.pdf": b"%PDF-1.4\n",
    "noise.pdf": b"%PDF-1.4\n" + bytes(range(256)) * 20,
    "cut short.dxf": written(drawing_of())[:3000],
    "only a head.dxf": b"0\nSECTION\n",
    "nothing in it.dxf": written(ezdxf.new("R2010")),
}


@pytest.mark.parametrize("name", BAD)
def test_what_is_damaged_is_refused_in_a_sentence(name: str) -> None:
    with pytest.raises(CannotRead) as refused:
        read(BAD[name], name)
    assert str(refused.value).startswith(name) and str(refused.value).endswith(".")


@given(st.integers(0, 6000), st.binary(max_size=6), st.booleans())
@settings(max_examples=60, deadline=None)
def test_any_damage_is_read_or_refused(at: int, put: bytes, is_page: bool) -> None:
    data = page() if is_page else written(drawing_of())
    at %= len(data)
    data = data[:at] + put + data[at + len(put) :]
    try:
        drawing = read(data, "art")
    except CannotRead as refused:
        assert "\n" not in str(refused)
    else:
        assert drawing.width > 0
