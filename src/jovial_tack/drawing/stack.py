"""A unit on its ears from the side, to scale: bosses, brackets, pieces, ears, bolts; no Qt.

z runs to the right, from the engine toward the viewer.
"""

from __future__ import annotations

from typing import Literal

from jovial_tack.answers.drive.bolts import EarBolt
from jovial_tack.answers.drive.stacks import EarStack, UnitStack
from jovial_tack.answers.line_up.words import both, pieces_words
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build

Role = Literal["boss", "stay", "piece", "missing", "over", "ear"]
#: How deep a boss is drawn where its thread is not told, and how thick its wall behind a hole.
_BOSS_MM, _WALL_MM = 18.0, 4.0
_LEAST_MM = 0.005


class Block(Value, frozen=True):
    """What takes up some depth: from and to, mm; label: its name or its length."""

    role: Role
    low: float
    high: float
    label: str


class BoltDrawn(Value, frozen=True):
    """A bolt in its hole: under its head, at its end, and the bottom of the hole, mm, None where it is
    open or not told; threaded_from: where its thread begins; free: what is left at its end, in words.
    """

    head: float
    end: float
    bottom: float | None
    threaded_from: float
    size: float
    free: str


class EarDrawn(Value, frozen=True):
    """One ear: blocks from the engine forward; groove: where this seat alone would put the groove."""

    ear: str
    name: str
    blocks: tuple[Block, ...]
    groove: float
    bolt: BoltDrawn | None


class StackDrawn(Value, frozen=True):
    """A unit from the side. wanted, stands: planes, mm; tilt_deg: the greater of both, times ten as it
    is drawn; z_range: all of it.
    """

    ears: tuple[EarDrawn, ...]
    wanted: float
    stands: float
    tilt_deg: float
    z_range: tuple[float, float]


def stack_view(build: Build, unit: UnitStack, bolts: dict[str, EarBolt]) -> StackDrawn | None:
    """Look at a unit from the side; None while nothing is told of it."""
    if unit.problem or unit.plane_mm is None or unit.wanted_mm is None:
        return None
    ears = tuple(_ear(build, ear, bolts.get(ear.ear.id)) for ear in unit.ears)
    places = [unit.plane_mm, unit.wanted_mm, *(ear.groove for ear in ears)]
    for drawn in ears:
        places += [end for block in drawn.blocks for end in (block.low, block.high)]
        if drawn.bolt is not None:
            places += [drawn.bolt.head + drawn.bolt.size * 0.6, drawn.bolt.end]
    tilt = max(unit.tilt_deg, key=abs)
    return StackDrawn(ears, unit.wanted_mm, unit.plane_mm, tilt, (min(places), max(places)))


def _ear(build: Build, ear: EarStack, bolt: EarBolt | None) -> EarDrawn:
    front = ear.ear.side == "front"
    boss = ear.boss
    depth = boss.thread_depth_mm
    back = boss.z_mm - (_BOSS_MM if depth is None else depth + _WALL_MM)
    blocks = [] if not front else [Block("boss", back, boss.z_mm, boss.label)]
    sign = 1.0 if front else -1.0
    at = boss.z_mm

    def lay(role: Role, thick: float, label: str) -> None:
        nonlocal at
        if thick > _LEAST_MM:
            ends = sorted((at, at + sign * thick))
            blocks.append(Block(role, ends[0], ends[1], label))
            at += sign * thick

    for stay in ear.ear.stays:
        lay("stay", stay.thickness_mm, stay.name or "stays")
    for piece in ear.pieces or ():
        part = build.find_part(piece.part)
        for _ in range(piece.count):
            thick = 0.0 if part is None else part.thickness_mm or 0.0
            lay("piece", thick, piece.part if part is None else part.label)
    if ear.turn_mm is not None:
        lay("missing", ear.turn_mm, f"turn {both(build, ear.turn_mm)}")
    seat = at
    short = ear.need_mm - ear.there_mm
    if abs(short) > 0.05 and ear.turn_mm is None:
        ends = sorted((seat, seat + sign * short))
        role: Role = "missing" if short > 0 else "over"
        label = f"{both(build, abs(short))} {'missing' if short > 0 else 'too much'}"
        blocks.append(Block(role, ends[0], ends[1], label))
    ends = sorted((seat, seat + sign * ear.ear.ear_mm))
    blocks.append(Block("ear", ends[0], ends[1], "ear"))
    name = f"{boss.label}: {pieces_words(build, ear.pieces or ())}"
    if ear.turn_mm is not None:
        name = f"{boss.label}: a piece to be turned"
    drawn = None if bolt is None or not front else _bolt(build, ear, bolt)
    return EarDrawn(ear.ear.id, name, tuple(blocks), seat + ear.ear.to_groove_mm, drawn)


def _bolt(build: Build, ear: EarStack, bolt: EarBolt) -> BoltDrawn | None:
    length = bolt.fit.length_mm if bolt.fit is not None else bolt.standard_mm
    if length is None:
        return None
    head = ear.boss.z_mm + bolt.grip_mm
    own = None if bolt.chosen is None else bolt.chosen.threaded_mm
    threaded = bolt.thread.threaded_mm(length) if own is None else min(own, length)
    bottom = None
    if not ear.boss.through and ear.boss.thread_depth_mm is not None:
        bottom = ear.boss.z_mm - ear.boss.thread_depth_mm
    free = "" if bottom is None else f"{head - length - bottom:.1f} mm free"
    if bottom is not None and build.display_units == "in":
        free = f"{(head - length - bottom) / 25.4:.2f} in free"
    return BoltDrawn(
        head, head - length, bottom, head - length + threaded, bolt.thread.diameter_mm, free
    )
