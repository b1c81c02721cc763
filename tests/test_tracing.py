"""Pictures of pixels traced: their own colours and no rims, outlines near and of few nodes, odd files."""

import io
import math

import numpy as np
import pytest
import shapely
from bench.logos import logo
from PIL import Image, ImageDraw
from shapely import affinity

from jontel.artwork.digitize import design_from
from jontel.artwork.drawing import Drawing, Size
from jontel.artwork.picture import read_picture
from jontel.artwork.tracing.colours import lab
from jontel.data import find_ground, find_hoop, thread_chart
from jontel.design import Area, CannotRead
from jontel.geometry.nodes import chains_of
from jontel.geometry.region import Region, region_of

RED, BLUE, CREAM = (200, 30, 40), (20, 60, 150), (250, 246, 232)


def file_of(image: Image.Image, kind: str = "PNG", **how: int) -> bytes:
    """A picture as a file."""
    out = io.BytesIO()
    image.save(out, kind, **how)
    return out.getvalue()


def painted(shape: shapely.Polygon, size: int, fine: int = 4) -> Image.Image:
    """A shape of 100 mm in red on white, ``size`` pixels wide, its edges blended."""
    image = Image.new("RGB", (size * fine, size * fine), "white")
    scale = size * fine / 100
    pen = ImageDraw.Draw(image)
    for ring, colour in ((shape.exterior, RED), *((one, (255, 255, 255)) for one in shape.interiors)):
        pen.polygon([(x * scale - 0.5, y * scale - 0.5) for x, y in ring.coords], fill=colour)
    return image.resize((size, size), Image.Resampling.BOX)


def star(points: int = 5) -> shapely.Polygon:
    """A star of 84 mm."""
    ways = [(42.0 if k % 2 == 0 else 18.0, math.pi * k / points - 1.57) for k in range(2 * points)]
    return shapely.Polygon([(50 + far * math.cos(t), 50 + far * math.sin(t)) for far, t in ways])


def cloth(drawing: Drawing, number: int = 0) -> Region:
    """What a shape of a drawing covers, as if the drawing were 100 mm wide."""
    scale = 100 / drawing.width
    return affinity.scale(region_of(Area(drawing.shapes[number].path)), scale, scale, origin=(0, 0))


SHAPES = {
    "disc": (shapely.Point(50, 50).buffer(40, quad_segs=64), 4),
    "turned square": (affinity.rotate(shapely.box(20, 20, 80, 80), 17), 4),
    "star": (star(), 10),
    "ring": (shapely.Point(50, 50).buffer(40, quad_segs=64) - shapely.Point(50, 50).buffer(25, quad_segs=64), 8),
}


@pytest.mark.parametrize("name", SHAPES)
@pytest.mark.parametrize(("size", "quality"), [(100, 0), (400, 0), (400, 90), (1600, 60)])
def test_outlines_are_near_and_have_few_nodes(name: str, size: int, quality: int) -> None:
    shape, nodes = SHAPES[name]
    image = painted(shape, size)
    drawing = read_picture(file_of(image, "JPEG", quality=quality) if quality else file_of(image), "it")
    assert len(drawing.shapes) == 1
    found = cloth(drawing)
    assert found.area == pytest.approx(shape.area, rel=0.02)
    rim = shapely.points([shape.exterior.interpolate(t, normalized=True).coords[0] for t in np.linspace(0, 1, 800)])
    off = shapely.distance(rim, found.boundary) * size / 100
    assert off.mean() < 0.6 and np.quantile(off, 0.98) < 1.6
    assert sum(len(one) for one in chains_of(drawing.shapes[0].path)) <= 2.2 * nodes + (10 if quality == 60 else 2)


@pytest.mark.parametrize("seed", range(2000, 2018))
def test_a_flat_logo_has_its_own_colours_and_no_others(seed: int) -> None:
    size, quality = [(300, 0), (400, 90), (800, 60)][seed % 3]
    made = logo(seed, size)
    drawing = read_picture(made.jpeg(quality) if quality else made.png(), "it")
    found = lab(np.array([one.fill for one in drawing.shapes], dtype=float).reshape(-1, 3))
    own = lab(np.array(made.colours[1:], dtype=float).reshape(-1, 3))
    known = lab(np.array((*made.colours, *made.slivers), dtype=float).reshape(-1, 3))
    for colour in own:
        assert np.linalg.norm(found - colour, axis=1).min() < 7
    for colour in found:
        assert np.linalg.norm(known - colour, axis=1).min() < 7


def test_a_blended_edge_between_two_colours_makes_no_third() -> None:
    image = Image.new("RGB", (1200, 1200), CREAM)
    pen = ImageDraw.Draw(image)
    pen.ellipse((150, 150, 1050, 1050), fill=RED)
    pen.polygon([(600, 250), (950, 800), (250, 800)], fill=BLUE)
    pen.rectangle((500, 900, 700, 1000), fill=(110, 45, 95))  # half of the one and half of the other
    drawing = read_picture(file_of(image.resize((300, 300), Image.Resampling.BOX)), "it")
    assert len(drawing.shapes) == 3
    assert cloth(drawing, 2).area == pytest.approx(100 * 200 * 100 / 1200 * 100 / 1200, rel=0.1)


