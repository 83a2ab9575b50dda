"""Belt numbers: every scheme read and written, loose typing, and nonsense that must stay harmless."""

from __future__ import annotations

import random
import string

import pytest

from jovial_tack.core.belt.numbers import (
    Reading,
    Scheme,
    elsewhere,
    read_number,
    why_not,
    write_number,
)
from jovial_tack.core.errors import UnitError

_RIBBED = ("metric ribs", "ribs and inches", "seven digits")
_KINDS = {"toothed": "pitch", "inside inches": "inside"}
KNOWN = [
    ("7PK1835", "metric ribs", "PK", 7, 1835.0, "effective", None),
    ("6PJ1016", "metric ribs", "PJ", 6, 1016.0, "effective", None),
    ("7DPK1835", "metric ribs", "DPK", 7, 1835.0, "effective", None),
    ("5K683", "ribs and inches", "PK", 5, 68.3 * 25.4, "effective", None),
    ("8K1127", "ribs and inches", "PK", 8, 112.7 * 25.4, "effective", None),
    ("4K520", "ribs and inches", "PK", 4, 52.0 * 25.4, "effective", None),
    ("9070912", "seven digits", "PK", 7, 91.2 * 25.4, "effective", None),
    ("3101108", "seven digits", "PK", 10, 110.8 * 25.4, "effective", None),
    ("M071093", "seven digits", "PK", 7, 109.3 * 25.4, "effective", None),
    ("13425", "32nds and inches", "SAE 0.380", None, 42.5 * 25.4, "outside", 13 / 32 * 25.4),
    ("171062", "32nds and inches", "SAE 0.500", None, 106.2 * 25.4, "outside", 17 / 32 * 25.4),
    ("AV13x1150", "metric V", "SAE 0.500", None, 1150.0, "outside", 13.0),
    ("13AV1150", "metric V", "SAE 0.500", None, 1150.0, "outside", 13.0),
    ("A52", "inside inches", "A", None, 52 * 25.4, "inside", 13.0),
    ("B97", "inside inches", "B", None, 97 * 25.4, "inside", 17.0),
    ("1200-8M-30", "toothed", "8M", None, 1200.0, "pitch", 30.0),
    ("966-14M-55", "toothed", "14M", None, 966.0, "pitch", 55.0),
]


@pytest.mark.parametrize("known", KNOWN, ids=lambda known: known[0])
def test_every_scheme_is_read_however_it_is_typed(known: tuple[object, ...]) -> None:
    text = str(known[0])
    for typed in (
        text,
        text.lower(),
        f" {text} ",
        text.replace("K", " k-"),
        f"{text}HD",
        f"{text} xl",
    ):
        (reading,) = read_number(typed)
        found = (reading.scheme, reading.profile, reading.ribs, reading.length_kind)
        assert found == (known[1], known[2], known[3], known[5]), typed
        assert reading.length_mm == pytest.approx(known[4], abs=1e-6)
        assert reading.width_mm == (known[6] if known[6] is None else pytest.approx(known[6]))
    (reading,) = read_number(text)
    again = write_number(reading).upper()
    assert again == {"13AV1150": "AV13X1150"}.get(text, text.upper())


def test_more_than_one_reading_is_shown_and_letters_are_kept() -> None:
    assert [r.scheme for r in read_number("A171062")] == ["seven digits", "32nds and inches"]
    (reading,) = read_number("xq-7pk1835-hd")
    assert (reading.prefix, reading.suffix) == ("XQ", "HD")
    for text in (
        "",
        "belt",
        "7PK",
        "99PK1835",
        "7PK99",
        "7PK9999",
        "1201-8M-30",
        "7PK1835?",
        "x" * 99,
    ):
        assert read_number(text) == () and why_not(text)
    assert [r.length_mm for r in read_number("5K68.3")] == [pytest.approx(68.3 * 25.4)]


def test_writing_and_reading_is_the_identity_within_a_scheme() -> None:
    rng = random.Random(8)
    schemes: dict[Scheme, tuple[str, ...]] = {
        "metric ribs": ("PK", "PJ", "DPK"), "ribs and inches": ("PK", "PJ"), "seven digits": ("PK",),
        "toothed": ("5M", "8M", "14M"), "inside inches": ("A", "B"), "metric V": ("SAE 0.500",),
        "32nds and inches": ("SAE 0.380", "SAE 0.440"),
    }  # fmt: skip
    for scheme, profiles in schemes.items():
        for _ in range(300):
            profile = rng.choice(profiles)
            ribs = (
                rng.randint(1, 30)
                if scheme in ("metric ribs", "ribs and inches", "seven digits")
                else None
            )
            width: float | None = None
            length = float(rng.randint(250, 5000))
            kind = {"toothed": "pitch", "inside inches": "inside"}.get(
                scheme, "outside" if "V" in scheme or "32" in scheme else "effective"
            )
            if scheme in ("ribs and inches", "seven digits", "32nds and inches"):
                length = round(rng.randint(99, 1968) / 10 * 25.4, 6)
            if scheme == "toothed":
                pitch = float(profile[:-1])
                length, width = (
                    pitch * rng.randint(int(300 / pitch), int(4900 / pitch)),
                    float(rng.randint(9, 115)),
                )
            if scheme == "inside inches":
                length = round(rng.randint(10, 190) * 25.4, 6)
                width = {"A": 13.0, "B": 17.0}[profile]
            if scheme == "metric V":
                width = 13.0
            if scheme == "32nds and inches":
                width = round({"SAE 0.380": 13, "SAE 0.440": 15}[profile] / 32 * 25.4, 6)
            belt = Reading(scheme, profile, ribs, length, kind, width)  # type: ignore[arg-type]
            assert belt in read_number(write_number(belt)), (belt, write_number(belt))
            for other, number in elsewhere(belt).items():
                (same,) = [r for r in read_number(number) if r.scheme == other]
                assert same.length_mm == pytest.approx(length, abs=1.28) and same.ribs == ribs
    with pytest.raises(UnitError):
        write_number(Reading("seven digits", "PJ", 6, 1000.0, "effective"))


def test_random_strings_are_harmless() -> None:
    rng = random.Random(1)
    letters = "0123456789" * 4 + "KPJMABVX" * 3 + string.printable + "×½٣"
    read = 0
    for _ in range(200_000):
        text = "".join(rng.choices(letters, k=rng.randint(0, 12)))
        for reading in read_number(text):
            read += 1
            assert 250 <= reading.length_mm <= 5000
            assert reading.ribs is None or 1 <= reading.ribs <= 30
    assert read > 200
