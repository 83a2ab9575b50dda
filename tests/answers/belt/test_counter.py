"""At the counter: readings of belts and pulleys without a layout, against tangents and a table."""

from __future__ import annotations

import json
from math import pi

import numpy as np
import pytest

from drawn import CATALOGUE
from jovial_tack.answers.belt.counter import (
    at_the_counter,
    counter_lines,
    from_belts_tried,
    profiles_of,
    worn_number,
)
from jovial_tack.cli import main
from jovial_tack.core.drive.path import trace
from jovial_tack.core.errors import GeometryError

#: What is read, how, and the number an independent table of the trade gives for it.
TABLE = (
    ("--length 1435 --ribs 6", "6PK1435", "6K565"),
    ("--length 56.5in --ribs 6", "6PK1435", "6K565"),
    ("--length 4ft --ribs 4", "4PK1220", "4K480"),
    ("--length 1835 --ribs 7", "7PK1835", "7K722"),
    ("--length 41.25in --width 13/32in", "AV10x1048", "13413"),
    ("--length 1010 --width 9.7", "AV10x1010", "13398"),
    ("--length 44in --profile A", "A44", None),
    ("--teeth 130 --profile 8M --width 30", "1040-8M-30", None),
    ("--way outside --length 1445 --ribs 6", "6PK1425", None),
    ("--way flat --length 1540 --ribs 5", "5PK1535", None),
)


@pytest.mark.parametrize(("asked", "number", "inches"), TABLE, ids=[a for a, _, _ in TABLE])
def test_a_reading_ends_in_the_number_to_ask_for(
    asked: str, number: str, inches: str | None, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["number", *asked.split(), "--json"]) == 0
    found = json.loads(capsys.readouterr().out)["to_ask_for"][0]
    assert found["first"]["number"] == number
    assert inches is None or inches in found["first"]["elsewhere"].values()
    assert found["second"]["number"] != number
    assert abs(found["second"]["off_mm"]) >= abs(found["first"]["off_mm"])
    assert any("suffix or grade" in words for words in found["not_to_take"])
    assert main(["number", *asked.split()]) == 0
    told = capsys.readouterr().out
    assert ("in" in asked or "ft" in asked) == (" mm" not in told)


@pytest.mark.parametrize("seed", range(6))
def test_a_tape_a_string_and_the_outside_mean_the_same_belt(seed: int) -> None:
    """Three ways round the same pulleys, laid by tangents; one pulley on the back with known wrap."""
    rng = np.random.default_rng(seed)
    kind = profiles_of(CATALOGUE, 6, None, None)[0]
    profile = kind[0]
    made = CATALOGUE.constructions["PK"]["standard"]
    strain = 0.6 * made.most_tension_n_per_rib - profile.reference_tension_n_per_rib
    strain /= made.stiffness_n_per_rib
    centers = np.array([0.0, 250 + rng.uniform(0, 80), 240 + 250j]).astype(complex)
    sizes = rng.uniform(60, 160, 3)

    def round_pulleys(above: float) -> float:
        return float(trace(centers, sizes / 2 + above).total)

    effective = (round_pulleys(1.6) / (1 + strain)) - 2 * pi * 1.6
    string = 1.5 / np.sin(np.radians(20.0)) - 4.41
    ways = {
        "tape": (round_pulleys(0.15), 0.3), "string": (round_pulleys(string), 3.0),
        "outside": (round_pulleys(1.6 + 1.1), 0.0),
    }  # fmt: skip
    for way, (reading, thick) in ways.items():
        found = at_the_counter(CATALOGUE, kind, way, reading, thick_mm=thick)  # type: ignore[arg-type]
        assert found.length_mm == pytest.approx(effective, abs=0.02), way
        assert abs(found.first.effective_length_mm - effective) <= 2.6
        assert found.first.number in " ".join(counter_lines(found))


def test_a_pulley_on_the_back_is_taken_with_its_wrap_and_makes_it_less_sure() -> None:
    kind = profiles_of(CATALOGUE, 6, None, None)[0]
    none, two = (
        at_the_counter(CATALOGUE, kind, "tape", 1600.0, on_the_back=count) for count in (0, 2)
    )
    assert two.length_mm - none.length_mm == pytest.approx(2 * 1.0 * 2.7, abs=0.02)
    assert two.sigma_mm > none.sigma_mm


def test_a_worn_number_is_one_of_the_stocked_belts_that_read_so() -> None:
    assert [b.number for b in worn_number(CATALOGUE, "6PK18?5")] == [
        f"6PK18{digit}5" for digit in range(10)
    ]
    assert [b.number for b in worn_number(CATALOGUE, "K0?0565", ribs=6)] == ["6PK1435"]
    assert all(b.number.startswith("AV13") for b in worn_number(CATALOGUE, "175?8", width_mm=13.0))
    for text in ("6PK1835", "??PK????", "6PX?"):
        with pytest.raises(GeometryError):
            worn_number(CATALOGUE, text)


NONSENSE = (
    "--length 1435", "--length 99 --ribs 6", "--length 1435 --ribs 99", "--length 1435 --width 40",
    "--way rims --length 1435 --ribs 6", "--way string --length 1435 --ribs 6",
    "7PK --length 1 --ribs 2", "--way thumb --length 1435 --ribs 6", "--teeth 100 --profile 8M",
    "--length 1435 --profile ZZ", "",
)  # fmt: skip


@pytest.mark.parametrize("asked", NONSENSE)
def test_what_cannot_be_meant_gets_one_sentence(
    asked: str, capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(["number", *asked.split()]) == 2
    assert len(capsys.readouterr().err.splitlines()) == 1


def test_belts_that_were_tried_tell_the_right_one_and_how_well() -> None:
    three = from_belts_tried(CATALOGUE, "6PK1610 short, 6PK1615 fits, 6PK1625 too long")
    two = from_belts_tried(CATALOGUE, "6PK1610 short, 6PK1625 long")
    assert 1612 < three.length_mm < 1620 and three.sigma_mm < two.sigma_mm
    assert two.length_mm == pytest.approx(1617.5, abs=0.2)
    # nothing is known between them: evenly spread, and a little more for how belts are sold
    assert two.sigma_mm == pytest.approx(15 / 12**0.5, rel=0.1)
    assert "Ask for 6PK1615" in " ".join(counter_lines(three))
    # in another scheme, and the other way about
    again = from_belts_tried(CATALOGUE, "too long 6PK1625, 6PK1610 too short")
    assert again.first.number == two.first.number
    assert again.length_mm == pytest.approx(two.length_mm)
    for text, said in (
        ("6PK1625 short, 6PK1610 long", "no longer than"),
        ("6PK1610 short, 13PK long", "no belt number"),
        ("6PK1610 short, 6PK1625", "whether it was"),
        ("6PK1610 short, 5PJ1641 long", "different profiles"),
    ):
        with pytest.raises(GeometryError, match=said):
            from_belts_tried(CATALOGUE, text)
