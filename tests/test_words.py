"""Words as single lines, along a line, held to a length, taken apart; from the command line."""

import math
from pathlib import Path

import numpy as np
import pytest
import shapely
from bench import zoo
from click.testing import CliRunner
from hypothesis import given
from hypothesis import settings as hypothesis_settings
from hypothesis import strategies as st
from msgspec.structs import replace
from shapely import affinity

from jontel.cli import cli
from jontel.design import Area, CannotRead, Line, Run, Satin
from jontel.design.edits import add_objects, change_objects, transform_objects
from jontel.design.lettering import NARROWEST, LetterChange, Lettering, changed_letter, retyped
from jontel.files.formats import open_design
from jontel.files.working import decode, encode
from jontel.geometry.centre import centre_line
from jontel.geometry.polyline import lengths
from jontel.geometry.region import region_of
from jontel.lettering.apart import into_columns, into_letters, set_along, taken_apart
from jontel.lettering.fonts import open_font, shipped_fonts
from jontel.lettering.handles import dragged, handles
from jontel.lettering.setting import held_to_length, lettered, line_length, set_in, words_object
from jontel.sewing.plan import plan
from jontel.stitching.measure import measure
from jontel.stitching.stitches import Kind, Layer, Stitches
from tests.conftest import box_path, design_of, ring_path
from tests.test_lettering import SANS, cloth, sewn_words, words
from tests.test_stitching import sewn, sound

FONTS = [file.name for file in shipped_fonts()]
LETTERS = "AEHKMRXgaeB8&5@"


def letter(sign: str, font: str, height: float = 15.0) -> shapely.Polygon:
    """The largest part of a letter."""
    return max(
        region_of(Area(set_in(words(sign, font, height=height), open_font(font)).path)).geoms, key=lambda g: g.area
    )


# one line along the middle


@pytest.mark.parametrize("font", FONTS)
def test_the_middle_of_a_letter_is_one_line_inside_it(font: str) -> None:
    for sign in LETTERS:
        part = letter(sign, font)
        walk = centre_line(part)
        assert np.hypot(*np.diff(walk, axis=0).T).max() < 8.0  # no jump from stroke to stroke
        assert (
            part.buffer(0.05).covers(shapely.LineString(walk))
            or shapely.LineString(walk).difference(part.buffer(0.3)).length < 0.6
        ), sign
        # no place of the letter is farther from it than its strokes are wide
        reach = 2.2 * float(shapely.length(shapely.maximum_inscribed_circle(part)))
        assert part.difference(shapely.LineString(walk).buffer(reach)).area < 0.02 * part.area, sign


def test_a_line_passes_no_more_twice_than_it_must() -> None:
    def walked(path: str) -> tuple[float, float]:
        walk = centre_line(region_of(Area(path)).geoms[0])
        whole = float(lengths(walk)[-1])
        return whole, float(shapely.LineString(walk).buffer(0.05, cap_style="flat").area / 0.1)

    bar, once = walked(box_path(0, 0, 20, 2))
    assert bar == pytest.approx(19.8, abs=0.1) and once == pytest.approx(bar, abs=0.1)
    ring, once = walked(f"{ring_path(8)} {ring_path(6, reverse=True)}")
    assert ring == pytest.approx(2 * math.pi * 7, rel=0.01) and once == pytest.approx(ring, rel=0.01)
    tee = "M-10 0 L10 0 L10 2 L1 2 L1 20 L-1 20 L-1 2 L-10 2 Z"
    whole, once = walked(tee)  # of its three arms one is walked to its end and back, a shorter one
    assert once == pytest.approx(20 + 19, abs=0.6) and whole - once == pytest.approx(10.0, abs=0.4)


def test_a_line_is_written_from_the_left_to_the_right() -> None:
    for sign in "NHMLXUVW":
        walk = centre_line(letter(sign, SANS))
        assert walk[0, 0] < walk[-1, 0] + 0.1, sign


