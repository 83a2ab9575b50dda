"""Which belt to buy: every stocked belt around the window, and the few to bring home.

docs/METHOD.md, section 13. All lengths are nominal effective lengths, mm.
"""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from itertools import combinations

import numpy as np

from jovial_tack.answers.belt.putting_on import FittingRoom
from jovial_tack.answers.belt.stock import Stocked, stock_for
from jovial_tack.answers.belt.window import FIXED_WITHIN_MM, Candidate, Window, chooser_for
from jovial_tack.answers.drive.clearance import usable_travel
from jovial_tack.answers.drive.judging import judged, solvable_case
from jovial_tack.answers.drive.spread import length_sigma, spread_of
from jovial_tack.answers.kinds import (
    ARM_AT_STOP,
    ARM_OUTSIDE_WINDOW,
    BELT_FLOATS,
    BELT_TOO_LONG,
    BELT_TOO_SHORT,
    SLIP,
    TOO_TIGHT,
)
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.belt.choosing import chance_of_one
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.value import Value, replace
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.model import Build, LockedTensioner

_AROUND_MM = 30.0
_MOST_HOME = 3
#: Sets to bring home are made of so many belts, those nearest to mid window.
ENOUGH = 12
_SURE = 0.995
_SLIPPING = (SLIP, BELT_FLOATS)
_LEAVING = (ARM_AT_STOP, ARM_OUTSIDE_WINDOW, BELT_TOO_LONG, BELT_TOO_SHORT)
_WORTH_IT = 0.01  # a belt less likely to fit is not worth its way home


class BroughtHome(Value, frozen=True):
    """A belt to bring home, and the probability that it fits, given what is not known exactly."""

    number: str
    effective_length_mm: float
    probability: float


class BeltChoice(Value, frozen=True):
    """Everything about buying a belt for one drive; uncertain_mm: one standard deviation of the length
    it takes, with centres known by the survey (surveyed) or as a tape usually tells them; any_fits:
    probability that one of those brought home fits; reason: what speaks against all of those, if
    nothing better is stocked.
    """

    drive: str
    installed: Candidate | None
    window: Window | None
    candidates: tuple[Candidate, ...]
    bring_home: tuple[BroughtHome, ...]
    uncertain_mm: float
    any_fits: float | None
    problem: str | None = None
    reason: str | None = None
    surveyed: bool = False


def choose_belt(
    build: Build,
    drive_id: str,
    catalogue: Catalogue,
    around_mm: float = _AROUND_MM,
    enough: int | None = None,
) -> BeltChoice:
    """Window, installed belt, stocked belts around the window, and which to bring home.

    around_mm: how far outside the window belts are still looked at; enough: after how many belts, from
    mid window outwards, against which nothing speaks, no more are looked at: with ENOUGH what to bring
    home is that of all, with one it is only sure whether there is any. Raises KeyError for a drive that
    is not there. A drive that cannot be decided says why.
    """
    build.drive(drive_id)
    usable = usable_travel(build, drive_id, catalogue)
    try:
        case = solvable_case(build, drive_id, catalogue)
        chooser = chooser_for(case, catalogue, usable)
        window, chooser.unit = chooser.window(), build.display_units
    except GeometryError as error:
        return BeltChoice(drive_id, None, None, (), (), 0.0, None, str(error))
    stands_locked = isinstance(case.model.tensioner, LockedTensioner) and case.track is None
    if not stands_locked:  # what moves to put the belt on is not told then
        with suppress(GeometryError):
            chooser.room = FittingRoom(case, catalogue, usable)
    stocked = stock_for(build, case.belt, catalogue)
    low, high = window.shortest_mm - around_mm, window.longest_mm + around_mm
    near = [belt for belt in stocked if low <= belt.effective_length_mm <= high]
    spread = spread_of(build, catalogue)
    sigma = length_sigma(case, spread)
    taken = window
    if stands_locked:  # nothing moves to take up a belt that is off by more
        low, high = window.shortest_mm - FIXED_WITHIN_MM, window.longest_mm + FIXED_WITHIN_MM
        taken = Window(low, high, window.mid_mm)

    def judged(belt: Stocked) -> Candidate:
        return _judged(chooser.candidate(belt, window), build, drive_id, catalogue)

    candidates: list[Candidate] = []
    passing = 0
    for belt in sorted(near, key=lambda b: abs(b.effective_length_mm - window.mid_mm)):
        if enough is not None and passing >= enough:
            break
        candidates.append(judged(belt))
        passing += _would_do(candidates[-1], taken, sigma)
    candidates.sort(key=lambda belt: belt.effective_length_mm)
    fitted = case.model.belt.effective_length_mm
    installed = None
    if fitted is not None:
        name = case.belt.profile.number(case.belt.ribs, fitted, build.display_units)
        installed = judged(Stocked(name, fitted))
    to_have, reason = _worth_having(candidates)
    home, any_fits = bring_home(to_have, taken, sigma)
    return BeltChoice(
        drive_id, installed, window, tuple(candidates), home, sigma, any_fits, reason=reason,
        surveyed=spread.surveyed,
    )  # fmt: skip


