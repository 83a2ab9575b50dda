"""Stacks of a build: the piece each ear needs, what of the shelf makes it up, where the unit then
stands.

docs/METHOD.md, section 12.
"""

from __future__ import annotations

from collections.abc import Container, Mapping, Sequence
from math import degrees

import numpy as np

from jovial_tack.answers.drive.lining_up import Planes, straightest_plane
from jovial_tack.catalogue import Catalogue
from jovial_tack.catalogue.catalogue import StackRules
from jovial_tack.core.arrays import Float
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.line_up.bolts import Thread, thread_of
from jovial_tack.core.line_up.pieces import Line, Rule, choose
from jovial_tack.core.line_up.seats import Seated, Seating, seating
from jovial_tack.core.value import Value, replace
from jovial_tack.document.model import Boss, Build, Ear, Piece, ShelfPart, Stack

#: A plane counts as drawn where the pieces put it.
_THERE_MM = 0.05


class EarStack(Value, frozen=True, eq=False):
    """One ear with its pieces, mm.

    need_mm: what it takes for the groove to stand in the wanted plane, negative where it cannot be
    made; pieces: what is there or was chosen of the shelf, None where it must be turned; turn_mm: that
    length; from_part: the piece of the shelf to face down for it; there_mm: what the pieces come to;
    error_mm: how far forward the seat is of where it should be; gap_mm: what the ear must be bent by as
    it is bolted shut; proud_mm: how far it stands before the plane of the others, which cocks the unit.
    proposed: whether the pieces were chosen here, and are not in the build.
    """

    ear: Ear
    boss: Boss
    need_mm: float
    pieces: tuple[Piece, ...] | None
    turn_mm: float | None
    from_part: ShelfPart | None
    there_mm: float
    error_mm: float
    gap_mm: float
    tolerance_mm: float
    proposed: bool
    proud_mm: float = 0.0


class UnitStack(Value, frozen=True, eq=False):
    """A unit on its ears.

    pulley: (drive, pulley) whose groove is meant; wanted_mm: where it should stand; now_mm: where the
    build has it; plane_mm: where the pieces put it, within worst_mm at most and rss_mm in 95 of 100;
    tilt_deg about x and y. sure: whether no better choice can be made of the shelf. problem: why
    nothing is told of it, "" if it is.
    """

    stack: Stack
    pulley: tuple[str, str] | None = None
    wanted_mm: float | None = None
    now_mm: float | None = None
    plane_mm: float | None = None
    worst_mm: float = 0.0
    rss_mm: float = 0.0
    tilt_deg: tuple[float, float] = (0.0, 0.0)
    ears: tuple[EarStack, ...] = ()
    sure: bool = True
    problem: str = ""

    @property
    def is_elsewhere(self) -> bool:
        """Whether the build has the unit's plane elsewhere than its pieces put it."""
        if self.plane_mm is None or self.now_mm is None:
            return self.plane_mm is not None
        return abs(self.plane_mm - self.now_mm) > _THERE_MM


class _Begun(Value, frozen=True, eq=False):
    """A stack of which pieces can be told."""

    stack: Stack
    pulley: tuple[str, str]
    wanted: float
    bosses: tuple[Boss, ...]
    needs: tuple[float, ...]


def stacks_of(
    build: Build, planes: Planes, catalogue: Catalogue, anew: Container[str] = ()
) -> tuple[UnitStack, ...]:
    """All stacks of a build, with the shelf shared between those whose pieces are not chosen.

    anew: shafts whose pieces are chosen again, as if there were none.
    """
    begun: dict[int, _Begun] = {}
    told: dict[int, UnitStack] = {}
    for place, stack in enumerate(build.stacks):
        found = _begin(build, stack, planes)
        if isinstance(found, str):
            told[place] = UnitStack(stack, problem=found)
        else:
            begun[place] = found
    chosen, sure = _choose(build, list(begun.values()), catalogue.stacks, anew)
    for place, one in begun.items():
        told[place] = _told(build, one, chosen, sure, catalogue.stacks)
    return tuple(told[place] for place in range(len(build.stacks)))


def groove_of(build: Build, shaft_id: str) -> tuple[str, str] | None:
    """The pulley of a shaft whose groove its stack is measured to: the first one."""
    for drive in build.drives:
        for pulley in drive.pulleys:
            if pulley.shaft == shaft_id:
                return drive.id, pulley.id
    return None