def test_the_bar_of_a_t_stays_straight_where_its_stem_leaves() -> None:
    walk = centre_line(letter("T", SANS))
    bar = walk[walk[:, 1] < walk[:, 1].min() + 1.0]
    assert np.ptp(bar[:, 0]) > 8 and np.ptp(bar[:, 1]) < 0.1


@given(st.integers(0, 2000), st.floats(0.4, 12.0), st.integers(0, 3), st.floats(0, 360))
@hypothesis_settings(max_examples=40)
def test_any_blob_has_a_line_that_lies_the_same_wherever_it_is(
    seed: int, radius: float, holes: int, turn: float
) -> None:
    part = max(region_of(Area(zoo.blob(seed, radius, holes))).geoms, key=lambda one: one.area)
    walk = centre_line(part)
    assert np.isfinite(walk).all() and len(walk) > 1
    assert float(lengths(walk)[-1]) >= 0.59
    assert shapely.distance(shapely.points(walk), part).max() < 0.5
    moved = centre_line(affinity.translate(part, 3.0, -7.0))
    assert moved == pytest.approx(walk + np.array([3.0, -7.0]), abs=1e-6)


@pytest.mark.parametrize("along", ["outline", "centre line"])
def test_letters_as_runs_are_sewn_one_after_another_without_a_cut_inside(along: str) -> None:
    design = change_objects(
        sewn_words(words("HELM", height=15.0)), {1}, lambda item: replace(item, cover=Run(along=along))
    )
    (piece,) = plan(design).pieces
    stitches = piece.kind == Kind.STITCH
    x = piece.xy[stitches & (piece.layer == Layer.COVER), 0]
    parts = region_of(Area(design.objects[0].shape.path)).geoms
    bounds = sorted((part.bounds[0], part.bounds[2]) for part in parts)
    owner = [next(k for k, (low, high) in enumerate(bounds) if low - 0.6 < value < high + 0.6) for value in x]
    assert owner == sorted(owner)
    assert len(piece.segments.parts) == 4
    assert max(float(np.hypot(*np.diff(part.xy, axis=0).T).max()) for part in piece.segments.parts) < 3.0


def test_a_letter_as_a_line_is_as_high_as_asked() -> None:
    (piece,) = plan(
        change_objects(
            sewn_words(words("H", height=15.0)), {1}, lambda item: replace(item, cover=Run(along="centre line"))
        )
    ).pieces
    y = piece.xy[piece.layer == Layer.COVER, 1]
    assert np.ptp(y) == pytest.approx(15.0, abs=0.35)


@pytest.mark.parametrize("style", ["single", "triple", "back-stitch"])
def test_a_centre_line_has_every_style_of_a_run(style: str) -> None:
    plain, styled = (
        sewn(Area(zoo.glyph("R", 20.0)), Run(along="centre line", style=one)) for one in ("single", style)
    )
    sound(styled)
    assert (len(styled) > 1.8 * len(plain)) == (style != "single")


# along a line, held to a length


def test_words_stand_along_a_line_and_go_on_straight_beyond_it() -> None:
    line = "M-30 0 C-10 -20 10 20 30 0"
    text = sewn_words(words("Pellan", "Quicksand Bold", height=6.0, letter_space=0.0))
    design = add_objects(text, [replace(text.objects[0], name="line", lettering=None, shape=Line(line), cover=Run())])
    along = set_along(design, frozenset({1, 2})).objects[0]
    assert along.lettering is not None and along.lettering.course == "along a line"
    path = shapely.LineString(np.array([(p.x, p.y) for p in _points(line)]))
    for part in region_of(Area(along.shape.path)).geoms:
        assert part.distance(path) < 0.4 and part.hausdorff_distance(path.intersection(part.buffer(9))) < 12
    for alignment, side in (("left", -1), ("right", 1)):
        moved = lettered(along, replace(along.lettering, alignment=alignment))
        assert side * region_of(Area(moved.shape.path)).centroid.x > 10
    far = lettered(along, replace(along.lettering, text="Pellan Point Light and Fog", alignment="left"))
    beyond = region_of(Area(far.shape.path)).bounds
    assert beyond[2] > 32 and not plan(change_objects(design, {1}, lambda _old: far)).failures


