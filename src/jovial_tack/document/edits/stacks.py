"""Bosses, units on their ears, and readings of planes and tilts."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.names import free_name
from jovial_tack.document.model import Boss, Build, Ear, Piece, Stack, Stay, make


def with_stack(build: Build, stack: Stack) -> Build:
    """The build with a stack in the place of that of the same shaft, or behind the others."""
    kept = [stack if one.shaft == stack.shaft else one for one in build.stacks]
    if all(one.shaft != stack.shaft for one in build.stacks):
        kept.append(stack)
    return changed(build, stacks=tuple(kept))


def stack_on(build: Build, shaft_id: str) -> Stack:
    """The stack of a shaft; an empty one where it has none."""
    found = build.find_stack(shaft_id)
    return make(Stack, {"shaft": shaft_id}) if found is None else found


def set_stack(build: Build, shaft_id: str, **changes: Any) -> Build:
    """Change figures of a stack; None takes one away. Raises BuildFileError."""
    return with_stack(build, changed(stack_on(build, shaft_id), **changes))


def remove_stack(build: Build, shaft_id: str) -> Build:
    """Take a unit's stack away, with the bosses that nothing else sits on."""
    gone = stack_on(build, shaft_id)
    kept = tuple(one for one in build.stacks if one.shaft != shaft_id)
    used = {ear.boss for one in kept for ear in one.ears} | _bolted_to(build)
    lost = {ear.boss for ear in gone.ears} - used
    bosses = tuple(boss for boss in build.bosses if boss.id not in lost)
    return changed(build, stacks=kept or None, bosses=bosses or None)


def add_ear(
    build: Build, shaft_id: str, at_mm: tuple[float, float], z_mm: float, to_groove_mm: float
) -> tuple[Build, str]:
    """Add an ear with a boss of its own to a unit; returns the ear's id too."""
    boss_id = free_name("boss", (boss.id for boss in build.bosses))
    name = free_name("Boss", (boss.label for boss in build.bosses))
    last = build.bosses[-1] if build.bosses else None
    alike = {} if last is None else {k: getattr(last, k) for k in ("thread", "material")}
    if last is not None and last.thread_depth_mm is not None:
        alike["thread_depth_mm"] = last.thread_depth_mm
    boss = make(Boss, {"id": boss_id, "name": name, "at_mm": at_mm, "z_mm": z_mm, **alike})
    stack = stack_on(build, shaft_id)
    ear_id = free_name("ear", (ear.id for ear in stack.ears))
    ear = make(Ear, {"id": ear_id, "boss": boss_id, "to_groove_mm": to_groove_mm})
    build = changed(build, bosses=(*build.bosses, boss))
    return with_stack(build, changed(stack, ears=(*stack.ears, ear))), ear_id


def set_ear(build: Build, shaft_id: str, ear_id: str, **changes: Any) -> Build:
    """Change figures of an ear; None takes one away. Raises BuildFileError."""
    stack = stack_on(build, shaft_id)
    ears = tuple(changed(e, **changes) if e.id == ear_id else e for e in stack.ears)
    return with_stack(build, changed(stack, ears=ears))


def remove_ear(build: Build, shaft_id: str, ear_id: str) -> Build:
    """Take an ear away, and its boss if nothing else sits on it."""
    stack = stack_on(build, shaft_id)
    boss = stack.ear(ear_id).boss
    kept = changed(stack, ears=tuple(ear for ear in stack.ears if ear.id != ear_id))
    build = with_stack(build, kept)
    if any(ear.boss == boss for one in build.stacks for ear in one.ears):
        return build
    if boss in _bolted_to(build):
        return build
    left = tuple(one for one in build.bosses if one.id != boss)
    return changed(build, bosses=left or None)


def _bolted_to(build: Build) -> set[str]:
    """The bosses that bracket plates are bolted to."""
    return {
        cut.meant.boss
        for plate in build.plates
        for cut in plate.features
        if cut.meant is not None and cut.meant.boss is not None
    }


def set_boss(build: Build, boss_id: str, **changes: Any) -> Build:
    """Change figures of a boss; None takes one away. Raises BuildFileError."""
    bosses = tuple(changed(b, **changes) if b.id == boss_id else b for b in build.bosses)
    return changed(build, bosses=bosses)


def set_stays(build: Build, shaft_id: str, ear_id: str, thickness_mm: float) -> Build:
    """Say how thick what stays between a boss and an ear is, as a bracket; 0 for nothing."""
    stays = (make(Stay, {"name": "bracket", "thickness_mm": thickness_mm}),) if thickness_mm else ()
    return set_ear(build, shaft_id, ear_id, stays=stays or None)


def put_piece(build: Build, shaft_id: str, ear_id: str, part_id: str, more: int = 1) -> Build:
    """Put further pieces of a part into the stack of an ear, or take some out (more < 0)."""
    counts = {
        piece.part: piece.count for piece in stack_on(build, shaft_id).ear(ear_id).pieces or ()
    }
    counts[part_id] = counts.get(part_id, 0) + more
    pieces = [
        make(Piece, {"part": part, "count": count}) for part, count in counts.items() if count > 0
    ]
    return set_ear(build, shaft_id, ear_id, pieces=tuple(pieces))


def add_alignment_reading(build: Build, reading: Mapping[str, Any]) -> Build:
    """Add a reading of planes or tilts, given as in the file. Raises BuildFileError."""
    readings = (*build.alignment.readings, dict(reading))
    return changed(build, alignment=changed(build.alignment, readings=readings))


def change_alignment_reading(build: Build, place: int, **changes: Any) -> Build:
    """Change some keys of a reading of planes or tilts; None takes one away. Raises BuildFileError."""
    readings = list(build.alignment.readings)
    readings[place] = changed(readings[place], **changes)
    return changed(build, alignment=changed(build.alignment, readings=tuple(readings)))


def remove_alignment_reading(build: Build, place: int) -> Build:
    """Take a reading of planes or tilts away."""
    kept = tuple(r for k, r in enumerate(build.alignment.readings) if k != place)
    return changed(build, alignment=changed(build.alignment, readings=kept or None))
