"""What belts a drive takes: the window of its adjuster, and where one belt would put it.

docs/METHOD.md, section 13. All lengths are nominal effective lengths, mm.
"""

from __future__ import annotations

from functools import partial

import numpy as np

from jovial_tack.answers.belt.putting_on import Fitting, FittingRoom
from jovial_tack.answers.belt.stock import Stocked
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.clearance import Ends
from jovial_tack.answers.drive.hot import warm_arm, warm_layout, warm_point
from jovial_tack.answers.places import Place, noun
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import Float
from jovial_tack.core.belt.lines import belt_to_order, cord_length, effective_length
from jovial_tack.core.drive.adjuster import INSIDE, WOUND_STOP, settle
from jovial_tack.core.drive.arm import SpringArm
from jovial_tack.core.drive.inverse import belt_for_angle, toggle_distance
from jovial_tack.core.drive.lanes import Lanes
from jovial_tack.core.drive.path import Path, faults, trace
from jovial_tack.core.drive.sliding import Swing, Track, slide_paths, slide_to
from jovial_tack.core.drive.travel import survey_travel
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.units import format_length
from jovial_tack.core.value import Value, replace
from jovial_tack.document.model import LockedTensioner, StretchTensioner

_NODES = 97
#: How far off the belt a drive on fixed centres calls for one may be, mm.
FIXED_WITHIN_MM = 1.5


class Window(Value, frozen=True):
    """Lengths of the belts that put the adjuster at the two ends of its window, and in its middle."""

    shortest_mm: float
    longest_mm: float
    mid_mm: float


class Candidate(Value, frozen=True):
    """A belt in a drive: where a spring puts the adjuster, and that as a fraction of its window
    (of a travel: of what collisions leave of it) from the shortest belt's side; tension at rest, cold
    and hot, N; growth left before the window ends and distance to the toggle; whether it fits in the
    window at rest, can be put on, stays in the window at every speed, holds, and is too tight; why
    not. None where that was not looked into, since an earlier question was answered with no.
    """

    number: str
    effective_length_mm: float
    place: Place | None
    window_fraction: float | None
    tension_n: float | None
    fits: bool
    can_be_fitted: bool | None
    reason: str | None
    tension_hot_n: float | None = None
    growth_left_mm: float | None = None
    toggle: Place | None = None
    price: float | None = None
    count: int | None = None
    fitting: Fitting | None = None
    runs_in_window: bool | None = None
    holds: bool | None = None
    too_tight: bool | None = None

    @property
    def missed(self) -> int:
        """Of the five questions, how many are answered against it; the first ones weigh most."""
        return (
            8 * (not self.fits)
            + 4 * (self.can_be_fitted is False)
            + 2 * (self.holds is False)
            + (self.runs_in_window is False)
            + (self.too_tight is True)
        )

    @property
    def passes(self) -> bool:
        """Whether nothing speaks against it."""
        return self.missed == 0


class Chooser:
    """What a drive with one kind of adjuster takes."""

    def __init__(self, case: SolvableCase, catalogue: Catalogue, usable: Ends | None) -> None:
        self.case, self.drive, self.limits = case, case.drive, catalogue.limits
        self.usable = usable
        self.room: FittingRoom | None = None
        self.unit = "mm"  # in which reasons are told
        self.offset = case.belt.profile.effective_to_cord_mm
        self.hot = warm_layout(self.drive.layout, self.limits)

    def window(self) -> Window:
        """Raises GeometryError where there is none."""
        raise NotImplementedError

    def placed(self, belt: Stocked, window: Window) -> Candidate:
        """Where a belt puts the adjuster."""
        raise NotImplementedError

    def candidate(self, belt: Stocked, window: Window) -> Candidate:
        """A belt with everything told of it."""
        found = replace(self.placed(belt, window), price=belt.price, count=belt.count)
        if self.room is None:
            return replace(found, can_be_fitted=None)
        fitting = self.room.judge(belt.effective_length_mm)
        reason = found.reason
        if reason is None and not fitting.can:
            reason = _not_on(self.case, fitting, self.unit)
        return replace(found, can_be_fitted=fitting.can, fitting=fitting, reason=reason)

    def _order(self, path_mm: Float, tension_n: Float | float) -> Float:
        """The belts that fill paths at tensions."""
        belt = self.case.belt
        return belt_to_order(
            np.asarray(path_mm),
            np.asarray(tension_n),
            np.asarray(belt.reference_tension_n),
            np.asarray(belt.stiffness_n),
            self.offset,
        )


