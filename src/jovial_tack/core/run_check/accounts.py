"""Accounts of a pull: level or drifting, losing more and more from an onset, or losing in one step.

Each is a weighted least squares fit of y = ln(apparent blower speed / engine speed); the best of each
kind is compared in `slip`. docs/METHOD.md, section 17.
"""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.value import Value, replace

_ONSETS = 81
_FIRST_ONSET, _LAST_ONSET = 0.10, 0.965
_ONSET_GRID = np.linspace(_FIRST_ONSET, _LAST_ONSET, _ONSETS)
_LEVEL = (("level",),)
_TRENDS = (("level",), ("level", "log"), ("level", "square"), ("level", "log", "square"))
_GROWTHS = (1.0, 1.5, 2.0)
_GROWTH_PENALTIES = (0.0, 3.0, 5.0)
_STEP_WIDTHS = (0.0, 0.025, 0.06)
_STEP_PLATEAU = 0.07
_HUBER = 2.5
_TAIL = 0.025


class Points(Value, frozen=True):
    """Points of a pull over rising speed (P,): y = ln(apparent blower speed / engine speed), its noise.

    boost kPa; weight: samples behind a point.
    """

    rpm: Float
    y: Float
    sigma: Float
    boost: Float

    @property
    def share(self) -> Float:
        """Place along the pull, 0 to 1 (P,)."""
        return np.asarray((self.rpm - self.rpm[0]) / (self.rpm[-1] - self.rpm[0]))


class Fit(Value, frozen=True):
    """One account of a pull: criterion (less is better), residuals (P,), level without the loss (P,),
    and of the loss: onset as a share of the pull, with its 95 % interval, and ln-loss at the top.

    criteria (G,): that of every onset tried.
    """

    criterion: float
    residual: Float
    level: Float
    onset: float = float("nan")
    interval: tuple[float, float] = (float("nan"), float("nan"))
    loss: float = 0.0
    criteria: Float | None = None


def accounts(points: Points, by_speed: bool) -> tuple[Fit, Fit, Fit]:
    """The best account without an onset, with a growing loss, and with a step.

    Fitted twice: the first time tells outliers, how much rougher than its second differences the pull
    is, and how far its samples hang together.
    """
    share = points.share
    turns = points.rpm / points.rpm[-1]
    trends = _LEVEL if by_speed else _TRENDS
    ramps, steps = _losses(share)
    weight, independent = 1.0 / points.sigma, 1.0
    for last in (False, True):
        count = float(np.log(max(points.rpm.size * independent, 8.0)))
        bases = [_Basis.of(points.y, weight, turns, trend) for trend in trends]
        fit = _Fitter(points.y, weight, independent, count)
        without = min((fit.level(basis) for basis in bases), key=lambda f: f.criterion)
        simple = bases[:3]  # a loss beside two drifts at once could imitate anything
        tried = 3 if last else 1  # which way a loss grows matters little for its residuals
        slipping = _averaged(
            [
                found
                for ramp, extra in zip(ramps[:tried], _GROWTH_PENALTIES, strict=False)
                for found in fit.with_loss(simple, _ONSET_GRID, ramp, extra)
            ]
        )
        stepped = min(
            (found for step in steps[:tried] for found in fit.with_loss(simple, *step, 0.0)),
            key=lambda f: f.criterion,
        )
        if not last:
            best = min((without, slipping, stepped), key=lambda f: f.criterion)
            weight, independent = _reweighed(points, best.residual)
    return without, slipping, stepped


def _losses(share: Float) -> tuple[list[Float], list[tuple[Float, Float]]]:
    """Shapes of a loss over the pull, 1 at its top (G, P): growing ones, and steps with onsets."""
    ramp = np.maximum(share - _ONSET_GRID[:, None], 0.0) / (1.0 - _ONSET_GRID[:, None])
    steps = []
    for width in _STEP_WIDTHS:
        onsets = _ONSET_GRID[_ONSET_GRID + width < 1.0 - _STEP_PLATEAU]
        past = share - onsets[:, None]
        steps.append((onsets, (past > 0) * np.clip(past / width, 0, 1) if width else past > 0))
    return [ramp**growth for growth in _GROWTHS], [
        (at, np.asarray(shape, dtype=float)) for at, shape in steps
    ]


