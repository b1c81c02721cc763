"""Words that fill a shape."""

import numpy as np
import pytest
import shapely
from msgspec.structs import replace

from jontel.design import Area, CannotRead, Fill, Line, Run
from jontel.design.edits import add_objects, transform_objects
from jontel.design.lettering import Lettering
from jontel.design.paths import ellipse_path
from jontel.files import working
from jontel.geometry.region import Region, region_of
from jontel.lettering.apart import set_inside
from jontel.lettering.fonts import open_font, shipped_fonts
from jontel.lettering.setting import carets, letter_frame, lettered, set_in
from jontel.sewing.plan import plan
from tests.conftest import box_path, design_of
from tests.test_lettering import SANS, sewn_words, words

PENNANT = "M0 0 L60 8 L60 14 L0 24 Z"
SHAPES = {"ellipse": ellipse_path(10, 5, 30, 15), "box": box_path(-20, -8, 50, 14), "pennant": PENNANT,
          "arch": "M0 20 C10 -10 50 -10 60 20 L60 32 C50 8 10 8 0 32 Z"}  # fmt: skip


def inside(text: str, shape: str, font: str = SANS) -> tuple[Lettering, Region]:
    """Words in a shape, and the cloth they cover."""
    made = words(text, font, course="in a shape", line=shape)
    return made, region_of(Area(set_in(made, open_font(font)).path))


@pytest.mark.parametrize("name", SHAPES)
@pytest.mark.parametrize("text", ["PELLAN", "Pellan\nPoint", "I", "Deep sea"])
def test_words_fill_the_shape_and_stay_in_it(name: str, text: str) -> None:
    shape = region_of(Area(SHAPES[name]))
    _, cloth = inside(text, SHAPES[name])
    assert cloth.difference(shape.buffer(0.08)).area < 0.02 * cloth.area
    left, top, right, low = cloth.bounds
    a, b, c, d = shape.bounds
    assert right - left > 0.75 * (c - a) and low - top > 0.75 * (d - b)
    hull = shapely.convex_hull(cloth)
    assert hull.area > 0.7 * shape.area


def test_in_a_box_words_are_only_stretched() -> None:
    straight = region_of(Area(set_in(words("HELEN"), open_font(SANS)).path))
    _, cloth = inside("HELEN", box_path(0, 0, 80, 20))
    a, b, c, d = straight.bounds
    grown = shapely.affinity.affine_transform(straight, [80 / (c - a), 0, 0, 20 / (d - b), 0, 0])
    grown = shapely.affinity.translate(grown, -grown.bounds[0], -grown.bounds[1])
    assert shapely.symmetric_difference(grown, cloth).area < 0.02 * cloth.area


@pytest.mark.parametrize("file", shipped_fonts(), ids=lambda file: file.character)
def test_words_in_a_shape_sew_in_every_font(file) -> None:  # type: ignore[no-untyped-def]
    made = words("Light", file.name, course="in a shape", line=SHAPES["arch"])
    sewn = plan(sewn_words(made))
    assert not sewn.failures and len(sewn) > 300


def test_carets_and_frames_follow_the_letters() -> None:
    made, cloth = inside("PELLAN", PENNANT)
    font = open_font(SANS)
    heights = [float(np.hypot(*np.subtract(*caret))) for caret in carets(made, font)]
    assert heights[0] > 2 * heights[-1]
    frame = letter_frame(made, font, 0)
    assert frame is not None and cloth.buffer(2.0).contains(shapely.Point(frame[4], frame[5]))


def test_words_take_the_place_of_the_area_and_are_kept_moved_and_retyped() -> None:
    design = add_objects(design_of((Area(SHAPES["ellipse"]), Fill())), sewn_words(words("Moon")).objects)
    made = set_inside(design, frozenset({1, 2}))
    (item,) = made.objects
    assert item.lettering is not None and item.lettering.course == "in a shape"
    assert working.decode(working.encode(made), "again") == made
    moved = transform_objects(made, {2}, (2, 0, 0, 2, 10, 0)).objects[0]
    assert moved.lettering is not None
    again = lettered(moved, moved.lettering)
    one, other = (region_of(Area(one.shape.path)) for one in (moved, again))  # type: ignore[union-attr]
    assert one.hausdorff_distance(other) < 0.06
    retyped = lettered(item, replace(item.lettering, text="Moonlight"))
    boxes = [region_of(Area(one.shape.path)).bounds for one in (retyped, item)]  # type: ignore[union-attr]
    assert np.array(boxes[0]) == pytest.approx(np.array(boxes[1]), abs=1.6)


def test_words_without_an_area_are_refused() -> None:
    design = add_objects(design_of((Line("M0 0 L9 9"), Run())), sewn_words(words("Moon")).objects)
    with pytest.raises(CannotRead, match="one area"):
        set_inside(design, frozenset({1, 2}))
    with pytest.raises(CannotRead, match="no shape to fit"):
        set_in(words("Moon", course="in a shape", line="M0 0 L1 1"), open_font(SANS))
