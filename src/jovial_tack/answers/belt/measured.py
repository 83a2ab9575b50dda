"""From a measurement to the belt it means: every way of measuring reads another line (METHOD 13).

Readings taken on the pulleys (a tape, a string) are compared with what the same reading would be on
the layout as it is drawn; what they differ by is added to the belt that the layout calls for. Readings
taken on a belt give that belt's length, and the belt that would rest the adjuster where it was held.
"""

from __future__ import annotations

from collections.abc import Callable
from math import hypot, pi, radians
from typing import Literal

import numpy as np

from jovial_tack.answers.belt.window import Window, chooser_for
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.clearance import Ends, usable_travel
from jovial_tack.answers.drive.freedom import freedom_of, rest_pull
from jovial_tack.answers.drive.judging import solvable_case
from jovial_tack.catalogue import Catalogue, Profile
from jovial_tack.core.belt.lines import belt_to_order, effective_length, string_sinks_mm
from jovial_tack.core.drive.arm import place_arm
from jovial_tack.core.drive.path import Path, faults, trace
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.units import FORCE, format_length, written_in
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build

_TRAVEL_NODES = 121
_SHOWN_MM = 0.05  # less is nothing as it is printed
_MOST_MM = 100_000.0
Way = Literal["tape", "string", "rims", "flat", "outside", "fixture", "teeth"]


class Measured(Value, frozen=True):
    """What a reading means; all lengths effective, mm.

    expected: the reading the layout as drawn would give (None for readings that do not hang on it);
    old_mm: the belt that was measured (None for readings on the pulleys); order_mm: the belt to order,
    for the middle of the window (of a belt clamped where the adjuster should rest: for that place);
    sigma_mm: one standard deviation; trade_mm: by the trade's rule, the path with the arm hanging slack
    less a fixed allowance; window: that of the layout moved by what was found; steps: the conversion.
    """

    way: Way
    reading_mm: float
    expected_mm: float | None
    old_mm: float | None
    order_mm: float
    sigma_mm: float
    trade_mm: float | None
    window: Window
    steps: tuple[str, ...]

    @property
    def trade_fits(self) -> bool | None:
        """Whether the belt by the trade's allowance lies in the window."""
        if self.trade_mm is None:
            return None
        return self.window.shortest_mm <= self.trade_mm <= self.window.longest_mm


def from_measurement(
    build: Build,
    drive_id: str,
    catalogue: Catalogue,
    way: Way,
    reading_mm: float,
    *,
    thick_mm: float = 0.0,
    held_at: float | None = None,
    allowance_mm: float | None = None,
) -> Measured:
    """What a reading means for one drive.

    Parameters: the way; the reading, mm (of teeth: their count); thickness of the tape or diameter of
    the string, mm; where the adjuster was held, degrees of an arm or a share of a travel (absent: in
    the middle of its window); the trade's allowance, mm (absent: the catalogue's). Raises GeometryError
    where the drive or the reading has no meaning.
    """
    case = solvable_case(build, drive_id, catalogue)
    if not 0 < reading_mm <= _MOST_MM:
        raise GeometryError(f"a reading must be above zero and at most {_MOST_MM:.0f} mm")
    usable = usable_travel(build, drive_id, catalogue)
    usual = catalogue.limits.slack_arm_allowance_mm
    taken = Taken(
        way=way,
        case=case,
        reading_mm=reading_mm,
        thick_mm=thick_mm,
        held_at=held_at,
        allowance_mm=usual if allowance_mm is None else allowance_mm,
        usable=usable,
        window=chooser_for(case, catalogue, usable).window(),
        length_tolerance=catalogue.limits.belt_length_tolerance,
        unit=build.display_units,
    )
    return WAYS[way].convert(taken)


