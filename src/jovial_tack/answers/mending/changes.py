"""What a builder would change about one drive, in the order in which he would.

The pull of what is bolted, another stocked belt, a notch, an idler hole, a bracket offset, a part on
the shelf, a spacer, another spring, another construction, more ribs. Every figure
is rounded before it is tried, so that what is printed is what was solved.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Set
from contextlib import suppress

from jovial_tack.answers.belt.buying import BeltChoice, choose_belt
from jovial_tack.answers.belt.window import Candidate
from jovial_tack.answers.kinds import (
    BELT_SPEED,
    OVERSPEED,
    PROUD_OF_RIM,
    RIB_MISMATCH,
    SMALL_PULLEY,
    TEETH,
    UNDERSPEED,
    Kind,
)
from jovial_tack.answers.line_up.told import unit_of, with_pieces
from jovial_tack.answers.line_up.words import pieces_words
from jovial_tack.answers.results import BodyMove, DriveResult, Results
from jovial_tack.answers.survey.putting_on import put_on
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import JovialTackError
from jovial_tack.core.units import FORCE, TORQUE, format_length, written_in
from jovial_tack.core.value import Value
from jovial_tack.document.edits.belts import set_belt, set_belt_length
from jovial_tack.document.edits.brackets import bolt_bracket
from jovial_tack.document.edits.changing import changed, with_pulley
from jovial_tack.document.edits.freedoms import put_in_hole
from jovial_tack.document.edits.pulleys import set_plane
from jovial_tack.document.edits.tensioners import set_arm, set_tensioner
from jovial_tack.document.model import (
    Build,
    Drive,
    HolesMount,
    LockedTensioner,
    Shaft,
    ShelfPart,
    SpringArmTensioner,
    SpringSlideTensioner,
    StretchTensioner,
)

#: Steps in which figures are told, in the unit shown.
_SAME_MM = 0.05  # belts nearer to one another are one as they are sold
_TORQUE_STEP = 0.5
_PULL_STEP = {"mm": 10.0, "in": 2.0}
_FACTORS = (1.1, 0.9, 1.25, 0.8, 1.5, 0.65, 0.5)
_MORE_RIBS = (1, 2, 4)
#: Kinds that only other pulleys mend.
_OF_PULLEYS = {
    BELT_SPEED,
    OVERSPEED,
    PROUD_OF_RIM,
    RIB_MISMATCH,
    SMALL_PULLEY,
    TEETH,
    UNDERSPEED,
}
_CONSTRUCTIONS = {"soft_grip": "a soft, grippy belt", "low_stretch": "a low-stretch belt"}


class Change(Value, frozen=True):
    """One change, in words that ask for it, and the build it makes. of_pulley: with another pulley;
    sort: what kind of change it is, where several of a kind are alike but for a figure.
    """

    words: str
    build: Build
    of_pulley: bool = False
    sort: str = ""

    def may_mend(self, kind: Kind) -> bool:
        """Whether it is worth trying on a kind of finding."""
        return self.of_pulley or kind not in _OF_PULLEYS


def changes(
    build: Build,
    result: DriveResult,
    wanted: Set[Kind],
    catalogue: Catalogue,
    results: Results,
) -> Iterator[Change]:
    """All single changes of one drive that may mend kinds of findings, those first that cost least."""
    drive = build.drive(result.id)
    judged = {kind.verdict for kind in wanted - _OF_PULLEYS}
    of_belt = bool(judged & {"Fits", "Holds"})
    choice = choose_belt(build, drive.id, catalogue) if of_belt else None
    if of_belt and isinstance(drive.tensioner, LockedTensioner):
        yield from _pulls(build, drive, drive.tensioner, result)
    if choice is not None:
        yield from _stretch_belts(build, drive, catalogue)
        yield from _belts(build, drive, choice)
        yield from _notches(build, drive)
        yield from _holes(build, drive)
    if judged:
        yield from _brackets(build, drive)
    yield from _shelf(build, drive, catalogue)
    if "Lines up" in judged:
        yield from _restacked(build, drive, result, results, catalogue)
        yield from _spacers(build, drive, result)
    if of_belt:
        yield from _springs(build, drive)
        yield from _constructions(build, drive, catalogue)
        yield from _ribs(build, drive)


def _belts(
    build: Build, drive: Drive, choice: BeltChoice, also_fitted: bool = False
) -> Iterator[Change]:
    """Stocked belts that fit and go on, those first that are brought home, then from mid window out."""
    if choice.window is None:
        return
    middle, fitted = choice.window.mid_mm, drive.belt.effective_length_mm
    home = {belt.number for belt in choice.bring_home}

    def is_another(belt: Candidate) -> bool:
        return also_fitted or fitted is None or abs(belt.effective_length_mm - fitted) > _SAME_MM

    def rank(belt: Candidate) -> tuple[int, bool, float]:
        return belt.missed, belt.number not in home, abs(belt.effective_length_mm - middle)

    can_be_had = [belt for belt in choice.candidates if belt.fits and belt.count != 0]
    goes_on = [belt for belt in can_be_had if belt.can_be_fitted is not False]
    for belt in sorted(filter(is_another, goes_on), key=rank):
        tried = set_belt_length(build, drive.id, round(belt.effective_length_mm, 4))
        yield Change(f"fit {belt.number}", tried, sort="belt")


def _notches(build: Build, drive: Drive) -> Iterator[Change]:
    tensioner = drive.tensioner
    if not isinstance(tensioner, SpringArmTensioner) or not tensioner.notches_deg:
        return
    for place, degrees in enumerate(tensioner.notches_deg):
        if place != (tensioner.notch or 0):
            words = f"put the arm into its notch {place + 1} ({degrees:g}°)"
            yield Change(words, set_arm(build, drive.id, notch=place))


def _shafts(build: Build, drive: Drive) -> list[str]:
    return list(dict.fromkeys(drive.pulley(name).shaft for name in drive.route))


def _holes(build: Build, drive: Drive) -> Iterator[Change]:
    for name in _shafts(build, drive):
        shaft = build.shaft(name)
        if not isinstance(shaft.mount, HolesMount):
            continue
        for place in range(len(shaft.mount.positions_mm)):
            if place != shaft.mount.at:
                words = f"bolt {shaft.label} into its hole {place + 1}"
                yield Change(words, put_in_hole(build, name, place))


def _brackets(build: Build, drive: Drive) -> Iterator[Change]:
    on = set(_shafts(build, drive))
    for bracket in build.brackets:
        if not on & set(bracket.shafts):
            continue
        for place in range(len(bracket.offsets_mm)):
            if place != bracket.at:
                words = f"bolt {bracket.label} at its place {place + 1}"
                yield Change(words, bolt_bracket(build, bracket.id, place))


def _shelf(build: Build, drive: Drive, catalogue: Catalogue) -> Iterator[Change]:
    """Parts that lie on the shelf, where they take the place of one like them."""
    for part in build.shelf:
        if part.count < 1:
            continue
        for name in _shafts(build, drive):
            shaft = build.shaft(name)
            if shaft.part == part.id or not _goes_on(build, drive, shaft, part):
                continue
            with suppress(JovialTackError):
                tried = put_on(build, name, part.id, catalogue)
                yield Change(f"put {part.label} on {shaft.label}", tried, part.kind == "pulley")


def _goes_on(build: Build, drive: Drive, shaft: Shaft, part: ShelfPart) -> bool:
    """Whether a part on the shelf is of the kind that a shaft carries in a drive."""
    if part.kind == "tensioner":
        arm = drive.tensioner
        return isinstance(arm, SpringArmTensioner) and drive.pulley(arm.pulley).shaft == shaft.id
    if part.kind == "accessory":
        return part.of == shaft.kind
    idle = shaft.kind in ("idler", "tensioner")
    return part.kind == ("idler" if idle else "pulley")


def _spacers(build: Build, drive: Drive, result: DriveResult) -> Iterator[Change]:
    """The bodies that are moved for all belts to be in line: from the shelf where it has what is
    needed, otherwise as much as puts them straight.
    """
    moves = [move for move in result.readings.moves if abs(move.by_mm) >= 0.05]
    if not any(name == drive.id for move in moves for name, _ in move.pulleys):
        return
    from_shelf = [move.pieces is not None for move in moves]
    for use_shelf in (True, False) if any(from_shelf) else (False,):
        every, words = build, []
        for move in moves:
            by, said = _moved_by(build, move, use_shelf=use_shelf)
            words.append(said)
            for name, pulley in move.pulleys:
                plane = build.drive(name).pulley(pulley).plane_mm
                if plane is not None:
                    every = set_plane(every, name, pulley, round(plane + by, 4))
        yield Change(" and ".join(words), every)


def _restacked(
    build: Build, drive: Drive, result: DriveResult, results: Results, catalogue: Catalogue
) -> Iterator[Change]:
    """Other pieces of the shelf under a unit whose stacks are told, in place of those that are
    there.
    """
    for move in result.readings.moves:
        here = any(name == drive.id for name, _ in move.pulleys)
        if not here or move.of != "shaft" or build.find_stack(move.id) is None:
            continue
        unit = unit_of(build, results, catalogue, move.id, anew=True)
        if unit is None or unit.problem or any(ear.pieces is None for ear in unit.ears):
            continue
        sorts = {pieces_words(build, ear.pieces or ()) for ear in unit.ears}
        pieces = sorts.pop() if len(sorts) == 1 else "other pieces of the shelf"
        yield Change(f"put {pieces} under {move.label}", with_pieces(build, unit))


def _moved_by(build: Build, move: BodyMove, *, use_shelf: bool) -> tuple[float, str]:
    """How far a body is moved, mm, and what is done for that."""
    unit, by = build.display_units, round(move.by_mm, 2)
    if use_shelf and move.pieces is not None:
        parts = [(build.part(part), count) for part, count in move.pieces]
        by = sum(count * (part.thickness_mm or 0.0) for part, count in parts)
        named = [f"{count} x {part.label}" if count > 1 else part.label for part, count in parts]
        return by, f"put {' and '.join(named)} under {move.label}"
    size = format_length(abs(by), unit, digits=2 if unit == "mm" else 4)
    if move.pressed:
        way = f"draw {move.label} {size} off" if by > 0 else f"press {move.label} {size} further on"
        return by, way
    return by, f"put a {size} spacer under {move.label}" if by > 0 else (
        f"take {size} from under {move.label}"
    )


def _springs(build: Build, drive: Drive) -> Iterator[Change]:
    """The spring's torque, from what is there up and down."""
    tensioner = drive.tensioner
    if isinstance(tensioner, SpringSlideTensioner):
        yield from _slide_springs(build, drive, tensioner)
    if not isinstance(tensioner, SpringArmTensioner):
        return
    unit, now = build.display_units, tensioner.torque_nm
    step = _TORQUE_STEP * TORQUE.factor(TORQUE.shown(unit))
    was = written_in(now, TORQUE, unit).split()[0]
    for torque in _around(now, step):
        words = f"put a {written_in(torque, TORQUE, unit)} spring in place of {was}"
        yield Change(words, set_arm(build, drive.id, torque_nm=torque), sort="spring")


