"""How taut the belts of many drives are with their arms at given angles (METHOD 5, 7 and 8)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import MM_PER_M, Complex, Float, Int, chosen
from jovial_tack.core.drive.tension import ArcTension, arc_tension, arc_traction
from jovial_tack.core.grip.finder.many import Many
from jovial_tack.core.grip.finder.near import Near, Rates, Still, rates_of
from jovial_tack.core.value import Value


class Loaded(Value, frozen=True, eq=False):
    """J drives in one state: what stands still of them, and the loads. offsets_n (N, J), centrifugal_n
    (J,) as of `Many`; both None at rest.
    """

    many: Many
    still: Still
    offsets_n: Float | None = None
    centrifugal_n: Float | None = None

    def chosen(self, which: Int) -> Loaded:
        """The chosen drives, as often as each is named."""
        count = self.many.count
        if count == 1 or (which.size == count and bool((which == np.arange(count)).all())):
            return self
        many, still = self.many.chosen(which), self.still.chosen(which)
        if self.offsets_n is None or self.centrifugal_n is None:
            return Loaded(many, still)
        return Loaded(many, still, chosen(self.offsets_n, which), self.centrifugal_n[which])


def slack_n(loaded: Loaded, near: Near, angle: Float) -> Float:
    """Base traction from virtual work, N, (..., J). METHOD 5."""
    many, offsets_n = loaded.many, loaded.offsets_n
    push = many.arms.push * many.arms.torque_nmm(angle)
    if offsets_n is None:
        return np.asarray(push / near.grown)
    here, before = offsets_n[many.arm_place], offsets_n[many.before]
    return np.asarray((push + here * near.out_pull - before * near.in_pull) / near.grown)


def mean_n(loaded: Loaded, near: Near, slack: Float) -> Float:
    """Mean total tension over the belt (J,), N: T̄ = (Σ ℓF + Σ arcs)/L + m·v². METHOD 7."""
    many, offsets_n = loaded.many, loaded.offsets_n
    if offsets_n is None or loaded.centrifugal_n is None:
        return slack
    summed = np.zeros(slack.shape)
    for place in range(many.pulleys):
        length, wrap = _of_place(loaded, near, place)
        leaving, entering = slack + offsets_n[place], slack + offsets_n[place - 1]
        radius = np.abs(many.signed_radii[place])
        summed += length * leaving
        summed += arc_traction(entering, leaving, wrap, radius, many.friction[place])
    return np.asarray(summed / near.total + loaded.centrifugal_n)


def cord_wanted(many: Many, path_mm: Float, mean_n: Float) -> Float:
    """The belt that rests where the path and its mean tension are these (..., J): cord length at T_ref,
    mm.
    """
    stretched = 1.0 + (mean_n - many.reference_n) / many.stiffness_n
    # a belt pulled less than nothing shrinks to nothing: none is so long that it would rest here
    return np.asarray(np.where(stretched > 0, path_mm / stretched, np.inf))


class Residual(Value, frozen=True, eq=False):
    """Path less belt at angles (J,), mm, its derivative, mm/rad, and what follows the angle with it:
    the base traction, N, with its derivative, N/rad, and the rates of the path.
    """

    value: Float
    slope: Float
    slack: Float
    slack_slope: Float
    rates: Rates


def residual_of(loaded: Loaded, near: Near, angle: Float, cord_mm: Float) -> Residual:
    """The residual of belts of a cord length (J,), as of `core.drive.adjuster.residual`. METHOD 7."""
    many, offsets_n = loaded.many, loaded.offsets_n
    slack, rates = slack_n(loaded, near, angle), rates_of(many, near)
    slack_slope = _slack_slope(loaded, near, rates, slack)
    share = cord_mm / many.stiffness_n
    if offsets_n is None or loaded.centrifugal_n is None:
        # at rest every traction is the same
        value = near.total - cord_mm - share * (slack - many.reference_n)
        return Residual(value, near.grown - share * slack_slope, slack, slack_slope, rates)
    summed, follows = np.zeros(slack.shape), np.zeros(slack.shape)
    moved = np.zeros(slack.shape)
    for place in range(many.pulleys):
        length, wrap = _of_place(loaded, near, place)
        leaving, entering = slack + offsets_n[place], slack + offsets_n[place - 1]
        radius = np.abs(many.signed_radii[place])
        arc = arc_tension(entering, leaving, wrap, radius, many.friction[place])
        summed += length * leaving + arc.value
        follows += length + arc.by_traction
        moved += _moved(many, rates, place, leaving, arc)
    mean = summed / near.total
    value = near.total - cord_mm - share * (mean + loaded.centrifugal_n - many.reference_n)
    mean_slope = (slack_slope * follows + moved - mean * near.grown) / near.total
    return Residual(value, near.grown - share * mean_slope, slack, slack_slope, rates)


def _moved(many: Many, rates: Rates, place: int, leaving: Float, arc: ArcTension) -> Float | float:
    """How the traction summed along a pulley and the span behind it follows the angle by itself."""
    moved = arc.by_wrap * wrap_rate(many, rates, place)
    if place == many.arm_place:
        return np.asarray(moved + leaving * rates.out_mm)
    if place == many.before:
        return np.asarray(moved + leaving * rates.into_mm)
    return moved


def wrap_rate(many: Many, rates: Rates, place: int) -> Float | float:
    """How the wrap of a pulley follows the angle, rad per rad."""
    sign = np.sign(many.signed_radii[place])
    if place == many.arm_place:
        return np.asarray(sign * (rates.out_rate - rates.in_rate))
    turned: Float | float = 0.0
    # of two pulleys the other one is both before and after the arm's
    if place == many.before:
        turned = sign * rates.in_rate
    if place == many.after:
        turned = turned - sign * rates.out_rate
    return turned


def _slack_slope(loaded: Loaded, near: Near, rates: Rates, slack: Float) -> Float:
    many, offsets_n = loaded.many, loaded.offsets_n
    pushed = -MM_PER_M * many.arms.rate_nm_per_rad
    if offsets_n is not None:
        here, before = offsets_n[many.arm_place], offsets_n[many.before]
        pushed = pushed + here * rates.out_pull - before * rates.in_pull
    curved = rates.in_pull - rates.out_pull
    return np.asarray((pushed - slack * curved) / near.grown)


def _of_place(loaded: Loaded, near: Near, place: int) -> tuple[Float, Float]:
    """Length of the span behind a pulley, mm, and the pulley's wrap, rad (J,)."""
    many, still = loaded.many, loaded.still
    if place == many.before:
        return near.into_mm, near.wrap_before
    if place == many.arm_place:
        return near.out_mm, near.wrap_here
    if place == many.after:
        assert near.wrap_after is not None
        return still.length[place], near.wrap_after
    return still.length[place], still.wrap[place]


