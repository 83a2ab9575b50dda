"""What the files of a plate have in common: what is cut, and the words beside it."""

from __future__ import annotations

import hashlib
from cmath import exp
from math import pi, tan

from jovial_tack.answers.line_up.plate_parts import cuts_of
from jovial_tack.answers.results import PlateResult
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.line_up.plate_cuts import Ring, RoundHole
from jovial_tack.core.line_up.rings import arc_of
from jovial_tack.core.units import format_length
from jovial_tack.core.value import Value, replace
from jovial_tack.document.meant import boss_of, shaft_of_cut
from jovial_tack.document.model import Build, Plate

#: Arms of the cross at every middle, mm.
CROSS_MM = 3.0
SCALE_MM = 100.0
#: Cubic curves: two handles and the end of each.
Curves = list[tuple[complex, complex, complex]]


class PlateDrawing(Value, frozen=True, eq=False):
    """A plate as it is written. outlines, slots: rings; holes: middle and diameter; crosses: middles;
    named: below which place what is written; words: lines for what is not cut; kerf_mm: by how much
    outlines are grown and holes shrunk in all.
    """

    name: str
    outlines: tuple[Ring, ...]
    slots: tuple[Ring, ...]
    holes: tuple[tuple[float, float, float], ...]
    crosses: tuple[tuple[float, float], ...]
    named: tuple[tuple[float, float, str], ...]
    bounds: tuple[float, float, float, float]
    words: tuple[str, ...]
    checksum: str


def plate_drawing(
    build: Build, plate: Plate, told: PlateResult, kerf_mm: float = 0.0
) -> PlateDrawing | None:
    """A plate as it is written; None for one with nothing in it.

    Parameters: kerf_mm, the width of the cut: outlines are grown by half of it and holes shrunk.
    """
    if told.bounds_mm is None:
        return None
    outlines = told.rings
    if kerf_mm > 0:
        from jovial_tack.core.line_up.plate_shape import grown_rings

        outlines = grown_rings(outlines, kerf_mm / 2)
    holes: list[tuple[float, float, float]] = []
    slots: list[Ring] = []
    crosses: list[tuple[float, float]] = []
    for cut in cuts_of(plate):
        shrunk = replace(cut, width_mm=cut.width_mm - kerf_mm)
        if shrunk.width_mm <= 0:
            raise GeometryError(f"a cut {kerf_mm:g} mm wide leaves nothing of “{cut.id}”")
        if isinstance(shrunk, RoundHole):
            holes.append((shrunk.at.real, shrunk.at.imag, shrunk.width_mm))
        else:
            slots.append(shrunk.ring)
        crosses += [(end.real, end.imag) for end in cut.ends]
    unit = build.display_units
    thick = format_length(plate.thickness_mm, unit, digits=2 if unit == "mm" else 3)
    words = [plate.label, f"{plate.material}, {thick} thick"]
    if kerf_mm > 0:
        words.append(f"outline grown and holes shrunk for a cut {kerf_mm:g} mm wide")
    return PlateDrawing(
        plate.label,
        outlines,
        tuple(slots),
        tuple(holes),
        tuple(crosses),
        _named(build, plate),
        told.bounds_mm,
        tuple(words),
        _checksum(plate, told),
    )


def _named(build: Build, plate: Plate) -> tuple[tuple[float, float, str], ...]:
    """What is written at each cut on paper: how large it is, and what it is for."""
    unit, found = build.display_units, []
    for cut, core in zip(plate.features, cuts_of(plate), strict=True):
        size = format_length(cut.width, unit, digits=2 if unit == "mm" else 3)
        below = core.middle.imag - cut.width / 2
        boss, shaft = boss_of(build, cut), shaft_of_cut(build, cut)
        name = cut.type if shaft is None else build.shaft(shaft).label
        found.append((core.middle.real, below, f"{name if boss is None else boss.label}, {size}"))
    return tuple(found)


def _checksum(plate: Plate, told: PlateResult) -> str:
    """A few letters that tell one state of a plate from another."""
    figures = [
        f"{value:.3f}"
        for _, ring in (*(("", ring) for ring in told.rings), *told.cuts)
        for vertex in ring
        for value in vertex
    ]
    text = "|".join([plate.id, f"{plate.thickness_mm:.3f}", plate.material, *figures])
    return hashlib.sha256(text.encode()).hexdigest()[:8]


def hole_ring(x: float, y: float, diameter: float) -> Ring:
    """A hole as a ring of two half circles."""
    return RoundHole("", diameter, 0.0, complex(x, y)).ring


def curves_of(drawing: PlateDrawing) -> tuple[tuple[complex, Curves], ...]:
    """All that is cut, each a beginning and the curves from there back to it."""
    holes = (hole_ring(*hole) for hole in drawing.holes)
    rings = (*drawing.outlines, *drawing.slots, *holes)
    return tuple((complex(*ring[0][:2]), cubics(ring)) for ring in rings)


def cubics(ring: Ring) -> Curves:
    """A ring from its first vertex on, side by side, as cubic curves: two handles and the end; for a
    straight side both handles lie at its ends. Arcs in pieces of at most 45°, 4·10⁻⁶ of the radius off.
    """
    found: Curves = []
    for start, end in zip(ring, (*ring[1:], ring[0]), strict=True):
        a, b = complex(*start[:2]), complex(*end[:2])
        if start[2] == 0:
            found.append((a, b, b))
            continue
        center, radius, first, turn = arc_of(start, end)
        pieces = max(-int(-abs(turn) // (pi / 4)), 1)
        step = turn / pieces
        handle = 4 / 3 * tan(step / 4)
        for k in range(pieces):
            angles = first + k * step, first + (k + 1) * step
            here, there = (center + radius * _unit(angle) for angle in angles)
            if k == pieces - 1:
                there = b
            away = 1j * radius * handle
            found.append((here + away * _unit(angles[0]), there - away * _unit(angles[1]), there))
    return found


def _unit(angle: float) -> complex:
    return exp(1j * angle)
