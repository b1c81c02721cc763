"""Pictures as they are to be seen: lighter, in one tone, cropped, painted out; the file stays as it was given."""

import io

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace
from PIL import Image

from jontel.artwork.adjusting import adjusted, as_seen, brushed, colour_at, cropped, masked, painted_over
from jontel.artwork.placing import digitized, placed
from jontel.data import thread_chart
from jontel.design import Area, CannotRead, Design, Fill
from jontel.design.design import AS_GIVEN, MOST_PATCHES, Artwork, Look, Patch
from jontel.design.edits import add_objects
from jontel.design.errors import CannotDo
from jontel.files.upgrades import upgraded
from jontel.files.working import decode, encode
from jontel.geometry.region import region_of
from tests.conftest import box_path, design_of


def picture(wide: int = 80, high: int = 40) -> Image.Image:
    """Grey that gets lighter to the right, with a red square."""
    x = np.linspace(20, 235, wide)[None, :].repeat(high, axis=0)
    made = np.dstack([x, x, x]).astype(np.uint8)
    made[10:20, 10:20] = (200, 30, 30)
    return Image.fromarray(made).convert("RGBA")


def data_of(image: Image.Image) -> bytes:
    out = io.BytesIO()
    image.save(out, "PNG", dpi=(25.4, 25.4))
    return out.getvalue()


def pixels(image: Image.Image) -> np.ndarray:
    return np.asarray(image, dtype=float)


def test_nothing_is_changed_by_nothing() -> None:
    one = Artwork("a.png", "png", 0, 0, 80, 40, data_of(picture()))
    assert as_seen(one) is one.data
    assert adjusted(picture(), AS_GIVEN).tobytes() == picture().tobytes()


def test_light_and_dark_contrast_and_one_tone() -> None:
    plain = pixels(picture())[30, :, 0]
    lighter = pixels(adjusted(picture(), Look(brightness=50)))[30, :, 0]
    assert lighter[10] == pytest.approx(1.5 * plain[10], abs=1.5) and lighter[-1] == 255
    steeper = pixels(adjusted(picture(), Look(contrast=80)))[30, :, 0]
    assert steeper[0] < plain[0] - 10 and steeper[-1] > plain[-1] + 10
    tone = pixels(adjusted(picture(), Look(one_tone=50)))[..., :3]
    assert set(np.unique(tone)) == {0.0, 255.0}
    assert (tone[30, :, 0] == 0).sum() == (plain < 127.5).sum()


def test_a_crop_leaves_the_rest_where_it_lies_and_can_be_taken_back() -> None:
    one = Artwork("a.png", "png", -40, -20, 80, 40, data_of(picture()))
    less = cropped(one, 0.25, 0.5, 1.0, 1.0)
    assert (less.x, less.y, less.width, less.height) == (-20, 0, 60, 20)
    seen = Image.open(io.BytesIO(as_seen(less)))
    assert seen.size == (60, 20) and pixels(seen)[0, 0].tolist() == pixels(picture())[20, 20].tolist()
    again = cropped(less, 0.5, 0.5, 0.75, 1.0)
    assert (again.x, again.width) == (0, 20)
    assert cropped(again, 0, 0, 1, 1) == one


def test_what_an_area_covers_is_painted_out_and_is_not_digitized() -> None:
    flat = Image.new("RGBA", (80, 40), (255, 255, 255, 255))
    flat.paste((200, 30, 30, 255), (5, 5, 25, 25))
    flat.paste((30, 30, 200, 255), (50, 5, 70, 25))
    design = placed(design_of(), data_of(flat), "two.png")
    one = design.artwork[0]
    mm = one.width / 80  # a pixel
    left = Area(box_path(one.x, one.y, 40 * mm, 40 * mm))
    over = add_objects(design, [replace(design_of((left, Fill())).objects[0], id=0)])
    made = masked(over, 0, over.objects, True)
    assert made.objects == () and len(made.artwork[0].look.patches) == 1 and made.artwork[0].data == one.data
    seen = pixels(Image.open(io.BytesIO(as_seen(made.artwork[0]))))
    assert seen[:, :39].min() == 255 and (seen[10, 60] == (30, 30, 200, 255)).all(), "in the colour of its corners"
    sewn = digitized(made, 0, thread_chart()).design
    (item,) = sewn.objects
    assert region_of(item.shape).centroid.x == pytest.approx(one.x + 60 * mm, abs=0.5)
    only = masked(over, 0, over.objects, False)
    kept = digitized(only, 0, thread_chart()).design
    assert region_of(kept.objects[0].shape).centroid.x == pytest.approx(one.x + 15 * mm, abs=0.5)
    assert decode(encode(made), "x.jontel") == made


