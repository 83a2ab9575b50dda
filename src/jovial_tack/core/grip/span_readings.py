"""How a span tells its tension: push, play and tone (METHOD.md, section 9)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import MM_PER_M, Float


def deflection_force(
    tension_n: Float,
    span_mm: Float,
    deflection_mm: Float,
    span_stiffness_n_per_mm: float | Float,
) -> Float:
    """Force that pushes the middle of a span aside: 4Tδ/L + 8Kδ³/L², N.

    Parameters: total tension N, span mm, push mm, K how stiffly the span's ends give (N/mm): EA/L
    with the ends held, EA/L_belt when the pulleys turn freely. METHOD 9.

    >>> round(float(deflection_force(np.array(700.0), np.array(317.0), np.array(5.0), 30.0)), 2)
    44.46
    """
    return 4 * tension_n * deflection_mm / span_mm + (
        8 * span_stiffness_n_per_mm * deflection_mm**3 / span_mm**2
    )


def twist_torque(tension_n: Float, width_mm: float, span_mm: Float, turn_rad: float) -> Float:
    """Torque that twists the middle of a flat belt's span by a turn: T·w²·θ/(3L), N·m.

    A belt under tension twists as a strip hung on its edges: T·w²/12 for each rad per length, on both
    halves of the span. The belt's own stiffness comes on top. Source: torsion of a strip under tension
    (the bifilar effect). METHOD 9.

    >>> round(float(twist_torque(np.array(480.0), 35.6, np.array(300.0), np.pi / 2)), 2)
    1.06
    """
    return tension_n * width_mm**2 * turn_rad / (3 * span_mm) / MM_PER_M


def twist_tension(torque_nm: Float, width_mm: float, span_mm: Float, turn_rad: float) -> Float:
    """Tension of a flat belt's span whose middle a torque twists by a turn, N: `twist_torque` solved.

    The belt's own stiffness is left out, so that this is the most it can be. METHOD 9.

    >>> round(float(twist_tension(np.array(1.06), 35.6, np.array(300.0), np.pi / 2)), 0)
    479.0
    """
    return torque_nm * MM_PER_M * 3 * span_mm / (width_mm**2 * turn_rad)


def felt_tension(
    push_n: Float, span_mm: Float, play_mm: Float, span_stiffness_n_per_mm: float | Float
) -> Float:
    """Tension of a span that gives play_mm at its middle under push_n, N: `deflection_force` solved.

    Zero or less: the belt's own stretch alone would take more than that push. METHOD 9.

    >>> round(float(felt_tension(np.array(44.46), np.array(317.0), np.array(5.0), 30.0)), 0)
    700.0
    """
    by_stretch = 8 * span_stiffness_n_per_mm * play_mm**3 / span_mm**2
    return (push_n - by_stretch) * span_mm / (4 * play_mm)


def play_under(
    push_n: Float, span_mm: Float, tension_n: Float, span_stiffness_n_per_mm: float | Float
) -> Float:
    """How far the middle of a span gives under push_n, mm: the one real root of δ³ + 3pδ = 2q.

    Tension above zero. METHOD 9.

    >>> round(float(play_under(np.array(44.46), np.array(317.0), np.array(700.0), 30.0)), 2)
    5.0
    """
    p = tension_n * span_mm / (6 * span_stiffness_n_per_mm)
    q = push_n * span_mm**2 / (16 * span_stiffness_n_per_mm)
    return 2 * np.sqrt(p) * np.sinh(np.arcsinh(q / p**1.5) / 3)


def span_tone(tension_n: Float, span_mm: Float, mass_kg_per_m: float) -> Float:
    """Lowest tone of a plucked span at rest: √(T/m)/(2L), Hz. Stretched string. METHOD 9.

    >>> round(float(span_tone(np.array(700.0), np.array(317.0), 0.1032)), 1)
    129.9
    """
    return np.sqrt(tension_n / mass_kg_per_m) / (2 * span_mm / 1000.0)


def tone_tension(tone_hz: Float, span_mm: Float, mass_kg_per_m: float) -> Float:
    """Tension of a span that sounds at its lowest tone at rest, N: `span_tone` solved. METHOD 9.

    >>> round(float(tone_tension(np.array(129.9), np.array(317.0), 0.1032)), 0)
    700.0
    """
    return mass_kg_per_m * (2 * span_mm / 1000.0 * tone_hz) ** 2


def running_tone(
    traction_n: Float, span_mm: Float, mass_kg_per_m: float, speed_mps: Float
) -> Float:
    """Lowest tone of a span of a running belt: F/(2·L·m·c) with c = √(T/m), T = F + m·v², Hz.

    Source: axially moving string. METHOD 9.

    >>> at_rest = running_tone(np.array(700.0), np.array(317.0), 0.1032, np.array(0.0))
    >>> bool(np.isclose(at_rest, span_tone(np.array(700.0), np.array(317.0), 0.1032)))
    True
    """
    # a floating span has no wave: its tone is NaN, and nothing is drawn of it
    with np.errstate(invalid="ignore", divide="ignore"):
        wave = np.sqrt((traction_n + mass_kg_per_m * speed_mps**2) / mass_kg_per_m)
        return traction_n / (2 * span_mm / 1000.0 * mass_kg_per_m * wave)
