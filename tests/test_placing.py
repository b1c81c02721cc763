"""Pictures that lie on the cloth: their size, their place, and digitized where they lie."""

import io

import numpy as np
import pytest
from msgspec.structs import replace
from PIL import Image

from jontel.artwork.pictures import fitted_picture, grown_picture, moved_picture
from jontel.artwork.placing import digitized, placed
from jontel.data import thread_chart
from jontel.design import Area, CannotRead, Design, Fill
from jontel.design.errors import CannotDo
from jontel.files import working
from jontel.shaping.placing import box_of
from tests.conftest import box_path, design_of


@pytest.fixture
def empty() -> Design:
    """A design without objects in a hoop of its ground."""
    return replace(design_of((Area(box_path(0, 0, 5, 5)), Fill())), objects=())


def picture(kind: str = "PNG", size: tuple[int, int] = (200, 100), mode: str = "RGB", **save: object) -> bytes:
    """A white picture with a dark box in its left half."""
    image = Image.new("RGB", size, "white")
    image.paste((20, 40, 90), (size[0] // 10, size[1] // 5, size[0] // 2, size[1] * 4 // 5))
    out = io.BytesIO()
    image.convert(mode).save(out, kind, **save)  # type: ignore[arg-type]
    return out.getvalue()


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "WEBP", "BMP", "TIFF", "GIF"])
def test_pictures_lie_there_and_are_kept(empty: Design, kind: str) -> None:
    made = placed(empty, picture(kind), "logo")
    (one,) = made.artwork
    assert not made.objects and one.width / one.height == pytest.approx(2.0)
    assert (one.x, one.y) == pytest.approx((-one.width / 2, -one.height / 2))
    assert working.decode(working.encode(made), "again") == made


def test_a_resolution_that_is_meant_gives_the_true_size(empty: Design) -> None:
    (one,) = placed(empty, picture(dpi=(300, 300)), "scan.png").artwork
    assert (one.width, one.height) == pytest.approx((200 / 300 * 25.4, 100 / 300 * 25.4), rel=1e-3)
    (screen,) = placed(empty, picture(dpi=(72, 72)), "screen.png").artwork
    hoop = empty.brief.hoop
    assert min(hoop.width - screen.width, hoop.height - screen.height) == pytest.approx(10.0)


def test_a_drawing_lies_there_at_its_size(empty: Design) -> None:
    svg = b'<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="25mm" viewBox="0 0 40 25"><rect width="40" height="25" fill="#123"/></svg>'
    made = placed(empty, svg, "box.svg")
    assert (made.artwork[0].width, made.artwork[0].height) == pytest.approx((40, 25)) and not made.objects


def test_a_picture_that_a_camera_turned_lies_upright(empty: Design) -> None:
    image = Image.open(io.BytesIO(picture("JPEG")))
    exif = Image.Exif()
    exif[0x0112] = 6
    out = io.BytesIO()
    image.save(out, "JPEG", exif=exif)
    (one,) = placed(empty, out.getvalue(), "turned.jpg").artwork
    assert one.height / one.width == pytest.approx(2.0)
    upright = np.asarray(Image.open(io.BytesIO(one.data)).convert("L"))
    assert upright.shape == (200, 100)
    print_ink = placed(empty, picture("JPEG", mode="CMYK"), "print.jpg").artwork[0]
    assert Image.open(io.BytesIO(print_ink.data)).mode == "RGB"


@pytest.mark.parametrize(
    "data", [b"", b"no picture", picture()[:60], b"\x89PNG\r\n\x1a\n" + bytes(30), b"<svg", b"GIF89a"]
)
def test_what_is_no_picture_is_refused_in_a_sentence(empty: Design, data: bytes) -> None:
    with pytest.raises(CannotRead) as refused:
        placed(empty, data, "odd")
    assert str(refused.value).endswith((".", "again.", "TIFF."))


def test_pictures_are_moved_fitted_and_grown_about_a_place(empty: Design) -> None:
    made = placed(empty, picture(dpi=(300, 300)), "scan.png")
    one = made.artwork[0]
    moved = moved_picture(made, 0, 5.0, -3.0).artwork[0]
    assert (moved.x - one.x, moved.y - one.y) == pytest.approx((5, -3), abs=1e-3)
    grown = grown_picture(made, 0, 2.0, (one.x, one.y)).artwork[0]
    assert (grown.x, grown.y, grown.width) == pytest.approx((one.x, one.y, 2 * one.width))
    hoop = empty.brief.hoop
    fits = fitted_picture(made, 0).artwork[0]
    assert fits.width == pytest.approx(hoop.width - 10) or fits.height == pytest.approx(hoop.height - 10)
    with pytest.raises(CannotDo, match="check the length"):
        grown_picture(made, 0, 1e5, (0.0, 0.0))


def test_a_picture_is_digitized_where_it_lies(empty: Design) -> None:
    made = placed(empty, picture(dpi=(200, 200)), "scan.png")
    moved = moved_picture(made, 0, 12.0, -7.0)
    objects = digitized(moved, 0, thread_chart()).design
    one = objects.artwork[0]
    (item,) = objects.objects
    left, top, right, low = box_of([item]).tolist()
    assert (left - one.x) / one.width == pytest.approx(0.1, abs=0.02) and (
        right - one.x
    ) / one.width == pytest.approx(0.5, abs=0.02)
    assert (top - one.y) / one.height == pytest.approx(0.2, abs=0.03) and (low - one.y) / one.height == pytest.approx(
        0.8, abs=0.03
    )
    assert (one.x, one.y, one.width) == pytest.approx(
        (moved.artwork[0].x, moved.artwork[0].y, moved.artwork[0].width)
    )
