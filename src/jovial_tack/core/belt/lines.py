"""The parallel lines of a belt, and lengths measured on them (docs/METHOD.md, section 2).

A closed belt that does not cross itself turns once in all, so two of its lines a distance d apart
differ in length by exactly 2π·d, whatever the layout.
"""

from __future__ import annotations

from math import radians, sin
from typing import TypeVar

from jovial_tack.core.arrays import TWO_PI, Float

F = TypeVar("F", float, Float)


def cord_radius(diameter_mm: F, line_to_cord_mm: F) -> F:
    """Radius of the cord line on a pulley: d/2 + offset.

    Parameters: diameter over which the pulley is named, mm; distance from that line out to the
    cord, mm (effective-to-cord b_e for a ribbed groove, cord-to-back h_b for the belt's back).
    Returns mm. Source: ISO 9981, effective system. METHOD 2.

    >>> cord_radius(165.0, 1.6)
    84.1
    """
    return diameter_mm / 2 + line_to_cord_mm


def effective_length(cord_length_mm: F, effective_to_cord_mm: float) -> F:
    """Effective length of a belt from its cord length: L_e = L − 2π·b_e, mm.

    >>> round(effective_length(1703.443189, 1.6), 6)
    1693.390093
    """
    return cord_length_mm - TWO_PI * effective_to_cord_mm


def cord_length(effective_length_mm: F, effective_to_cord_mm: float) -> F:
    """Cord length of a belt from its effective length: L = L_e + 2π·b_e, mm.

    >>> round(cord_length(1690.0, 1.6), 6)
    1700.053096
    """
    return effective_length_mm + TWO_PI * effective_to_cord_mm


def back_length(cord_length_mm: F, cord_to_back_mm: float) -> F:
    """What a tape laid round the outside of the belt reads: L + 2π·h_b, mm.

    >>> round(back_length(1703.443189, 1.1), 6)
    1710.354693
    """
    return cord_length_mm + TWO_PI * cord_to_back_mm


def belt_to_order(
    path_mm: F,
    tension_n: F,
    reference_tension_n: F,
    stiffness_n: F,
    effective_to_cord_mm: float,
) -> F:
    """Effective length of the belt that fills a cord path at a tension, mm.

    L_e = L/(1 + (T − T_ref)/EA) − 2π·b_e: never the bare path. METHOD 4.

    >>> round(belt_to_order(1040.551069, 700.0, 300.0, 90000.0, 1.6), 4)
    1025.8938
    """
    at_reference = path_mm / (1 + (tension_n - reference_tension_n) / stiffness_n)
    return effective_length(at_reference, effective_to_cord_mm)


def ribbed_seat_offset(first_groove: int, belt_ribs: int, grooves: int, pitch_mm: float) -> float:
    """Distance of the belt's centre from the groove centre of the pulley, mm, along z.

    Grooves are counted from the engine outward; a belt that fills its pulley sits at 0. METHOD 12.

    >>> round(ribbed_seat_offset(2, 7, 8, 3.56), 2)
    1.78
    """
    belt_centre = (first_groove - 1) + (belt_ribs - 1) / 2
    return (belt_centre - (grooves - 1) / 2) * pitch_mm


def tape_round_mm(diameter_mm: float, thick_mm: float) -> float:
    """What a tape of a thickness reads laid round a diameter: its middle lies half of it out, mm.

    >>> round(tape_round_mm(100.0, 0.15), 3)
    314.631
    """
    return TWO_PI / 2 * (diameter_mm + thick_mm)


def diameter_in_tape_mm(reading_mm: float, thick_mm: float) -> float:
    """The diameter a tape was laid round, mm.

    >>> round(diameter_in_tape_mm(tape_round_mm(165.0, 0.15), 0.15), 6)
    165.0
    """
    return reading_mm / (TWO_PI / 2) - thick_mm


def string_sinks_mm(apex_mm: float, angle_deg: float, thick_mm: float) -> float:
    """How far the centre of a string in a groove lies below the effective line, mm.

    Its flanks meet apex_mm below that line at an angle, and it touches both: (d/2)/sin(α/2) above the
    apex. Source: ISO 9981 and 9982, groove checked over a ball. METHOD 13.

    >>> round(string_sinks_mm(4.89, 40.0, 2.5), 3)
    1.235
    """
    return apex_mm - thick_mm / 2 / sin(radians(angle_deg / 2))