def test_a_cream_ground_is_cloth_and_a_coloured_one_is_sewn() -> None:
    for ground, shapes in ((CREAM, 1), ((255, 255, 255), 1), ((20, 90, 60), 2)):
        image = Image.new("RGB", (200, 200), ground)
        ImageDraw.Draw(image).ellipse((40, 40, 160, 160), fill=RED)
        assert len(read_picture(file_of(image), "it").shapes) == shapes


def test_light_places_deep_inside_are_sewn_and_counters_of_letters_are_open() -> None:
    image = Image.new("RGB", (600, 600), "white")
    pen = ImageDraw.Draw(image)
    pen.ellipse((40, 40, 560, 560), fill=BLUE)
    pen.ellipse((340, 200, 420, 280), fill="white")  # a moon
    pen.line([(150, 330), (190, 300), (230, 330)], fill="white", width=6)  # a gull
    moon = read_picture(file_of(image), "it")
    assert [one.fill for one in moon.shapes] == [BLUE, (255, 255, 255)]
    assert cloth(moon, 1).area == pytest.approx((math.pi * 40**2 + 6 * 100) / 36, rel=0.1)

    image = Image.new("RGB", (600, 200), "white")
    pen = ImageDraw.Draw(image)
    for x in (20, 220, 420):
        pen.ellipse((x, 20, x + 160, 180), fill=BLUE)
        pen.ellipse((x + 45, 60, x + 115, 140), fill="white")
    letters = read_picture(file_of(image), "it")
    assert [one.fill for one in letters.shapes] == [BLUE]


def test_what_is_clear_is_cloth_whatever_colour_lies_beneath() -> None:
    image = Image.new("RGBA", (200, 200), (255, 255, 255, 0))
    pen = ImageDraw.Draw(image)
    pen.ellipse((40, 40, 160, 160), fill=(255, 255, 255, 255))
    pen.rectangle((80, 80, 120, 120), fill=(*BLUE, 255))
    found = read_picture(file_of(image), "it")
    assert [one.fill for one in found.shapes] == [(255, 255, 255), BLUE]


def test_lower_colours_reach_under_upper_ones_by_as_much_cloth_at_any_size() -> None:
    image = Image.new("RGB", (400, 400), "white")
    pen = ImageDraw.Draw(image)
    pen.rectangle((50, 50, 349, 349), fill=RED)
    pen.rectangle((150, 150, 249, 249), fill=BLUE)
    for width in (40.0, 100.0, 200.0):
        made = design_from(
            file_of(image), "it.png", find_ground("Woven"), find_hoop("100 x 100"), thread_chart(), Size(width=width)
        )
        lower, upper = (region_of(item.shape) for item in made.objects if isinstance(item.shape, Area))
        assert lower.area > upper.area
        assert math.sqrt((lower & upper).area / upper.area) < 1
        across = upper.bounds[2] - upper.bounds[0]
        hole = [shapely.Polygon(ring) for part in lower.geoms for ring in part.interiors]
        under = across - (hole[0].bounds[2] - hole[0].bounds[0]) if hole else across
        assert under / 2 == pytest.approx(0.5, abs=max(0.12, width / 400)) or not hole


def test_pictures_are_upright_and_greys_of_sixteen_bits_are_whole() -> None:
    image = Image.new("RGB", (300, 200), "white")
    ImageDraw.Draw(image).rectangle((20, 20, 120, 60), fill=RED)
    turned = Image.Exif()
    turned[0x0112] = 6
    out = io.BytesIO()
    image.save(out, "JPEG", quality=95, exif=turned)
    made = design_from(out.getvalue(), "it.jpg", find_ground("Woven"), find_hoop("100 x 100"), thread_chart())
    (box,) = (region_of(item.shape).bounds for item in made.objects if isinstance(item.shape, Area))
    assert box[3] - box[1] > 1.8 * (box[2] - box[0]) and box[0] > 0 and box[1] < 0
    assert made.artwork[0].height > made.artwork[0].width

    grey = np.full((120, 120), 65535, np.uint16)
    grey[30:90, 30:90] = 20000
    drawing = read_picture(file_of(Image.fromarray(grey)), "it")
    assert [one.fill for one in drawing.shapes] == [(77, 77, 77)]


@pytest.mark.parametrize("noise", [6.0, 15.0])
def test_a_noisy_scan_has_the_colours_of_the_drawing(noise: float) -> None:
    shape = np.full((900, 900, 3), 255.0)
    shape[150:750, 150:750] = RED
    shape[300:600, 300:600] = BLUE
    scan = np.clip(shape + np.random.default_rng(3).normal(0, noise, shape.shape), 0, 255).astype(np.uint8)
    drawing = read_picture(file_of(Image.fromarray(scan)), "it")
    assert len(drawing.shapes) == 2 and max(one.path.count("C") for one in drawing.shapes) < 30


@pytest.mark.parametrize("shape", [(1, 1), (2, 3), (1, 2000), (40, 1)])
def test_pictures_of_a_few_pixels_and_of_nothing_but_noise_are_told_or_traced(shape: tuple[int, int]) -> None:
    for rgb in (
        np.zeros((*shape, 3), np.uint8),
        np.random.default_rng(1).integers(0, 256, (*shape, 3)).astype(np.uint8),
    ):
        drawing = read_picture(file_of(Image.fromarray(rgb)), "it")
        assert drawing.shapes or drawing.notes
    try:
        made = design_from(
            file_of(Image.new("RGB", shape)), "it", find_ground("Woven"), find_hoop("100 x 100"), thread_chart()
        )
    except CannotRead:
        return
    assert made.objects