class _ArmChooser(Chooser):
    """A spring arm."""

    def __init__(self, case: SolvableCase, catalogue: Catalogue, usable: Ends | None) -> None:
        super().__init__(case, catalogue, usable)
        assert case.arm is not None
        self.arm = case.arm
        wound, unwound = self.arm.window
        if usable is not None:  # from the wound to the unwound end
            push = self.arm.push
            wound = push * max(push * wound, push * usable[0])
            unwound = push * min(push * unwound, push * usable[1])
            if push * (unwound - wound) <= 0:
                raise GeometryError(f"collisions leave nothing of the {noun(self.arm)}'s window")
        self.ends = wound, unwound
        self.travel = survey_travel(self.drive.layout, self.arm)
        self.hot_travel = survey_travel(self.hot, self._hot_arm())

    def _hot_arm(self) -> SpringArm:
        return warm_arm(self.drive.layout, self.arm, self.limits)

    def window(self) -> Window:
        """The belts that rest the arm at the ends and in the middle of its window."""
        wound, unwound = self.ends
        share = np.linspace(0.0, 1.0, _NODES)
        angles = np.append(wound + share * (unwound - wound), (wound + unwound) / 2)
        cords = belt_for_angle(self.drive.layout, self.arm, self.drive.belt, angles)
        lengths = np.asarray(effective_length(cords, self.offset))
        known = np.flatnonzero(np.isfinite(lengths[:-1]))
        if not known.size:
            raise GeometryError(
                f"no place in the {noun(self.arm)}'s window has a belt path and a lever"
            )
        ends = lengths[known[0]], lengths[known[-1]]
        middle = lengths[-1] if np.isfinite(lengths[-1]) else sum(ends) / 2
        return Window(float(min(ends)), float(max(ends)), float(middle))

    def placed(self, belt: Stocked, window: Window) -> Candidate:
        """Where the arm rests."""
        length = belt.effective_length_mm
        cord = np.asarray(cord_length(length, self.offset))
        belts = self.drive.belt
        one = replace(belts, cord_length_mm=cord)
        states = Lanes.at_rest(self.drive.pulley_count, one)
        rest = settle(self.drive.layout, self.arm, states, self.travel)
        if int(rest.outcome[0]) != INSIDE:
            short = int(rest.outcome[0]) == WOUND_STOP or length < window.shortest_mm
            reason = _outside(length, window, self.unit) or ("too tight" if short else "too loose")
            return Candidate(belt.number, length, None, None, None, False, None, reason)
        angle = float(rest.angle[0])
        fraction = float(self.arm.window_fraction(np.asarray(angle)))
        least, most = (float(self.arm.window_fraction(np.asarray(end))) for end in self.ends)
        tension = float(one.tension_at(rest.path.total[0]))
        fits = least - 1e-9 <= fraction <= most + 1e-9
        hot = settle(self.hot, self._hot_arm(), states, self.hot_travel)
        hot_tension = None
        if int(hot.outcome[0]) == INSIDE:
            hot_tension = float(one.tension_at(hot.path.total[0]))
        toggle = toggle_distance(self.drive.layout, self.arm, angle)
        return Candidate(
            belt.number,
            length,
            Place.of(self.arm, angle),
            fraction,
            tension,
            fits,
            None,
            None
            if fits
            else _outside(length, window, self.unit) or f"outside the {noun(self.arm)}'s window",
            tension_hot_n=hot_tension,
            growth_left_mm=window.longest_mm - length,
            toggle=None if np.isnan(toggle) else Place.of(self.arm, toggle),
        )


class _TravelChooser(Chooser):
    """A shaft on a slot or a swing, bolted at an installed tension."""

    def __init__(self, case: SolvableCase, catalogue: Catalogue, usable: Ends | None) -> None:
        super().__init__(case, catalogue, usable)
        assert isinstance(case.model.tensioner, LockedTensioner) and case.track is not None
        self.pull, self.track = case.model.tensioner.installed_tension_n, case.track
        self.span = (min(usable), max(usable)) if usable is not None else (0.0, 1.0)

    def window(self) -> Window:
        """The belts that put the shaft at the ends and in the middle of its usable travel."""
        shares = np.append(np.linspace(*self.span, _NODES), sum(self.span) / 2)
        layout, moving = self.drive.layout, self.case.moving
        paths, exists = slide_paths(layout, moving, self.track, shares)
        if not exists[:-1].any():
            raise GeometryError("the belt has no path anywhere on the travel")
        lengths = np.where(exists, self._order(paths, self.pull), np.nan)
        known = np.flatnonzero(exists[:-1])
        ends = lengths[known[0]], lengths[known[-1]]
        middle = lengths[-1] if exists[-1] else sum(ends) / 2
        self.rises = bool(ends[1] >= ends[0])
        return Window(float(min(ends)), float(max(ends)), float(middle))

    def placed(self, belt: Stocked, window: Window) -> Candidate:
        """Where the shaft is bolted."""
        length, layout = belt.effective_length_mm, self.drive.layout
        spring, drawn = self.case.belt.stretching(length), layout.centers[self.case.moving[0]]
        slide = slide_to(layout, self.case.moving, self.track, spring, self.pull, complex(drawn))
        if slide.share is None:
            reason = _outside(length, window, self.unit) or "fits nowhere on the travel"
            return Candidate(belt.number, length, None, None, None, False, None, reason)
        low, high = self.span
        fraction = (slide.share - low) / (high - low) if high > low else 0.5
        fraction = fraction if self.rises else 1.0 - fraction
        fits = -1e-9 <= fraction <= 1 + 1e-9
        path, exists = slide_paths(
            self.hot, self.case.moving, _warm_track(self), np.asarray(slide.share)
        )
        hot = float(spring.tension_at(path)) if exists else None
        return Candidate(
            belt.number,
            length,
            None,
            fraction,
            self.pull,
            fits,
            None,
            None if fits else _outside(length, window, self.unit) or "beyond the usable travel",
            tension_hot_n=hot,
            growth_left_mm=window.longest_mm - length,
        )


