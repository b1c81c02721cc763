"""Letters suited to small sizes, and variable fonts: heavier where strokes are thin, no taller, counters open."""

from pathlib import Path

import numpy as np
import pytest
import shapely
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib.tables.TupleVariation import TupleVariation
from msgspec.structs import replace

from jontel.data import find_ground
from jontel.design import Area, CannotRead, Satin, resolve
from jontel.design.lettering import LEAST_STROKE, Lettering, least_stroke_on, moved_lettering
from jontel.files import working
from jontel.files.upgrades import upgraded
from jontel.geometry.region import Region, region_of
from jontel.lettering.fonts import Font, font_of_file, open_font, shipped_fonts
from jontel.lettering.setting import held_to_length, line_length, set_in, suited, words_object
from jontel.sewing.plan import plan
from jontel.sewing.proof import proof
from jontel.stitching.engine import stitch
from jontel.stitching.measure import coverage, thread_lines
from jontel.stitching.parts import parts_of
from jontel.stitching.stitches import Kind, Layer
from tests.test_lettering import sewn_words, words

FONTS = [file.name for file in shipped_fonts()]
SOME = "AEHRSaenos258"


def cloth(lettering: Lettering, font: Font | None = None) -> Region:
    """What words cover."""
    return region_of(Area(set_in(lettering, font or open_font(lettering.font)).path))


def thickness(region: Region) -> float:
    """The width of the strokes that make up most of a letter: what opening by a circle leaves of it."""
    for half in np.arange(0.02, 2.0, 0.02):
        left = region.buffer(-half).buffer(half).intersection(region).area
        if left < 0.85 * region.area:
            return 2 * float(half)
    return 4.0


@pytest.mark.parametrize("font", FONTS)
@pytest.mark.parametrize("height", [4.0, 5.0, 6.0, 8.0, 30.0])
def test_thin_strokes_are_thicker_and_letters_no_taller(font: str, height: float) -> None:
    plain = Lettering("H", font, height, least_stroke=0.0)
    small = replace(plain, least_stroke=LEAST_STROKE)
    before, after = cloth(plain), cloth(small)
    heavier = suited(small, open_font(font))
    assert (after.bounds[1], after.bounds[3]) == pytest.approx((before.bounds[1], before.bounds[3]), abs=0.1)
    if heavier == 0:
        assert set_in(small, open_font(font)) == set_in(plain, open_font(font))
        assert open_font(font).thin * height >= LEAST_STROKE - 1e-6
    else:
        assert thickness(after) > thickness(before) + heavier
        assert after.area > before.area
    if height == 30.0 and font not in ("Old Standard TT",):
        assert heavier < 0.2


@pytest.mark.parametrize("font", FONTS)
@pytest.mark.parametrize(("height", "least"), [(5.0, 0.965), (6.0, 0.985), (8.0, 0.985)])
def test_small_letters_are_covered_and_sewn_as_columns(font: str, height: float, least: float) -> None:
    ground = replace(find_ground("Woven"), edges=replace(find_ground("Woven").edges, pull=0.0, push=0.0))
    found = []
    for sign in SOME:
        shape = Area(set_in(Lettering(sign, font, height), open_font(font)).path)
        item = replace(sewn_words(words("x")).objects[0], shape=shape, cover=Satin(), lettering=None)
        sewn = stitch(resolve(item, ground))
        found.append(coverage(thread_lines(sewn, {Layer.COVER}), region_of(shape)))
        lengths = np.hypot(*np.diff(sewn.xy[sewn.kind == Kind.STITCH], axis=0).T)
        assert lengths.min() > 0.499, sign
    assert min(found) > least and float(np.median(found)) > 0.995


@pytest.mark.parametrize(
    ("font", "signs", "height", "least"),
    [
        ("Dancing Script Bold", "°", 5.0, 0.99),  # a ring whose rows lean to each other
        ("Comic Neue Bold", "*", 5.0, 0.975),  # an arm that begins beside where the last one ended
        ("Bebas Neue Bold", "Íí", 6.0, 0.985),
        ("Lobster Two Bold Italic", "~", 6.0, 0.98),
        ("Dancing Script Bold", "gØ", 6.0, 0.985),  # strokes that leave narrow places, which thread reaches into
        ("Dancing Script Bold", "ø", 12.0, 0.985),
    ],
)
def test_small_signs_leave_no_row_out(font: str, signs: str, height: float, least: float) -> None:
    ground = replace(find_ground("Woven"), edges=replace(find_ground("Woven").edges, pull=0.0, push=0.0))
    for sign in signs:
        shape = words_object(Lettering(sign, font, height), "1").shape
        item = replace(sewn_words(words("x")).objects[0], shape=shape, cover=Satin(), lettering=None)
        sewn = stitch(resolve(item, ground))
        region = region_of(shape)
        assert coverage(thread_lines(sewn, {Layer.COVER}), region) > least
        needle = sewn.xy[sewn.kind == Kind.STITCH]
        assert np.hypot(*np.diff(needle, axis=0).T).min() > 0.499
        assert shapely.distance(shapely.points(needle), region).max() < 0.3
        assert isinstance(shape, Area) and all(part.strokes.fit for part in parts_of(shape))


