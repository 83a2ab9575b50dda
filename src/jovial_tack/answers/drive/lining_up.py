"""Every belt of a build in line: where each pulley may stand, and the fewest bodies to move.

A body is what moves as one: a shaft with its pulleys of several drives, a bracket with its shafts, a
pressed pulley by itself. docs/METHOD.md, section 12.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from jovial_tack.answers.drive.case import Case, SolvableCase
from jovial_tack.answers.results import BodyMove, Results
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import Int
from jovial_tack.core.line_up.pieces import Line, Rule, options
from jovial_tack.core.line_up.remedy import Body, Slopes, remedy, slopes_of, straightest, window
from jovial_tack.core.value import Value, replace
from jovial_tack.document.model import Build

PulleyName = tuple[str, str]

_LEAST_MM = 5e-4


class Movable(Value, frozen=True):
    """A body with its names: which shaft, bracket or pulley it is, and the pulleys it carries."""

    body: Body
    of: str
    id: str
    label: str
    pressed: bool


class Planes(Value, frozen=True, eq=False):
    """All pulleys of a build whose planes are known, numbered through, and the slopes of their belts.

    names: (drive, pulley) of each number; drive (R,): of which drive each slope is, by its place.
    """

    names: tuple[PulleyName, ...]
    slopes: Slopes
    drive: Int
    drives: tuple[str, ...]
    bodies: tuple[Movable, ...]

    def number(self, name: PulleyName) -> int | None:
        """The number of a pulley; None where its plane is not known or fixes nothing."""
        return self.names.index(name) if name in self.names else None


class LinedUp(Value, frozen=True, eq=False):
    """moves: of which bodies, by how much. unmended: drives that moving does not put in line. windows:
    the planes at which each pulley is in line with all else as it is, mm; None where there are none.
    """

    planes: Planes
    moves: tuple[BodyMove, ...]
    unmended: frozenset[str]
    windows: Mapping[PulleyName, tuple[float, float] | None]

    def move_of(self, name: PulleyName) -> float | None:
        """How far a pulley is moved, mm; None where its drive is not mended, or it fixes no plane."""
        if name[0] in self.unmended or self.planes.number(name) is None:
            return None
        return sum(move.by_mm for move in self.moves if name in move.pulleys)


def planes_in(build: Build, cases: Sequence[Case], results: Results) -> Planes:
    """What is known of the planes of a build's pulleys, at rest."""
    names: list[PulleyName] = []
    each: list[Slopes] = []
    of: list[int] = []
    drives: list[str] = []
    for case in cases:
        path = results.drive(case.model.id).rest_path
        if not isinstance(case, SolvableCase) or path is None:
            continue
        first, seats = len(names), case.seats()
        names += [(case.model.id, pulley) for pulley in case.model.route]
        good = float(np.radians(case.belt.profile.good_angle_deg))
        each.append(slopes_of(path, seats, good, first))
        of += [len(drives)] * each[-1].run.size
        drives.append(case.model.id)
    empty = np.zeros(0)
    none = Slopes(empty.astype(np.int64), empty.astype(np.int64), empty, empty, empty)
    slopes = Slopes.joined([none, *each])
    bodies = tuple(_bodies(build, names, set(slopes.here.tolist()) | set(slopes.there.tolist())))
    return Planes(tuple(names), slopes, np.array(of, dtype=np.int64), tuple(drives), bodies)


