"""Typed lengths: any unit, in any field."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jontel.design import CannotRead
from jontel.design.units import format_length, parse_length


@pytest.mark.parametrize(
    ("typed", "mm"),
    [
        ("0.4", 0.4),
        ("0.4 mm", 0.4),
        ("0,4mm", 0.4),
        ("4 pt", 0.4),
        ("4 points", 0.4),
        ("0.5 cm", 5.0),
        ("1 in", 25.4),
        ('1"', 25.4),
        ("  -2 mm ", -2.0),
        (".5", 0.5),
    ],
)
def test_lengths_are_read_in_any_unit(typed: str, mm: float) -> None:
    assert parse_length(typed) == pytest.approx(mm)


@pytest.mark.parametrize("typed", ["2.5 rows/mm", "2.5/mm", "2.5 rows per mm"])
def test_spacing_is_read_as_rows_per_mm(typed: str) -> None:
    assert parse_length(typed, lines=1) == pytest.approx(0.4)


def test_a_satin_counts_strokes_per_mm() -> None:
    assert parse_length("5 strokes/mm", lines=2) == pytest.approx(0.4)


def test_a_bare_number_is_in_the_users_unit() -> None:
    assert parse_length("4", "pt") == pytest.approx(0.4)
    assert parse_length("1", "in") == pytest.approx(25.4)


@pytest.mark.parametrize("typed", ["", "mm", "wide", "4 furlongs", "1.2.3", "2.5 rows/mm", "nan", "inf"])
def test_nonsense_is_refused_in_a_sentence(typed: str) -> None:
    with pytest.raises(CannotRead) as refused:
        parse_length(typed)
    assert str(refused.value).endswith(".")


def test_no_rows_at_all_is_refused() -> None:
    with pytest.raises(CannotRead, match="more than nothing"):
        parse_length("0 rows/mm", lines=1)


@pytest.mark.parametrize(
    ("mm", "unit", "words"),
    [(0.4, "mm", "0.40 mm"), (0.4, "pt", "4.0 pt"), (25.4, "in", "1.000 in"), (-1.0, "mm", "−1.00 mm")],
)
def test_lengths_are_shown_in_the_users_unit(mm: float, unit: str, words: str) -> None:
    assert format_length(mm, unit) == words  # type: ignore[arg-type]


def test_what_is_no_number_shows_as_a_dash() -> None:
    assert format_length(math.nan) == "–"


@given(st.floats(0.01, 2000), st.sampled_from(["mm", "pt", "in"]))
def test_what_is_shown_can_be_typed_again(mm: float, unit: str) -> None:
    shown = format_length(mm, unit, 4)  # type: ignore[arg-type]
    assert parse_length(shown) == pytest.approx(mm, abs=0.002)
