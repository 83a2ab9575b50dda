"""Accounts of pulls: nothing is lost, more and more is lost from an onset, or a step is lost and stays.

y = ln(apparent blower speed / engine speed) of a pull is a level, drifts that are always allowed, and a
loss. The drifts have priors and are integrated out, so that what they could imitate counts for little;
every loss of a grid over onset, growth and size is then weighed against losing nothing, and the weights
of several pulls are multiplied. docs/METHOD.md, section 17.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property
from math import expm1, sqrt
from typing import Literal

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.value import Value

_ONSETS, _FEW_ONSETS = 120, 30
_FIRST_ONSET, _LAST_ONSET = 0.04, 0.96
_GROWTHS = (1.0, 1.25, 1.5, 1.75, 2.0)  # `Losses.shapes` has them written out
_GROWTH_WEIGHTS = (0.4, 0.2, 0.15, 0.15, 0.1)  # a belt past its grip loses about evenly with speed
_SIZES = np.exp(np.linspace(np.log(0.004), np.log(0.4), 90))
#: Shares of a pull within which a valve opens, from an onset on.
_STEP_WIDTHS = (0.004, 0.03, 0.07)
_FIRST_STEP = 0.1
_USUAL_ONSET = 0.6  # of a pull, for what would have been seen
_STEP_PLATEAU = 0.07  # of the pull at least lies beyond a step, or it could be a growing loss
_HUBER = 2.5
#: Priors of the drifts, one standard deviation of y over the whole pull; of the lag in s.
_LEVEL_SD, _LOG_SD, _SQUARE_SD, _LAG_SD = 30.0, 0.045, 0.045, 0.12
_SETTLING_SD = 0.05  # of y, when the pull begins: what the opening of the throttle leaves behind
_FILLING = 2.0
_CREEP_SD, _SKEW_SD = 0.003, 0.03  # the skew in s
_WAVE_SD = 0.003  # of the slowest wave


Law = Literal["fan", "displacement"]


class Points(Value, frozen=True):
    """Points of a pull over rising speed (P,): y = ln(apparent blower speed / engine speed), its noise.

    boost kPa; climb: rise of engine speed over engine speed, 1/s; settling: what is left of what the
    opening of the throttle began, falling from 1; lever: change of y per kPa of air.
    air_sd_kpa: how well the air's pressure is known; by_speed: y is of the blower's own speed; law: of
    the blower whose boost it is of; air_is_guessed: its pressure is one of many that it may have been.
    """

    rpm: Float
    y: Float
    sigma: Float
    boost: Float
    climb: Float
    settling: Float
    lever: Float
    air_sd_kpa: float = 0.0
    by_speed: bool = False
    law: Law = "fan"
    air_is_guessed: bool = False

    @property
    def share(self) -> Float:
        """Place along the pull, 0 to 1 (P,)."""
        return np.asarray((self.rpm - self.rpm[0]) / (self.rpm[-1] - self.rpm[0]))

    def of_the_day(self) -> Float:
        """What y may do in this pull alone (P, 1 or 2): its level, and the air; one sd a column."""
        columns = [np.full_like(self.y, _LEVEL_SD)]
        if self.air_sd_kpa:
            columns.append(self.air_sd_kpa * self.lever)
        return np.stack(columns, axis=1)

    def of_the_engine(self, low_rpm: float, top_rpm: float) -> Float:
        """What y may do in every pull of this engine without any loss (P, D); one sd a column.

        low_rpm, top_rpm: the range over which a drift of one standard deviation is one.
        """
        share = (self.rpm - low_rpm) / (top_rpm - low_rpm)
        if self.by_speed:
            # a ratio of two speeds drifts with creep, and as one channel is behind the other
            return np.stack([_CREEP_SD * share, _SKEW_SD * self.climb], axis=1)
        # a displacement blower's boost is the engine's filling as well, of which nothing is known
        freely = 1.0 if self.law == "fan" else _FILLING
        in_log = np.log(self.rpm / low_rpm) / np.log(top_rpm / low_rpm)
        squared = (self.rpm**2 - low_rpm**2) / (top_rpm**2 - low_rpm**2)
        columns = [
            freely * _LOG_SD * in_log,
            freely * _SQUARE_SD * squared,
            _LAG_SD * self.climb,
            _SETTLING_SD * self.settling,
            # slow waves, each slower one freer: what no account of a real engine has in it
            *(freely * _WAVE_SD * (2 / k) ** 2 * np.cos(np.pi * k * share) for k in (2, 3, 4)),
        ]
        return np.stack(columns, axis=1)


class Losses(Value, frozen=True):
    """Losses to try: shapes over engine speed (U,), each with every size (K,) at its top.

    onset: rpm from which something is lost; growth: the power it grows with; width: rpm within which it
    is lost whole, instead of growing. prior: ln of the weight each has before the log is seen (U, K).
    """

    onset: Float
    size: Float
    prior: Float
    top_rpm: float
    growth: Float | None = None
    width: Float | None = None

    def shapes(self, rpm: Float) -> Float:
        """The share of its size each shape has lost at speeds (P,): (U, P)."""
        if self.width is not None:
            past = np.maximum(rpm - self.onset[:, None], 0.0)
            return np.minimum(past / self.width[:, None], 1.0)
        # each onset stands there with every growth: quarters of a power are roots of roots
        onset = self.onset[:: len(_GROWTHS)]
        once = np.maximum(rpm - onset[:, None], 0.0) / (self.top_rpm - onset)[:, None]
        half = np.sqrt(once)
        quarter = np.sqrt(half)
        powers = (once, once * quarter, once * half, once * half * quarter, once * once)
        return np.stack(powers, axis=1).reshape(self.onset.size, rpm.size)

    @property
    def depth(self) -> Float:
        """ln of what is left at the top, with a minus (K,): a loss is so deep times its shape."""
        return np.asarray(-np.log1p(-self.size))

    def of(self, rpm: Float, shape: int, size: int) -> Float:
        """ln(1 − loss) of one of them at speeds (P,)."""
        return np.asarray(-self.depth[size] * self.shapes(rpm)[shape])


def growing(low_rpm: float, top_rpm: float, onsets: int = _ONSETS) -> Losses:
    """Losses that grow from an onset anywhere in a range of speeds to their size at its top."""
    share, growth = _pairs(np.linspace(_FIRST_ONSET, _LAST_ONSET, onsets), _GROWTHS)
    weight = np.interp(growth, _GROWTHS, _GROWTH_WEIGHTS)
    prior = np.tile(weight[:, None] / weight.sum() / _SIZES.size, _SIZES.size)
    return Losses(low_rpm + share * (top_rpm - low_rpm), _SIZES, np.log(prior), top_rpm, growth)


def stepping(low_rpm: float, top_rpm: float, onsets: int = _ONSETS) -> Losses:
    """Losses that come within a few per cent of a range of speeds and stay, as when a valve opens."""
    span = top_rpm - low_rpm
    share, width = _pairs(np.linspace(_FIRST_STEP, 1.0 - _STEP_PLATEAU, onsets), _STEP_WIDTHS)
    prior = np.full((share.size, _SIZES.size), -np.log(share.size * _SIZES.size))
    return Losses(low_rpm + share * span, _SIZES, prior, top_rpm, width=width * span)


def _pairs(shares: Float, ways: tuple[float, ...]) -> tuple[Float, Float]:
    return np.repeat(shares, len(ways)), np.tile(np.array(ways), shares.size)


class Account(Value, frozen=True):
    """Pulls of one engine with their drifts weighed in: how well any loss explains what is left.

    rpm, y of all points of all pulls (P,); weight: 1/σ of each, outliers held down; held: by how much
    in all, as a logarithm; taken: the drifts' part of the weighed points (P, D), orthogonal.
    """

    rpm: Float
    y: Float
    weight: Float
    held: float
    taken: Float

    def gain(self, losses: Losses) -> Float:
        """By how much each loss explains the pulls better than none: ln of their likelihoods (U, K)."""
        shapes = losses.shapes(self.rpm) * self.weight
        y = self.y * self.weight
        # what the drifts can imitate of a loss, or explain of y, counts for nothing
        along, own = shapes @ self.taken, y @ self.taken
        fits = shapes @ y - along @ own
        square = np.einsum("up,up->u", shapes, shapes) - (along**2).sum(axis=1)
        # y less a depth times a shape: a parabola over the depth
        return np.asarray(-losses.depth * fits[:, None] - 0.5 * losses.depth**2 * square[:, None])

    def findable(self, deviations: float) -> float:
        """The size at the top from which a loss over the last part of the pulls stands out.

        deviations: how many standard deviations of what noise and drifts leave open it must be away
        from nothing. 1 where nothing would stand out.
        """
        low, top = float(self.rpm.min()), float(self.rpm.max())
        onset = low + _USUAL_ONSET * (top - low)
        shape = np.maximum(self.rpm - onset, 0.0) / (top - onset)
        weighed = shape * self.weight
        along = weighed @ self.taken
        left = float(weighed @ weighed - along @ along)
        apart = sqrt(max(left, 0.0))
        return 1.0 if apart == 0 else -expm1(-deviations / apart)

    @property
    def likely(self) -> float:
        """ln of how likely the pulls are without a loss, up to a constant of their samples."""
        y = self.y * self.weight
        own = y @ self.taken
        # weights held down because nothing fits must not pass for a good fit
        return self.held - 0.5 * float(y @ y - own @ own)

    def level(self, loss: Float) -> Float:
        """y without a loss (P,): what the drifts make of y with ln(1 − loss) taken out."""
        left = (self.y - loss) * self.weight
        return np.asarray(self.taken @ (self.taken.T @ left) / self.weight)


def account_of(pulls: Sequence[Points]) -> Account:
    """The account of pulls, fitted twice: the first time tells outliers, how much rougher than its
    second differences a pull is, and how far its samples hang together.
    """
    account = _account(pulls, [1.0 / points.sigma for points in pulls])
    low, top = _range(pulls)
    most, best = 0.0, np.zeros_like(account.y)
    # a few will do to see by how much a loss explains
    for losses in (growing(low, top, _FEW_ONSETS), stepping(low, top, _FEW_ONSETS)):
        gain = account.gain(losses)
        shape, size = np.unravel_index(int(np.argmax(gain)), gain.shape)
        if gain[shape, size] > most:
            most, best = float(gain[shape, size]), losses.of(account.rpm, int(shape), int(size))
    residual = (account.y - best - account.level(best)) * account.weight
    ends = np.cumsum([points.y.size for points in pulls])[:-1]
    each = np.split(residual, ends)
    return _account(pulls, [_weight(*pair) for pair in zip(pulls, each, strict=True)])


def _range(pulls: Sequence[Points]) -> tuple[float, float]:
    return min(float(p.rpm[0]) for p in pulls), max(float(p.rpm[-1]) for p in pulls)


def _weight(points: Points, residual: Float) -> Float:
    """Weights (P,): outliers held down, and neighbours that hang together counted once."""
    spread = max(1.0, 1.4826 * float(np.median(np.abs(residual))))
    scaled = residual / spread
    huber = np.sqrt(np.minimum(1.0, _HUBER / np.maximum(np.abs(scaled), 1e-9)))
    ends = np.clip(scaled, -_HUBER, _HUBER)
    alike = float((ends[1:] * ends[:-1]).sum() / max(float((ends**2).sum()), 1e-9))
    alike = min(max(alike, 0.0), 0.9)
    independent = (1.0 - alike) / (1.0 + alike)
    return np.asarray(huber / (points.sigma * spread) * np.sqrt(independent))


def _account(pulls: Sequence[Points], weights: Sequence[Float]) -> Account:
    """Weigh the drifts in, each with a prior of one.

    (I + XᵀWX)⁻¹ is taken apart as L⁻ᵀL⁻¹, so that products with a loss have D columns and not P.
    """
    weight = np.concatenate(weights)
    low, top = _range(pulls)
    own = [points.of_the_day() for points in pulls]
    shared = np.concatenate([points.of_the_engine(low, top) for points in pulls])
    columns = np.zeros((weight.size, sum(each.shape[1] for each in own)))
    row = column = 0
    for each in own:
        columns[row : row + each.shape[0], column : column + each.shape[1]] = each
        row, column = row + each.shape[0], column + each.shape[1]
    drifts = np.concatenate([columns, shared], axis=1) * weight[:, None]
    square = np.linalg.cholesky(drifts.T @ drifts + np.eye(drifts.shape[1]))
    sigma = np.concatenate([points.sigma for points in pulls])
    return Account(
        np.concatenate([points.rpm for points in pulls]),
        np.concatenate([points.y for points in pulls]),
        weight,
        float(np.log(weight * sigma).sum()),
        np.linalg.solve(square, drifts.T).T,
    )


class Belief(Value, frozen=True, dict=True):
    """What losses are worth after some pulls. gains: of all pulls together (U, K)."""

    losses: Losses
    gains: Float

    @cached_property
    def _weighed(self) -> tuple[float, Float]:
        value = self.gains + self.losses.prior
        most = float(value.max())
        weights = np.exp(value - most)
        return most + float(np.log(weights.sum())), weights / weights.sum()

    @property
    def evidence(self) -> float:
        """ln of how many times likelier the pulls are with such a loss than without."""
        return self._weighed[0]

    @property
    def weights(self) -> Float:
        """What each loss is worth among all of them (U, K)."""
        return self._weighed[1]

    @property
    def best(self) -> tuple[int, int]:
        """The places of the likeliest loss among shapes and sizes."""
        shape, size = np.unravel_index(int(np.argmax(self.gains)), self.gains.shape)
        return int(shape), int(size)

    def onset_rpm(self, *shares: float) -> list[float]:
        """Speeds below which it sets in with the given chances."""
        return _quantiles(self.losses.onset, self.weights.sum(axis=1), shares)

    def size_at_top(self, *shares: float) -> list[float]:
        """Losses at the top below which it stays with the given chances."""
        return _quantiles(self.losses.size, self.weights.sum(axis=0), shares)


def _quantiles(values: Float, weights: Float, shares: Sequence[float]) -> list[float]:
    order = np.argsort(values, kind="stable")
    rising, below = values[order], np.cumsum(weights[order])
    return np.interp(shares, below, rising).tolist()
