"""A bracket plate proposed for a unit: from bosses to its ears, its pivot and the arc it swings by.

docs/METHOD.md, section 16.
"""

from __future__ import annotations

from cmath import phase
from math import degrees
from typing import Any

from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.line_up.bolts import thread_of
from jovial_tack.document import model as doc
from jovial_tack.document.edits.plates import new_plate, with_plate
from jovial_tack.document.edits.stacks import set_boss

#: An ear this near to the bolt a unit swings about sits on it, mm.
_ON_PIVOT_MM = 3.0
_USUAL_BOLT_MM = 10.0
#: How far behind its pulley the plate of a unit without bosses begins, mm.
_BEHIND_MM = 50.0
_MOST_DEG = 330.0


def proposed_plate(
    build: doc.Build, shaft_id: str, catalogue: Catalogue
) -> tuple[doc.Build, str, str]:
    """The build with a plate for a unit; the plate's id, and in words what could only be guessed.

    Bosses of the engine that nothing sits on yet get clearance holes; ears get theirs, or the slot or
    arc their travel needs. Ears then sit on the plate, where it is fixed by bosses of its own.
    """
    shaft = build.shaft(shaft_id)
    free = _free_bosses(build)
    z = max((boss.z_mm for boss in free), default=_behind(build, shaft_id))
    thick = catalogue.plates.thickness_mm
    cuts = [_for_boss(boss, catalogue) for boss in free]
    own, guessed = _of_unit(build, shaft, catalogue)
    cuts += own
    named: dict[str, int] = {}
    for cut in cuts:
        count = named[cut["type"]] = named.get(cut["type"], 0) + 1
        cut["id"] = cut["type"] if count == 1 else f"{cut['type']} {count}"
    plate = new_plate(
        build,
        f"Bracket of {shaft.label}",
        thickness_mm=thick,
        z_mm=round(z, 3),
        features=tuple(cuts),
    )
    build = with_plate(build, plate)
    stack = build.find_stack(shaft_id)
    if len(free) >= 2 and stack is not None:
        for ear in stack.ears:
            if build.find_boss(ear.boss) is not None:
                build = set_boss(build, ear.boss, on=plate.id, z_mm=round(plate.front_mm, 3))
    return build, plate.id, guessed


def _free_bosses(build: doc.Build) -> list[doc.Boss]:
    """Bosses of the engine that no ear sits on and no plate is bolted to yet."""
    used = {ear.boss for stack in build.stacks for ear in stack.ears}
    used |= {
        cut.meant.boss
        for plate in build.plates
        for cut in plate.features
        if cut.meant is not None and cut.meant.boss is not None
    }
    return [boss for boss in build.bosses if boss.on is None and boss.id not in used]


def _behind(build: doc.Build, shaft_id: str) -> float:
    """Where a plate begins that has no boss to lie on: at those of the unit's ears, or well behind its
    pulley.
    """
    stack = build.find_stack(shaft_id)
    faces = [] if stack is None else [build.find_boss(ear.boss) for ear in stack.ears]
    known = [boss.z_mm for boss in faces if boss is not None]
    planes = [
        pulley.plane_mm
        for drive in build.drives
        for pulley in drive.pulleys
        if pulley.shaft == shaft_id and pulley.plane_mm is not None
    ]
    if known:
        return max(known)
    return planes[0] - _BEHIND_MM if planes else 0.0


def clearance_hole_mm(boss: doc.Boss | None, catalogue: Catalogue) -> float:
    """The hole the bolt of a boss goes through; of a usual bolt where its thread is not told."""
    if boss is None or not boss.thread:
        return catalogue.plates.hole_mm(_USUAL_BOLT_MM, inch=False)
    try:
        thread = thread_of(boss.thread)
    except GeometryError:
        return catalogue.plates.hole_mm(_USUAL_BOLT_MM, inch=False)
    return round(catalogue.plates.hole_mm(thread.diameter_mm, inch=thread.inch), 3)


def _for_boss(boss: doc.Boss, catalogue: Catalogue) -> dict[str, Any]:
    hole = clearance_hole_mm(boss, catalogue)
    return {"type": "hole", "at_mm": boss.at_mm, "diameter_mm": hole, "for": {"boss": boss.id}}


def _of_unit(
    build: doc.Build, shaft: doc.Shaft, catalogue: Catalogue
) -> tuple[list[dict[str, Any]], str]:
    """What a unit needs, and what of it could only be guessed."""
    stack = build.find_stack(shaft.id)
    ears = [
        (ear, boss)
        for ear in (() if stack is None else stack.ears)
        if (boss := build.find_boss(ear.boss)) is not None
    ]
    usual = catalogue.plates.hole_mm(_USUAL_BOLT_MM, inch=False)
    if not ears:
        return _without_ears(build, shaft, usual, catalogue)
    found: list[dict[str, Any]] = []
    for ear, boss in ears:
        meant = {"ear": ear.id, "shaft": shaft.id}
        hole = clearance_hole_mm(boss, catalogue)
        found.append({**_travelled(shaft, complex(*boss.at_mm), hole, catalogue), "for": meant})
    mount = shaft.mount
    if isinstance(mount, doc.SwingMount):
        pivot = complex(*mount.pivot_mm)
        if all(abs(complex(*boss.at_mm) - pivot) > _ON_PIVOT_MM for _, boss in ears):
            found.append(_hole(pivot, usual, {"shaft": shaft.id}))
    return found, ""


