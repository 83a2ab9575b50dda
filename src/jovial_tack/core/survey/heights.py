"""Groove planes by depth and by straightedge, in one adjustment (docs/METHOD.md, section 15)."""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Bool, Float
from jovial_tack.core.value import Value, replace

_HELD = 1e-6
_AS_DRAWN_MM = 1e-3


class Step(Value, frozen=True):
    """A reading of planes: from a face (first None) to a plane, or from one plane to another, mm.

    sd: one standard deviation, mm; more: what rims add, so that value + more is from plane to plane.
    """

    first: int | None
    second: int
    value: float
    sd: float
    more: float = 0.0


class Heights(Value, frozen=True):
    """Planes adjusted. z (P,) mm from the face; covariance (P, P) mm²; known (P,): whether readings tie
    a plane to the face; off (N,): reading less model, mm; redundancy (N,). Where no face was read the
    first plane that was is taken where it is drawn.
    """

    z: Float
    covariance: Float
    known: Bool
    off: Float
    redundancy: Float

    def apart_sd(self, one: int, other: int) -> float:
        """One standard deviation of the distance of two planes, mm."""
        square = (
            self.covariance[one, one]
            + self.covariance[other, other]
            - 2.0 * self.covariance[one, other]
        )
        return float(np.sqrt(max(square, 0.0)))


def adjust_heights(drawn: Float, steps: tuple[Step, ...]) -> Heights:
    """Planes (P,) by readings between them and from the face, least squares.

    Parameters: planes as drawn (P,), mm; the readings. What no reading holds stays as drawn. METHOD 15.

    >>> found = adjust_heights(np.array([0.0, 0.0]), (Step(None, 0, 40.0, 0.5), Step(0, 1, 2.0, 0.15)))
    >>> found.z.round(6).tolist(), round(float(found.covariance[1, 1]) ** 0.5, 3)
    ([40.0, 42.0], 0.522)
    """
    if steps and all(step.first is not None for step in steps):
        # steps tell no height of their own: the first plane stays where it is drawn
        first = steps[0].first
        assert first is not None
        as_drawn = Step(None, first, float(drawn[first]), _AS_DRAWN_MM)
        whole = adjust_heights(drawn, (as_drawn, *steps))
        return replace(whole, off=whole.off[1:], redundancy=whole.redundancy[1:])
    count = drawn.size
    rows, value, weight = np.zeros((len(steps), count)), np.zeros(len(steps)), np.ones(len(steps))
    for k, step in enumerate(steps):
        rows[k, step.second] += 1.0
        if step.first is not None:
            rows[k, step.first] -= 1.0
        value[k], weight[k] = step.value + step.more, 1.0 / step.sd
    weighed = rows * weight[:, None]
    _, held, directions = np.linalg.svd(weighed, full_matrices=True)
    held = np.concatenate([held, np.zeros(count - held.size)])
    known = held > _HELD
    away = weight * (value - rows @ drawn)
    spread = directions[known].T / held[known]
    covariance = spread @ spread.T
    z = drawn + covariance @ weighed.T @ away
    loose = np.abs(directions[~known]).max(axis=0, initial=0.0)
    leverage = ((weighed @ spread) ** 2).sum(axis=1)
    return Heights(
        z,
        covariance,
        loose < 1e-6,
        value - rows @ z,
        np.clip(1.0 - leverage, 0.0, 1.0),
    )
