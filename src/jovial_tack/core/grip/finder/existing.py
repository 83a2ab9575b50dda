"""Whether the paths of many drives exist, asked again only of what moves with the arm (METHOD 3).

The tests are those of `core.drive.path.faults`.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from jovial_tack.core.arrays import TWO_PI, Bool, Complex, Float, cross, dot
from jovial_tack.core.drive.path import TOUCH_MM
from jovial_tack.core.grip.finder.many import Many
from jovial_tack.core.grip.finder.near import Near, Still
from jovial_tack.core.value import Value


class Span(Value, frozen=True, eq=False):
    """A span of J drives: which pulley it leaves, start complex mm, unit direction, length mm (J,)."""

    leaves: int
    start: Complex
    along: Complex
    length: Float


def still_exists(many: Many, still: Still) -> Bool:
    """Whether all that does not move is as a path must be (J,)."""
    count, here = many.pulleys, many.arm_place
    fixed = [place for place in range(count) if place != here]
    good = np.ones(many.count, dtype=np.bool_)
    for k, place in enumerate(fixed):
        for other in fixed[k + 1 :]:
            good &= stand_apart(many, many.centers[place], place, many.centers[other], other)
    spans = [_still_span(many, still, k) for k in fixed if k != many.before]
    for span in spans:
        for place in fixed:
            if place not in (span.leaves, (span.leaves + 1) % count):
                good &= _passes(many, span, many.centers[place], place)
    for first, second in _pairs(spans, spans, count):
        if first.leaves < second.leaves:
            good &= ~_cross(first, second)
    for place in fixed:
        if place not in (many.before, many.after):
            shorter = np.minimum(still.length[place], still.length[place - 1])
            good &= ~_lost(many, place, still.wrap[place], shorter)
    return good


def path_exists(many: Many, still: Still, near: Near) -> Bool:
    """Whether the paths exist with the arms near angles (J,), given that all else does."""
    count, before, here = many.pulleys, many.before, many.arm_place
    center = many.arms.pivot + near.lever
    good = np.isfinite(near.total)
    for place in range(count):
        if place != here:
            good &= stand_apart(many, center, here, many.centers[place], place)
    rho_before, rho_here = many.signed_radii[before], many.signed_radii[here]
    into = Span(before, many.centers[before] - 1j * rho_before * near.into, near.into, near.into_mm)
    out = Span(here, center - 1j * rho_here * near.out, near.out, near.out_mm)
    spans = [_still_span(many, still, k) for k in range(count) if k not in (before, here)]
    for span in (into, out):
        for place in range(count):
            if place not in (span.leaves, (span.leaves + 1) % count):
                good &= _passes(many, span, many.centers[place], place)
    for span in spans:
        good &= _passes(many, span, center, here)
    for one, other in _pairs([into, out], spans, count):
        good &= ~_cross(one, other)
    if count == 2:
        good &= ~_cross(into, out)
    else:
        good &= _reached(many, still, near)
    return np.asarray(good & _closes(many, still, near))


def _reached(many: Many, still: Still, near: Near) -> Bool:
    """Whether the belt reaches the arm's pulley and its neighbours on their sides (J,)."""
    before, here, after = many.before, many.arm_place, many.after
    assert near.wrap_after is not None
    comes, goes = still.length[before - 1], still.length[after]
    lost = _lost(many, before, near.wrap_before, np.minimum(comes, near.into_mm))
    lost |= _lost(many, here, near.wrap_here, np.minimum(near.into_mm, near.out_mm))
    lost |= _lost(many, after, near.wrap_after, np.minimum(near.out_mm, goes))
    return ~lost


def _closes(many: Many, still: Still, near: Near) -> Bool:
    """Whether the belt closes in one turn, the driver's way (J,)."""
    sign = np.sign(many.signed_radii)
    turned = (sign * still.wrap).sum(axis=0)
    turned = turned + sign[many.before] * near.wrap_before
    turned = turned + sign[many.arm_place] * near.wrap_here
    if near.wrap_after is not None:
        turned = turned + sign[many.after] * near.wrap_after
    # not (far): a NaN sum does not close either; a quarter turn is far from any whole one
    return np.asarray(np.abs(turned / TWO_PI - many.driver_sign) < 0.25)


def _pairs(some: list[Span], others: list[Span], count: int) -> Iterator[tuple[Span, Span]]:
    """Pairs of spans that share no pulley."""
    for one in some:
        for other in others:
            if (other.leaves - one.leaves) % count not in (0, 1, count - 1):
                yield one, other


def _still_span(many: Many, still: Still, place: int) -> Span:
    along = still.direction[place]
    start = many.centers[place] - 1j * many.signed_radii[place] * along
    return Span(place, start, along, still.length[place])


def stand_apart(many: Many, here: Complex, place: int, there: Complex, other: int) -> Bool:
    """Whether two pulleys stand clear of one another; a NaN is not clear."""
    reach = np.abs(many.signed_radii[place]) + np.abs(many.signed_radii[other])
    gap = there - here
    return np.asarray(gap.real**2 + gap.imag**2 >= reach**2)


def _passes(many: Many, span: Span, center: Complex, place: int) -> Bool:
    """Whether a span passes a pulley that is not one of its ends; NaN passes."""
    to_center = center - span.start
    # nearest point of the span itself, not of the line it lies on
    nearest = np.minimum(np.maximum(dot(span.along, to_center), 0.0), span.length)
    away = to_center - nearest * span.along
    near = np.maximum(np.abs(many.signed_radii[place]) - TOUCH_MM, 0.0)
    return np.asarray(~(away.real**2 + away.imag**2 < near**2))


def _cross(one: Span, other: Span) -> Bool:
    """Whether two spans cross; NaN does not."""
    u, w, away = one.along * one.length, other.along * other.length, other.start - one.start
    of_first, of_second = cross(u, away), cross(w, away)
    turned = cross(u, w)
    # each span has the ends of the other on both its sides
    first = of_first * (of_first + turned) < 0
    return np.asarray(first & (of_second * (of_second + turned) < 0))


def _lost(many: Many, place: int, wrap: Float, shorter: Float) -> Bool:
    """Whether the belt cannot reach a pulley on its side: its two spans cross before it."""
    with np.errstate(invalid="ignore", over="ignore"):
        meet = np.abs(many.signed_radii[place] * np.tan(wrap / 2))
        return np.asarray((wrap > np.pi) & (shorter > meet))
