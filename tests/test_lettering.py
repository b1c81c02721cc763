"""Words: set in a font, sewn letter after letter, and still words after every change."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import settings as hypothesis_settings
from hypothesis import strategies as st
from msgspec.structs import replace

from jontel.artwork.digitize import design_from
from jontel.artwork.svg import words as svg_words
from jontel.artwork.svg.words import nearest_font
from jontel.data import find_ground, find_hoop, resource, thread_chart
from jontel.demo import name_bar
from jontel.design import Area, CannotRead, Design, EdgesRecipe, Satin, StitchObject
from jontel.design.edits import add_objects, change_objects, transform_objects
from jontel.design.lettering import Lettering
from jontel.design.paths import Matrix
from jontel.files.working import decode, encode
from jontel.geometry.decompose import at_home
from jontel.geometry.region import Region, region_of
from jontel.lettering.fonts import Font, open_font, shipped_fonts
from jontel.lettering.setting import carets, lettered, set_in, with_value, words_object
from jontel.sewing.plan import plan
from jontel.sewing.proof import proof
from jontel.stitching.measure import coverage, measure, thread_lines
from jontel.stitching.parts import parts_of
from jontel.stitching.stitches import Kind, Layer, Stitches
from tests.conftest import afresh, box_path, design_of

FONTS = [file.name for file in shipped_fonts()]
SWUNG = ("Dancing Script Bold", "Lobster Two Bold Italic")
"""Their capitals have no feet."""
SANS = "IBM Plex Sans SemiBold"


def words(text: str, font: str = SANS, **values: object) -> Lettering:
    """Lettering, 12 mm high."""
    return replace(Lettering(text, font), **values)


def cloth(lettering: Lettering) -> Region:
    """What lettering covers."""
    return region_of(Area(set_in(lettering, open_font(lettering.font)).path))


def sewn_words(lettering: Lettering, ground: str = "Woven twill") -> Design:
    """A design of nothing but words, without compensation."""
    made = design_of((Area(box_path(0, 0, 1, 1)), Satin()), ground=ground)
    brief = replace(made.brief, ground=replace(find_ground(ground), edges=EdgesRecipe(pull=0.0, push=0.0)))
    empty = replace(made, objects=(), brief=brief, next_id=1)
    return add_objects(empty, [words_object(lettering, thread_chart()[0].code)])


def cuts_inside(design: Design) -> int:
    """How often the thread is cut between the letters of the only object."""
    (piece,) = plan(design).pieces
    return int((piece.kind[:-1] == Kind.TRIM).sum())


# setting


@pytest.mark.parametrize("font", [font for font in FONTS if font not in SWUNG])
def test_capitals_are_as_high_as_asked_and_stand_on_the_line(font: str) -> None:
    _, top, _, low = cloth(words("HEH", font, height=9.0)).bounds
    assert (top, low) == pytest.approx((-9.0, 0.0), abs=0.12)


def test_lines_letters_and_words_are_as_far_apart_as_asked() -> None:
    plain = cloth(words("HH", alignment="left", letter_space=0.0)).bounds
    wider = cloth(words("HH", alignment="left", letter_space=50.0)).bounds
    assert wider[2] - plain[2] == pytest.approx(6.0, abs=0.01) and wider[0] == pytest.approx(plain[0], abs=0.01)
    spaced = cloth(words("H H", alignment="left", word_space=100.0)).bounds
    near = cloth(words("H H", alignment="left")).bounds
    assert spaced[2] - near[2] == pytest.approx(12.0, abs=0.01)
    two = cloth(words("H\nH", line_space=150.0)).bounds
    assert two[3] - two[1] == pytest.approx(12.0 + 18.0, abs=0.05)


@pytest.mark.parametrize(("alignment", "edge"), [("left", 0), ("right", 2)])
def test_lines_of_different_length_are_aligned(alignment: str, edge: int) -> None:
    tops = [cloth(words(f"{line}", alignment=alignment)).bounds[edge] for line in ("HIHHIH", "HIH")]
    assert tops[0] == pytest.approx(tops[1], abs=0.01)
    middle = cloth(words("HIH"))
    assert middle.bounds[0] == pytest.approx(-middle.bounds[2], abs=0.05)


def test_pairs_are_kerned_and_marks_are_put_on_their_letters() -> None:
    pair = cloth(words("AV", letter_space=0.0))
    loose = cloth(words("AIV", letter_space=0.0))
    near, far = (abs(found.geoms[0].centroid.x - found.geoms[-1].centroid.x) for found in (pair, loose))
    stem = cloth(words("I")).bounds
    assert near < far - (stem[2] - stem[0]) - 1.0
    composed, decomposed = cloth(words("é")), cloth(words("e\u0301"))
    assert shapely.symmetric_difference(composed, decomposed).area < 0.02 * composed.area
    assert len(composed.geoms) == 2


def test_a_line_that_runs_from_right_to_left_is_turned_round() -> None:
    font = open_font(SANS)
    clusters = [glyph.cluster for glyph in font.shaped("אבג")]
    assert clusters == [2, 1, 0]


@pytest.mark.parametrize(("course", "over"), [("arc over", True), ("arc under", False)])
def test_an_arc_is_a_circle_of_the_radius_about_its_middle(course: str, over: bool) -> None:
    found = cloth(words("HHHHHHHH", course=course, radius=40.0))
    middle = np.array([0.0, 40.0 if over else -40.0])
    far = np.hypot(*(shapely.get_coordinates(found) - middle).T)
    feet, heads = (far.min(), far.max()) if over else (far.max(), far.min())
    assert feet == pytest.approx(40.0, abs=0.35) and heads == pytest.approx(52.0 if over else 28.0, abs=0.35)


def test_a_circle_has_its_first_line_over_and_its_second_under_it_in_one_ring() -> None:
    found = cloth(words("NORTH\nSOUTH", course="circle", radius=30.0, height=6.0))
    far = np.hypot(*shapely.get_coordinates(found).T)
    assert far.min() > 29.5 and far.max() < 36.6
    upper = [part for part in found.geoms if part.centroid.y < 0]
    lower = [part for part in found.geoms if part.centroid.y > 0]
    assert len(upper) == len(lower) == 5
    wide = [part.centroid.x for part in lower]
    assert min(wide) < -5 and max(wide) > 5


@pytest.mark.parametrize("field", ["course", "alignment"])
def test_words_that_are_bent_or_aligned_anew_stay_where_they_are(field: str) -> None:
    before = words("Pellan Point\nLight", alignment="left", place=(1.0, 0.0, 0.0, 1.0, 20.0, -7.0))
    value = "arc over" if field == "course" else "right"
    after = with_value(before, field, value, open_font(SANS))
    assert getattr(after, field) == value
    one, other = cloth(before).bounds, cloth(after).bounds
    assert (one[0] + one[2]) / 2 == pytest.approx((other[0] + other[2]) / 2, abs=1.0)
    assert after.place != before.place


def test_slanted_wide_and_heavier_letters_are_that() -> None:
    plain = cloth(words("I", "Quicksand Bold"))
    heavier = cloth(words("I", "Quicksand Bold", weight=0.3))
    grown = np.array(heavier.bounds) - plain.bounds
    assert grown == pytest.approx([-0.3, -0.3, 0.3, 0.3], abs=0.02)
    wide = cloth(words("H", width=150.0))
    assert wide.bounds[2] == pytest.approx(1.5 * cloth(words("H")).bounds[2], rel=0.02)
    slanted = cloth(words("I", "Quicksand Bold", slant=20.0, alignment="left"))
    upright = cloth(words("I", "Quicksand Bold", alignment="left"))
    assert slanted.bounds[2] - upright.bounds[2] == pytest.approx(12 * math.tan(math.radians(20)), abs=0.5)


def test_a_caret_stands_before_each_sign_and_after_the_last() -> None:
    lettering = words("To\nAB", alignment="left", place=(1.0, 0.0, 0.0, 1.0, 5.0, 3.0))
    found = carets(lettering, open_font(SANS))
    assert len(found) == len(lettering.text) + 1
    feet = np.array([foot for foot, _ in found])
    assert (np.diff(feet[:3, 0]) > 3).all() and feet[0] == pytest.approx([5.0, 3.0])
    assert feet[3] == pytest.approx([5.0, 3.0 + 0.01 * lettering.line_space * 12.0])
    assert [head[1] - foot[1] for foot, head in found] == pytest.approx([-12.0] * len(found))


# still words


matrices = st.builds(
    lambda scale, turn, x, y: (
        scale * math.cos(turn),
        scale * math.sin(turn),
        -scale * math.sin(turn),
        scale * math.cos(turn),
        x,
        y,
    ),
    st.floats(0.3, 4.0),
    st.floats(-3.2, 3.2),
    st.floats(-80, 80),
    st.floats(-80, 80),
)


@given(matrices, st.sampled_from(["straight", "arc over", "circle"]), st.sampled_from([0.0, 0.2]))
@hypothesis_settings(max_examples=40)
def test_words_that_were_moved_are_set_where_they_lie(matrix: Matrix, course: str, weight: float) -> None:
    design = sewn_words(words("Bag 8", course=course, weight=weight))
    moved = transform_objects(design, {1}, matrix).objects[0]
    assert moved.lettering is not None
    again = lettered(moved, moved.lettering)
    one, other = (region_of(Area(item.shape.path)) for item in (moved, again))
    scale = math.hypot(matrix[0], matrix[1])
    assert one.hausdorff_distance(other) < (0.05 * max(scale, 1.0) if weight else 0.02)
    assert moved.lettering.height == pytest.approx(12.0 * scale, abs=0.001)


def test_words_are_kept_in_the_working_file_and_sew_the_same_where_the_font_is_missing() -> None:
    design = sewn_words(words("Ahoy", "Dancing Script Bold"))
    again = decode(encode(design, b""), "words.jontel")
    assert again == design and again.objects[0].lettering == design.objects[0].lettering
    lost = change_objects(design, {1}, lambda item: replace(item, lettering=replace(item.lettering, font="Gone")))
    assert not plan(lost).failures and (plan(lost).xy == plan(design).xy).all()
    with pytest.raises(CannotRead, match="“Gone” is not on this machine; its letters stay"):
        lettered(lost.objects[0], replace(lost.objects[0].lettering, text="Other"))


def test_signs_that_a_font_lacks_are_named_and_leave_a_gap() -> None:
    found = set_in(words("A漢B"), open_font(SANS))
    assert found.missing == "漢"
    gap = region_of(Area(found.path))
    assert len(gap.geoms) == 2 and gap.geoms[0].distance(gap.geoms[1]) > 1.5


@pytest.mark.parametrize("text", ["", " ", "\n\n", "\u200b"])
def test_empty_words_are_no_shape(text: str) -> None:
    assert set_in(words(text), open_font(SANS)).path == ""


# fonts


@pytest.mark.parametrize("size", [0, 3, 100, 3000, 20000])
def test_a_damaged_font_says_so_or_draws_what_is_left(size: int) -> None:
    data = resource("fonts/DancingScript-Bold.otf")[:size]
    try:
        font = Font(data, "Broken")
    except CannotRead as refused:
        assert "“Broken”" in str(refused) and "choose another font" in str(refused)
        return
    assert isinstance(set_in(words("Ahoy"), font).path, str)


def test_noise_in_a_font_never_raises_anything_else() -> None:
    data = bytearray(resource("fonts/ComicNeue-Bold.otf"))
    draw = np.random.default_rng(4)
    for _ in range(60):
        hurt = bytearray(data)
        for spot in draw.integers(0, len(hurt), 40):
            hurt[spot] = draw.integers(0, 256)
        try:
            found = set_in(words("Pilot & 7"), Font(bytes(hurt), "Noise"))
        except CannotRead:
            continue
        assert "nan" not in found.path and "inf" not in found.path


# sewn


@pytest.mark.parametrize("font", FONTS)
@pytest.mark.parametrize("height", [6.0, 25.0])
def test_words_are_covered_and_no_letter_is_cut_inside(font: str, height: float) -> None:
    design = sewn_words(words("Rag&8", font, height=height, letter_space=20.0))
    sewn = plan(design)
    assert not sewn.failures
    (piece,) = sewn.pieces
    shape = design.objects[0].shape
    assert isinstance(shape, Area)
    region = region_of(shape)
    keep = (piece.kind <= Kind.JUMP) & (piece.layer != Layer.LOCK)
    seen = measure(Stitches(piece.xy[keep], piece.kind[keep], piece.layer[keep]), region)
    assert seen.coverage > (0.965 if height < 8 else 0.98)
    needle = shapely.points(piece.xy[(piece.kind == Kind.STITCH) & (piece.layer == Layer.COVER)])
    assert shapely.distance(needle, region).max() < 0.26
    assert len(piece.segments.parts) <= len(parts_of(shape))


def test_letters_are_sewn_in_the_order_in_which_one_reads_them() -> None:
    design = sewn_words(words("Light house\nNell"))
    (piece,) = plan(design).pieces
    shape = design.objects[0].shape
    assert isinstance(shape, Area)
    parts = parts_of(shape)
    starts = [
        int(np.argmin([part.cloth.distance(shapely.Point(segment.xy[len(segment.xy) // 2])) for part in parts]))
        for segment in piece.segments.parts
    ]
    assert starts == sorted(starts) and len(set(starts)) == len(parts) == 15
    assert parts[0].cloth.centroid.x < parts[5].cloth.centroid.x and parts[-1].cloth.centroid.y > 10


def test_a_word_is_sewn_without_a_cut_and_thread_is_cut_between_words() -> None:
    assert cuts_inside(sewn_words(words("HUNN"))) == 0
    assert cuts_inside(sewn_words(words("HUN HUN"))) == 1
    joined = sewn_words(words("HUN HUN"))
    joined = change_objects(joined, {1}, lambda item: replace(item, ends=replace(item.ends, leave=50.0)))
    assert cuts_inside(joined) == 0
    apart = change_objects(joined, {1}, lambda item: replace(item, ends=replace(item.ends, leave=0.0)))
    assert cuts_inside(apart) == 5


def test_the_name_bar_cuts_its_words_off_and_nothing_inside_them() -> None:
    sewn = plan(name_bar())
    names = {item.id: item for item in sewn.design.objects}
    cuts = sum(int((piece.kind == Kind.TRIM).sum()) for piece in sewn.pieces if names[piece.owner].lettering)
    assert cuts == 2


def test_flat_letters_end_on_one_line_as_sewn() -> None:
    design = sewn_words(words("HENLIT", height=10.0))
    (piece,) = plan(design).pieces
    ends = np.array([(segment.xy[:, 1].min(), segment.xy[:, 1].max()) for segment in piece.segments.parts])
    assert np.ptp(ends[:, 0]) < 0.1 and np.ptp(ends[:, 1]) < 0.1


@pytest.mark.parametrize("font", ["Quicksand Bold", SANS, "Old Standard TT"])
def test_a_letter_is_the_same_shape_wherever_it_stands(font: str) -> None:
    homes = [at_home(part)[0].wkb for part in cloth(words("nosegonsnes", font, height=10.0, alignment="left")).geoms]
    assert len(set(homes)) == len(set("nosegonsnes"))


def test_a_letter_typed_anew_leaves_the_others_as_they_were_sewn() -> None:
    one, other = (sewn_words(words(text, alignment="left")) for text in ("Nose lights", "Nose nights"))
    plan(one)
    after, fresh = plan(other), afresh(lambda: plan(other))
    assert (after.xy == fresh.xy).all() and (after.layer == fresh.layer).all()
    kept = after.xy[after.xy[:, 0] < 25.0]
    before = {tuple(place) for place in plan(one).xy.round(3)}
    assert len(kept) > 300 and sum(tuple(place) in before for place in kept.round(3)) > 0.98 * len(kept)


def test_words_of_two_thousand_letters_are_set_in_a_moment() -> None:
    found = set_in(words("Pellan Point " * 150), open_font(SANS))
    assert found.path.count("M") > 2000


def test_an_object_that_is_no_words_stays_as_it_is() -> None:
    item = StitchObject(id=1, name="box", thread="1001", shape=Area(box_path(0, 0, 4, 4)), cover=Satin())
    made = lettered(item, words("Z"))
    assert made.lettering == words("Z") and made.cover == item.cover and made.name == "box"
    assert isinstance(made.shape, Area) and made.shape.in_order


# from a drawing


def drawn(body: str) -> Design:
    """The design of an SVG of 100 by 60 mm."""
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="60mm" viewBox="0 0 100 60">{body}</svg>'
    return design_from(svg.encode(), "a.svg", find_ground("Woven"), find_hoop("130 x 180"), thread_chart())


def test_text_of_a_drawing_comes_in_as_lettering_where_it_stands() -> None:
    made = drawn(
        '<g transform="translate(10,10)"><text x="40" y="20" font-size="10" text-anchor="middle" '
        'font-family="\'Quicksand\', sans-serif" fill="#b2302f">Fog <tspan font-weight="bold">Cape</tspan> 7</text></g>'
    )
    (item,) = made.objects
    assert item.lettering is not None and item.name == "Fog Cape 7"
    assert (item.lettering.text, item.lettering.font) == ("Fog Cape 7", "Quicksand Bold")
    assert item.lettering.height == pytest.approx(7.0, abs=0.1) and item.lettering.alignment == "middle"
    left, top, right, low = region_of(Area(item.shape.path)).bounds
    assert (left + right) / 2 == pytest.approx(0.0, abs=0.5)
    assert low == pytest.approx(0.0, abs=2.5) and low - top > 7.0
    assert "text in “Quicksand” came in as lettering" in made.artwork[0].notes[0]
    assert not plan(made).failures


def test_lines_of_a_turned_text_stand_apart_and_what_is_not_painted_stays_out() -> None:
    made = drawn(
        '<text transform="rotate(90) translate(20 -50)" font-size="8" font-family="serif">'
        '<tspan x="0" y="0">One</tspan><tspan x="0" y="12">Two</tspan></text>'
        '<defs><text>never</text></defs><text display="none">nor</text><title>a title</title>'
        '<rect width="9" height="9"/>'
    )
    found = [item.lettering for item in made.objects if item.lettering is not None]
    assert [one.text for one in found] == ["One", "Two"] and {one.font for one in found} == {"Old Standard TT"}
    (x, y), (x2, y2) = (one.place[4:] for one in found)
    assert (x - x2, y - y2) == pytest.approx((12.0, 0.0), abs=0.01)
    assert found[0].place[:2] == pytest.approx((0.0, 1.0), abs=1e-6)


@pytest.mark.parametrize(
    ("asked", "weight", "slanted", "font"),
    [
        ("'Dancing Script'", 400, True, "Dancing Script Bold"),
        ("Nowhere Sans, cursive", 400, False, "Dancing Script Bold"),
        ("Nowhere Sans", 700, False, SANS),
        ("roboto slab", 700, False, "Roboto Slab Bold"),
    ],
)
def test_the_nearest_font_has_the_name_then_the_weight(
    monkeypatch: pytest.MonkeyPatch, asked: str, weight: int, slanted: bool, font: str
) -> None:
    monkeypatch.setattr(svg_words, "system_fonts", tuple)  # whatever this machine has
    assert nearest_font(asked, weight, slanted) == font


@pytest.mark.parametrize("place", ["x='nowhere'", "x='1e999'", "font-size='-4'", "font-size='1e9'", "x='5%'"])
def test_odd_texts_are_named_or_sewn_but_never_lost_unsaid(place: str) -> None:
    made = drawn(f"<rect width='20' height='9'/><text y='20' {place}>Buoy</text>")
    came_in = any(item.lettering is not None for item in made.objects)
    assert came_in or any("text" in note for note in made.artwork[0].notes)


@pytest.mark.parametrize(("font", "height"), [(SANS, 4.0), ("Old Standard TT", 6.0), ("Dancing Script Bold", 5.0)])
def test_letters_that_are_too_small_say_from_which_height_they_sew_well(font: str, height: float) -> None:
    design = sewn_words(words("Nell", font, height=height, least_stroke=0.0))
    (finding,) = [one for one in proof(design, plan(design)) if one.kind == "small letters"]
    assert f"is {height:g} mm high" in finding.sentence and "sew well from" in finding.sentence
    assert ("thinner thread" in finding.sentence) == (height < 5.0)
    for fix in finding.fixes:
        mended = fix.edit(design)
        assert mended != design and mended.objects[0].lettering != design.objects[0].lettering
        assert not [one for one in proof(mended, plan(mended)) if one.kind == "small letters"], fix.label


def test_letters_that_are_large_enough_are_not_found() -> None:
    for font in (SANS, "League Spartan Black", "Roboto Slab Bold"):
        design = sewn_words(words("Nell", font, height=8.0))
        assert not [one for one in proof(design, plan(design)) if one.kind == "small letters"]


@pytest.mark.parametrize("font", [0, 2, 6])
def test_underlay_goes_beneath_a_whole_word_before_its_covers(font: int) -> None:
    words = Lettering("Nora Peel", shipped_fonts()[font].name, height=12.0)
    item = words_object(words, "1")
    apart = add_objects(design_of(), [item])
    once = add_objects(design_of(), [replace(item, underlay_once=True)])
    sewn, plain = plan(once), plan(apart)
    cuts = np.flatnonzero(sewn.kind == Kind.TRIM)
    assert len(cuts) == np.sum(plain.kind == Kind.TRIM) == 2, "after each word"
    by_letter = plain.layer[: cuts[0]]
    for first, last in zip([0, cuts[0]], cuts, strict=True):
        layers = sewn.layer[first:last]
        covers, lies_under = np.flatnonzero(layers == Layer.COVER), np.flatnonzero(_beneath(layers))
        assert lies_under.max() < covers.min()
        x = sewn.xy[first:last, 0]
        under, over = x[lies_under], x[covers]
        assert under[0] < under[-1] - 15 and over[0] > over[-1] + 15, "there as one reads, and back"
    assert np.flatnonzero(_beneath(by_letter)).max() > np.flatnonzero(by_letter == Layer.COVER).min()
    rows = thread_lines(Stitches(sewn.xy, sewn.kind, sewn.layer), {Layer.COVER})
    assert coverage(rows, sewn.overlaps.regions[0]) > 0.99
    assert len(sewn) < 1.35 * len(plain)


def _beneath(layers: np.ndarray) -> np.ndarray:
    """Which needle points are of an underlay, (n,)."""
    return ~np.isin(layers, [Layer.COVER, Layer.TRAVEL, Layer.LOCK])
