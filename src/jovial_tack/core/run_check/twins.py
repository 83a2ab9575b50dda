"""What looks like slip in boost and is none, and what of it a channel of the log rules in or out.

docs/METHOD.md, section 17.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jovial_tack.core.arrays import Bool, Float
from jovial_tack.core.run_check.points import Law, Log, density_ratio, fan_head
from jovial_tack.core.run_check.pull import Twin

_BUILT_SHARE = 0.3  # of the most boost: below it the boost is still building up
_LEAST_SAMPLES = 24
_SURELY = 2.0  # standard deviations
_ELSEWHERE, _NOWHERE = 0.5, 0.35  # shares of a loss from which a place has it, and has none of it
_HANGS_TOGETHER = 2.0  # neighbours that wander together tell so much less than their number
_LEAST_HEAT_K = 6.0
_KNOCK_DEG = 2.0
_LEAN, _LEANER = 0.95, 0.06  # lambda under boost, and its rise within a pull


def bypass_opens(log: Log, onset: float) -> str:
    """Whether the bypass is seen to open where boost begins to be lost; "" where it is not."""
    if log.bypass is None:
        return ""
    early, late = log.bypass[log.rpm < onset], log.bypass[log.rpm >= onset]
    if early.size < 4 or late.size < 4:
        return ""
    moved = abs(float(np.median(late[-max(4, late.size // 2) :]) - np.median(early)))
    rough = 4.0 * float(np.median(np.abs(np.diff(log.bypass)))) + 2.0
    if moved <= rough:
        return ""
    return f"the bypass moves from about {onset:.0f} rpm on, where boost is lost: that is no slip"


def twins_of(log: Log, onset_rpm: float, lost: float, law: Law = "fan") -> tuple[Twin, ...]:
    """What else would look like slip in a log's boost, and what of it its channels rule in or out.

    Parameters: one pull of a log, without the part in which its throttle closes; where boost begins to
    be lost, rpm; the share of the blower's speed that seems lost at the top, as boost shows it; the
    blower's law. METHOD 17.
    """
    look = _Looked(log, onset_rpm, lost, law)
    after = look.between(log.after_blower_kpa, log.boost_kpa)
    at_throttle = look.between(log.before_throttle_kpa, log.boost_kpa)
    before = None if log.before_blower_kpa is None else look.by_inlet(log.before_blower_kpa)
    # what is lost between the blower and the manifold is not lost across the throttle alone
    throttle = at_throttle if at_throttle is not None else (after if after is False else None)
    choke = look.choked()
    late = log.rpm > onset_rpm
    warmer = None if log.intake_c is None or late.sum() <= 4 else float(np.ptp(log.intake_c[late]))
    return (
        Twin(
            "throttle",
            "a throttle that closes",
            "throttle",
            log.throttle is not None or throttle is False,
            throttle is True,
        ),
        Twin("valve", "a valve that lifts", "bypass", log.bypass is not None),
        Twin(
            "filter",
            "a restriction before the blower",
            "before_blower",
            before is False,
            before is True,
        ),
        Twin(
            "restriction",
            "a restriction after the blower",
            "after_blower",
            after is False,
            after is True and throttle is not True,
        ),
        Twin("choke", "a blower past its flow", "discharge", choke is False, choke is True),
        Twin("heat", "heat", "intake", warmer is not None and warmer < _LEAST_HEAT_K),
    )


class _Looked:
    """A pull seen beside a loss that sets in at an onset: where along the air's way it comes about."""

    def __init__(self, log: Log, onset_rpm: float, lost: float, law: Law) -> None:
        self._log, self._law = log, law
        self._built = log.boost_kpa > _BUILT_SHARE * float(np.max(log.boost_kpa, initial=0.0))
        top = max(float(log.rpm.max()), onset_rpm + 1.0)
        self._ramp = np.maximum(log.rpm - onset_rpm, 0.0) / (top - onset_rpm)
        self._depth = -np.log1p(-min(max(lost, 1e-3), 0.5))

    def between(self, here_kpa: Float | None, there_kpa: Float) -> bool | None:
        """Whether the loss comes about between two places: True, False, or None: cannot be told."""
        if here_kpa is None:
            return None
        air = self._log.air_kpa
        return self._grown(self._speed(here_kpa / air), self._speed(there_kpa / air))

    def by_inlet(self, inlet_kpa: Float) -> bool | None:
        """Whether the loss comes about ahead of the blower, whose inlet is at inlet_kpa."""
        log = self._log
        out = log.boost_kpa if log.after_blower_kpa is None else log.after_blower_kpa
        own = (out - inlet_kpa) / np.maximum(log.air_kpa + inlet_kpa, 1.0)
        return self._grown(self._speed(own), self._speed(out / log.air_kpa))

    def choked(self) -> bool | None:
        """Whether the blower presses hotter where boost is lost, as one past its flow does; one that
        turns slower presses cooler. By what it heats the air, with a sensor that is behind.
        """
        log = self._log
        if log.discharge_c is None or self._law == "displacement":
            return None
        turns = log.rpm / log.rpm.max()
        # heat grows with the square of the speed; a late sensor adds a part along the speed
        columns = np.stack([np.ones_like(turns), turns, turns**2, self._ramp], axis=1)
        found = _fitted(columns, log.discharge_c, self._built)
        if found is None:
            return None
        (_, along, square, grown), sd = found
        heats = float(along + square)
        if heats <= 0:
            return None
        slipped = 2.0 * self._depth * heats  # by so much cooler would a slipping one be
        if grown - _SURELY * sd > 0:
            return True
        return False if -grown - _SURELY * sd > _ELSEWHERE * slipped else None

    def _speed(self, more: Float) -> Float:
        """ln of apparent blower speed, up to a constant, by pressures over the inlet's, less one."""
        if self._law == "displacement":
            return np.log(np.maximum(density_ratio(more, 1.0), 1e-6))
        return 0.5 * np.log(np.maximum(fan_head(more, 1.0), 1e-6))

    def _grown(self, here: Float, there: Float) -> bool | None:
        """Whether the speed that one place shows outgrows another's from the onset on by the loss."""
        apart = here - there
        along = np.log(self._log.rpm)
        columns = np.stack([np.ones_like(along), along - along.mean(), self._ramp], axis=1)
        found = _fitted(columns, apart, self._built & np.isfinite(apart))
        if found is None:
            return None
        coefficients, sd = found
        return _told(float(coefficients[-1]) / self._depth, sd / self._depth)


