"""Underdriving: what a smaller crank pulley saves, and what then idles too slowly (METHOD 11)."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.duties import others_than, shortfalls
from jovial_tack.answers.drive.judging import case_of
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import RAD_S_PER_RPM
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.value import Value
from jovial_tack.document.edits.pulleys import set_diameter
from jovial_tack.document.model import Build

_STEPS = (0.05, 0.10, 0.15, 0.20, 0.25)
_W_PER_KW = 1000.0


class Underdrive(Value, frozen=True):
    """A smaller driver: the pulley and its diameter, mm; slower: the fraction the driven pulleys lose;
    kW saved at cruise and redline by the loads' own curves; what is then too slow, in words.
    """

    driver: str
    driver_mm: float
    slower: float
    saved_cruise_kw: float
    saved_redline_kw: float
    too_slow: tuple[str, ...]


def underdrives(build: Build, drive_id: str, catalogue: Catalogue) -> tuple[Underdrive, ...]:
    """A drive with its driver made smaller in five steps. Raises GeometryError if nothing turns it."""
    now = _case(build, drive_id, catalogue)
    driver = now.pulleys[now.driver]
    before = _powers(now)
    found = []
    for step in _STEPS:
        size = round(driver.diameter_mm * (1 - step), 1)
        tried = _case(set_diameter(build, drive_id, driver.id, size), drive_id, catalogue)
        saved = before - _powers(tried)
        other = (now.driver + 1) % len(now.pulleys)
        slower = 1.0 - float(tried.drive.ratios[other] / now.drive.ratios[other])
        cruise, redline = saved.tolist()
        found.append(
            Underdrive(driver.id, size, slower, cruise, redline, _too_slow(tried, catalogue))
        )
    return tuple(found)


def _case(build: Build, drive_id: str, catalogue: Catalogue) -> SolvableCase:
    case = case_of(build, drive_id, catalogue)
    if not isinstance(case, SolvableCase):
        raise GeometryError(
            f"nothing turns {case.model.label}, so there is no crank pulley to shrink"
        )
    return case


def _powers(case: SolvableCase) -> np.ndarray:
    """What the loads of a drive take at cruise and redline (2,), kW."""
    engine = np.array([case.engine.cruise_rpm, case.engine.redline_rpm])
    total = np.zeros(2)
    for place, load in enumerate(case.drive.loads):
        if place != case.driver:
            rpm = engine * float(case.drive.ratios[place])
            total += load.torque_nm(rpm) * rpm * RAD_S_PER_RPM / _W_PER_KW
    return total


def _too_slow(case: SolvableCase, catalogue: Catalogue) -> tuple[str, ...]:
    return tuple(
        f"{shaft.label} {short.words}" + (" (rep. output)" if short.usual else "")
        for place, shaft in enumerate(case.shafts)
        if place != case.driver
        for short in shortfalls(
            shaft,
            case.engine,
            float(case.drive.ratios[place]),
            catalogue,
            others_than(shaft, case.currents),
        )
    )
