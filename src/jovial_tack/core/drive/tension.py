"""Tension along a running belt and its mean, which sets the belt's stretch (METHOD.md, section 7).

Index k of a traction is the span that leaves pulley k, so pulley k is entered at traction k − 1 and
left at traction k. Traction is total tension less the centrifugal m·v². Of several drives side by side
(see `ring`) a figure of the belt has (..., R) members.
"""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Bool, Complex, Float
from jovial_tack.core.drive.path import Path
from jovial_tack.core.value import Value


def hub_load(path: Path, tractions_n: Float) -> Complex:
    """Force of the belt on each pulley's hub, N, as a plane vector (..., N).

    The vector sum of the two tractions: F_exit along the belt's way out, F_entry back along its way
    in. The centrifugal m·v² loads no bearing. METHOD 9.
    """
    incoming = np.roll(path.direction, 1, axis=-1)
    return np.asarray(tractions_n * path.direction - entry(tractions_n) * incoming)


_SOLVE_STEPS = 80


_TENSION_TOLERANCE_N = 1e-9


class ArcTension(Value, frozen=True):
    """Traction summed along the arcs of contact, N·mm per pulley (..., N), and its partials.

    by_traction: per N added to every span; by_wrap: per rad of wrap.
    """

    value: Float
    by_traction: Float
    by_wrap: Float


class _Arc(Value, frozen=True):
    """What both sums along an arc need (..., N): change of traction, wrap that does not creep, where
    the belt is held (None: everywhere), and where the pulley slips or the belt floats (None: nowhere)
    with the mean that stands for the whole arc there.
    """

    change: Float
    grip_left: Float
    held: Bool | None
    slips: Bool | None
    mean: Float | None


def _arc(entry_n: Float, exit_n: Float, wrap: Float, friction: Float) -> _Arc:
    held = (entry_n > 0) & (exit_n > 0)
    floats = not bool(held.all())
    if floats:
        ratio = np.log(np.where(held, exit_n, 1.0) / np.where(held, entry_n, 1.0))
    else:
        ratio = np.log(exit_n / entry_n)
    change = exit_n - entry_n
    grip_left = wrap - np.abs(ratio) / friction
    # the logarithmic mean is only worked out where it is wanted: most states slip nowhere
    slips, mean = grip_left < 0, None
    if not (floats or slips.any()):
        return _Arc(change, grip_left, None, None, None)
    # for equal ends the logarithmic mean is their value; change is zero then, and so is this
    mean = change / np.where(ratio == 0, 1.0, ratio)
    if floats:
        slips |= ~held
        mean = np.where(held, mean, (entry_n + exit_n) / 2)
    return _Arc(change, grip_left, held if floats else None, slips, mean)


def arc_traction(
    entry_n: Float, exit_n: Float, wrap: Float, radius_mm: Float, friction: Float
) -> Float:
    """Traction along each arc of contact (..., N), N·mm: the value of `arc_tension` alone."""
    return _traction(_arc(entry_n, exit_n, wrap, friction), entry_n, wrap, radius_mm, friction)


def _traction(arc: _Arc, entry_n: Float, wrap: Float, radius_mm: Float, friction: Float) -> Float:
    value = radius_mm * (arc.grip_left * entry_n + np.abs(arc.change) / friction)
    if arc.slips is None or arc.mean is None:
        return value
    return np.where(arc.slips, radius_mm * wrap * arc.mean, value)