def _points(line: str) -> list[shapely.Point]:
    from jontel.geometry.polyline import flatten

    return [shapely.Point(xy) for xy in flatten(line)[0].xy]


def test_words_along_a_line_move_and_grow_with_it_and_are_kept() -> None:
    text = sewn_words(words("Ahoy", height=6.0))
    item = replace(
        text.objects[0], lettering=replace(text.objects[0].lettering, course="along a line", line="M-20 0 L20 0")
    )
    item = lettered(item, item.lettering)
    design = change_objects(text, {1}, lambda _old: item)
    grown = transform_objects(design, {1}, (2.0, 0.0, 0.0, 2.0, 5.0, 9.0)).objects[0]
    again = lettered(grown, grown.lettering)
    one, other = (region_of(Area(each.shape.path)) for each in (grown, again))
    assert one.hausdorff_distance(other) < 0.02 and grown.lettering.height == pytest.approx(12.0)
    assert decode(encode(design), "words.jontel") == design


def test_words_without_a_line_to_follow_say_so() -> None:
    design = sewn_words(words("Ahoy"))
    with pytest.raises(CannotRead, match="Select words and one line"):
        set_along(design, frozenset({1}))
    with pytest.raises(CannotRead, match="no line to follow"):
        lettered(design.objects[0], replace(design.objects[0].lettering, course="along a line"))


@pytest.mark.parametrize("most", [90.0, 60.0, 45.0, 20.0])
def test_lines_that_are_too_long_are_set_narrower_and_then_smaller(most: float) -> None:
    plain = words("Pellan Point\nLight", height=10.0)
    held = replace(plain, longest=most)
    shown = held_to_length(held, open_font(SANS))
    long = line_length(plain, open_font(SANS))
    assert 0.97 * min(long, most) <= line_length(shown, open_font(SANS)) <= min(long, most) + 1e-6
    assert shown.width >= NARROWEST - 0.01 and (shown.height == 10.0 or shown.width == NARROWEST)
    assert cloth(held).bounds[2] - cloth(held).bounds[0] <= min(long, most) + 0.01


# taken apart


def test_words_are_broken_into_letters_and_those_into_columns_where_they_lay() -> None:
    design = sewn_words(words("Ay 8", height=14.0))
    whole = region_of(Area(design.objects[0].shape.path))
    letters, ids = taken_apart(design, frozenset({1}), into_letters)
    assert [item.name for item in letters.objects] == ["Ay 8 · A", "Ay 8 · y", "Ay 8 · 8"] and len(ids) == 3
    union = shapely.unary_union([region_of(Area(item.shape.path)) for item in letters.objects])
    assert union.symmetric_difference(whole).area < 0.01
    columns, parts = taken_apart(letters, ids, into_columns)
    assert len(columns.objects) == len(parts) == 3 + 2 + 2
    sewn_ = plan(columns)
    assert not sewn_.failures
    rows = sewn_.sewn() & (sewn_.layer == Layer.COVER)
    lines = Stitches(sewn_.xy[rows], sewn_.kind[rows], sewn_.layer[rows])
    assert measure(lines, whole).coverage > 0.98
    assert taken_apart(columns, frozenset(parts), into_letters) == (columns, frozenset())


# the command line


def run(*words_: str) -> tuple[int, str]:
    """Exit status and output of a command."""
    done = CliRunner().invoke(cli, list(words_))
    return done.exit_code, done.output + str(done.exception or "")


