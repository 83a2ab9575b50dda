"""What laser, straightedge, depth and square tell of a build's planes and tilts (METHOD 12).

A plane that was read is offered to the build, and never written by itself.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from math import atan, degrees, radians, tan

import numpy as np

from jovial_tack.answers.drive.case import Case, SolvableCase
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.line_up.readings import Bench, Planes, Reading, adjust, settled_by
from jovial_tack.core.value import Value, replace
from jovial_tack.document import model as doc
from jovial_tack.document.edits.changing import changed, with_pulley
from jovial_tack.document.model import Build

PulleyName = tuple[str, str]


class PlaneRead(Value, frozen=True):
    """What was read of one pulley, mm and degrees: of each figure and its standard deviation None where
    it is not determined; wobble_deg: what it wobbles in a turn. settle: what would determine the rest;
    suspect: whether the reading that does not fit is of this pulley.
    """

    name: PulleyName
    label: str
    plane_mm: float | None
    plane_sd_mm: float | None
    tilt_deg: tuple[float | None, float | None]
    tilt_sd_deg: tuple[float | None, float | None]
    wobble_deg: float | None
    settle: str
    suspect: bool = False


class LineRead(Value, frozen=True):
    """One reading: in words, its standardised residual (None where nothing checks it), whether it is
    the one that does not fit, why it is not used.
    """

    words: str
    standardised: float | None
    suspect: bool
    problem: str


class Read(Value, frozen=True):
    """All that was read."""

    pulleys: tuple[PlaneRead, ...]
    lines: tuple[LineRead, ...]


def pulley_called(build: Build, name: str) -> PulleyName:
    """A pulley by its id where one drive has it, else by drive/pulley. Raises GeometryError for one
    that is not there, and for a name that could mean two.
    """
    drive, _, own = name.partition("/")
    if own:
        found = build.find_drive(drive)
        if found is not None and any(pulley.id == own for pulley in found.pulleys):
            return drive, own
    named = [(d.id, p.id) for d in build.drives for p in d.pulleys if p.id == name]
    if len(named) == 1:
        return named[0]
    if named:
        both = " or ".join(f"{d}/{p}" for d, p in named)
        raise GeometryError(f"“{name}” could mean {both}; say which")
    raise GeometryError(f"there is no pulley “{name}”")


def called(build: Build, name: PulleyName) -> str:
    """The shortest name of a pulley that is its own."""
    others = sum(p.id == name[1] for d in build.drives for p in d.pulleys)
    return name[1] if others == 1 else "/".join(name)


def label_of(build: Build, name: PulleyName) -> str:
    """What a pulley is called: its shaft, with its drive where the shaft has several."""
    shaft = build.drive(name[0]).pulley(name[1]).shaft
    several = sum(p.shaft == shaft for d in build.drives for p in d.pulleys) > 1
    label = build.shaft(shaft).label
    return f"{label} ({build.drive(name[0]).label})" if several else label


def read_planes(build: Build, cases: Sequence[Case], catalogue: Catalogue) -> Read | None:
    """Planes and tilts by the build's readings; None without one."""
    if not build.alignment.readings:
        return None
    making = _Making(build, cases, catalogue)
    lines: list[LineRead] = []
    used: list[Reading] = []
    of: dict[int, int] = {}
    wobbles: dict[PulleyName, float] = {}
    for k, reading in enumerate(build.alignment.readings):
        words, problem = making.words(reading), ""
        try:
            if isinstance(reading, doc.RunoutReading):
                if not reading.set_aside:
                    name, wobble = making.wobble(reading)
                    wobbles[name] = wobble
            elif not reading.set_aside:
                made = making.reading(reading)
                of[k] = len(used)
                used.append(made)
        except GeometryError as error:
            problem = str(error)
        lines.append(LineRead(words, None, False, problem))
    found = adjust(making.bench(), used)
    for k, place in of.items():
        value = float(found.standardised[place])
        lines[k] = LineRead(lines[k].words, value if value else None, found.suspect == place, "")
    bad = None if found.suspect is None else used[found.suspect]
    told = [
        replace(
            _told(build, making.names, k, found, wobbles),
            suspect=bad is not None and k in (bad.at, bad.on),
        )
        for k in range(len(making.names))
    ]
    known = set(making.names)
    told += [
        PlaneRead(name, label_of(build, name), None, None, (None, None), (None, None), wobble, "")
        for name, wobble in wobbles.items()
        if name not in known
    ]
    return Read(tuple(told), tuple(lines))