def _told(share: float, sd: float) -> bool | None:
    """Whether a place has a loss, by the share of it seen there; None where it may be either."""
    if share - _SURELY * sd > _ELSEWHERE:
        return True
    return False if share + _SURELY * sd < _NOWHERE else None


def _fitted(columns: Float, values: Float, which: Bool) -> tuple[Float, float] | None:
    """Coefficients of columns (N, C) by least squares, and the last one's standard deviation."""
    columns, values = columns[which], values[which]
    if values.size < _LEAST_SAMPLES:
        return None
    found, _, rank, _ = np.linalg.lstsq(columns, values, rcond=None)
    if rank < columns.shape[1]:
        return None
    left = values - columns @ found
    spread = float(np.sqrt(left @ left / (values.size - rank)))
    covariance = np.linalg.inv(columns.T @ columns)
    return np.asarray(found), _HANGS_TOGETHER * spread * float(np.sqrt(covariance[-1, -1]))


def alongside(log: Log) -> str:
    """What else a pull shows that comes before the belt: knock, and a mixture that leans out."""
    said = ""
    middle = float(log.rpm.min() + log.rpm.max()) / 2
    late = log.rpm >= middle
    if late.sum() < 4 or (~late).sum() < 4:
        return said
    if log.knock_deg is not None:
        taken = np.abs(log.knock_deg)  # some write what is taken back as less than nothing
        most = float(np.percentile(taken[late], 90))
        usual = float(np.median(taken[~late]))
        if most > usual + _KNOCK_DEG:
            start = _first_above(log.rpm, taken, (usual + most) / 2)
            said += (
                f"; up to {most:.0f}° of ignition are taken back for knock above {start:.0f} rpm, which"
                " speaks for heat and comes before the belt"
            )
    if log.mixture is not None:
        lean, usual = (
            float(np.percentile(log.mixture[late], 90)),
            float(np.median(log.mixture[~late])),
        )
        if lean > _LEAN and lean > usual + _LEANER:
            start = _first_above(log.rpm, log.mixture, (usual + lean) / 2)
            said += (
                f"; the mixture leans out to lambda {lean:.2f} above {start:.0f} rpm under boost: no"
                " further pull before that is mended"
            )
    return said


def _first_above(rpm: Float, values: Float, bound: float) -> float:
    """The engine speed from which values of a pull stay above a bound for the most part, rpm."""
    order = np.argsort(rpm, kind="stable")
    above = values[order] > bound
    # the place that best parts what is below from what is above
    worth = np.cumsum(np.where(above, -1, 1))
    return float(rpm[order][min(int(np.argmax(worth)) + 1, rpm.size - 1)])


def elsewhere(twins: Sequence[Twin], onset: float) -> str:
    """The sentence of a loss that a channel puts elsewhere than at the blower; "" for none."""
    seen = next((twin for twin in twins if twin.seen), None)
    if seen is None:
        return ""
    proof = {
        "throttle": "the pressure before the throttle does not: it is lost there, not to the belt",
        "filter": "the pressure before the blower falls with it: it is lost in the filter or the inlet,"
        " not to the belt",
        "restriction": "the pressure straight after the blower does not: it is lost between there and"
        " the manifold, not to the belt",
        "choke": "what leaves the blower gets hotter, where slip would leave it cooler: it is driven"
        " past its flow, which is no slip",
    }[seen.name]
    return f"boost falls behind from {onset:.0f} rpm on, but {proof}"


def displacement_words(log: Log, onset: float | None) -> str:
    """Why a displacement blower's boost does not tell its speed, and what would; onset in rpm."""
    seen = "" if onset is None else f"boost falls away from about {onset:.0f} rpm, but "
    needed = "log its speed" if log.bypass is not None else "log its speed, or the bypass"
    return (
        f"{seen}a displacement blower makes nearly the same boost at any speed, so that boost alone"
        f" does not tell how fast it turns: {needed}"
    )


def alike_words(twins: Sequence[Twin]) -> str:
    """What would still look alike: “a valve that lifts, a restriction or heat”; "" for nothing."""
    left = [twin for twin in twins if not twin.ruled_out]
    # the likelier first; a restriction on either side is one thing to say
    left.sort(key=lambda twin: not twin.seen)
    names = {twin.name for twin in left}
    words = [twin.words for twin in left]
    if {"filter", "restriction"} <= names:
        words.remove("a restriction before the blower")
        words[words.index("a restriction after the blower")] = "a restriction"
    if not words:
        return ""
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} or {words[-1]}"