def _begin(build: Build, stack: Stack, planes: Planes) -> _Begun | str:
    """What each ear needs, or why that cannot be told."""
    if all(shaft.id != stack.shaft for shaft in build.shafts):
        return f"there is no shaft “{stack.shaft}” any more"
    pulley = groove_of(build, stack.shaft)
    if pulley is None:
        return "no pulley is on it yet, so that no groove is to be lined up"
    if not stack.ears:
        return "it has no ear yet"
    bosses = []
    for ear in stack.ears:
        boss = build.find_boss(ear.boss)
        if boss is None:
            return f"its ear {ear.id} sits on “{ear.boss}”, which is no boss of the build"
        bosses.append(boss)
    wanted = stack.wanted_plane_mm
    if wanted is None:
        wanted = straightest_plane(build, planes, stack.shaft).get(pulley)
    if wanted is None:
        return "its neighbours tell no plane for it; measure theirs, or type the one that is wanted"
    pairs = zip(stack.ears, bosses, strict=True)
    needs = tuple(need_of(ear, boss, wanted) for ear, boss in pairs)
    return _Begun(stack, pulley, wanted, tuple(bosses), needs)


def need_of(ear: Ear, boss: Boss, wanted_mm: float) -> float:
    """The length of the piece an ear needs for its groove to stand in a plane, mm. METHOD 12."""
    seat = wanted_mm - ear.to_groove_mm
    stays = sum(stay.thickness_mm for stay in ear.stays)
    if ear.side == "front":
        return seat - boss.z_mm - stays
    # pulled back against the rear of what is on the boss
    return boss.z_mm - stays - seat


def bolt_thread(build: Build, ear: Ear) -> Thread | None:
    """The thread of an ear's bolt, or of its boss; None where neither is told, or can be read."""
    bolt = None if ear.bolt is None else build.find_part(ear.bolt)
    boss = build.find_boss(ear.boss)
    for text in (bolt.thread if bolt is not None else "", boss.thread if boss is not None else ""):
        if text:
            try:
                return thread_of(text)
            except GeometryError:
                continue
    return None


def thread_problem(text: str) -> str:
    """Why the name of a thread cannot be read; "" if it can, and without one."""
    try:
        if text:
            thread_of(text)
    except GeometryError as error:
        return str(error)
    return ""


def pieces_on(build: Build) -> list[ShelfPart]:
    """Spacers and washers of the shelf whose thickness is known."""
    return [
        part
        for part in build.shelf
        if part.kind in ("spacer", "washer") and part.thickness_mm is not None
    ]


def fits_bolt(part: ShelfPart, thread: Thread | None, rules: StackRules) -> bool:
    """Whether a piece goes over a bolt and is not too wide for it; what is not known is no
    hindrance.
    """
    if thread is None or part.bore_mm is None:
        return True
    room = part.bore_mm - thread.diameter_mm
    return -1e-6 <= room <= rules.bore_room_mm


def _choose(
    build: Build, begun: Sequence[_Begun], rules: StackRules, anew: Container[str]
) -> tuple[Mapping[tuple[str, str], tuple[Piece, ...] | None], bool]:
    """Pieces for every ear whose own are not chosen: (shaft, ear) to pieces, None to be turned."""
    parts = pieces_on(build)
    left = {part.id: part.count for part in parts}
    open_: list[tuple[_Begun, Ear, float]] = []
    for one in begun:
        for ear, need in zip(one.stack.ears, one.needs, strict=True):
            if ear.pieces is None or one.stack.shaft in anew:
                open_.append((one, ear, need))
                continue
            for piece in ear.pieces:
                left[piece.part] = left.get(piece.part, 0) - piece.count
    lines = [Line(part.thickness_mm or 0.0, max(left[part.id], 0)) for part in parts]
    rule = [
        Rule(_tolerance(one.stack, rules), rules.most_pieces, rules.most_thin, rules.thin_mm)
        for one, _, _ in open_
    ]
    threads = [bolt_thread(build, ear) for _, ear, _ in open_]
    may = [
        {k for k, part in enumerate(parts) if fits_bolt(part, thread, rules)} for thread in threads
    ]
    found = choose([need for _, _, need in open_], lines, rule, may)
    chosen: dict[tuple[str, str], tuple[Piece, ...] | None] = {}
    for (one, ear, _), option in zip(open_, found.options, strict=True):
        pieces = None
        if option is not None:
            pieces = tuple(Piece(part=parts[line].id, count=count) for line, count in option.pieces)
        chosen[one.stack.shaft, ear.id] = pieces
    return chosen, found.sure


def _tolerance(stack: Stack, rules: StackRules) -> float:
    return rules.tolerance_mm if stack.tolerance_mm is None else stack.tolerance_mm