@pytest.mark.parametrize(
    ("style", "cover"), [("satin", Satin()), ("outline", Run()), ("line", Run(along="centre line"))]
)
def test_words_are_sewn_from_the_command_line(tmp_path: Path, style: str, cover: object) -> None:
    out = tmp_path / "words.jontel"
    code, told = run(
        "letter", "Crew\\nNell 漢", "-o", str(out), "--height", "9", "--style", style, "--font", "Quicksand Bold"
    )
    assert code == 0 and "has no 漢" in told and "stitches" in told
    made = open_design(out)
    (item,) = made.objects
    assert item.cover == cover and item.lettering is not None and item.lettering.text == "Crew\nNell 漢"
    left, top, right, low = region_of(Area(item.shape.path)).bounds
    assert (left + right, top + low) == pytest.approx((0.0, 0.0), abs=0.01)


def test_a_font_is_a_file_too_and_what_is_none_is_said(tmp_path: Path) -> None:
    font = Path(zoo.SHIPPED_FONT).with_name("ComicNeue-Bold.otf")
    assert run("letter", "A", "-o", str(tmp_path / "a.csv"), "--font", str(font))[0] == 0
    broken = tmp_path / "broken.ttf"
    broken.write_bytes(b"no font at all")
    for name, told in (
        (str(broken), "damaged or is no font"),
        (str(tmp_path / "none.ttf"), "cannot be read"),
        ("Nowhere", "not on this machine"),
    ):
        code, said = run("letter", "A", "-o", str(tmp_path / "a.csv"), "--font", name)
        assert code == 1 and told in said
    assert run("letter", " ", "-o", str(tmp_path / "a.csv"))[0] == 1
    assert run("letter", "A", "-o", str(tmp_path / "a.csv"), "--height", "0")[0] == 2


def test_words_object_takes_a_font_at_hand() -> None:
    font = open_font("Comic Neue Bold")
    made = words_object(Lettering("A", "No such font", 10.0), "1001", font)
    assert made.shape == replace(made.shape, path=set_in(Lettering("A", "Comic Neue Bold", 10.0), font).path)
    assert design_of((made.shape, Satin())).objects[0].shape == made.shape


# letters that differ


def spread(lettering: Lettering) -> list[tuple[float, float, float, float]]:
    """The boxes of the letters, from left to right as they are typed."""
    return [region_of(Area(data)).bounds for _, data in set_in(lettering, open_font(lettering.font)).letters]


def test_a_letter_is_moved_spaced_turned_and_grown_and_the_others_stay() -> None:
    plain = words("HOIL", height=10.0, alignment="left")
    before = spread(plain)
    moved = spread(changed_letter(plain, LetterChange(1, along=1.5, off=2.0)))
    assert np.array(moved[1]) - before[1] == pytest.approx([1.5, -2.0, 1.5, -2.0], abs=0.01)
    assert [moved[k] for k in (0, 2, 3)] == [before[k] for k in (0, 2, 3)]
    spaced = spread(changed_letter(plain, LetterChange(2, space=3.0)))
    assert [round(b[0] - a[0], 2) for a, b in zip(before, spaced, strict=True)] == [0.0, 0.0, 3.0, 3.0]
    grown = spread(changed_letter(plain, LetterChange(3, size=150.0)))[3]
    assert grown[3] == pytest.approx(0.0, abs=0.01) and grown[1] == pytest.approx(-15.0, abs=0.05)
    turned = spread(changed_letter(plain, LetterChange(2, turn=90.0)))[2]
    assert turned[2] - turned[0] == pytest.approx(10.0, abs=0.1)
    middle = ((turned[0] + turned[2]) / 2, (turned[1] + turned[3]) / 2)
    assert middle == pytest.approx(((before[2][0] + before[2][2]) / 2, -5.0), abs=0.2)


