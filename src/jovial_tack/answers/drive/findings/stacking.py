"""Stacks that cannot be made, ears that are bent as they are bolted, and bolts that do not hold.

docs/METHOD.md, section 12.
"""

from __future__ import annotations

from collections.abc import Iterator

from jovial_tack.answers.drive.bolts import EarBolt, bolt_of, standard_words
from jovial_tack.answers.drive.pull import PlatePulled, Pulled, Stood
from jovial_tack.answers.drive.stacks import EarStack, UnitStack
from jovial_tack.answers.kinds import (
    BOLT_BOTTOMS,
    BOLT_ENGAGEMENT,
    BRACKET_GIVES,
    EAR_GAP,
    MISALIGNED,
    NO_ROOM_FOR_SPACER,
    SHANK_BOTTOMS,
    SLOT_SLIPS,
    STACK_OPENS,
    Kind,
)
from jovial_tack.answers.results import Finding, Level
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.units import FORCE, TORQUE, format_length, written_in
from jovial_tack.document.model import Build

#: Share of the rule for engagement below which a bolt is not to be trusted.
_LEAST_ENGAGED = 0.8
#: How much more than it must a bolt in a slot should hold.
_SLOT_SURE = 1.5


def stacking_findings(build: Build, unit: UnitStack, catalogue: Catalogue) -> tuple[Finding, ...]:
    """What is wrong with a unit's stacks and their bolts, as they are in the build."""
    if unit.problem or unit.pulley is None:
        return ()
    found = []
    for ear in unit.ears:
        found += list(_of_stack(build, unit, ear, catalogue))
        bolt = bolt_of(build, ear, catalogue)
        # what is only proposed is bolted nowhere
        if bolt is not None and not ear.proposed:
            found += list(_of_bolt(build, unit, ear, bolt, catalogue))
    return tuple(found)


class _Speaker:
    """Findings of one ear, in the build's unit."""

    def __init__(self, build: Build, unit: UnitStack, ear: EarStack) -> None:
        assert unit.pulley is not None
        self._where, self.unit = unit.pulley[1], build.display_units
        self.name = f"{build.shaft(unit.stack.shaft).label} at {ear.boss.label}"

    def say(self, kind: Kind, level: Level, words: str, value: float, limit: float) -> Finding:
        return Finding(kind, level, self._where, words, value=value, limit=limit)

    def length(self, mm: float) -> str:
        return format_length(mm, self.unit, digits=2 if self.unit == "mm" else 3)


def _of_stack(
    build: Build, unit: UnitStack, ear: EarStack, catalogue: Catalogue
) -> Iterator[Finding]:
    rules, speak = catalogue.stacks, _Speaker(build, unit, ear)
    tolerance = rules.tolerance_mm if unit.stack.tolerance_mm is None else unit.stack.tolerance_mm
    if ear.need_mm < -tolerance:
        too_much = speak.length(-ear.need_mm)
        yield speak.say(
            NO_ROOM_FOR_SPACER,
            "stop",
            f"{speak.name} stands {too_much} too far forward with nothing between: face {too_much} off"
            " the boss, the bracket or the ear",
            ear.need_mm,
            -tolerance,
        )
    gap = abs(ear.gap_mm)
    if gap > rules.gap_watch_mm:
        level: Level = "stop" if gap > rules.gap_stop_mm else "watch"
        limit = rules.gap_stop_mm if level == "stop" else rules.gap_watch_mm
        yield speak.say(
            EAR_GAP,
            level,
            f"the ear of {speak.name} is bent {speak.length(gap)} as it is bolted shut, and castings"
            f" crack there: {_shim(speak, ear)}",
            gap,
            limit,
        )


def _shim(speak: _Speaker, ear: EarStack) -> str:
    size = speak.length(abs(ear.gap_mm))
    return f"fill it with a {size} shim" if ear.gap_mm < 0 else f"take {size} from under it"


def _of_bolt(
    build: Build, unit: UnitStack, ear: EarStack, bolt: EarBolt, catalogue: Catalogue
) -> Iterator[Finding]:
    if bolt.fit is None or bolt.chosen is None:
        return
    speak, sits = _Speaker(build, unit, ear), bolt.fit
    name = f"the bolt of {speak.name} ({bolt.chosen.label})"
    better = _better(build, speak, bolt)
    if sits.shank_free_mm < 0:
        yield speak.say(
            SHANK_BOTTOMS,
            "stop",
            f"{name} has its shank on the edge of the hole {speak.length(-sits.shank_free_mm)} too"
            f" soon, and clamps nothing{better}",
            sits.shank_free_mm,
            0.0,
        )
    if sits.engagement_mm < bolt.needed_mm - 1e-9:
        short = sits.engagement_mm < _LEAST_ENGAGED * bolt.needed_mm
        yield speak.say(
            BOLT_ENGAGEMENT,
            "stop" if short else "watch",
            f"{name} has {speak.length(sits.engagement_mm)} of thread in {ear.boss.material};"
            f" {speak.length(bolt.needed_mm)} is wanted{better}",
            sits.engagement_mm,
            bolt.needed_mm,
        )
    room = catalogue.bolts.end_room_mm
    if sits.free_mm is not None and sits.free_mm < room:
        bottoms = sits.free_mm < 0
        says = (
            f"bottoms {speak.length(-sits.free_mm)} before it clamps"
            if bottoms
            else f"ends {speak.length(sits.free_mm)} before the bottom of its hole;"
            f" {speak.length(room)} is wanted"
        )
        yield speak.say(
            BOLT_BOTTOMS,
            "stop" if bottoms else "watch",
            f"{name} {says}{better}",
            sits.free_mm,
            0.0 if bottoms else room,
        )