def _travelled(
    shaft: doc.Shaft, at: complex, hole_mm: float, catalogue: Catalogue
) -> dict[str, Any]:
    """A hole at a place that moves with a shaft, or the slot or arc it goes along."""
    mount, center = shaft.mount, complex(*shaft.center_mm)
    if isinstance(mount, doc.SwingMount) and abs(at - complex(*mount.pivot_mm)) > _ON_PIVOT_MM:
        return _arc(mount, center, at, hole_mm, catalogue)
    if isinstance(mount, doc.SlotMount) and mount.from_mm != mount.to_mm:
        ends = [at + complex(*end) - center for end in (mount.from_mm, mount.to_mm)]
        return {
            "type": "slot",
            "from_mm": _place(ends[0]),
            "to_mm": _place(ends[1]),
            "width_mm": hole_mm,
        }
    return {"type": "hole", "at_mm": _place(at), "diameter_mm": hole_mm}


def _arc(
    mount: doc.SwingMount, center: complex, at: complex, hole_mm: float, catalogue: Catalogue
) -> dict[str, Any]:
    """The arc about a pivot that a bolt goes along over the swing of its unit, and some more."""
    pivot = complex(*mount.pivot_mm)
    now = degrees(phase(center - pivot))
    low, high = sorted((mount.from_deg, mount.to_deg))
    # the same turn of the shaft, told within half a turn of the middle of its swing
    middle = (low + high) / 2
    now = middle + (now - middle + 180.0) % 360.0 - 180.0
    bolt, more = degrees(phase(at - pivot)), catalogue.plates.travel_more_deg
    start, end = bolt + low - now - more, bolt + high - now + more
    return {
        "type": "arc",
        "center_mm": mount.pivot_mm,
        "radius_mm": round(abs(at - pivot), 3),
        "from_deg": round(start, 2),
        "to_deg": round(min(end, start + _MOST_DEG), 2),
        "width_mm": hole_mm,
    }


def _without_ears(
    build: doc.Build, shaft: doc.Shaft, hole_mm: float, catalogue: Catalogue
) -> tuple[list[dict[str, Any]], str]:
    """What a unit needs whose ears are not told."""
    meant, mount = {"shaft": shaft.id}, shaft.mount
    center = complex(*shaft.center_mm)
    if isinstance(mount, doc.SwingMount):
        pivot = complex(*mount.pivot_mm)
        across = 2 * center - pivot
        arc = _arc(mount, center, across, hole_mm, catalogue)
        guess = "its adjuster's bolt is taken across from its pivot: drag the arc to where it is"
        return [_hole(pivot, hole_mm, meant), {**arc, "for": meant}], guess
    if isinstance(mount, doc.HolesMount):
        places = [complex(*place) for place in mount.positions_mm]
        return [_hole(place, hole_mm, meant) for place in places], ""
    if isinstance(mount, doc.SlotMount) and mount.from_mm != mount.to_mm:
        return [{**_travelled(shaft, center, hole_mm, catalogue), "for": meant}], ""
    pivot_of_arm = _arm_pivot(build, shaft.id)
    if pivot_of_arm is not None:
        return [_hole(pivot_of_arm, hole_mm, meant)], ""
    if shaft.kind == "idler":
        return [_hole(center, hole_mm, meant)], ""
    # an accessory whose ears are not told: two where such units often have them
    guess = "where its ears are is not told: drag their holes there, or type them"
    size = 45.0
    return [_hole(center + turn * size, hole_mm, meant) for turn in (1j, -1j)], guess


def _arm_pivot(build: doc.Build, shaft_id: str) -> complex | None:
    """The bolt a spring arm turns about, where a shaft is its pulley's."""
    for drive in build.drives:
        arm = drive.tensioner
        if isinstance(arm, doc.SpringArmTensioner) and drive.pulley(arm.pulley).shaft == shaft_id:
            return complex(*arm.pivot_mm)
    return None


def _hole(at: complex, diameter_mm: float, meant: dict[str, str]) -> dict[str, Any]:
    return {"type": "hole", "at_mm": _place(at), "diameter_mm": diameter_mm, "for": meant}


def _place(at: complex) -> tuple[float, float]:
    return round(at.real, 3), round(at.imag, 3)
