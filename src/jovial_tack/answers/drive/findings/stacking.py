"""Stacks that cannot be made, ears that are bent as they are bolted, and bolts that do not hold.

docs/METHOD.md, section 12.
"""

from __future__ import annotations

from collections.abc import Iterator

from jovial_tack.answers.drive.bolts import EarBolt, bolt_of
from jovial_tack.answers.drive.stacks import EarStack, UnitStack
from jovial_tack.answers.kinds import (
    BOLT_BOTTOMS,
    BOLT_ENGAGEMENT,
    EAR_GAP,
    NO_ROOM_FOR_SPACER,
    SHANK_BOTTOMS,
    Kind,
)
from jovial_tack.answers.results import Finding, Level
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.units import format_length
from jovial_tack.document.model import Build

#: Share of the rule for engagement below which a bolt is not to be trusted.
_LEAST_ENGAGED = 0.8


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
        return f"; one of {speak.length(bolt.standard_mm)} does"
    return ""
