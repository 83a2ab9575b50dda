"""Whether a belt can be put on: slack with the adjuster fully in, against the lip it is lifted over.

docs/METHOD.md, section 13. The belt is threaded everywhere but on one pulley and lifted over that one
last; there its inner side must clear the rim, so the path is taken with that pulley as much larger.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.clearance import Ends
from jovial_tack.answers.drive.freedom import freedom_of
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import Complex, Float
from jovial_tack.core.drive.putting_on import lifted_over, shortest_path
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.value import Value
from jovial_tack.document.model import SpringArmTensioner, StretchTensioner

_TRAVEL_NODES = 65
_LEAVES_OFF = ("idler",)


class LastPulley(Value, frozen=True):
    """Lifting the belt over one pulley last: which, and how much longer that makes the path, mm."""

    pulley: str
    lifted_mm: float
    smooth: bool


class Fitting(Value, frozen=True):
    """Whether a belt can be put on.

    slack_mm: belt left over with the adjuster fully in and the belt everywhere in its grooves; last:
    the pulley to lift it over last; spare_mm: slack beyond what that takes; leave_off: idlers that may
    be left off and bolted in after, where it cannot be lifted on otherwise; peak_tension_n: of a belt
    that is walked on, at the top of the last rim.
    """

    can: bool
    slack_mm: float
    last: LastPulley
    spare_mm: float
    leave_off: tuple[str, ...] = ()
    peak_tension_n: float | None = None


class WindBack(Value, frozen=True):
    """What it takes to wind a spring arm back to its stop, its damping against it: torque, N·m; the
    bar, mm, and whether that was told; the pull at its end, N, and how many people it takes.
    """

    torque_nm: float
    bar_mm: float
    is_told: bool
    pull_n: float
    people: int


def wind_back(arm: SpringArmTensioner, catalogue: Catalogue) -> WindBack:
    """Winding an arm back to its wound stop, square to the bar. METHOD 13.

    A notch turns spring and stops alike, so that it changes nothing here.
    """
    push = -1.0 if arm.pushes == "cw" else 1.0
    wound = min(arm.stops_deg, key=lambda stop: push * stop)
    sprung = arm.torque_nm - push * arm.rate_nm_per_deg * (wound - arm.angle_deg)
    torque = sprung * (1.0 + (arm.damping_fraction or 0.0))
    bar = catalogue.parts.wind_bar_mm if arm.wrench_mm is None else arm.wrench_mm
    pull = torque / (bar / 1000.0)
    people = max(int(np.ceil(pull / catalogue.parts.one_person_n)), 1)
    return WindBack(torque, bar, arm.wrench_mm is not None, pull, people)


class FittingRoom:
    """What a drive leaves a belt to be put on. Raises GeometryError where no path exists."""

    def __init__(
        self, case: SolvableCase, catalogue: Catalogue, usable: Ends | None = None
    ) -> None:
        self._case, self._limits = case, catalogue.limits
        self._belt = case.belt
        self.is_stretch = isinstance(case.model.tensioner, StretchTensioner)
        layout = case.drive.layout
        held = case.arm.index if case.arm is not None else None
        self._moving = (held,) if held is not None else case.moving
        self._usable = usable
        found = self._shortest(layout.signed_radii, self._moving, range(len(case.pulleys)))
        if found is None:
            raise GeometryError("there is no path with the adjuster fully in")
        self.path_in_mm, self._at = found
        self.lasts = tuple(
            sorted(self._lasts(), key=lambda last: (last.lifted_mm, not last.smooth))
        )
        self._without = {
            case.model.route[k]: path
            for k, shaft in enumerate(case.shafts)
            if shaft.kind in _LEAVES_OFF and k not in self._moving
            if (path := self._path_without(k)) is not None
        }

    def judge(self, effective_length_mm: float) -> Fitting:
        """Whether a belt of a nominal length can be put on."""
        belt = self._belt.stretching(effective_length_mm)
        loose = float(belt.length_at(np.asarray(0.0)))
        last = self.lasts[0]
        slack = loose - self.path_in_mm
        spare = slack - last.lifted_mm
        if self.is_stretch:
            strain = (self.path_in_mm + last.lifted_mm) / loose - 1.0
            peak = float(belt.tension_at(np.asarray(self.path_in_mm + last.lifted_mm)))
            can = strain <= self._limits.most_fitting_strain
            return Fitting(can, slack, last, spare, (), max(peak, 0.0))
        if spare >= 0:
            return Fitting(True, slack, last, spare)
        leave = tuple(name for name, path in self._without.items() if loose - path >= 0)
        return Fitting(False, slack, last, spare, leave)

    def _lasts(self) -> Iterator[LastPulley]:
        """For each pulley how much longer the path is with the belt on its rim."""
        case = self._case
        radii = case.drive.layout.signed_radii
        profile = case.belt.profile
        lips = np.array([max(pulley.flange_mm or 0.0, 0.0) for pulley in case.pulleys])
        smooth = np.array([pulley.side == "back" for pulley in case.pulleys])
        # the ribs lie below the radius the belt runs at: they must clear the lip too
        lifts = lips + np.where(smooth, 0.0, max(profile.below_effective_mm, 0.0))
        for place, grown in enumerate(lifted_over(self._at, radii, lifts).tolist()):
            if np.isfinite(grown):  # over some rims there is no path at all
                yield LastPulley(case.model.route[place], max(grown, 0.0), bool(smooth[place]))

    def _shortest(
        self, radii: Float, moving: tuple[int, ...], kept: range | list[int]
    ) -> tuple[float, Complex] | None:
        """The shortest path over the adjuster's travel, mm, and the centres there; None without any.

        kept: the places of the route that are on.
        """
        case, drive = self._case, self._case.drive
        assert drive is not None
        layout, freedom = drive.layout, freedom_of(case)
        centers = np.array(layout.centers[list(kept)])
        every = centers[None, :]
        if freedom is not None:
            ends = self._usable or freedom.ends
            values = np.linspace(ends[0], ends[1], _TRAVEL_NODES)
            every = np.tile(centers, (values.size, 1))
            places = [list(kept).index(place) for place in moving]
            every[:, places] = freedom.by.center(values)[:, None]
        return shortest_path(every, radii, layout.driver_sign)

    def _path_without(self, place: int) -> float | None:
        """The shortest path with one pulley left off, mm."""
        case = self._case
        kept = [k for k in range(len(case.pulleys)) if k != place]
        if len(kept) < 2:
            return None
        found = self._shortest(case.drive.layout.signed_radii[kept], self._moving, kept)
        return None if found is None else found[0]
