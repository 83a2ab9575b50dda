"""A figure typed in forty ways means the same in every quantity and option, or is asked about."""

from __future__ import annotations

import argparse

import pytest
from hypothesis import given
from hypothesis import strategies as st

from jovial_tack.core import units
from jovial_tack.core.errors import EitherFigureError, UnitError
from jovial_tack.core.numerals import number_in_cell, read_numeral
from jovial_tack.core.run_check.air import air_typed
from jovial_tack.core.units import LENGTH, RATIO, Quantity, parse
from jovial_tack.verbs import figures

QUANTITIES = [value for value in vars(units).values() if isinstance(value, Quantity)]
#: What is typed, and what it can only mean.
PLAIN = {
    "7": 7, "7.5": 7.5, "7,5": 7.5, ".5": 0.5, ",5": 0.5, "7.": 7, "0,125": 0.125, "0.125": 0.125,
    "+7.5": 7.5, "-7.5": -7.5, "−7,5": -7.5, "－7": -7, " 7.5 ": 7.5, "12.50": 12.5, "12,5000": 12.5,
    "7200": 7200, "7 200": 7200, "7\u2009200": 7200, "7\u00a0200": 7200, "7\u202f200": 7200,
    "7'200": 7200, "7’200": 7200, "1 234 567": 1234567, "1,234,567": 1234567, "1.234.567": 1234567,
    "1,234.5": 1234.5, "1.234,5": 1234.5, "1 234,5": 1234.5, "1'234.5": 1234.5, "12 345,678": 12345.678,
    "1234,567": 1234.567, "1/2": 0.5, "5 1/8": 5.125, "5-1/8": 5.125, "7/8": 0.875,
}  # fmt: skip
EITHER = {"12,500": (12.5, 12500), "1,250": (1.25, 1250), "-3,600": (-3.6, -3600)}
NEITHER = [
    "",
    "five",
    "1,2,3",
    "1.2.3",
    "5..2",
    "1 2",
    "1,23,456",
    "12,34.5",
    "nan",
    "inf",
    "1/0",
    "--5",
]


@pytest.mark.parametrize("quantity", QUANTITIES, ids=lambda q: q.word)
def test_it_means_the_same_in_every_quantity_or_is_asked(quantity: Quantity) -> None:
    assert len(QUANTITIES) == 28 and len(PLAIN) + len(EITHER) > 37
    zero = parse("0", quantity)
    one = parse("1", quantity) - zero
    for typed, number in PLAIN.items():
        # three decimals of a large figure are dropped by no quantity
        assert parse(typed, quantity) == pytest.approx(zero + number * one, rel=1e-9), typed
    for typed, both in EITHER.items():
        with pytest.raises(EitherFigureError) as asked:
            parse(typed, quantity)
        for reading, number in zip(asked.value.readings, both, strict=True):
            assert parse(reading, quantity) == pytest.approx(
                zero + number * one
            )  # as it is offered
    for typed in NEITHER:
        with pytest.raises(UnitError, match=r"\w"):
            parse(typed, quantity)


@given(st.sampled_from(QUANTITIES), st.integers(1, 999), st.integers(0, 999))
def test_a_point_is_never_a_silent_thousandth(quantity: Quantity, whole: int, rest: int) -> None:
    """Either it is asked, or as thousands it were more than anything of this trade."""
    typed = f"{whole}.{rest:03d}"
    grouped = whole * 1000 + rest
    try:
        parse(typed, quantity)
    except EitherFigureError as asked:
        assert parse(asked.readings[1], quantity) == pytest.approx(parse(str(grouped), quantity))
    else:
        assert grouped * quantity.factor(quantity.unit) > quantity.most


@given(st.sampled_from(QUANTITIES), st.floats(-9e4, 9e4), st.booleans())
def test_what_is_written_is_read_back_and_never_asked_about(
    quantity: Quantity, value: float, other: bool
) -> None:
    unit = quantity.other if other and quantity.other else quantity.unit
    for digits in (None, 3):
        shown = units.written(value, quantity, unit, digits=digits)
        used = quantity.digits[unit != quantity.unit] if digits is None else digits
        back = parse(shown, quantity, unit, decimals=used)
        assert back == pytest.approx(value, abs=0.51 * 10**-used * quantity.factor(unit) + 1e-9)


def test_feet_are_no_thousands_and_an_elevation_no_metre_and_a_half() -> None:
    assert parse("6'500", LENGTH) == 6500.0 and parse("6'5", LENGTH) == pytest.approx(1955.8)
    with pytest.raises(UnitError, match="less than 12"):
        parse("6' 500", LENGTH)
    for typed in ("1,600m", "1.600 m", "1,600"):
        with pytest.raises(EitherFigureError):
            air_typed(typed)
    assert air_typed("1 600 m") == air_typed("1600m") and air_typed("101.325") == 101.325


OPTIONS = [
    figures.tone, figures.degrees,
    figures.percent, figures.length, figures.signed_length, figures.force,
    figures.torque, figures.boost, figures.rise, figures.engine_speed, figures.between_marks,
]  # fmt: skip


@pytest.mark.parametrize("option", OPTIONS)
def test_an_option_reads_as_a_field_does(option: object) -> None:
    """Of every ambiguous text both are said; of every other the same is read as by the quantity."""
    assert callable(option)
    for typed in EITHER:
        with pytest.raises(argparse.ArgumentTypeError, match=r"may be .* or "):
            option(typed)
    for typed, number in PLAIN.items():
        try:
            value = option(typed)
        except argparse.ArgumentTypeError as refused:
            assert "may be" not in str(refused)  # beyond what the option takes
        else:
            assert value == pytest.approx(number), (typed, option)


def test_a_list_is_no_figure_with_thousands() -> None:
    assert figures.speeds("850,2600,6800") == (850.0, 2600.0, 6800.0)
    assert figures.speeds("850,900") == (850.0, 900.0) and figures.printed("98,9; 99,6") == (
        98.9,
        99.6,
    )
    for typed in ("2,600", "60,000", "1,5"):
        with pytest.raises(argparse.ArgumentTypeError):
            figures.speeds(typed)


@given(st.text("0123456789.,'’ -+/−eE\u2009", max_size=12))
def test_any_text_is_a_number_or_none(text: str) -> None:
    try:
        found = read_numeral(text)
    except ZeroDivisionError:
        return
    if found is not None and found.grouped is not None:
        assert found.grouped == pytest.approx(1000 * found.value)


@given(st.floats(allow_nan=False, allow_infinity=False))
def test_a_cell_that_a_program_wrote_is_read_as_it_was(value: float) -> None:
    assert number_in_cell(repr(value), comma=False) == value
    assert parse("2.124", RATIO) == number_in_cell("2,124", comma=True)