def test_counters_stay_open_and_slits_close() -> None:
    for font in FONTS:
        for sign in "eaogRB8":
            plain = Lettering(sign, font, 5.0, least_stroke=0.0)
            before, after = cloth(plain), cloth(replace(plain, least_stroke=LEAST_STROKE))
            rings = [
                [
                    2 * shapely.maximum_inscribed_circle(shapely.Polygon(r), 0.02).length
                    for p in c.geoms
                    for r in p.interiors
                ]
                for c in (before, after)
            ]
            for wide in rings[1]:
                assert wide > 0.25, (font, sign)
            if rings[0] and min(rings[0]) > 0.62:
                assert len(rings[1]) >= len(rings[0]) and max(rings[1]) > 0.45, (font, sign)


def test_gaps_between_small_letters_stay_about_as_they_were() -> None:
    for font in ("Old Standard TT", "Dancing Script Bold", "IBM Plex Sans SemiBold"):
        plain = Lettering("HH", font, 5.0, least_stroke=0.0)
        small = replace(plain, least_stroke=LEAST_STROKE)
        gaps = []
        for one in (plain, small):
            parts = sorted(cloth(one).geoms, key=lambda part: part.bounds[0])
            gaps.append(parts[-1].bounds[0] - parts[0].bounds[2] if len(parts) > 1 else 0.0)
        assert gaps[1] > gaps[0] - 0.15


def test_words_that_were_scaled_are_still_as_they_were_set() -> None:
    font = open_font("Old Standard TT")
    small = Lettering("Nell", "Old Standard TT", 10.0)
    moved = moved_lettering(small, (0.5, 0, 0, 0.5, 3, 4))
    assert moved.height == 5.0 and moved.least_stroke == pytest.approx(LEAST_STROKE / 2)
    here = shapely.affinity.affine_transform(cloth(small), [0.5, 0, 0, 0.5, 3, 4])
    assert here.hausdorff_distance(cloth(moved)) < 0.03
    assert suited(moved, font) == pytest.approx(suited(small, font) / 2, abs=0.006)


def test_words_held_to_a_length_give_up_no_size_for_being_suited() -> None:
    for font in ("IBM Plex Sans SemiBold", "Old Standard TT"):
        for most in (45.0, 30.0, 18.0):
            plain = Lettering("Maximiliane von Auen", font, 6.0, longest=most, least_stroke=0.0)
            small = replace(plain, least_stroke=LEAST_STROKE)
            held, thin = (held_to_length(one, open_font(font)) for one in (small, plain))
            assert line_length(held, open_font(font)) <= most + 1e-6
            assert held.height >= thin.height - 0.051 and held.width == thin.width
            assert held_to_length(held, open_font(font)) == held


def test_the_proof_offers_thicker_strokes_where_they_mend_it() -> None:
    design = sewn_words(words("Nell", "Old Standard TT", height=6.0, least_stroke=0.0))
    (finding,) = [one for one in proof(design, plan(design)) if one.kind == "small letters"]
    assert finding.fixes[0].label.startswith("Draw strokes at least 0.9 mm")
    mended = finding.fixes[0].edit(design)
    assert not [one for one in proof(mended, plan(mended)) if one.kind == "small letters"]


def test_letters_of_earlier_files_stay_as_thin_as_they_were() -> None:
    head = {
        "format": "jontel",
        "version": 5,
        "design": {"objects": [{"lettering": {"text": "A", "font": "B"}}, {"name": "x"}]},
    }
    objects = upgraded(head, 5)["design"]["objects"]
    assert objects[0]["lettering"]["least_stroke"] == 0.0 and objects[1] == {"name": "x"}
    design = sewn_words(words("Nell"))
    assert working.decode(working.encode(design), "again") == design


def test_cloth_that_gives_or_is_hairy_asks_for_thicker_strokes() -> None:
    strokes = {
        name: least_stroke_on(find_ground(name)) for name in ("Woven twill", "Pique knit", "Fleece, towelling")
    }
    assert strokes["Woven twill"] == LEAST_STROKE < strokes["Pique knit"] < strokes["Fleece, towelling"]


# variable fonts