def arc_tension(
    entry_n: Float, exit_n: Float, wrap: Float, radius_mm: Float, friction: Float
) -> ArcTension:
    """Traction along each arc of contact: ∫ F r dβ, with partials.

    The belt keeps its entry traction until the creeping arc α = |ln(F_exit/F_entry)|/μ at the
    run-off side, where it changes exponentially: r[(β − α)F_entry + |F_exit − F_entry|/μ].
    Where α exceeds the wrap (the pulley slips) the logarithmic mean stands for the whole arc, and
    where a traction is not positive (the belt floats) the plain mean.

    Parameters: tractions N, wrap rad, cord radius mm, friction; all broadcast to (..., N).
    Source: Euler–Eytelwein with the creep arc of Firbank and Gerbert. METHOD 7.

    >>> arc = arc_tension(np.array([400.0]), np.array([400.0]), np.array([2.0]), np.array([50.0]),
    ...                   np.array([0.45]))
    >>> arc.value.tolist()
    [40000.0]
    """
    arc = _arc(entry_n, exit_n, wrap, friction)
    value = _traction(arc, entry_n, wrap, radius_mm, friction)
    held, slips, mean = arc.held, arc.slips, arc.mean
    # where the belt floats another branch stands for the whole arc: any number that divides will do
    safe_exit = exit_n if held is None else np.where(held, exit_n, 1.0)
    by_wrap = radius_mm * entry_n
    # d(creep)/dF · F_entry = ∓(F_exit − F_entry)/(F_exit·μ), in the sense that lessens the creep
    by_traction = radius_mm * (arc.grip_left + np.abs(arc.change) / (safe_exit * friction))
    if slips is not None and mean is not None:
        # of the logarithmic mean by a traction added to both ends: m²/(F_entry·F_exit)
        product = exit_n * entry_n
        slope = mean**2 / (product if held is None else np.where(held, product, 1.0))
        # a floating arc has the plain mean, which grows by 1 with what is added to both ends
        slope = slope if held is None else np.where(held, slope, 1.0)
        by_traction = np.where(slips, radius_mm * wrap * slope, by_traction)
        by_wrap = np.where(slips, radius_mm * mean, by_wrap)
    return ArcTension(value, by_traction, by_wrap)


def entry(tractions_n: Float) -> Float:
    """Traction of the span that enters each pulley (..., N), N."""
    return np.concatenate([tractions_n[..., -1:], tractions_n[..., :-1]], axis=-1)


def mean_tension(
    path: Path, tractions_n: Float, friction: Float, centrifugal_n: Float
) -> tuple[Float, Float]:
    """Mean of the total tension over the belt's length, and how it follows the base traction.

    T̄ = (Σ ℓ_k F_k + Σ arcs)/L + m v². METHOD 7.

    Parameters: tractions_n (..., N) span tractions; friction (..., N); centrifugal_n (...) m·v², N.
    Returns T̄ (...), N, and dT̄/dF (...) per N added to every span.
    """
    ring, total = path.ring, path.total
    entered = ring.entering(tractions_n)
    arcs = arc_tension(entered, tractions_n, path.wrap, np.abs(path.signed_radii), friction)
    summed = ring.sum(path.length * tractions_n + arcs.value)
    by_traction = ring.sum(path.length + arcs.by_traction)
    return np.asarray(summed / total + centrifugal_n), np.asarray(by_traction / total)


def slack_traction_for_mean(
    path: Path, offsets_n: Float, friction: Float, centrifugal_n: Float, mean_n: Float
) -> Float:
    """Base traction at which the mean total tension has a given value, N.

    The tractions are base + offsets. Used where the path cannot move: locked and stretch drives,
    and an arm on its stop. The mean rises with the base as long as no traction is negative, so the
    root lies between mean − m·v² less the largest and the least offset; the solution with all
    tractions positive is taken where it exists.

    Parameters: offsets_n (..., N); mean_n (...) wanted mean tension. Returns (...). METHOD 7.
    """
    ring, net = path.ring, mean_n - centrifugal_n
    least = ring.least(offsets_n)
    # crossed over: the largest offset bounds the base from below, the least from above
    low, high = net - ring.most(offsets_n), net - least
    floating = 1e-6 - least  # the base at which the slackest span just holds

    def mean_at(base: Float) -> tuple[Float, Float]:
        return mean_tension(path, ring.spread(base) + offsets_n, friction, centrifugal_n)

    # if even the slackest span just held gives too much mean tension, some span must float
    at_floating, _ = mean_at(floating)
    holds = (at_floating < mean_n) & (floating < high)
    # two branches, each with its own bracket: all spans held, or one of them floating
    low = np.where(holds, np.maximum(low, floating), low)
    high = np.where(holds, high, np.minimum(high, np.maximum(floating, low)))
    base = np.where(holds, high, low)
    for _ in range(_SOLVE_STEPS):
        value, slope = mean_at(base)
        miss = value - mean_n
        low, high = np.where(miss < 0, base, low), np.where(miss >= 0, base, high)
        step = base - miss / slope
        # written so that a NaN step fails both tests and is halved
        following = np.where((step >= low) & (step <= high), step, (low + high) / 2)
        change = np.abs(following - base)
        base = following
        # a NaN lane never passes the tolerance, and must not keep the others waiting
        if not (change > _TENSION_TOLERANCE_N).any():
            break
    return np.asarray(base)
