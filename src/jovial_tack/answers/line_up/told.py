"""All that is told of how a build lines up: stacks, bolts, readings, windows, moves, and the pull."""

from __future__ import annotations

from collections.abc import Container, Iterator

from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.bolts import EarBolt, stack_bolts
from jovial_tack.answers.drive.lining_up import LinedUp, lined_up
from jovial_tack.answers.drive.pull import PlatePulled, Pulled, Stood, plates_pulled, pulled, stood
from jovial_tack.answers.drive.stacks import EarStack, UnitStack, stacks_of
from jovial_tack.answers.kinds import NOT_DETERMINED, READING_SUSPECT
from jovial_tack.answers.line_up.read import Read, read_planes
from jovial_tack.answers.results import Finding, Results
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.value import Value
from jovial_tack.document.edits.changing import changed, with_pulley
from jovial_tack.document.edits.stacks import with_stack
from jovial_tack.document.model import Build

#: The kinds of findings that are of this station.
STATION = "line_up"


class ToldLineUp(Value, frozen=True, eq=False):
    """How a build lines up. pull: of each unit on stand-offs, or why it is not told; plates: of
    each bracket whose plate is told; stood: how the belts of each unit run by its pieces."""

    lined: LinedUp
    stacks: tuple[UnitStack, ...]
    bolts: tuple[tuple[str, EarStack, EarBolt], ...]
    read: Read | None
    pull: tuple[tuple[str, Pulled | str], ...]
    plates: tuple[PlatePulled, ...]
    stood: tuple[tuple[str, Stood], ...]
    findings: tuple[Finding, ...]

    @property
    def turned(self) -> int:
        """How many pieces must be turned."""
        return sum(ear.pieces is None for unit in self.stacks for ear in unit.ears)

    @property
    def pieces(self) -> int:
        """How many pieces the stacks take in all."""
        return sum(
            piece.count for unit in self.stacks for ear in unit.ears for piece in ear.pieces or ()
        )


def tell_line_up(
    build: Build, results: Results, catalogue: Catalogue, anew: Container[str] = ()
) -> ToldLineUp:
    """How a build lines up. anew: shafts whose pieces are chosen again, as if there were none."""
    cases = assemble(build, catalogue) if build.drives else ()
    lined = lined_up(build, cases, results, catalogue)
    units = stacks_of(build, lined.planes, catalogue, anew)
    bolts = [
        (unit.stack.shaft, ear, bolt)
        for unit in units
        for ear, bolt in stack_bolts(build, unit, catalogue)
    ]
    pull = tuple(
        (unit.stack.shaft, pulled(build, cases, results, unit, catalogue)) for unit in units
    )
    found = tuple(f for f in results.findings if f.kind.mended_at == STATION)
    read = read_planes(build, cases, catalogue)
    found += () if read is None else tuple(_of_readings(build, read))
    plates = plates_pulled(build, cases, results, catalogue)
    stands = [(unit.stack.shaft, stood(build, cases, results, unit)) for unit in units]
    told = tuple((shaft, found) for shaft, found in stands if found is not None)
    return ToldLineUp(lined, units, tuple(bolts), read, pull, plates, told, found)


def plate_of(
    build: Build, results: Results, catalogue: Catalogue, bracket_id: str
) -> PlatePulled | None:
    """What the pull does to one bracket's plate; None where that is not told."""
    if build.bracket(bracket_id).plate is None:
        return None
    found = plates_pulled(build, assemble(build, catalogue), results, catalogue)
    return next((plate for plate in found if plate.bracket == bracket_id), None)


def _of_readings(build: Build, read: Read) -> Iterator[Finding]:
    """A reading that does not fit the others, and pulleys of which not all is determined."""
    for line in read.lines:
        if line.suspect:
            where = next(one.name[1] for one in read.pulleys if one.suspect)
            words = f"{line.words}: it does not fit the others; read it again"
            yield Finding(READING_SUSPECT, "watch", where, words)
    for one in read.pulleys:
        if one.settle:
            words = f"not all is determined of {one.label}: read {one.settle}"
            yield Finding(NOT_DETERMINED, "note", one.name[1], words)


def unit_of(
    build: Build, results: Results, catalogue: Catalogue, shaft_id: str, *, anew: bool = False
) -> UnitStack | None:
    """One unit on its ears; None without a stack. anew: with its pieces chosen again."""
    if build.find_stack(shaft_id) is None:
        return None
    cases = assemble(build, catalogue) if build.drives else ()
    lined = lined_up(build, cases, results, catalogue)
    units = stacks_of(build, lined.planes, catalogue, {shaft_id} if anew else ())
    return next(unit for unit in units if unit.stack.shaft == shaft_id)


def with_pieces(build: Build, unit: UnitStack) -> Build:
    """The build with a unit's pieces in its stacks, and its pulleys in the plane and tilt they make.

    An ear whose piece must be turned keeps what it has, since that piece is not there yet.
    """
    chosen = {ear.ear.id: ear for ear in unit.ears}
    ears = []
    for ear in unit.stack.ears:
        pieces = chosen[ear.id].pieces if ear.id in chosen else None
        ears.append(ear if pieces is None else changed(ear, pieces=pieces))
    stack = changed(unit.stack, ears=tuple(ears))
    build = with_stack(build, stack)
    if unit.plane_mm is None or unit.pulley is None:
        return build
    if any(ear.pieces is None for ear in unit.ears):
        return build
    drive_id, pulley_id = unit.pulley
    before = build.drive(drive_id).pulley(pulley_id).plane_mm
    tilt = tuple(round(degrees, 4) + 0.0 for degrees in unit.tilt_deg)
    for drive in build.drives:
        for pulley in drive.pulleys:
            if pulley.shaft != stack.shaft:
                continue
            plane = pulley.plane_mm
            if before is not None and plane is not None:
                plane = plane + unit.plane_mm - before
            elif (drive.id, pulley.id) == unit.pulley:
                plane = unit.plane_mm
            if plane is not None:
                moved = changed(pulley, plane_mm=round(plane, 3), tilt_deg=tilt)
                build = with_pulley(build, drive.id, moved)
    return build