def _slide_springs(build: Build, drive: Drive, slide: SpringSlideTensioner) -> Iterator[Change]:
    """The force of a slide's spring, from what is there up and down."""
    unit, now = build.display_units, slide.force_n
    was = written_in(now, FORCE, unit).split()[0]
    for force in _around(now, _PULL_STEP[unit] * FORCE.factor(FORCE.shown(unit))):
        words = f"put a {written_in(force, FORCE, unit)} spring in place of {was}"
        yield Change(words, set_tensioner(build, drive.id, force_n=force), sort="spring")


def _pulls(
    build: Build, drive: Drive, tensioner: LockedTensioner, result: DriveResult
) -> Iterator[Change]:
    """The pull a shaft is bolted at: the middle of the band, then from what is there up and down."""
    unit, now = build.display_units, tensioner.installed_tension_n
    step = _PULL_STEP[unit] * FORCE.factor(FORCE.shown(unit))
    pulls = _around(now, step)
    grip = result.grip
    if grip is not None and grip.least_tension_n and grip.most_tension_n:
        middle = math.sqrt(grip.least_tension_n * grip.most_tension_n)
        pulls.insert(0, max(1.0, round(middle / step)) * step)
    was = written_in(now, FORCE, unit).split()[0]
    for pull in pulls:
        words = f"bolt it at {written_in(pull, FORCE, unit)} in place of {was}"
        yield Change(words, set_tensioner(build, drive.id, installed_tension_n=pull), sort="pull")