class Taken(Value, frozen=True):
    """A reading as it was taken of a drive. usable: what collisions leave of an arm's travel, rad;
    window: the belts that fit the layout as it is; unit: the one it is told in.
    """

    way: Way
    case: SolvableCase
    reading_mm: float
    thick_mm: float
    held_at: float | None
    allowance_mm: float
    usable: Ends | None
    window: Window
    length_tolerance: float
    unit: str

    @property
    def profile(self) -> Profile:
        """That of the belt."""
        return self.case.belt.profile

    @property
    def free_mm(self) -> float:
        """The ± of the reading itself, mm."""
        return WAYS[self.way].sigma_mm

    @property
    def sold_mm(self) -> float:
        """The ± of a belt as it is sold, mm: its tolerance is taken for two standard deviations."""
        return self.length_tolerance / 2 * self.window.mid_mm

    @property
    def cord_mm(self) -> float:
        """The ± that comes of not knowing where the cord lies, once round, mm."""
        return pi * self.profile.effective_to_cord_tolerance_mm

    def say(self, mm: float) -> str:
        """A length in the unit it is told in."""
        return format_length(mm, self.unit)

    def effective(self, cord_mm: float) -> float:
        """Effective length of a cord, mm."""
        return float(effective_length(cord_mm, self.profile.effective_to_cord_mm))

    def belt_for(self, cord_mm: float, pull_n: float) -> float:
        """Effective length of the belt whose cord is as long at a pull, mm."""
        belt, to_cord = self.case.belt, self.profile.effective_to_cord_mm
        reference = belt.reference_tension_n
        return float(belt_to_order(cord_mm, pull_n, reference, belt.stiffness_n, to_cord))

    def of_belt(self, old_mm: float, order_mm: float, sigma_mm: float, *steps: str) -> Measured:
        """What the reading of a belt means: that belt, and the one to order."""
        return Measured(
            way=self.way,
            reading_mm=self.reading_mm,
            expected_mm=None,
            old_mm=old_mm,
            order_mm=order_mm,
            sigma_mm=sigma_mm,
            trade_mm=None,
            window=self.window,
            steps=steps,
        )


def _on_pulleys(taken: Taken) -> Measured:
    """A tape or string on the pulleys: how far the reading is from what the layout would give."""
    say, window = taken.say, taken.window
    path = reading_path(taken.case, taken.way, taken.thick_mm, taken.held_at)
    expected = float(path.total)
    off = taken.reading_mm - expected
    order = window.mid_mm + off
    apart = "the reading is that of the layout"
    if abs(off) >= _SHOWN_MM:
        apart = f"the reading is {say(abs(off))} {'longer' if off >= 0 else 'shorter'}"
    slack = _slack_path(taken.case, taken.usable)
    return Measured(
        way=taken.way,
        reading_mm=taken.reading_mm,
        expected_mm=expected,
        old_mm=None,
        order_mm=order,
        sigma_mm=hypot(taken.free_mm, taken.sold_mm),
        trade_mm=None if slack is None else slack + off - taken.allowance_mm,
        window=Window(window.shortest_mm + off, window.longest_mm + off, order),
        steps=(
            f"on the layout as drawn this reading would be {say(expected)}",
            apart,
            f"the layout's own belt for mid window, {say(window.mid_mm)}, becomes {say(order)}",
        ),
    )


def _cut_open(taken: Taken) -> Measured:
    """A cut belt laid flat is slack: its cord is as long as the path it was clamped round."""
    belt, say = taken.case.belt, taken.say
    at_reference = taken.reading_mm * (1 + belt.reference_tension_n / belt.stiffness_n)
    old = taken.effective(at_reference)
    pull = _rest_pull(taken.case, taken.held_at)
    order = taken.belt_for(taken.reading_mm, pull)
    return taken.of_belt(
        old,
        order,
        hypot(taken.free_mm, taken.cord_mm, taken.sold_mm),
        f"laid flat a slack belt shows its cord: {say(taken.reading_mm)} of path",
        f"as a belt of its own it is {say(old)} effective",
        f"a belt of {say(order)} rests there at {written_in(pull, FORCE, taken.unit)}",
    )