def _averaged(fits: list[Fit]) -> Fit:
    """The best of several accounts, its onset weighed over all of them and all onsets.

    Every onset of every account weighs exp(−criterion/2), so that an onset that depends on how the loss
    is taken to grow gets the wider interval it deserves. Source: Schwarz's approximation of evidence.
    """
    best = min(fits, key=lambda f: f.criterion)
    every = np.stack([f.criteria for f in fits if f.criteria is not None])
    weight = np.exp(-0.5 * (every - every.min())).sum(axis=0)
    below = np.cumsum(weight) / weight.sum()
    low = float(_ONSET_GRID[int(np.argmax(below >= _TAIL))])
    high = float(_ONSET_GRID[int(np.argmax(below >= 1.0 - _TAIL))])
    onset = float((weight * _ONSET_GRID).sum() / weight.sum())
    return replace(best, onset=onset, interval=(low, high))


def _reweighed(points: Points, residual: Float) -> tuple[Float, float]:
    """Weights (P,) with outliers held down, and the share of points that count by themselves."""
    spread = max(1.0, 1.4826 * float(np.median(np.abs(residual))))
    scaled = residual / spread
    huber = np.sqrt(np.minimum(1.0, _HUBER / np.maximum(np.abs(scaled), 1e-9)))
    ends = np.clip(scaled, -_HUBER, _HUBER)
    alike = float((ends[1:] * ends[:-1]).sum() / max(float((ends**2).sum()), 1e-9))
    alike = min(max(alike, 0.0), 0.9)
    return huber / (points.sigma * spread), (1.0 - alike) / (1.0 + alike)


class _Basis(Value, frozen=True):
    """Weighed trends made orthonormal (P, t), and what they leave of y (P,)."""

    vectors: Float
    residual: Float

    @staticmethod
    def of(y: Float, weight: Float, turns: Float, trend: tuple[str, ...]) -> _Basis:
        """Level, drift with the logarithm of speed and drift with its square, as far as wanted."""
        columns = {"level": np.ones_like(turns), "log": np.log(turns), "square": turns**2}
        vectors: list[Float] = []
        for name in trend:
            column = columns[name] * weight
            for vector in vectors:
                column = column - (vector @ column) * vector
            vectors.append(column / np.sqrt(column @ column))
        basis, weighed = np.stack(vectors, axis=1), y * weight
        return _Basis(basis, weighed - basis @ (basis.T @ weighed))


class _Fitter(Value, frozen=True):
    """Weighted least squares of y on a few trends, with or without a loss of one of many onsets."""

    y: Float
    weight: Float
    independent: float
    penalty: float

    def level(self, basis: _Basis) -> Fit:
        """Trends only."""
        chi = self.independent * float(basis.residual @ basis.residual)
        level = self.y - basis.residual / self.weight
        return Fit(chi + basis.vectors.shape[1] * self.penalty, basis.residual, level)

    def with_loss(
        self, bases: list[_Basis], onsets: Float, shapes: Float, extra: float
    ) -> list[Fit]:
        """For each basis its trends less a loss k·shape, k ≥ 0, at the best of the onsets (G,).

        shapes (G, P) reach 1 at the top. What a basis leaves of y is at right angles to it, so that
        only sizes and products are needed, not the shapes without their share of the basis.
        """
        weighed = shapes * self.weight
        squares = np.einsum("gp,gp->g", weighed, weighed)
        return [self._with_loss(basis, onsets, weighed, squares, extra) for basis in bases]

    def _with_loss(
        self, basis: _Basis, onsets: Float, weighed: Float, squares: Float, extra: float
    ) -> Fit:
        residual, vectors = basis.residual, basis.vectors
        along = weighed @ vectors
        size = np.maximum(squares - (along**2).sum(axis=-1), 1e-9 * squares + 1e-30)
        loss = np.maximum(-(weighed @ residual) / size, 0.0)
        chi = self.independent * (float(residual @ residual) - loss**2 * size)
        criteria = chi + (vectors.shape[1] + 2) * self.penalty + extra
        best = int(np.argmin(criteria))
        most = float(loss[best])
        left = residual + most * (weighed[best] - vectors @ along[best])
        level = self.y + (most * weighed[best] - left) / self.weight
        onset = float(onsets[best])
        return Fit(float(criteria[best]), left, level, onset, (onset, onset), most, criteria)


def onset_interval(points: Points, fit: Fit) -> tuple[float, float]:
    """The 95 % interval of the onset, rpm; no finer than the points and the onsets tried stand."""
    low, span = float(points.rpm[0]), float(points.rpm[-1] - points.rpm[0])
    tried = (_LAST_ONSET - _FIRST_ONSET) / (_ONSETS - 1)
    half = max(float(np.median(np.diff(points.rpm))), tried * span) / 2
    return low + fit.interval[0] * span - half, low + fit.interval[1] * span + half
