"""How long belts of one's own lasted: what survived, and how often one failed (METHOD 19).

E. L. Kaplan, P. Meier, JASA 53 (1958); F. Garwood, Biometrika 28 (1936), on intervals of a Poisson
mean.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from math import exp, log, sqrt

from jovial_tack.core.value import Value

#: Under so many that ended nothing is told but their list.
LEAST_ENDED = 3
_TAIL = 0.025


class Life(Value, frozen=True):
    """A belt's use, and whether it failed then; else it was taken off, or is still on."""

    use: float
    failed: bool


class Record(Value, frozen=True):
    """What lives of one kind tell. ended: those that failed; total: use of all together; longest: of
    any; median: the use by which half have failed, None where more than half are still whole; rate:
    failures for a unit of use, with its 95 % interval; None under three that ended.
    """

    count: int
    running: int
    ended: int
    total: float
    longest: float
    median: float | None
    rate: float | None
    rate_low: float | None
    rate_high: float | None


def survival(lives: Sequence[Life]) -> tuple[tuple[float, float], ...]:
    """After each use at which one failed, the share that is still whole; steps down, by rising use."""
    share, steps = 1.0, []
    for use in sorted({life.use for life in lives if life.failed}):
        at_risk = sum(life.use >= use for life in lives)
        failed = sum(life.failed and life.use == use for life in lives)
        share *= 1.0 - failed / at_risk
        steps.append((use, share))
    return tuple(steps)


def record(lives: Sequence[Life], running: int = 0) -> Record:
    """What lives tell. running: how many of them are still on."""
    ended = sum(life.failed for life in lives)
    total = sum(life.use for life in lives)
    longest = max((life.use for life in lives), default=0.0)
    if ended < LEAST_ENDED or total <= 0.0:
        return Record(len(lives), running, ended, total, longest, None, None, None, None)
    median = next((use for use, share in survival(lives) if share <= 0.5), None)
    low, high = poisson_interval(ended)
    return Record(
        len(lives), running, ended, total, longest, median,
        ended / total, low / total, high / total,
    )  # fmt: skip


def poisson_interval(count: int) -> tuple[float, float]:
    """The exact 95 % interval of a Poisson mean of which so many were seen."""
    low = 0.0 if count == 0 else _mean_with(lambda mean: 1.0 - _at_most(count - 1, mean), count)
    high = _mean_with(lambda mean: -_at_most(count, mean), count, -_TAIL)
    return low, high


def _at_most(count: int, mean: float) -> float:
    """How likely a Poisson number is at most so many."""
    if mean <= 0.0:
        return 1.0
    term, total, logged = 1.0, 1.0, 0.0
    # terms from the first on, taken out before they run over
    for k in range(1, count + 1):
        term *= mean / k
        total += term
        if total > 1e250:
            logged += log(total)
            term, total = term / total, 1.0
    return float(exp(log(total) + logged - mean))


def _mean_with(tail: Callable[[float], float], count: int, value: float = _TAIL) -> float:
    """The mean at which a tail that grows with it has a value."""
    low, high = 0.0, count + 10.0 * sqrt(count + 1.0) + 10.0
    for _ in range(200):
        middle = (low + high) / 2
        if tail(middle) < value:
            low = middle
        else:
            high = middle
    return (low + high) / 2