def _round_the_back(taken: Taken) -> Measured:
    """A tape round the back of a belt in place, which is stretched there."""
    say = taken.say
    to_back = taken.profile.cord_to_back_mm
    cord = taken.reading_mm - 2 * pi * to_back
    pull = _rest_pull(taken.case, taken.held_at)
    old = taken.belt_for(cord, pull)
    tight = written_in(pull, FORCE, taken.unit)
    return taken.of_belt(
        old,
        old,
        hypot(taken.free_mm, taken.cord_mm),
        f"the back of a belt is longer than its cord by 2π·{say(to_back)},"
        f" whatever the layout: {say(cord)} of cord",
        f"at {tight} it is stretched; slackened to its reference it is {say(old)} effective",
    )


def _on_fixture(taken: Taken) -> Measured:
    """A fixture of two sheaves reads what belts are sold by."""
    step = "a fixture reads the effective length itself, at the reference pull"
    sigma = hypot(taken.free_mm, taken.sold_mm)
    return taken.of_belt(taken.reading_mm, taken.reading_mm, sigma, step)


def _by_teeth(taken: Taken) -> Measured:
    """Teeth counted once round; the reading is their number."""
    if taken.profile.tooth_pitch_mm is None:
        raise GeometryError("teeth are counted on toothed belts only")
    teeth = round(taken.reading_mm)
    pitch_length = teeth * taken.profile.tooth_pitch_mm
    old = taken.effective(pitch_length)
    step = f"{teeth} teeth are {taken.say(pitch_length)} of pitch length"
    return taken.of_belt(old, old, taken.sold_mm, step)


class Measuring(Value, frozen=True):
    """A way of measuring: what it is, how it is done, the usual ± of its reading, mm (one standard
    deviation), and what a reading taken so means. A new way is one of these.
    """

    title: str
    how: str
    sigma_mm: float
    convert: Callable[[Taken], Measured]


WAYS: dict[Way, Measuring] = {
    "tape": Measuring(
        "tape round the pulleys, no belt",
        "lay a steel tape round the pulleys where the belt will run: over the ribs of grooved ones, on"
        " the face of smooth ones, and read where it meets",
        1.0,
        _on_pulleys,
    ),
    "string": Measuring(
        "string in the grooves",
        "lay a string in the same groove of every grooved pulley and on the face of smooth ones, mark"
        " where it meets, and measure it straight at the same pull",
        1.5,
        _on_pulleys,
    ),
    "rims": Measuring(
        "string over the rims of V-grooves",
        "lay a string over the rims of the V-grooves and on the face of smooth pulleys, and measure it",
        1.5,
        _on_pulleys,
    ),
    "flat": Measuring(
        "old belt cut, laid flat",
        "wrap a cut belt round the pulleys with the adjuster where it should rest, clamp the overlap,"
        " and measure the loop laid flat",
        1.5,
        _cut_open,
    ),
    "outside": Measuring(
        "tape round the outside of the belt in place",
        "lay a tape round the back of the belt as it runs, engine off, and read where it meets",
        1.0,
        _round_the_back,
    ),
    "fixture": Measuring(
        "belt on a two-sheave fixture",
        "read the effective length off the fixture at its reference pull",
        0.5,
        _on_fixture,
    ),
    "teeth": Measuring(
        "teeth counted", "count the teeth once round and mark where you began", 0.0, _by_teeth
    ),
}


def against_layout(
    found: Measured, fitted_mm: float | None, uncertain_mm: float, unit: str
) -> str | None:
    """What a reading says against the layout, in one sentence; None if it agrees within what is known.

    fitted_mm: effective length of the belt in the build; uncertain_mm: one standard deviation of the
    length the layout takes.
    """
    if found.expected_mm is not None:
        off = found.reading_mm - found.expected_mm
        known = 2 * hypot(found.sigma_mm, uncertain_mm)
        why = "a centre or a diameter of the layout is another, or the reading is"
    elif found.old_mm is not None and fitted_mm is not None:
        off, known = found.old_mm - fitted_mm, 2 * found.sigma_mm
        why = "the belt that was measured is not the one in the build"
    else:
        return None
    if abs(off) <= known:
        return None
    way = "longer" if off > 0 else "shorter"
    return (
        f"it contradicts the build: {format_length(abs(off), unit)} {way}, where both are known to"
        f" ±{format_length(known, unit)}; {why}"
    )


