"""The bolt of each ear: how long it may be, whether the one chosen holds, what it clamps with.

docs/METHOD.md, section 12.
"""

from __future__ import annotations

from collections.abc import Sequence

from jovial_tack.answers.drive.stacks import (
    EarStack,
    UnitStack,
    bolt_thread,
    fits_bolt,
    pieces_on,
)
from jovial_tack.catalogue import Catalogue
from jovial_tack.catalogue.catalogue import BoltRules
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.line_up.bolts import (
    BoltFit,
    Hole,
    Thread,
    bedded_n,
    clamp_n,
    fit,
    lengths,
    standard_length,
    thread_of,
)
from jovial_tack.core.line_up.pieces import Line, Option, Rule, options
from jovial_tack.core.units import MM_PER_INCH
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, Piece, ShelfPart

_MOST_WASHERS = 3


class EarBolt(Value, frozen=True, eq=False):
    """The bolt of one ear; lengths mm, forces N.

    fit: how the bolt of the shelf that is named, or was found, sits; None without one. least_mm,
    most_mm: how long it may be, most None where the hole is open or its depth not known. standard_mm:
    the shortest standard length that does. from_shelf: what of the shelf does, with washers to take up
    what is too long. clamp_n: low, likely, high by the builder's own torque; bedded_n: what is lost of
    it as the faces bed in. strips_at_mm: engagement at which the hole is as strong as the bolt.
    """

    thread: Thread
    grip_mm: float
    needed_mm: float
    strips_at_mm: float
    least_mm: float
    most_mm: float | None
    standard_mm: float | None
    chosen: ShelfPart | None
    fit: BoltFit | None
    from_shelf: ShelfPart | None
    washers: tuple[Piece, ...]
    clamp_n: tuple[float, ...] | None
    bedded_n: float
    faces: int


def bolt_of(build: Build, ear: EarStack, catalogue: Catalogue) -> EarBolt | None:
    """The bolt of an ear; None where its thread is not told."""
    thread = bolt_thread(build, ear.ear)
    if thread is None:
        return None
    rules, boss, own = catalogue.bolts, ear.boss, ear.ear
    needed = rules.engagement(boss.material) * thread.diameter_mm
    depth = None if boss.through else boss.thread_depth_mm
    hole = Hole(thread, depth, needed)
    stays = sum(stay.thickness_mm for stay in own.stays)
    grip = stays + ear.there_mm + own.ear_mm
    least, most = lengths(hole, grip, rules.end_room_mm)
    chosen = None if own.bolt is None else build.find_part(own.bolt)
    sits = None
    if chosen is not None and chosen.length_mm is not None:
        sits = fit(hole, grip, chosen.length_mm, chosen.threaded_mm)
    found, washers = _from_shelf(build, hole, grip, catalogue)
    count = sum(piece.count for piece in ear.pieces or ()) + (ear.turn_mm is not None)
    faces = 2 + len(own.stays) + count
    return EarBolt(
        thread=thread,
        grip_mm=grip,
        needed_mm=needed,
        strips_at_mm=thread.strips_at_mm(rules.tensile_mpa, rules.shear_mpa(boss.material)),
        least_mm=least,
        most_mm=most,
        standard_mm=standard_length(hole, grip, _series(thread, rules), rules.end_room_mm),
        chosen=chosen,
        fit=sits,
        from_shelf=found,
        washers=washers,
        clamp_n=None if own.torque_nm is None else _clamp(thread, own.torque_nm, rules),
        bedded_n=bedded_n(
            thread, grip, faces, bedding_um=rules.bedding_um, elastic_mpa=rules.elastic_mpa
        ),
        faces=faces,
    )


def _clamp(thread: Thread, torque_nm: float, rules: BoltRules) -> tuple[float, ...]:
    return clamp_n(thread, torque_nm, rules.torque_factors)


def _series(thread: Thread, rules: BoltRules) -> Sequence[float]:
    if thread.inch:
        return [inches * MM_PER_INCH for inches in rules.lengths_in]
    return rules.lengths_mm


def _holds(hole: Hole, grip_mm: float, bolt: ShelfPart, end_room_mm: float) -> bool:
    assert bolt.length_mm is not None
    least, most = lengths(hole, grip_mm, end_room_mm)
    if bolt.length_mm < least - 1e-9 or (most is not None and bolt.length_mm > most + 1e-9):
        return False
    return fit(hole, grip_mm, bolt.length_mm, bolt.threaded_mm).shank_free_mm >= 0


def _from_shelf(
    build: Build, hole: Hole, grip_mm: float, catalogue: Catalogue
) -> tuple[ShelfPart | None, tuple[Piece, ...]]:
    """A bolt of the shelf that holds, the shortest first; a longer one with washers under its head."""
    end = catalogue.bolts.end_room_mm
    bolts = [
        part
        for part in build.shelf
        if part.kind == "bolt" and part.count and part.length_mm and _is_of(part, hole.thread)
    ]
    bolts.sort(key=lambda part: part.length_mm or 0.0)
    for bolt in bolts:
        if _holds(hole, grip_mm, bolt, end):
            return bolt, ()
    parts = [p for p in pieces_on(build) if fits_bolt(p, hole.thread, catalogue.stacks)]
    lines = [Line(part.thickness_mm or 0.0, part.count) for part in parts]
    for bolt in bolts:
        for option in _washers(hole, grip_mm, bolt, lines, end):
            if _holds(hole, grip_mm + option.total_mm, bolt, end):
                pieces = [Piece(part=parts[k].id, count=count) for k, count in option.pieces]
                return bolt, tuple(pieces)
    return None, ()


def _is_of(part: ShelfPart, thread: Thread) -> bool:
    try:
        return thread_of(part.thread) == thread
    except GeometryError:
        return False


def _washers(
    hole: Hole, grip_mm: float, bolt: ShelfPart, lines: Sequence[Line], end_room_mm: float
) -> list[Option]:
    """Washers that take up what a bolt is too long: from what lets it end before the bottom to what
    leaves it its engagement.
    """
    assert bolt.length_mm is not None
    least, most = lengths(hole, grip_mm, end_room_mm)
    high = bolt.length_mm - least
    low = 0.0 if most is None else bolt.length_mm - most
    if bolt.length_mm < least or high <= 0:
        return []
    middle, half = (low + high) / 2, (high - low) / 2
    return options(middle, lines, Rule(half, _MOST_WASHERS, _MOST_WASHERS, 0.0))


def standard_words(bolt: EarBolt) -> str:
    """The standard length in the unit its bolts are sold in."""
    assert bolt.standard_mm is not None
    if bolt.thread.inch:
        return f"{bolt.standard_mm / MM_PER_INCH:g} in"
    return f"{bolt.standard_mm:g} mm"


def stack_bolts(
    build: Build, unit: UnitStack, catalogue: Catalogue
) -> tuple[tuple[EarStack, EarBolt], ...]:
    """The bolts of all ears of a unit whose threads are told."""
    found = ((ear, bolt_of(build, ear, catalogue)) for ear in unit.ears)
    return tuple((ear, bolt) for ear, bolt in found if bolt is not None)
