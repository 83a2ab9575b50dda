"""The path near the arm: only its two spans and the wraps of three pulleys follow its angle (METHOD 5).

All else of the path stands still and is traced once per drive. What is computed here is what
`core.drive.arm.place_arm` computes, for thousands of drives at a fraction of the work.
"""

from __future__ import annotations

from typing import Any

import numpy as np

from jovial_tack.core.arrays import TWO_PI, Complex, Float, Int, chosen, dot
from jovial_tack.core.grip.finder.many import Many
from jovial_tack.core.value import Value


class Still(Value, frozen=True, eq=False):
    """What of J drives does not move with their arms.

    length, direction (N, J) of the spans, 0 and 1 of those at the arm; wrap (N, J), 0 of the three
    pulleys there; total (J,) of belt along both, mm; enters, leaves (J,) angles, rad, of belt travel
    into the pulley before the arm's and out of the one after it. Of two pulleys nothing stands still.
    """

    length: Float
    direction: Complex
    wrap: Float
    total: Float
    enters: Float
    leaves: Float

    def chosen(self, which: Int) -> Still:
        """That of the chosen drives; of a single one it serves for all."""
        if self.total.size == 1:
            return self
        return Still(
            chosen(self.length, which),
            chosen(self.direction, which),
            chosen(self.wrap, which),
            self.total[which],
            self.enters[which],
            self.leaves[which],
        )


def still_of(many: Many) -> Still:
    """Trace what stands still. METHOD 3."""
    count, here = many.pulleys, many.arm_place
    length = np.zeros(many.signed_radii.shape)
    wrap = np.zeros(many.signed_radii.shape)
    direction = np.ones(many.signed_radii.shape, dtype=np.complex128)
    for k in range(count):
        following = (k + 1) % count
        if here in (k, following):
            continue
        direction[k], length[k] = tangent(
            many.centers[k],
            many.signed_radii[k],
            many.centers[following],
            many.signed_radii[following],
        )
    for k in range(count):
        if k not in (many.before, here, many.after):
            wrap[k] = wrapped(
                many.signed_radii[k], angle_of(direction[k - 1]), angle_of(direction[k])
            )
    total = (length + np.abs(many.signed_radii) * wrap).sum(axis=0)
    enters, leaves = angle_of(direction[many.before - 1]), angle_of(direction[many.after])
    return Still(length, direction, wrap, total, enters, leaves)


def tangent(here: Complex, radius: Float, there: Complex, other: Float) -> tuple[Complex, Float]:
    """Unit direction and length, mm, of the span from one pulley to another, as of `trace`."""
    gap, step = there - here, other - radius
    squared = gap.real**2 + gap.imag**2
    # overlapping pulleys have no tangent: their NaN is found and goes no further
    with np.errstate(invalid="ignore", divide="ignore"):
        length = np.sqrt(squared - step**2)
        along, across = length / squared, step / squared
    # gap·(length − i·step)/squared, in real figures, which is twice as fast
    direction = np.empty(gap.shape, dtype=np.complex128)
    direction.real = gap.real * along + gap.imag * across
    direction.imag = gap.imag * along - gap.real * across
    return direction, length


def angle_of(direction: Complex) -> Float:
    """Angle of a direction of belt travel, rad in (−π, π]."""
    return np.asarray(np.arctan2(direction.imag, direction.real))


def wrapped(signed_radius: Float, entering: Float, leaving: Float) -> Float:
    """Wrap of a pulley between two angles of belt travel, rad in [0, 2π), as of `trace`."""
    wrap = np.sign(signed_radius) * (leaving - entering)
    return np.asarray(wrap - TWO_PI * np.floor(wrap * (1.0 / TWO_PI)))


class Near(Value, frozen=True, eq=False):
    """The path near the arm at angles, all (..., J); lengths mm, directions of unit length.

    into, out: the spans at the arm; wraps of the pulleys before, at and after the arm (of two pulleys
    there is none after); total: the whole path; in_pull, out_pull: d·v; grown: dL/dθ.
    """

    into: Complex
    out: Complex
    into_mm: Float
    out_mm: Float
    wrap_before: Float
    wrap_here: Float
    wrap_after: Float | None
    total: Float
    lever: Complex
    in_pull: Float
    out_pull: Float

    @property
    def grown(self) -> Float:
        """dL/dθ, mm/rad."""
        return self.in_pull - self.out_pull

    def at(self, *which: Int | slice) -> Near:
        """The path at chosen places of the axes."""
        each: list[Any] = [getattr(self, name) for name in self.__struct_fields__]
        chosen: list[Any] = [None if figure is None else figure[which] for figure in each]
        return Near(*chosen)

    def put(self, which: Int, other: Near) -> None:
        """Replace what was found at chosen drives."""
        put(self, which, other)


def put(into: Value, which: Int, other: Value) -> None:
    """Write the arrays of a value into chosen places of another of its kind."""
    for name in into.__struct_fields__:
        target, source = getattr(into, name), getattr(other, name)
        if isinstance(target, Value):
            put(target, which, source)
        elif target is not None:
            target[which] = source


def place_near(many: Many, still: Still, angle: Float, lever: Complex | None = None) -> Near:
    """The path near the arms at angles (..., J). lever: where their pulleys stand from the pivots then,
    complex mm, if that is known.
    """
    before, here, after = many.before, many.arm_place, many.after
    if lever is None:
        lever = many.arms.lever(angle)
    center = many.arms.pivot + lever
    rho_before, rho_here, rho_after = many.signed_radii[[before, here, after]]
    into, into_mm = tangent(many.centers[before], rho_before, center, rho_here)
    out, out_mm = tangent(center, rho_here, many.centers[after], rho_after)
    two = many.pulleys == 2
    comes, goes = angle_of(into), angle_of(out)
    wrap_before = wrapped(rho_before, goes if two else still.enters, comes)
    wrap_here = wrapped(rho_here, comes, goes)
    wrap_after = None if two else wrapped(rho_after, goes, still.leaves)
    total = still.total + into_mm + out_mm
    total = total + np.abs(rho_before) * wrap_before + np.abs(rho_here) * wrap_here
    if wrap_after is not None:
        total = total + np.abs(rho_after) * wrap_after
    return Near(
        into,
        out,
        into_mm,
        out_mm,
        wrap_before,
        wrap_here,
        wrap_after,
        total,
        lever,
        many.arms.pull(lever, into),
        many.arms.pull(lever, out),
    )


class Rates(Value, frozen=True, eq=False):
    """How the path near the arm follows its angle (J,): turning of the two spans, rad per rad, their
    lengths, mm/rad, and the derivatives of their pulls.
    """

    in_rate: Float
    out_rate: Float
    into_mm: Float
    out_mm: Float
    in_pull: Float
    out_pull: Float


def rates_of(many: Many, near: Near) -> Rates:
    """The derivatives of a path near the arm at angles (J,), as of `place_arm` and `residual`."""
    before, here, after = (
        many.signed_radii[place] for place in (many.before, many.arm_place, many.after)
    )
    velocity, bend = many.arms.motion(near.lever)
    in_swing, out_swing = dot(1j * near.into, velocity), dot(1j * near.out, velocity)
    in_rate = in_swing / near.into_mm
    # the arm carries the start of the out span, not its end: it turns that span the other way
    out_rate = -out_swing / near.out_mm
    return Rates(
        in_rate,
        out_rate,
        near.in_pull + (here - before) * in_rate,
        -near.out_pull + (after - here) * out_rate,
        in_swing * in_rate + dot(near.into, bend),
        out_swing * out_rate + dot(near.out, bend),
    )