def check_line(profile: Profile, way: str, thick_mm: float) -> None:
    """Raises GeometryError where a tape or string is no way to read a belt of a profile."""
    if thick_mm < 0 or thick_mm > 20:
        raise GeometryError("a tape or string is 0 to 20 mm thick")
    if way == "string":
        if profile.groove_apex_mm is None or profile.groove_angle_deg is None:
            raise GeometryError("a string in the grooves tells ribbed belts; lay it over the rims")
        if not 1.0 <= thick_mm <= 0.9 * profile.pitch_mm:
            raise GeometryError(
                f"a string of 1 to {0.9 * profile.pitch_mm:.1f} mm lies in a groove of {profile.name}"
            )
    if way == "rims" and profile.section != "v":
        raise GeometryError("over the rims is a way for V-grooves")


def string_in(profile: Profile, thick_mm: float) -> float:
    """How far the centre of a string in a profile's groove lies below the effective line, mm."""
    assert profile.groove_apex_mm is not None and profile.groove_angle_deg is not None
    return string_sinks_mm(profile.groove_apex_mm, profile.groove_angle_deg, thick_mm)


def reading_path(case: SolvableCase, way: Way, thick_mm: float, held_at: float | None) -> Path:
    """The line a tape or string takes on the layout, with the adjuster where it was held.

    Raises GeometryError where there is none, or it is no way for this belt.
    """
    check_line(case.belt.profile, way, thick_mm)
    layout = case.drive.layout
    radii = []
    for pulley in case.pulleys:
        own = pulley.diameter_mm / 2
        if way == "string" and pulley.side == "ribs":
            radii.append(own - string_in(case.belt.profile, thick_mm))
        else:
            radii.append(own + thick_mm / 2)
    signed = np.array(radii) * np.sign(layout.signed_radii)
    centers, freedom = layout.centers.copy(), freedom_of(case)
    if freedom is not None:
        place = _held(case, held_at)
        centers[list(freedom.moving)] = freedom.center(place)
    path = trace(centers, signed)
    if bool(faults(path, layout.driver_sign).any):
        raise GeometryError("there is no path with the adjuster there")
    return path


def _held(case: SolvableCase, held_at: float | None) -> float:
    """Where the adjuster was held: rad of an arm, or a share of a travel."""
    arm = case.arm
    if arm is not None and held_at is None:
        return sum(arm.window) / 2
    if arm is not None and held_at is not None and not arm.slides:
        return radians(held_at)
    share = 0.5 if held_at is None else held_at
    if not 0.0 <= share <= 1.0:
        raise GeometryError("a place on slot or swing is a share from 0 to 1")
    return share


def _slack_path(case: SolvableCase, usable: Ends | None) -> float | None:
    """Effective length of the path with the arm hanging slack, the longest on its travel, mm.

    usable: the arm's angles that collisions leave, rad.
    """
    if case.arm is None:
        return None
    angles = np.linspace(*(usable or case.arm.stops), _TRAVEL_NODES)
    path = place_arm(case.drive.layout, case.arm, angles).path
    good = ~faults(path, case.drive.layout.driver_sign).any
    if not good.any():
        return None
    longest = float(path.total[good].max())
    return float(effective_length(longest, case.belt.profile.effective_to_cord_mm))


def _rest_pull(case: SolvableCase, held_at: float | None) -> float:
    """The tension at rest with the adjuster where it was held, N."""
    return rest_pull(case, 0.0 if case.arm is None else _held(case, held_at))