def _told(
    build: Build,
    names: Sequence[PulleyName],
    k: int,
    found: Planes,
    wobbles: Mapping[PulleyName, float],
) -> PlaneRead:
    known = np.isfinite(np.array([found.z_sd[k], *found.slope_sd[k]]))
    by_x, by_y = (float(slope) for slope in found.slopes[k])
    sd_x, sd_y = (float(sd) for sd in found.slope_sd[k])
    # about x leans in y, about y in x
    tilt = degrees(atan(by_y)) if known[2] else None, -degrees(atan(by_x)) if known[1] else None
    sd = degrees(atan(sd_y)) if known[2] else None, degrees(atan(sd_x)) if known[1] else None
    return PlaneRead(
        names[k],
        label_of(build, names[k]),
        float(found.z[k]) if known[0] else None,
        float(found.z_sd[k]) if known[0] else None,
        tilt,
        sd,
        wobbles.get(names[k]),
        "" if known.all() else settled_by(known),
    )


class _Making:
    """Readings of the file made into readings of the bench; GeometryError tells why one cannot be."""

    def __init__(self, build: Build, cases: Sequence[Case], catalogue: Catalogue) -> None:
        self._build, self._rules = build, catalogue.alignment
        self._centers: dict[str, complex] = {s.id: complex(*s.center_mm) for s in build.shafts}
        for case in cases:
            if isinstance(case, SolvableCase):
                for shaft, center in zip(case.shafts, case.drive.layout.centers, strict=True):
                    self._centers[shaft.id] = complex(center)
        self.names: list[PulleyName] = []
        self._ways: dict[type[doc.Part], Callable[..., Reading]] = {
            doc.LaserReading: self._laser,
            doc.StraightedgeReading: self._straightedge,
            doc.DepthOfGroove: self._depth,
            doc.SquareReading: self._square,
            doc.PlumbReading: self._plumb,
        }

    def words(self, reading: doc.AlignmentReading) -> str:
        """A reading as it is listed."""
        if isinstance(reading, doc.LaserReading | doc.StraightedgeReading):
            both = " and ".join(f"{value:+g}" for value in reading.offsets_mm)
            tool = "laser" if isinstance(reading, doc.LaserReading) else "straightedge"
            return (
                f"{tool} on {self._label(reading.on)}, read at {self._label(reading.at)}: {both} mm"
            )
        label = self._label(reading.pulley)
        if isinstance(reading, doc.DepthOfGroove):
            return f"depth of {label}: {reading.value_mm:g} mm"
        if isinstance(reading, doc.PlumbReading):
            return f"plumb line at {label}: {reading.value_deg:+g}°"
        if isinstance(reading, doc.RunoutReading):
            return f"run-out of {label}: {reading.tir_mm:g} mm"
        return f"{label} is square"

    def _label(self, name: str) -> str:
        try:
            return label_of(self._build, pulley_called(self._build, name))
        except GeometryError:
            return f"“{name}”"

    def reading(self, reading: doc.AlignmentReading) -> Reading:
        """As the bench takes it."""
        return self._ways[type(reading)](reading)

    def wobble(self, reading: doc.RunoutReading) -> tuple[PulleyName, float]:
        """Which pulley wobbles, and by how much to either side, degrees."""
        name = pulley_called(self._build, reading.pulley)
        size = self._build.drive(name[0]).pulley(name[1]).diameter_mm
        return name, degrees(atan(reading.tir_mm / size))

    def _place(self, name: str) -> int:
        found = pulley_called(self._build, name)
        if found not in self.names:
            self.names.append(found)
        return self.names.index(found)

    def _two(self, reading: doc.LaserReading | doc.StraightedgeReading) -> tuple[int, int]:
        on = pulley_called(self._build, reading.on)
        at = pulley_called(self._build, reading.at)
        drive = self._build.drive
        apart = self._centers[drive(on[0]).pulley(on[1]).shaft]
        if on == at or apart == self._centers[drive(at[0]).pulley(at[1]).shaft]:
            raise GeometryError("it is read at the pulley it is on; choose another for one of them")
        return self._place(reading.on), self._place(reading.at)

    def _laser(self, reading: doc.LaserReading) -> Reading:
        on, at = self._two(reading)
        sd = self._rules.laser_sd_mm if reading.sd_mm is None else reading.sd_mm
        seat = self._rules.laser_seat_deg
        seat = seat if reading.seat_sd_deg is None else reading.seat_sd_deg
        return Reading("laser", at, reading.offsets_mm, sd, on, tan(radians(seat)))

    def _straightedge(self, reading: doc.StraightedgeReading) -> Reading:
        on, at = self._two(reading)
        sd = self._rules.straightedge_sd_mm if reading.sd_mm is None else reading.sd_mm
        return Reading("straightedge", at, reading.offsets_mm, sd, on)

    def _depth(self, reading: doc.DepthOfGroove) -> Reading:
        sd = self._rules.depth_sd_mm if reading.sd_mm is None else reading.sd_mm
        return Reading("depth", self._place(reading.pulley), (reading.value_mm,), sd)

    def _square(self, reading: doc.SquareReading) -> Reading:
        sd = self._rules.square_sd_deg if reading.sd_deg is None else reading.sd_deg
        return Reading("square", self._place(reading.pulley), (), tan(radians(sd)))

    def _plumb(self, reading: doc.PlumbReading) -> Reading:
        sd = self._rules.plumb_sd_deg if reading.sd_deg is None else reading.sd_deg
        slope = tan(radians(reading.value_deg))
        return Reading("plumb", self._place(reading.pulley), (slope,), tan(radians(sd)))

    def bench(self) -> Bench:
        """The pulleys that are read."""
        pulleys = [self._build.drive(d).pulley(p) for d, p in self.names]
        rims = [np.nan if p.rim_mm is None else p.rim_mm for p in pulleys]
        sds = [self._rules.rim_sd_mm if p.rim_sd_mm is None else p.rim_sd_mm for p in pulleys]
        return Bench(
            np.array([self._centers[p.shaft] for p in pulleys], dtype=complex),
            np.array([p.diameter_mm for p in pulleys], dtype=float),
            np.array(rims, dtype=float),
            np.array(sds, dtype=float),
        )


