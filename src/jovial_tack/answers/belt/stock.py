"""Belts that can be bought."""

from __future__ import annotations

from jovial_tack.answers.drive.belt_figures import BeltFigures
from jovial_tack.catalogue import Catalogue, Profile
from jovial_tack.core.belt.numbers import Reading, read_number
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build


class Stocked(Value, frozen=True):
    """A belt that can be bought: its number, its length on the effective line, mm, and price and count
    where they are known.
    """

    number: str
    effective_length_mm: float
    price: float | None = None
    count: int | None = None


def stock_for(build: Build, belt: BeltFigures, catalogue: Catalogue) -> tuple[Stocked, ...]:
    """The belts of a profile and width that can be bought, by rising length.

    From the build's stock list where it has belts of the profile in that width, else the catalogue's.
    """
    profile, ribs = belt.profile, belt.ribs
    found = []
    for entry in build.stock:
        for reading in read_number(entry.number):
            if reading.profile == profile.name and _as_wide(reading, profile, ribs):
                length = reading.length_mm - profile.number_offset_mm
                found.append(Stocked(entry.number, length, entry.price, entry.count))
                break
    if not found:
        lengths = catalogue.lengths.get(profile.name, ())
        unit = build.display_units
        found = [Stocked(profile.number(ribs, length, unit), length) for length in lengths]
    return tuple(
        sorted(found, key=lambda s: (s.effective_length_mm, s.price is None, s.price or 0.0))
    )


def _as_wide(reading: Reading, profile: Profile, ribs: int) -> bool:
    if profile.section == "ribbed":
        return reading.ribs == ribs
    if profile.section == "toothed":
        return reading.width_mm is None or round(reading.width_mm) == ribs
    return True  # V-belts are bought one by one