def _told(
    build: Build,
    one: _Begun,
    chosen: Mapping[tuple[str, str], tuple[Piece, ...] | None],
    sure: bool,
    rules: StackRules,
) -> UnitStack:
    """Where a unit stands on its pieces."""
    stack = one.stack
    ears: list[EarStack] = []
    for ear, boss, need in zip(stack.ears, one.bosses, one.needs, strict=True):
        proposed = (stack.shaft, ear.id) in chosen
        pieces = chosen[stack.shaft, ear.id] if proposed else ear.pieces
        turned = pieces is None and need > _tolerance(stack, rules)
        there = need if turned else sum(_thickness(build, piece) for piece in pieces or ())
        sign = 1.0 if ear.side == "front" else -1.0
        ears.append(
            EarStack(
                ear=ear,
                boss=boss,
                need_mm=need,
                pieces=None if turned else pieces or (),
                turn_mm=need if turned else None,
                from_part=_to_face_down(build, need) if turned else None,
                there_mm=there,
                error_mm=sign * (there - need),
                gap_mm=0.0,
                tolerance_mm=_tolerance_of(build, ear, boss, pieces or (), rules),
                proposed=proposed,
            )
        )
    heights = np.array([found.error_mm for found in ears])
    tolerances = np.array([found.tolerance_mm for found in ears])
    how = seating_of(build, one.stack, one.bosses, rules)
    stands = how.at(heights)
    proud = _proud(ears, rules.steer_mm)
    shut = [
        replace(found, gap_mm=float(gap), proud_mm=off)
        for found, gap, off in zip(ears, stands.gap_mm, proud, strict=True)
    ]
    drive, pulley = one.pulley
    return UnitStack(
        stack=stack,
        pulley=one.pulley,
        wanted_mm=one.wanted,
        now_mm=build.drive(drive).pulley(pulley).plane_mm,
        plane_mm=one.wanted + stands.plane_mm,
        worst_mm=how.worst_mm(tolerances),
        rss_mm=how.rss_mm(tolerances),
        tilt_deg=_degrees(stands),
        ears=tuple(shut),
        sure=sure,
    )


def _degrees(stands: Seated) -> tuple[float, float]:
    return degrees(float(stands.tilt[0])), degrees(float(stands.tilt[1]))


def seating_of(build: Build, stack: Stack, bosses: Sequence[Boss], rules: StackRules) -> Seating:
    """How a unit follows its seats, told at its shaft."""
    places = np.array([complex(*boss.at_mm) for boss in bosses])
    return seating(places, complex(*build.shaft(stack.shaft).center_mm), rules.steer_mm)


def _thickness(build: Build, piece: Piece) -> float:
    part = build.find_part(piece.part)
    return piece.count * ((part.thickness_mm if part is not None else None) or 0.0)


def _tolerance_of(
    build: Build, ear: Ear, boss: Boss, pieces: Sequence[Piece], rules: StackRules
) -> float:
    """How far the seat of an ear may be off, two standard deviations, mm: washers of one line are of
    one batch and are off together.
    """
    each = [2.0 * (boss.sd_mm or 0.0), 2.0 * (ear.sd_mm or 0.0)]
    each += [stay.tolerance_mm for stay in ear.stays]
    for piece in pieces:
        part = build.find_part(piece.part)
        own = None if part is None else part.tolerance_mm
        each.append(piece.count * (2.0 * rules.measured_sd_mm if own is None else own))
    return float(np.linalg.norm(np.array(each)))


def _to_face_down(build: Build, need_mm: float) -> ShelfPart | None:
    """The piece of the shelf to turn a length from: the thinnest that is long enough."""
    long_enough = [p for p in pieces_on(build) if p.count and (p.thickness_mm or 0.0) >= need_mm]
    return min(long_enough, key=lambda part: part.thickness_mm or 0.0, default=None)


def _proud(ears: Sequence[EarStack], steer_mm: float) -> list[float]:
    """By how much each ear's seat is off the plane of the others, mm, + proud: what cocks the unit as
    it is bolted shut; zeros with fewer than three.
    """
    places = np.array([complex(*ear.boss.at_mm) for ear in ears])
    heights: Float = np.array([ear.error_mm for ear in ears])
    if len(ears) < 3:
        return [0.0] * len(ears)
    off = []
    for k in range(len(ears)):
        rest = np.arange(len(ears)) != k
        others = seating(places[rest], complex(places[k]), steer_mm).at(heights[rest])
        off.append(float(heights[k]) - others.plane_mm)
    return off
