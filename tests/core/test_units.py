from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jovial_tack.core.errors import UnitError
from jovial_tack.core.units import format_length, parse_length


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("130", 130.0),
        ("130,5 mm", 130.5),
        ("5 1/8 in", 130.175),
        ('5-1/8"', 130.175),
        ("7/8in", 22.225),
        ("5.125 inches", 130.175),
        (" 12 cm ", 120.0),
        ("-3.5", -3.5),
        ("−1/2 in.", -12.7),
        (".5", 0.5),
    ],
)
def test_lengths_as_builders_type_them(text: str, mm: float) -> None:
    assert parse_length(text) == pytest.approx(mm)


@pytest.mark.parametrize(
    "text", ["", "wide", "5 fathoms", "1/0 in", "5..2", "1 2", "nan", "inf", "1e9"]
)
def test_what_is_no_length_is_refused_in_words(text: str) -> None:
    with pytest.raises(UnitError, match=r"\w"):
        parse_length(text)


@given(st.floats(-1e4, 1e4), st.sampled_from(["mm", "in"]))
def test_what_is_shown_can_be_typed_back(mm: float, unit: str) -> None:
    assert parse_length(format_length(mm, unit)) == pytest.approx(mm, abs=0.051)


@given(st.text(max_size=20))
def test_any_text_is_a_length_or_a_unit_error(text: str) -> None:
    try:
        parse_length(text)
    except UnitError as error:
        assert "\n" not in str(error)
