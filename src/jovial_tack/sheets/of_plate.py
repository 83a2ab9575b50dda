"""What the cards of a plate and of what is cut through it share."""

from __future__ import annotations

from typing import Any

from jovial_tack.answers.results import PlateResult
from jovial_tack.core.units import LENGTH, written_in
from jovial_tack.sheets.sheet import Shown

CAUTION = (
    "Plates are drawn by places that were typed: check the paper on the engine before you cut. Edges"
    " and webs are judged by usual rules, not by strength; deburr, and follow the maker's torques."
)


def told_of(view: Shown[Any]) -> PlateResult | None:
    """What was worked out of the plate that is shown; None while that is still to come."""
    return view.results.plate(view.target.plate)


def short(view: Shown[Any], mm: float) -> str:
    """A length as the build tells it."""
    return written_in(mm, LENGTH, view.build.display_units)