def pulled(loaded: Loaded, near: Near, found: Residual, step: Float) -> Float:
    """What a running state does to J drives at the angles moved on by a last small step (J,), rad: the
    base traction, N, then the arc used over the wrap of each pulley, NaN where the belt floats, then
    the load of each hub, N (1 + 2N, J). METHOD 8 and 9.
    """
    many, offsets_n, rates = loaded.many, loaded.offsets_n, found.rates
    assert offsets_n is not None
    slack = found.slack + found.slack_slope * step
    # spans turn with the arm: to first order, which is all the step is known to
    turned = {
        many.before: near.into * (1.0 + 1j * rates.in_rate * step),
        many.arm_place: near.out * (1.0 + 1j * rates.out_rate * step),
    }
    directions = [turned.get(place, loaded.still.direction[place]) for place in range(many.pulleys)]
    count = many.pulleys
    told = np.empty((1 + 2 * count, slack.size))
    told[0] = slack
    for place in range(count):
        leaving, entering = slack + offsets_n[place], slack + offsets_n[place - 1]
        wrap = _of_place(loaded, near, place)[1] + wrap_rate(many, rates, place) * step
        with np.errstate(invalid="ignore", divide="ignore"):
            told[1 + place] = np.abs(np.log(leaving / entering)) / many.friction[place] / wrap
        load = leaving * directions[place] - entering * directions[place - 1]
        told[1 + count + place] = _length(load)
    return told


def _length(vector: Complex) -> Float:
    return np.sqrt(vector.real**2 + vector.imag**2)