def _bodies(build: Build, names: list[PulleyName], known: set[int]) -> list[Movable]:
    """What can be moved: shafts, brackets that carry several, and pulleys that are pressed on."""
    on: dict[str, list[int]] = {}
    for number, (drive, pulley) in enumerate(names):
        if number in known:
            on.setdefault(build.drive(drive).pulley(pulley).shaft, []).append(number)
    found = []
    for shaft_id, numbers in on.items():
        shaft = build.shaft(shaft_id)
        is_crank = shaft.kind == "crank"
        pressed = shaft.nose_fixing == "pressed"
        body = Body(tuple(numbers), low_mm=-_can_come_out(build, shaft_id), last=is_crank)
        found.append(Movable(body, "shaft", shaft_id, shaft.label, pressed and len(numbers) == 1))
        if pressed and len(numbers) > 1:
            for number in numbers:
                name = f"{shaft.label}'s pulley of {build.drive(names[number][0]).label}"
                one = Body((number,), last=is_crank)
                found.append(Movable(one, "pulley", "/".join(names[number]), name, True))
    for bracket in build.brackets:
        carried = [number for shaft in bracket.shafts for number in on.get(shaft, ())]
        if len([shaft for shaft in bracket.shafts if shaft in on]) > 1:
            body = Body(tuple(carried))
            found.append(Movable(body, "bracket", bracket.id, bracket.label, False))
    return found


def _can_come_out(build: Build, shaft_id: str) -> float:
    """How much can be taken from under a unit whose stacks are told: what its thinnest stack has in
    pieces, mm; without stacks nobody knows, and there is no bound.
    """
    stack = build.find_stack(shaft_id)
    if stack is None or not stack.ears or any(ear.pieces is None for ear in stack.ears):
        return np.inf
    thick = []
    for ear in stack.ears:
        parts = [(build.find_part(piece.part), piece.count) for piece in ear.pieces or ()]
        if any(part is None for part, _ in parts):
            return np.inf
        thick.append(sum(n * (part.thickness_mm or 0.0) for part, n in parts if part is not None))
    return float(min(thick))


def lined_up(
    build: Build, cases: Sequence[Case], results: Results, catalogue: Catalogue
) -> LinedUp:
    """Where pulleys may stand, and the fewest bodies to move for every belt to run in line.

    Drives that hang together are mended together; where that cannot be, each is by itself, with no
    other belt left worse than it is or than is good.
    """
    planes = planes_in(build, cases, results)
    slopes, unmended = planes.slopes, set()
    by = np.zeros(len(planes.names))
    moves: dict[int, float] = {}
    for group in _groups(planes):
        together = _mend(planes, slopes, group, group)
        found = [together] if together is not None else []
        if together is None:
            for drive in sorted(group):
                one = _mend(planes, replace(slopes, slope=slopes.moved(by)), {drive}, group)
                if one is None:
                    unmended.add(planes.drives[drive])
                    continue
                for k, move in one.items():
                    by[list(planes.bodies[k].body.pulleys)] += move
                found.append(one)
        for one in found:
            for k, move in one.items():
                moves[k] = moves.get(k, 0.0) + move
    told = tuple(
        _move(build, planes, moves, k, catalogue)
        for k, move in sorted(moves.items())
        if abs(move) >= _LEAST_MM
    )
    windows = _windows(build, planes)
    return LinedUp(planes, told, frozenset(unmended), windows)


def _groups(planes: Planes) -> list[set[int]]:
    """Drives that hang together by what can be moved, by their places."""
    groups: list[set[int]] = []
    for place in range(len(planes.drives)):
        groups.append({place})
    of = {number: planes.drives.index(name) for number, (name, _) in enumerate(planes.names)}
    for movable in planes.bodies:
        joined = {of[number] for number in movable.body.pulleys}
        met = [group for group in groups if group & joined]
        groups = [group for group in groups if not group & joined]
        groups.append(set().union(*met))
    return groups


def _mend(
    planes: Planes, slopes: Slopes, wanted: set[int], group: set[int]
) -> dict[int, float] | None:
    """How far to move which bodies for some drives to be in line, no other of their group left worse
    than it is or than is good; None where nothing does.
    """
    which = np.isin(planes.drive, sorted(group))
    here = slopes.of(which)
    others = ~np.isin(planes.drive[which], sorted(wanted))
    as_it_is = np.where(others, np.abs(here.slope) * (1.0 + 1e-9), 0.0)
    here = replace(here, good=np.maximum(here.good, as_it_is))
    used = set(here.here.tolist()) | set(here.there.tolist())
    own = [k for k, m in enumerate(planes.bodies) if used & set(m.body.pulleys)]
    bodies = [planes.bodies[k].body for k in own]
    found = remedy(here, bodies, len(planes.names))
    return None if found is None else {own[k]: move for k, move in found.moves}