def variable_font(path: Path) -> Path:
    """A font of one letter, H, whose stems grow with its weight axis."""

    def stems(wide: int) -> TTGlyphPen:
        pen = TTGlyphPen(None)
        for x in (50, 450 - wide):
            pen.moveTo((x, 0))
            for place in ((x, 700), (x + wide, 700), (x + wide, 0)):
                pen.lineTo(place)
            pen.closePath()
        pen.moveTo((50, 320))
        for place in ((50, 320 + wide), (450, 320 + wide), (450, 320)):
            pen.lineTo(place)
        pen.closePath()
        return pen

    light, bold = stems(40).glyph(), stems(140).glyph()
    fb = FontBuilder(1000, isTTF=True)
    fb.setupGlyphOrder([".notdef", "H"])
    fb.setupCharacterMap({ord("H"): "H"})
    fb.setupGlyf({".notdef": TTGlyphPen(None).glyph(), "H": light})
    fb.setupHorizontalMetrics({".notdef": (500, 0), "H": (500, 50)})
    fb.setupHorizontalHeader(ascent=800, descent=-200)
    fb.setupNameTable({"familyName": "Pellan Vary", "styleName": "Regular"})
    fb.setupFvar([("wght", 100, 100, 900, "Weight")], [])
    steps = [(b[0] - a[0], b[1] - a[1]) for a, b in zip(light.coordinates, bold.coordinates, strict=True)]
    fb.setupGvar({"H": [TupleVariation({"wght": (0.0, 1.0, 1.0)}, [*steps, (0, 0), (0, 0), (0, 0), (0, 0)])]})
    fb.setupOS2()
    fb.setupPost()
    fb.save(path)
    return path


def test_a_variable_font_is_set_anywhere_on_its_axes(tmp_path: Path) -> None:
    font = font_of_file(variable_font(tmp_path / "vary.ttf"))
    (axis,) = font.axes
    assert (axis.tag, axis.title, axis.low, axis.high) == ("wght", "Weight", 100, 900)
    plain = Lettering("H", font.name, 20.0, least_stroke=0.0)
    light, middle, bold, beyond = (
        cloth(replace(plain, axes=(("wght", value),)), font).area for value in (100.0, 500.0, 900.0, 5000.0)
    )
    assert light < middle < bold == beyond
    assert middle == pytest.approx((light + bold) / 2, rel=0.12)
    assert cloth(plain, font).area == light
    assert set_in(replace(plain, axes=(("zzzz", 3.0),)), font) == set_in(plain, font)
    assert font.varied((("wght", 900.0),)).thin > 2.5 * font.thin


def test_small_letters_of_a_variable_font_are_heavier_by_its_own_weight_axis(tmp_path: Path) -> None:
    font = font_of_file(variable_font(tmp_path / "vary.ttf"))
    for height, by_axis_alone in ((20.0, True), (8.0, True), (3.0, False)):
        words_ = Lettering("H", font.name, height)
        made, plain = cloth(words_, font), cloth(replace(words_, least_stroke=0.0), font)
        assert thickness(made) >= min(LEAST_STROKE, 0.2 * height) - 0.1
        assert (made.bounds[1], made.bounds[3]) == pytest.approx((plain.bounds[1], plain.bounds[3]), abs=0.05)
        assert (suited(words_, font) == 0) == by_axis_alone
    set_by_hand = Lettering("H", font.name, 8.0, axes=(("wght", 100.0),))
    assert suited(set_by_hand, font) > 0
    heavy = font.heavy_enough((), 0.15)
    assert 0.15 <= heavy.thin < 0.165 and font.heavy_enough((), 0.01) is font


def test_axes_are_kept_in_the_working_file() -> None:
    design = sewn_words(words("Nell", axes=(("wght", 550.0), ("wdth", 90.0))))
    assert working.decode(working.encode(design), "axes") == design
    assert not plan(design).failures


@pytest.mark.parametrize("cut", [0.3, 0.6, 0.9, 0.99])
def test_a_damaged_variable_font_is_refused_or_sewn_as_far_as_it_goes(tmp_path: Path, cut: float) -> None:
    whole = variable_font(tmp_path / "vary.ttf").read_bytes()
    broken = tmp_path / "broken.ttf"
    broken.write_bytes(whole[: int(len(whole) * cut)])
    try:
        font = font_of_file(broken)
        made = set_in(Lettering("H", font.name, 20.0, axes=(("wght", 900.0),)), font)
    except CannotRead as refused:
        assert "choose another" in str(refused)
    else:
        assert np.isfinite(region_of(Area(made.path)).area)


# trims by rule


@pytest.mark.parametrize(
    ("trims", "cuts"), [("between letters", 5), ("between words", 2), ("between lines", 1), ("never", 0)]
)
def test_the_thread_is_cut_by_the_rule_of_the_words(trims: str, cuts: int) -> None:
    design = sewn_words(words("HE Li\nTo", height=14.0, trims=trims))
    sewn = plan(design)
    inside = int((sewn.kind == Kind.TRIM).sum()) - 1  # the last ends the program
    # "i" is two pieces, and its dot is no letter of its own
    assert inside == cuts


def test_the_rule_of_the_words_counts_for_those_sewn_from_the_middle_and_without_their_font() -> None:
    design = sewn_words(words("HEL OTE", height=14.0, trims="between words", sewn="from the middle"))
    trims = int((plan(design).kind == Kind.TRIM).sum()) - 1
    assert 1 <= trims <= 2
    item = design.objects[0]
    assert item.lettering is not None
    gone = replace(design, objects=(replace(item, lettering=replace(item.lettering, font="Nowhere Sans")),))
    assert not plan(gone).failures