class _StandingChooser(Chooser):
    """Nothing moves: a stretch belt, or a locked drive on fixed centres."""

    def __init__(self, case: SolvableCase, catalogue: Catalogue, usable: Ends | None) -> None:
        super().__init__(case, catalogue, usable)
        self.path: Path = trace(self.drive.layout.centers, self.drive.layout.signed_radii)
        if bool(faults(self.path, self.drive.layout.driver_sign).any):
            raise GeometryError("the belt has no path as the pulleys stand")
        tensioner, belt = case.model.tensioner, case.belt
        self.stretches = isinstance(tensioner, StretchTensioner)
        if isinstance(tensioner, LockedTensioner):
            self.pulls = (tensioner.installed_tension_n,) * 2
        else:
            most = belt.construction.most_tension_n_per_rib * belt.ribs
            self.pulls = (max(most, belt.reference_tension_n), belt.reference_tension_n)

    def window(self) -> Window:
        """The belts with the greatest, the least and the mean installed tension."""
        most, least = self.pulls
        shortest, longest, middle = (
            float(self._order(self.path.total, pull)) for pull in (most, least, (most + least) / 2)
        )
        return Window(shortest, longest, middle)

    def placed(self, belt: Stocked, window: Window) -> Candidate:
        """The tension the belt's stretch gives."""
        length, state = (
            belt.effective_length_mm,
            self.case.belt.stretching(belt.effective_length_mm),
        )
        tension = float(state.tension_at(self.path.total))
        wide = window.longest_mm - window.shortest_mm
        room = 1e-9 if self.stretches else FIXED_WITHIN_MM
        fits = window.shortest_mm - room <= length <= window.longest_mm + room
        hot = float(state.tension_at(trace(self.hot.centers, self.hot.signed_radii).total))
        return Candidate(
            belt.number,
            length,
            None,
            (length - window.shortest_mm) / wide if wide > 0 else None,
            max(tension, 0.0),
            fits,
            None,
            None if fits else _outside(length, window, self.unit),
            tension_hot_n=max(hot, 0.0),
            growth_left_mm=window.longest_mm - length,
        )


def chooser_for(case: SolvableCase, catalogue: Catalogue, usable: Ends | None) -> Chooser:
    """What a drive takes, by its adjuster. Raises GeometryError where nothing can be decided."""
    if case.model.tensioner is None:
        raise GeometryError("no tensioner is chosen yet; decide how the belt is tensioned first")
    if case.arm is not None:
        return _ArmChooser(case, catalogue, usable)
    if case.track is not None:
        return _TravelChooser(case, catalogue, usable)
    return _StandingChooser(case, catalogue, usable)


def _outside(length: float, window: Window, unit: str) -> str | None:
    """How far a length is outside the window, in words."""
    if length < window.shortest_mm:
        short = format_length(window.shortest_mm - length, unit)
        return f"too tight: {short} shorter than the window begins"
    if length > window.longest_mm:
        over = format_length(length - window.longest_mm, unit)
        return f"too loose: {over} longer than the window ends"
    return None


def _not_on(case: SolvableCase, fitting: Fitting, unit: str) -> str:
    """Why a belt cannot be put on, and what would help."""
    last = case.label(fitting.last.pulley)
    if fitting.peak_tension_n is not None:
        return f"walking it over {last} would stretch it beyond what it bears"
    short = format_length(-fitting.spare_mm, unit)
    words = f"cannot be put on: {short} short of going over {last} last"
    if fitting.leave_off:
        names = " or ".join(case.label(name) for name in fitting.leave_off)
        return f"{words}; leave {names} off and bolt it in after"
    return words


def _warm_track(chooser: _TravelChooser) -> Track:
    """The travel of a warm block; what swings the shaft keeps its length."""
    moved = partial(warm_point, chooser.drive.layout, limits=chooser.limits)
    track = chooser.track
    if isinstance(track, Swing):
        return replace(track, pivot=moved(track.pivot))
    return replace(track, start=moved(track.start), end=moved(track.end))