def test_letters_that_differ_stay_the_same_ones_when_one_types() -> None:
    plain = changed_letter(words("Nell"), LetterChange(2, off=1.0))
    for text, place in (("NNell", 3), ("Nells", 2), ("Nl", None), ("Nxll", 2), ("Ne\nll", 3)):
        found = [one.sign for one in retyped(plain, text).letters]
        assert found == ([] if place is None else [place]), text
    assert changed_letter(plain, LetterChange(2)).letters == ()


@given(
    st.integers(0, 3),
    st.floats(-6, 6),
    st.floats(-6, 6),
    st.sampled_from(["straight", "arc over", "circle"]),
    st.floats(-3, 3),
)
@hypothesis_settings(max_examples=40)
def test_a_letter_follows_the_handle_that_is_dragged(sign: int, x: float, y: float, course: str, turn: float) -> None:
    font = open_font(SANS)
    place = (math.cos(turn), math.sin(turn), -math.sin(turn), math.cos(turn), 5.0, -9.0)
    plain = words("HOIL", height=10.0, course=course, place=place)
    at = handles(plain, font, sign)["move"]
    moved = dragged(plain, font, sign, "move", at, (at[0] + x, at[1] + y))
    assert handles(moved, font, sign)["move"] == pytest.approx((at[0] + x, at[1] + y), abs=0.02)
    back = dragged(moved, font, sign, "move", (at[0] + x, at[1] + y), at)
    assert all(abs(one.along) < 0.03 and abs(one.off) < 0.03 for one in back.letters)


def test_handles_turn_grow_and_space_a_letter() -> None:
    font = open_font(SANS)
    plain = words("HOIL", height=10.0, alignment="left")
    at = handles(plain, font, 1)
    top, foot = at["turn"], at["move"]
    aside = (foot[0] - 8.0, foot[1] - 2.2 - 5.0)
    (change,) = dragged(plain, font, 1, "turn", top, aside).letters
    assert change.turn == pytest.approx(90.0, abs=1.0)
    (even,) = dragged(plain, font, 1, "turn", top, (top[0] - 2.0, top[1]), straight=True).letters
    assert even.turn in (0.0, 15.0, 30.0)
    corner, base = np.array(at["size"]), np.array([foot[0], 0.0])
    (grown,) = dragged(plain, font, 1, "size", at["size"], tuple(base + 1.5 * (corner - base))).letters
    assert grown.size == pytest.approx(150.0, abs=0.5)
    (spaced,) = dragged(plain, font, 2, "space", (0.0, 0.0), (2.5, 7.0)).letters
    assert spaced == LetterChange(2, space=2.5)
    (kept,) = dragged(plain, font, 1, "move", foot, (foot[0] + 2.0, foot[1] + 3.0), straight=True).letters
    assert (kept.along, kept.off) == (2.0, 0.0)
    assert handles(words("A B"), font, 1) == {} and dragged(plain, font, 9, "move", foot, foot) == plain


def test_letters_that_differ_grow_with_the_words_and_are_kept() -> None:
    text = words("Hoil", alignment="left")
    made = sewn_words(changed_letter(text, LetterChange(1, 1.0, 2.0, 0.5, 20.0, 120.0)))
    grown = transform_objects(made, {1}, (0.0, 1.5, -1.5, 0.0, 4.0, 4.0)).objects[0]
    again = lettered(grown, grown.lettering)
    one, other = (region_of(Area(each.shape.path)) for each in (grown, again))
    assert one.hausdorff_distance(other) < 0.02
    assert decode(encode(made), "words.jontel") == made


def test_a_line_is_sewn_from_its_middle_out_for_caps() -> None:
    design = sewn_words(words("HELMS\nINN", height=8.0, sewn="from the middle"))
    (piece,) = plan(design).pieces
    starts = [float(np.mean(part.xy[:, 0])) for part in piece.segments.parts]
    upper = [x for part, x in zip(piece.segments.parts, starts, strict=True) if part.xy[:, 1].mean() < 0]
    assert len(upper) == 5 and upper[0] > upper[1] > upper[2] and upper[3] < upper[4] and upper[0] < upper[3]