def _better(build: Build, speak: _Speaker, bolt: EarBolt) -> str:
    """The bolt that does instead, of the shelf or of the standard lengths; "" where there is none."""
    if bolt.from_shelf is not None and bolt.from_shelf != bolt.chosen:
        under = [
            f"{piece.count} x {build.part(piece.part).label}" if piece.count > 1
            else build.part(piece.part).label
            for piece in bolt.washers
        ]  # fmt: skip
        with_ = f" with {' and '.join(under)} under its head" if under else ""
        return f"; {bolt.from_shelf.label} of the shelf{with_} does"
    if bolt.standard_mm is not None:
        return f"; one of {standard_words(bolt)} does"
    return ""


def pull_findings(build: Build, found: Pulled, unit: UnitStack) -> tuple[Finding, ...]:
    """Stacks that the pull of the belts opens, and a bolt in a slot that does not hold it."""
    assert unit.pulley is not None
    speak = _Speaker(build, unit, unit.ears[0])
    label, shown = build.shaft(found.shaft).label, build.display_units
    findings = []
    if found.opens and found.opens_nm is not None:
        moment, opens = (
            written_in(value, TORQUE, shown) for value in (found.moment_nm, found.opens_nm)
        )
        words = (
            f"the stacks of {label} open under the pull at {found.rpm:.0f} rpm: {moment} at a foot,"
            f" they hold to {opens}; thicker pieces, or a shorter reach, keep them shut"
        )
        findings.append(speak.say(STACK_OPENS, "stop", words, found.moment_nm, found.opens_nm))
    slot = found.slot
    if slot is not None and slot.held_n < _SLOT_SURE * slot.needed_n:
        needed, held = (written_in(value, FORCE, shown) for value in (slot.needed_n, slot.held_n))
        slips = slot.held_n < slot.needed_n
        says = "slips" if slips else "holds by little"
        words = (
            f"the bolt in the slot of {label} at {slot.boss} {says} at {found.rpm:.0f} rpm: it holds"
            f" {held} by friction, {needed} is pulled; a brace or a screw keeps it there"
        )
        limit = slot.needed_n if slips else _SLOT_SURE * slot.needed_n
        level: Level = "stop" if slips else "watch"
        findings.append(speak.say(SLOT_SLIPS, level, words, slot.held_n, limit))
    return tuple(findings)


def tolerance_finding(build: Build, found: Stood, unit: UnitStack) -> Finding | None:
    """A unit that lines up by its pieces, but may not by what their tolerances leave open."""
    if found.rest_deg > found.good_deg or found.edge_deg <= found.good_deg or unit.pulley is None:
        return None
    label = build.shaft(unit.stack.shaft).label
    words = (
        f"{label} lines up by its pieces with {found.rest_deg:.2f}°, but within their tolerances it"
        f" may run {found.edge_deg:.2f}° out of line (good {found.good_deg:.2f}°): measure its groove"
        " once it is bolted"
    )
    return Finding(
        MISALIGNED, "unknown", unit.pulley[1], words, value=found.edge_deg, limit=found.good_deg
    )


def plate_finding(build: Build, plate: PlatePulled, where: str) -> Finding | None:
    """A bracket that the pull turns so far that its belts run out of line, though at rest they do not.

    Said of the least it gives, and of no plate that is stiffer than is told.
    """
    at_rest, least, most = plate.angles_deg
    if at_rest is None or least is None or most is None or plate.is_bound:
        return None
    if at_rest > plate.good_deg or least <= plate.good_deg:
        return None
    words = (
        f"{build.bracket(plate.bracket).label} gives under the pull at {plate.rpm:.0f} rpm: its belts"
        f" run {least:.2f} to {most:.2f}° out of line (good {plate.good_deg:.2f}°), {at_rest:.2f}° at"
        " rest; a thicker plate or a brace behind it holds them"
    )
    return Finding(BRACKET_GIVES, "watch", where, words, value=least, limit=plate.good_deg)