def test_a_mask_lies_where_it_was_drawn_after_a_crop() -> None:
    design = placed(design_of(), data_of(picture()), "a.png")
    design = replace(design, artwork=(cropped(design.artwork[0], 0.5, 0.0, 1.0, 1.0),))
    one = design.artwork[0]
    corner = Area(box_path(one.x, one.y, one.width / 4, one.height / 4))
    over = add_objects(design, [replace(design_of((corner, Fill())).objects[0], id=0)])
    seen = Image.open(io.BytesIO(as_seen(masked(over, 0, over.objects, True).artwork[0])))
    part = round(seen.width / 4)
    left = pixels(seen)[: part - 1, : part - 1, 0]
    assert seen.size == (40, 40) and np.ptp(left) == 0
    assert (pixels(seen)[part + 1 :, part + 1 :] == pixels(picture())[part + 1 :, 40 + part + 1 :]).all()
    clear = picture()
    clear.putalpha(Image.new("L", clear.size, 254))
    outline = "M0 0 L0.5 0 L0.5 1 L0 1 Z"
    gone = pixels(adjusted(clear, Look(patches=(Patch(outline),))))[..., 3]
    assert gone[:, :39].max() == 0 and gone[:, 42:].min() == 254, "what is clear somewhere is painted out clear"


def test_what_cannot_be_painted_out_is_told() -> None:
    design = placed(design_of(), data_of(picture()), "a.png")
    with pytest.raises(CannotDo):
        masked(design, 0, (), True)
    svg = b'<svg xmlns="http://www.w3.org/2000/svg" width="9mm" height="9mm"><path d="M0 0H5V5Z"/></svg>'
    drawn = placed(design_of((Area(box_path(0, 0, 5, 5)), Fill())), svg, "a.svg")
    with pytest.raises(CannotDo):
        masked(drawn, 0, drawn.objects, True)
    bad = replace(design, artwork=(replace(design.artwork[0], look=Look(crop=(0.5, 0.0, 0.5, 1.0))),))
    with pytest.raises(CannotRead):
        decode(_written(bad), "x.jontel")


def _written(design) -> bytes:  # type: ignore[no-untyped-def]
    """The bytes of a design that could not be written."""
    import jontel.files.working as working

    check, working.check = working.check, lambda _design: None
    try:
        return encode(design)
    finally:
        working.check = check


@given(
    st.floats(-100, 100), st.floats(-100, 100), st.floats(-50, 200), st.floats(0, 100),
    st.tuples(st.floats(0, 0.9), st.floats(0, 0.9)),
)  # fmt: skip
def test_any_look_is_a_picture(
    bright: float, contrast: float, sharp: float, tone: float, at: tuple[float, float]
) -> None:
    one = cropped(Artwork("a.png", "png", 0, 0, 80, 40, data_of(picture())), *at, 1.0, 1.0)
    look = replace(one.look, brightness=bright, contrast=contrast, sharpness=sharp, one_tone=tone)
    made = adjusted(picture(), look)
    assert made.mode == "RGBA" and made.width >= 1 and made.height >= 1


def flat_picture() -> Design:
    """A white picture of 80 x 40 pixels, 0.2 mm each, with a red block."""
    image = Image.new("RGBA", (80, 40), (255, 255, 255, 255))
    image.paste((200, 30, 30, 255), (20, 10, 60, 30))
    design = placed(design_of(), data_of(image), "a.png")
    return replace(design, artwork=(replace(design.artwork[0], x=0.0, y=0.0, width=16.0, height=8.0),))