def _judged(belt: Candidate, build: Build, drive_id: str, catalogue: Catalogue) -> Candidate:
    """A belt that fits at rest and goes on, judged with the engine running, from idle to redline."""
    if not belt.fits or belt.can_be_fitted is False:
        return belt
    tried = set_belt_length(build, drive_id, belt.effective_length_mm)
    every = judged(tried, drive_id, catalogue)
    # what only a guess says speaks against no belt
    found = {finding.kind: finding for finding in every if finding.level in ("watch", "stop")}
    against = [found[kind] for kind in (*_SLIPPING, *_LEAVING, TOO_TIGHT) if kind in found]
    reason = against[0].message.partition(";")[0] if against else None
    return replace(
        belt,
        runs_in_window=not found.keys() & set(_LEAVING),
        holds=not found.keys() & set(_SLIPPING),
        too_tight=TOO_TIGHT in found,
        reason=belt.reason or reason,
    )


def _worth_having(candidates: Sequence[Candidate]) -> tuple[list[Candidate], str | None]:
    """Those against which nothing speaks; else those against which least does, and what that is."""
    stocked = [belt for belt in candidates if belt.count != 0]
    least = min((belt.missed for belt in stocked), default=0)
    best = [belt for belt in stocked if belt.missed == least]
    if least == 0:
        return best, None
    reason = next((belt.reason for belt in best if belt.reason), None)
    fitting = [belt for belt in best if belt.fits and belt.can_be_fitted is not False]
    return fitting, reason


def bring_home(
    candidates: list[Candidate], window: Window, sigma_mm: float
) -> tuple[tuple[BroughtHome, ...], float | None]:
    """The two or three belts of which one fits most probably, and how probably.

    The length a drive takes is off by one unknown amount, normally distributed; a belt fits if it still
    lies in the window then. Of equally probable sets the one nearest to mid window counts; belts that
    hardly ever fit are left in the shop.
    """

    def chance(belts: tuple[Candidate, ...]) -> float:
        return _chance(belts, window, sigma_mm)

    likely = [belt for belt in candidates if _is_likely(belt, window, sigma_mm)]
    near = sorted(likely, key=lambda c: abs(c.effective_length_mm - window.mid_mm))[:ENOUGH]
    if not near:
        return (), None
    best: tuple[Candidate, ...] = (near[0],)
    for count in range(2, _MOST_HOME + 1):
        if count > len(near) or (count > 2 and chance(best) >= _SURE):
            break
        best = max(
            combinations(near, count),
            key=lambda belts: (
                round(chance(belts), 4),
                -sum(abs(b.effective_length_mm - window.mid_mm) for b in belts),
            ),
        )
    order = sorted(best, key=lambda b: b.effective_length_mm)
    home = tuple(BroughtHome(b.number, b.effective_length_mm, chance((b,))) for b in order)
    return home, chance(best)


def _would_do(belt: Candidate, window: Window, sigma_mm: float) -> bool:
    """Whether nothing speaks against a belt, it can be had, and it is likely enough to fit."""
    return belt.passes and belt.count != 0 and _is_likely(belt, window, sigma_mm)


def _is_likely(belt: Candidate, window: Window, sigma_mm: float) -> bool:
    return _chance((belt,), window, sigma_mm) >= _WORTH_IT


def _chance(belts: tuple[Candidate, ...], window: Window, sigma_mm: float) -> float:
    """How probably one of some belts fits: each allows the length taken to be off by so much."""
    lengths = np.array([belt.effective_length_mm for belt in belts])
    return chance_of_one(lengths - window.longest_mm, lengths - window.shortest_mm, sigma_mm)