def _move(
    build: Build, planes: Planes, moves: Mapping[int, float], k: int, catalogue: Catalogue
) -> BodyMove:
    """One move as it is told, with how far it may go while the others go as they do."""
    movable, by = planes.bodies[k], np.zeros(len(planes.names))
    for other, move in moves.items():
        by[list(planes.bodies[other].body.pulleys)] = move
    after = replace(planes.slopes, slope=planes.slopes.moved(by))
    room = window(after, movable.body)
    low, high = (0.0, 0.0) if room is None else room
    ends = moves[k] + low, moves[k] + high
    pieces = None
    if moves[k] > 0 and not movable.pressed:
        pieces = _from_shelf(build, moves[k], ends, catalogue)
    return BodyMove(
        of=movable.of,
        id=movable.id,
        label=movable.label,
        by_mm=moves[k],
        low_mm=ends[0],
        high_mm=ends[1],
        pulleys=tuple(planes.names[number] for number in movable.body.pulleys),
        pressed=movable.pressed,
        pieces=pieces,
    )


def _from_shelf(
    build: Build, by_mm: float, ends: tuple[float, float], catalogue: Catalogue
) -> tuple[tuple[str, int], ...] | None:
    """Spacers and washers of the shelf that put it in line, (part, how many); None without any."""
    parts = [
        part
        for part in build.shelf
        if part.kind in ("spacer", "washer") and part.thickness_mm is not None and part.count
    ]
    lines = [Line(part.thickness_mm or 0.0, part.count) for part in parts]
    rules = catalogue.stacks
    # what is as near to straight as the window is wide to the nearer side
    off = min(by_mm - ends[0], ends[1] - by_mm)
    rule = Rule(max(off, 0.0), rules.most_pieces, rules.most_thin, rules.thin_mm)
    for option in options(by_mm, lines, rule):
        if option.pieces and ends[0] <= option.total_mm <= ends[1]:
            return tuple((parts[line].id, count) for line, count in option.pieces)
    return None


def _windows(build: Build, planes: Planes) -> dict[PulleyName, tuple[float, float] | None]:
    """The planes at which each pulley is in line with all else as it is, mm."""
    found: dict[PulleyName, tuple[float, float] | None] = {}
    known = set(planes.slopes.here.tolist()) | set(planes.slopes.there.tolist())
    for number in sorted(known):
        drive, pulley = planes.names[number]
        plane = build.drive(drive).pulley(pulley).plane_mm
        room = window(planes.slopes, Body((number,)))
        if plane is not None:
            found[drive, pulley] = None if room is None else (plane + room[0], plane + room[1])
    return found


def straightest_plane(build: Build, planes: Planes, shaft_id: str) -> Mapping[PulleyName, float]:
    """Where the pulleys of a shaft stand when it alone is moved until its belts run straightest, mm;
    empty where its planes are not known, or it cannot be put in line.
    """
    movable = next((m for m in planes.bodies if m.of == "shaft" and m.id == shaft_id), None)
    if movable is None:
        return {}
    # whatever is under it now can be exchanged for other pieces
    free = replace(movable.body, low_mm=-np.inf, high_mm=np.inf)
    by = straightest(planes.slopes, free, len(planes.names))
    if by is None:
        return {}
    found = {}
    for number in movable.body.pulleys:
        drive, pulley = planes.names[number]
        plane = build.drive(drive).pulley(pulley).plane_mm
        if plane is not None:
            found[drive, pulley] = plane + by
    return found
