"""A plate of the build as what the shape of a plate is worked out from."""

from __future__ import annotations

from math import radians

from jovial_tack.core.errors import GeometryError
from jovial_tack.core.line_up.bolts import thread_of
from jovial_tack.core.line_up.plate_cuts import ArcSlot, Cut, RoundHole, Slot, usual_pad
from jovial_tack.document import model as doc
from jovial_tack.document.meant import boss_of


def cuts_of(plate: doc.Plate) -> tuple[Cut, ...]:
    """What is cut through a plate, in the file's order."""
    return tuple(_cut(cut) for cut in plate.features)


def _cut(cut: doc.Cut) -> Cut:
    pad = usual_pad(cut.width) if cut.edge_mm is None else cut.edge_mm
    match cut:
        case doc.HoleCut():
            return RoundHole(cut.id, cut.width, pad, complex(*cut.at_mm))
        case doc.SlotCut():
            ends = complex(*cut.from_mm), complex(*cut.to_mm)
            return Slot(cut.id, cut.width, pad, *ends)
        case doc.ArcCut():
            start, sweep = radians(cut.from_deg), radians(cut.to_deg - cut.from_deg)
            return ArcSlot(
                cut.id, cut.width, pad, complex(*cut.center_mm), cut.radius_mm, start, sweep
            )


def webs_of(plate: doc.Plate) -> tuple[tuple[str, str], ...] | None:
    """The pairs that are joined; None for the hull round all."""
    return None if plate.webs == "hull" else plate.webs


def bolt_mm_of(build: doc.Build, cut: doc.Cut) -> float | None:
    """Diameter of the bolt of a cut by the thread of its boss, mm; None where that is not told."""
    boss = boss_of(build, cut)
    if boss is None or not boss.thread:
        return None
    try:
        return thread_of(boss.thread).diameter_mm
    except GeometryError:
        return None
