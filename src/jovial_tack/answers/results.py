"""What a solve returns: plain frozen values, and their JSON form.

A figure that has no value is None, never a stand-in. Lists run along the listed engine speeds.
Lengths in mm, angles in degrees, tensions in N.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import cached_property
from typing import Any, Literal

import numpy as np

from jovial_tack.answers.kinds import Kind
from jovial_tack.answers.places import Place
from jovial_tack.core.arrays import Float
from jovial_tack.core.drive.path import Path
from jovial_tack.core.line_up.plate_cuts import KeptOut, Ring
from jovial_tack.core.value import Value, fields_of
from jovial_tack.document.model import Build

#: unknown: it would be a stop or to be watched if a figure that was only guessed were true.
Level = Literal["stop", "watch", "unknown", "note"]
Numbers = tuple[float | None, ...]

_LEVELS = {"stop": 0, "watch": 1, "unknown": 2, "note": 3}


class Edit(Value, frozen=True):
    """A change of the file: a JSON Pointer into it, the value to put there, and how."""

    path: str
    value: Any
    op: Literal["replace", "add", "remove"] = "replace"


class Mend(Value, frozen=True, eq=False):
    """A change that mends a finding, solved as it is printed. left: what it leaves of the matter and
    costs elsewhere, in words; build: the build it makes; worse: codes of what becomes worse.
    """

    words: str
    left: str
    edits: tuple[Edit, ...]
    build: Build
    worse: tuple[str, ...] = ()

    @property
    def sentence(self) -> str:
        """The change, and what it leaves."""
        return f"{self.words}: {self.left}" if self.left else self.words


class Finding(Value, frozen=True):
    """One thing the user should know: what is wrong, by how much, and the nearest mend."""

    kind: Kind
    level: Level
    where: str
    message: str
    value: float | None = None
    limit: float | None = None
    mends: tuple[Mend, ...] = ()

    @property
    def code(self) -> str:
        """The code of its kind, as in results files."""
        return self.kind.code


class ArmResult(Value, frozen=True):
    """A spring arm or slide at rest, and its running state along the speeds.

    place: where it stands; running: the same along the speeds, degrees of an arm, mm of a slide.
    torque_nm, force_n: of an arm's and of a slide's spring; travel_share: of a slide's slot;
    toggle_deg, toggle_mm: how far it is from where it loses its lever. window_sd: one standard
    deviation of window_fraction, None while something moves; surveyed: whether the shafts are known by
    the build's survey.
    """

    place: Place
    torque_nm: float | None
    tension_n: float
    window_fraction: float | None
    toggle_deg: float | None
    running: Numbers
    running_tension_n: Numbers
    at_stop: tuple[bool | None, ...]
    window_sd: float | None = None
    surveyed: bool = False
    force_n: float | None = None
    travel_share: float | None = None
    toggle_mm: float | None = None

    @property
    def arm_angle_deg(self) -> float | None:
        """The angle of an arm at rest; None of a slide."""
        return self.place.arm_angle_deg

    @property
    def slide_mm(self) -> float | None:
        """How far a slide stands from the first end of its slot at rest; None of an arm."""
        return self.place.slide_mm


class TravelResult(Value, frozen=True):
    """Where a belt puts the shaft it is tensioned by, on a slot or swing.

    travel_fraction: from the mount's first end (0) to its second (1); travel_left_mm: back to the
    first, on to the second; other_positions_mm: further places where the same belt would sit;
    turns_to_go: of its screw from where the file draws it, + toward the second end, None without one;
    travel_sd: one standard deviation of travel_fraction, as of an arm's window.
    """

    center_mm: tuple[float, float]
    travel_fraction: float
    travel_left_mm: tuple[float, float]
    other_positions_mm: tuple[tuple[float, float], ...]
    turns_to_go: float | None = None
    travel_sd: float | None = None
    surveyed: bool = False


class FixedResult(Value, frozen=True):
    """A locked or stretch drive: its tension at rest and the belt it calls for.

    On a slot or swing the belt it calls for is the one that sits at mid travel.
    """

    called_for_effective_length_mm: float | None
    tension_n: float
    travel: TravelResult | None = None


class SpanResult(Value, frozen=True):
    """A span from one pulley to the next; geometry at rest, tension running.

    push_n: force at its middle, at rest, for 1/64 of its length (the trade's way of feeling tension).
    """

    from_id: str
    to_id: str
    length_mm: float
    start_mm: tuple[float, float]
    end_mm: tuple[float, float]
    tension_n: Numbers
    tone_hz: float | None
    push_n: float | None
    misalignment_deg: float | None


class PulleyResult(Value, frozen=True):
    """A pulley; wrap at rest, the lists running. hub_direction_deg: where the belt pulls the hub.

    low_arc_used: the share used on the low side of the arm's damping, which findings judge by;
    worst_arc_used: the most of it from idle to redline; slips_rpm: the ranges in which it slips.
    """

    id: str
    wrap_deg: float
    turns: Literal["cw", "ccw"]
    speed_ratio: float
    rpm: Numbers
    torque_nm: Numbers
    power_kw: Numbers
    hub_load_n: Numbers
    hub_direction_deg: Numbers
    arc_used_fraction: Numbers
    low_arc_used: Numbers
    worst_arc_used: float | None
    slips_rpm: tuple[tuple[float, float], ...] = ()


class GripResult(Value, frozen=True):
    """How much the drive has in hand, on the low side of the arm's damping.

    capacity_factor: all loads at redline times this slip the first pulley; slip_from_rpm at low,
    design and dry friction; tension band at rest, N, from the least that holds to the most that
    belt and bearings allow; creep_percent at redline.
    """

    capacity_factor: float | None
    slip_from_rpm: tuple[float | None, float | None, float | None]
    least_tension_n: float | None
    most_tension_n: float | None
    creep_percent: float | None


class ClearanceResult(Value, frozen=True):
    """The least gap of a drive to one obstacle, over the window of its arm.

    of: what comes near: the belt, a pulley, a body that hangs on the moving shaft (its obstacle is
    `body`), or the wrench that winds an arm. pulley: the pulley it is at, or whose arc or following
    span it is; place: where the tensioner stands then, None at rest; here_mm on what comes near,
    there_mm on the obstacle. gap_sd_mm: one standard deviation by where the shafts are, None while
    something moves; surveyed: whether that is by the build's survey.
    """

    obstacle: str
    pulley: str
    of: str
    body: str | None
    gap_mm: float
    needed_mm: float
    place: Place | None
    here_mm: tuple[float, float]
    there_mm: tuple[float, float]
    gap_sd_mm: float | None = None
    surveyed: bool = False


class BodyMove(Value, frozen=True):
    """A body to move along z so that belts run in line, mm, + toward the viewer.

    of: shaft, bracket or pulley; low_mm, high_mm: how far it may be moved instead, the others going as
    they are told; pulleys: (drive, pulley) it carries; pressed: on its shaft, so that it is pressed and
    not spaced; pieces: (part, count) of the shelf that make it up, None where there are none.
    """

    of: str
    id: str
    label: str
    by_mm: float
    low_mm: float
    high_mm: float
    pulleys: tuple[tuple[str, str], ...]
    pressed: bool
    pieces: tuple[tuple[str, int], ...] | None = None


#: At so many speeds from idle to redline the pulls of a drive are kept.
PULL_SPEEDS = 41


class Readings(Value, frozen=True):
    """What is read of a drive rather than drawn.

    spacers_mm: along the route, None where it is not known or nothing mends it; moves: of all bodies
    that put the build in line; windows_mm: planes along the route at which a pulley is in line with all
    else as it is, None where there are none; pulls_n: of the belt on each pulley along the route,
    complex, on the high side of an arm's damping, at each of PULL_SPEEDS from idle to redline;
    growth_left_mm: stretch left until the arm is at the end of its window.
    """

    findings: tuple[Finding, ...] = ()
    spans: tuple[SpanResult, ...] = ()
    pulleys: tuple[PulleyResult, ...] = ()
    spacers_mm: Numbers = ()
    moves: tuple[BodyMove, ...] = ()
    windows_mm: tuple[tuple[float, float] | None, ...] = ()
    pulls_n: tuple[tuple[complex, ...], ...] = ()
    growth_left_mm: float | None = None


#: What a result is worked out with, and what serves the drawing only.
_NOT_COMPARED = {"read", "rest_path", "arcs_used"}


class DriveResult(Value, frozen=True, eq=False, dict=True):
    """One drive. A drive that cannot exist keeps its keys, empty, and its findings.

    driver (the pulley that drives the belt), rest_path and arcs_used (the share of each arc used, and
    that on the low side of the arm's damping: two tables (R, N)) serve the drawing; they are not part
    of the results file. guessed: shafts whose load is only the usual one of their kind; situation: the
    load case, "" without one. tell works out what is read rather than drawn, once, when it is first
    asked for: words follow a moving pointer more slowly than the picture.
    """

    id: str
    rpm: tuple[float, ...]
    read: Callable[[], Readings] = Readings
    cord_length_mm: float | None = None
    path_effective_length_mm: float | None = None
    back_length_mm: float | None = None
    belt_speed_mps: Numbers = ()
    tensioner: ArmResult | FixedResult | None = None
    grip: GripResult | None = None
    clearances: tuple[ClearanceResult, ...] = ()
    usable_travel_deg: tuple[float, float] | None = None
    usable_travel_fraction: tuple[float, float] | None = None
    driver: str = ""
    rest_path: Path | None = None
    arcs_used: tuple[Float, Float] | None = None
    guessed: tuple[str, ...] = ()
    situation: str = ""

    def __eq__(self, other: object) -> bool:
        """Equal if all is that stands in a results file, or would."""
        if not isinstance(other, DriveResult):
            return NotImplemented
        mine, theirs = fields_of(self), fields_of(other)
        return all(mine[name] == theirs[name] for name in mine.keys() - _NOT_COMPARED)

    def __hash__(self) -> int:
        """By name and speeds: enough to tell drives apart."""
        return hash((self.id, self.rpm))

    @cached_property
    def readings(self) -> Readings:
        """What is read of the drive rather than drawn."""
        return self.read()

    @property
    def findings(self) -> tuple[Finding, ...]:
        """What the user should know about the drive."""
        return self.readings.findings

    @property
    def spans(self) -> tuple[SpanResult, ...]:
        """The spans, along the route."""
        return self.readings.spans

    @property
    def pulleys(self) -> tuple[PulleyResult, ...]:
        """The pulleys, along the route."""
        return self.readings.pulleys

    @property
    def growth_left_mm(self) -> float | None:
        """Stretch left until the arm is at the end of its window; None without an arm."""
        return self.readings.growth_left_mm

    def spacer_mm(self, pulley_id: str) -> float | None:
        """What brings a pulley in line, + toward the viewer; None where it is not known."""
        places = (k for k, pulley in enumerate(self.pulleys) if pulley.id == pulley_id)
        place = next(places, None)
        return None if place is None else number(self.readings.spacers_mm[place])

    def window_mm(self, pulley_id: str) -> tuple[float, float] | None:
        """The planes at which a pulley is in line with all else as it is; None where there are none."""
        windows = zip(self.pulleys, self.readings.windows_mm, strict=True)
        return next((window for pulley, window in windows if pulley.id == pulley_id), None)

    def lane(self, rpm: float) -> int:
        """The place of the listed speed nearest to an engine speed; 0 if none is listed."""
        gaps = [abs(speed - rpm) for speed in self.rpm]
        return gaps.index(min(gaps)) if gaps else 0

    def pulley(self, pulley_id: str) -> PulleyResult | None:
        """The result of one pulley; None if the drive has none."""
        return next((pulley for pulley in self.pulleys if pulley.id == pulley_id), None)

    @property
    def exists(self) -> bool:
        """Whether the belt has a path."""
        return self.cord_length_mm is not None


class CutEdge(Value, frozen=True):
    """From the middle of what is cut through a plate to its edge, mm, what is wanted, and where."""

    id: str
    away_mm: float
    wanted_mm: float
    at_mm: tuple[float, float]

    @property
    def level(self) -> Level | None:
        """How grave it is; None where there is metal enough."""
        if self.away_mm >= self.wanted_mm - _EDGE_SLACK_MM:
            return None
        return "stop" if self.away_mm < self.wanted_mm / 2 else "watch"


class Spacer(Value, frozen=True):
    """What stands between a plate and what is behind it at a cut, mm; behind: what that is."""

    id: str
    length_mm: float
    behind: str


class PlateBent(Value, frozen=True):
    """What the greatest pull of the belts a plate carries does to it; length_mm, width_mm: the bar it
    counts as; turned: the least and the most, degrees; angles: the worst of its belts at rest, and with
    that; good_deg: that is good for them; is_bound: so short that it is stiffer than told.
    """

    rpm: float
    pull_n: float
    length_mm: float
    width_mm: float
    turned_deg: tuple[float, float]
    angles_deg: tuple[float | None, float | None, float | None]
    good_deg: float
    is_bound: bool


class PlateResult(Value, frozen=True, eq=False):
    """A bracket plate worked out. rings: its outlines with their arcs, mm; cuts: those of what is cut
    through, by id; area: inside of the outlines, cut: what of that is cut through, mm²; web: the least
    and where, mm; loose: what of play is left at surveyed bosses, in
    words; wanted_web_mm: the web that is wanted.
    """

    id: str
    rings: tuple[Ring, ...]
    cuts: tuple[tuple[str, Ring], ...]
    pieces: int
    area_mm2: float
    cut_mm2: float
    mass_kg: float | None
    bounds_mm: tuple[float, float, float, float] | None
    web_mm: float | None
    web_at_mm: tuple[float, float] | None
    wanted_web_mm: float
    edges: tuple[CutEdge, ...]
    kept_out: tuple[KeptOut, ...]
    blocked: tuple[tuple[str, str, str], ...]
    spacers: tuple[Spacer, ...]
    bent: PlateBent | None
    loose: tuple[str, ...]
    findings: tuple[Finding, ...]

    def edge(self, cut_id: str) -> CutEdge | None:
        """The edge distance of one cut; None if there is none of that id."""
        return next((edge for edge in self.edges if edge.id == cut_id), None)


#: Edges that fall short by less than an outline is known to are none that fall short.
_EDGE_SLACK_MM = 0.02


class Results(Value, frozen=True):
    """Results of a build, drive by drive in the build's order; plates: the bracket plates, while they
    were asked for.
    """

    drives: tuple[DriveResult, ...]
    plates: tuple[PlateResult, ...] = ()

    def plate(self, plate_id: str) -> PlateResult | None:
        """What was worked out of a plate; None if that is still to come."""
        return next((plate for plate in self.plates if plate.id == plate_id), None)

    def drive(self, drive_id: str) -> DriveResult:
        """The result of one drive; KeyError if there is none."""
        for drive in self.drives:
            if drive.id == drive_id:
                return drive
        raise KeyError(drive_id)

    @property
    def findings(self) -> tuple[Finding, ...]:
        """All findings, the gravest first, in the order of the drives."""
        every = [finding for drive in self.drives for finding in drive.findings]
        return tuple(sorted(every, key=lambda finding: _LEVELS[finding.level]))

    @property
    def stops(self) -> bool:
        """Whether any finding is of level stop."""
        return any(finding.level == "stop" for finding in self.findings)


def _pair(ends: tuple[float, float] | None) -> list[float] | None:
    return None if ends is None else list(ends)


def number(value: float | None) -> float | None:
    """A finite float, or None."""
    if value is None or not math.isfinite(value):
        return None
    return float(value)


def numbers(values: Any) -> Numbers:
    """A list of finite floats or None from an array."""
    array = np.atleast_1d(values)
    if np.isfinite(array).all():
        return tuple(array.tolist())
    return tuple(number(value) for value in array.tolist())


def columns(values: Any) -> tuple[Numbers, ...]:
    """The columns of a table (R, N) as N lists of finite floats or None."""
    table = np.asarray(values).T
    if np.isfinite(table).all():
        return tuple(map(tuple, table.tolist()))
    return tuple(tuple(number(value) for value in row) for row in table.tolist())