def _around(now: float, step: float) -> list[float]:
    """A figure in steps up and down, rounded away from where it stands, the nearest first."""
    steps = [
        (math.ceil if factor > 1 else math.floor)(now * factor / step) * step for factor in _FACTORS
    ]
    return [value for value in dict.fromkeys(steps) if value > 0 and value != now]


def _constructions(build: Build, drive: Drive, catalogue: Catalogue) -> Iterator[Change]:
    if drive.belt.construction not in ("standard", *_CONSTRUCTIONS):
        return
    for name, words in _CONSTRUCTIONS.items():
        if name != drive.belt.construction and name in catalogue.constructions[drive.belt.profile]:
            yield Change(f"fit {words}", _made_as(build, drive, name))


def _made_as(build: Build, drive: Drive, construction: str) -> Build:
    """Another construction of belt, with the catalogue's figures: those typed are of the old one."""
    return set_belt(
        build,
        drive.id,
        construction=construction,
        stiffness_n_per_rib=None,
        mass_kg_per_m_per_rib=None,
        friction_ribs=None,
        friction_back=None,
        reference_tension_n_per_rib=None,
    )


def _stretch_belts(build: Build, drive: Drive, catalogue: Catalogue) -> Iterator[Change]:
    """Where nothing moves and the belt does not stretch: stocked ones that do, from mid window out."""
    plain = drive.belt.construction != "stretch"
    if not (plain and isinstance(drive.tensioner, StretchTensioner)):
        return
    stretching = _made_as(build, drive, "stretch")
    yield from (
        Change(f"fit a stretch belt, {change.words.removeprefix('fit ')}", change.build)
        for change in _belts(
            stretching, drive, choose_belt(stretching, drive.id, catalogue), also_fitted=True
        )
    )


def _ribs(build: Build, drive: Drive) -> Iterator[Change]:
    """A wider belt, with pulleys that take it."""
    if drive.belt.profile not in ("PK", "PJ", "DPK"):
        return
    for more in _MORE_RIBS:
        ribs = drive.belt.ribs + more
        tried = set_belt(build, drive.id, ribs=ribs)
        for pulley in tried.drive(drive.id).pulleys:
            if pulley.side == "ribs" and pulley.grooves is not None and pulley.grooves < ribs:
                tried = with_pulley(tried, drive.id, changed(pulley, grooves=ribs))
        yield Change(f"go to {ribs} ribs, belt and pulleys", tried)