def taken_over(build: Build, read: Read) -> Build:
    """The build with every plane and tilt that was determined; the rest stays as it is."""
    for told in read.pulleys:
        drive, pulley = told.name
        model = build.drive(drive).pulley(pulley)
        changes: dict[str, object] = {}
        if told.plane_mm is not None:
            changes["plane_mm"] = round(told.plane_mm, 3)
        if told.tilt_deg[0] is not None or told.tilt_deg[1] is not None:
            tilts = zip(told.tilt_deg, model.tilt_deg, strict=True)
            changes["tilt_deg"] = tuple(was if now is None else round(now, 4) for now, was in tilts)
        if changes:
            build = with_pulley(build, drive, changed(model, **changes))
    return build


def simulated_laser(
    build: Build, on: str, at: str, cases: Sequence[Case], catalogue: Catalogue, seed: int
) -> tuple[float, float]:
    """What a laser would read at the near and the far rim of a pulley as the build is drawn, mm, with
    the noise of its seat and of the eye: a stand-in for the tool, to try the readings with.
    """
    making = _Making(build, cases, catalogue)
    reading = making.reading(doc.LaserReading(on=on, at=at, offsets_mm=(0.0, 0.0)))
    bench, rules = making.bench(), catalogue.alignment
    rng = np.random.default_rng(seed)
    assert reading.on is not None
    gap = bench.centers[reading.at] - bench.centers[reading.on]
    along = gap / abs(gap)
    seat = rng.normal(0.0, tan(radians(rules.laser_seat_deg)))
    found = []
    for sign in (-1.0, 1.0):
        place = bench.centers[reading.at] + sign * bench.diameters[reading.at] / 2 * along
        z = [
            _drawn_z(build, making.names[k], place - bench.centers[k])
            for k in (reading.at, reading.on)
        ]
        way = abs(place - bench.centers[reading.on])
        found.append(z[0] - z[1] - seat * way + rng.normal(0.0, rules.laser_sd_mm))
    return round(found[0], 2), round(found[1], 2)


def _drawn_z(build: Build, name: PulleyName, away: complex) -> float:
    pulley = build.drive(name[0]).pulley(name[1])
    about_x, about_y = (tan(radians(tilt)) for tilt in pulley.tilt_deg)
    return (pulley.plane_mm or 0.0) + about_x * away.imag - about_y * away.real