def seen_of(design: Design) -> np.ndarray:  # type: ignore[type-arg]
    return pixels(Image.open(io.BytesIO(as_seen(design.artwork[0]))))


def test_a_stroke_of_the_brush_covers_its_width_and_no_more() -> None:
    design = flat_picture()
    made = painted_over(design, 0, brushed([(2.0, 4.0), (14.0, 4.0)], 2.0), True, "#123456")
    seen = seen_of(made)
    blue = (seen[..., :3] == (0x12, 0x34, 0x56)).all(axis=2)
    assert blue[:, 40].sum() == pytest.approx(10, abs=1), "2 mm are 10 pixels"
    rows, columns = np.nonzero(blue)
    assert (columns.min(), columns.max()) == pytest.approx((5, 74), abs=1)
    assert abs(int(rows.min()) - 15) <= 1 and (seen[12, 40] == (200, 30, 30, 255)).all()
    dot = seen_of(painted_over(design, 0, brushed([(8.0, 4.0)], 3.0), True, ""))
    gone = (dot[10:30, 20:60, :3] == 255).all(axis=2)
    assert gone.sum() == pytest.approx(np.pi * 7.5**2, rel=0.12), "one click is a round dot, in the ground's colour"
    assert decode(encode(made), "x.jontel") == made


def test_later_strokes_lie_over_earlier_ones_and_colours_are_taken_up() -> None:
    design = flat_picture()
    for colour in ("#00ff00", "#0000ff"):
        design = painted_over(design, 0, brushed([(4.0, 4.0), (8.0, 4.0)], 2.0), True, colour)
    assert colour_at(design.artwork[0], 6.0, 4.0) == "#0000ff"
    assert (
        colour_at(design.artwork[0], 10.0, 4.0) == "#c81e1e" and colour_at(design.artwork[0], 1.0, 1.0) == "#ffffff"
    )
    assert colour_at(design.artwork[0], -1.0, 4.0) is None and colour_at(design.artwork[0], 6.0, 9.0) is None
    moved = replace(design.artwork[0], x=100.0, width=32.0, height=16.0)
    assert colour_at(moved, 112.0, 8.0) == "#0000ff"
    for _ in range(MOST_PATCHES - 2):
        design = painted_over(design, 0, "M1 1 L2 1 L2 2 Z", True, "")
    with pytest.raises(CannotDo, match="at most"):
        painted_over(design, 0, "M1 1 L2 1 L2 2 Z", True, "")


@pytest.mark.parametrize(
    "path", ["M-900 -900 L900 -900 L900 900 L-900 900 Z", "M50 50 L60 50 L60 60 Z", "M1 1 L2 1", "M0 0 L16 0"]
)
def test_what_is_painted_beside_or_beyond_a_picture_is_sound(path: str) -> None:
    for inside in (True, False):
        seen = seen_of(painted_over(flat_picture(), 0, path, inside, "#00ff00"))
        green = (seen[..., :3] == (0, 255, 0)).all(axis=2).mean()
        assert green == (1.0 if (path[1:4] == "-90") == inside else 0.0)


def test_what_was_painted_out_before_there_were_colours_is_as_it_was() -> None:
    outline = "M0 0 L0.5 0 L0.5 1 L0 1 Z"
    head = {
        "design": {
            "artwork": [{"name": "a", "look": {"contrast": 5.0, "masks": [[outline, True], [outline, False]]}}]
        }
    }
    (one,) = upgraded(head, 8)["design"]["artwork"]
    assert one["look"] == {
        "contrast": 5.0,
        "patches": [{"path": outline, "inside": True}, {"path": outline, "inside": False}],
    }
    for odd in (
        {"design": None},
        {"design": {"artwork": [None, {"look": {"masks": 3}}, {"look": {"masks": [1, [2]]}}]}},
    ):
        assert isinstance(upgraded(odd, 8), dict)
