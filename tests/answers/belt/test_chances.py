"""How probably a belt brought home fits, against surveys and belts shaken by what is not known."""

from __future__ import annotations

import numpy as np
import pytest

from drawn import CATALOGUE, drawn
from jovial_tack.answers.belt.buying import choose_belt
from jovial_tack.answers.belt.window import FIXED_WITHIN_MM
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.core.arrays import Complex, Float
from jovial_tack.core.drive.path import trace
from jovial_tack.document.edits.changing import changed
from support import solvable

COUNT = 20_000


def centers_at(case: SolvableCase, place: float) -> Complex:
    """The centres with the adjuster at a share of its travel."""
    centers = case.drive.layout.centers.copy()
    if case.arm is not None:
        angle = case.arm.window[0] + place * (case.arm.window[1] - case.arm.window[0])
        centers[case.arm.index] = case.arm.pivot + case.arm.arm_mm * np.exp(1j * angle)
    elif case.track is not None:
        centers[list(case.moving)] = complex(case.track.center(np.asarray(place)))
    return centers


def shaken(case: SolvableCase, place: float) -> tuple[float, Float]:
    """The path at a share of the travel, and by how much the belt it takes is off (COUNT,)."""
    rng, limits, profile = np.random.default_rng(7), CATALOGUE.limits, case.belt.profile
    centers = centers_at(case, place)
    radii = case.drive.layout.signed_radii
    shape = (COUNT, len(radii))
    survey = rng.normal(0, limits.survey_sigma_mm, (*shape, 2)) @ np.array([1, 1j])
    cord = rng.normal(0, profile.effective_to_cord_tolerance_mm / 2, (COUNT, 1))
    ribs = np.array([pulley.side == "ribs" for pulley in case.pulleys])
    grown = rng.normal(0, limits.diameter_sigma_mm, shape) / 2 + np.where(ribs, cord, 0.0)
    still = float(trace(centers, radii).total)
    path = trace(centers + survey, radii + np.sign(radii) * grown).total
    return still, np.asarray(path - 2 * np.pi * cord[:, 0] - still)


def test_a_belt_brought_home_fits_as_often_as_is_told(drawing: int) -> None:
    build = changed(drawn(drawing), obstacles=None)
    for case in [solvable(build, drive.id) for drive in build.drives]:
        choice = choose_belt(build, case.model.id, CATALOGUE)
        if not choice.bring_home or choice.window is None:
            continue
        low, high = choice.window.shortest_mm, choice.window.longest_mm
        if case.arm is None and case.track is None and high - low < 1e-6:
            low, high = low - FIXED_WITHIN_MM, high + FIXED_WITHIN_MM
        (first, off_first), (last, off_last) = shaken(case, 0.0), shaken(case, 1.0)
        if first > last:
            low, high = high, low
        taken = np.sort(np.stack([low + off_first, high + off_last]), axis=0)
        rng, limits = np.random.default_rng(8), CATALOGUE.limits
        sold = rng.normal(0, limits.belt_length_tolerance / 2 * high, COUNT)
        sold += rng.normal(0, case.belt.profile.number_offset_tolerance_mm / 2, COUNT)
        fits = [
            (taken[0] <= belt.effective_length_mm + sold)
            & (belt.effective_length_mm + sold <= taken[1])
            for belt in choice.bring_home
        ]
        for belt, fit in zip(choice.bring_home, fits, strict=True):
            assert belt.probability == pytest.approx(fit.mean(), abs=0.02), belt.number
        assert choice.any_fits == pytest.approx(np.any(fits, axis=0).mean(), abs=0.02)
