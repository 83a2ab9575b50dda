"""Slip from simulated pulls: found where it is, and never where it is not."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from jovial_tack.core.run_check.points import Log
from jovial_tack.core.run_check.pull import Pull
from jovial_tack.core.run_check.pulls import at_equal_revs, find_pulls
from jovial_tack.core.run_check.slip import judge_pull
from jovial_tack.core.value import replace
from pulls import Sim, spread

RATES = (10.0, 20.0, 25.0, 50.0, 100.0)


def log_of(*sims: Sim, throttle: bool = False, blower: bool = False) -> Log:
    table = np.array([row for sim in sims for row in sim.rows])
    return Log(
        table[:, 0], table[:, 1], table[:, 2],
        table[:, 3] if blower else None, table[:, 4] if throttle else None,
    )  # fmt: skip


def judged(sim: Sim, ratio: float | None = None, **channels: bool) -> Pull:
    log = log_of(sim.run(), **channels)
    (stretch,) = find_pulls(log)
    return judge_pull(log, stretch, ratio)


def onset_errors(count: int, **channels: bool) -> list[float]:
    errors = []
    for k in range(count):
        onset, worst = spread(k + 3, 4900, 6350), spread(2 * k + 1, 0.04, 0.12)
        sim = Sim(seed=k, hertz=RATES[k % 5], seconds=spread(k, 4.5, 9.0), slip=(onset, worst, 1.0))
        pull = judged(sim, **channels)
        assert pull.slip is not False
        if pull.onset_rpm is None:
            errors.append(np.inf)
            continue
        assert pull.worst_slip == pytest.approx(worst, abs=0.015)
        errors.append(pull.onset_rpm - onset)
    return errors


@pytest.mark.parametrize("channels", [{}, {"throttle": True}, {"blower": True}], ids=str)
def test_onset_within_200_rpm_in_nine_of_ten(channels: dict[str, bool]) -> None:
    errors = onset_errors(30, **channels)
    assert sum(abs(error) <= 200 for error in errors) >= 27
    assert np.median(errors) == pytest.approx(0, abs=60)


def test_the_interval_holds_the_onset() -> None:
    inside = 0
    for k in range(40):
        onset = spread(k, 5000, 6300)
        pull = judged(Sim(seed=100 + k, hertz=RATES[k % 5], slip=(onset, 0.07, 1.0)))
        assert pull.onset_interval is not None
        inside += pull.onset_interval[0] <= onset <= pull.onset_interval[1]
    assert inside >= 36


DAYS = ((3, 101.325), (4, 84.0))


def share(flags: Any) -> float:
    return float(np.mean(flags))


CLEAN: dict[str, dict[str, Any]] = {
    "clean": {},
    "leak": {"leak": 0.22},
    "bypass": {"bypass": (4700.0, 0.15)},
    "late bypass": {"bypass": (6000.0, 0.1)},
    "taper": {"taper": (5200.0, 0.3)},
    "other law": {"law": "square"},
    "thin air": {"air": 84.0},
    "noise of the full scale": {"of_full_scale": True},
}


@pytest.mark.parametrize("name", CLEAN)
def test_no_slip_is_claimed_where_there_is_none(name: str) -> None:
    for k in range(20):
        sim = Sim(seed=k, hertz=RATES[k % 5], seconds=spread(k, 4.5, 9.0), **CLEAN[name])
        pull = judged(sim, throttle=name == "taper")
        assert pull.slip is not True, pull.reason
        if name in ("clean", "leak", "taper"):
            assert pull.slip is False, pull.reason
        if name == "taper":
            assert "throttle closes" in pull.reason
        if name == "bypass":
            assert pull.slip is None
            assert "one step" in pull.reason


def test_where_the_data_cannot_tell_it_says_why() -> None:
    noisy = judged(Sim(hertz=10, noise=0.3, seed=3))
    assert (noisy.slip, noisy.onset_rpm, noisy.confidence) == (None, None, "cannot tell")
    assert "noisy" in noisy.reason or "leak" in noisy.reason
    bare = judged(Sim(full_boost=3.0))
    assert bare.slip is None
    assert "too little" in bare.reason


def test_a_blower_speed_that_does_not_fit_the_build_is_pointed_out() -> None:
    assert "check pulley sizes" in judged(Sim(), ratio=2.4, blower=True).reason
    assert "check" not in judged(Sim(), ratio=2.05, blower=True).reason


def test_pulls_are_found_one_by_one_and_end_before_the_lift() -> None:
    sims = [Sim(seed=k, hertz=40, seconds=5 + k).run(20.0 * k) for k in range(4)]
    log = log_of(*sims)
    found = find_pulls(log)
    assert len(found) == 4
    for k, stretch in enumerate(found):
        start, end = log.time_s[stretch.start], log.time_s[stretch.stop - 1]
        assert start == pytest.approx(20 * k + 1.5, abs=0.4)
        assert end == pytest.approx(20 * k + 6.5 + k, abs=0.15)
        assert log.boost_kpa[stretch][-3:].min() > 70
    steady = Log(log.time_s, np.full_like(log.rpm, 3000.0), log.boost_kpa)
    assert find_pulls(steady) == []


def test_two_pulls_are_compared_at_equal_revs() -> None:
    before = judged(Sim(seed=1, slip=(6000, 0.08, 1.0), low=2400))
    after = judged(Sim(seed=2, low=2900))
    compared = at_equal_revs(before, after)
    assert compared is not None
    rpm, gained = compared.rpm, compared.more_kpa
    assert rpm[0] > 2880
    assert np.abs(gained[rpm < 5700]).max() < 4
    assert gained[-1] > 10
    assert share(np.abs(gained[rpm < 5700]) <= 3 * compared.sd_kpa[rpm < 5700]) > 0.95
    # the same car on a day of thin air: boost differs, what the blower does to it does not
    logs = [log_of(Sim(seed=k, air=air, full_boost=85.0 * air / 101.325).run()) for k, air in DAYS]
    near, high = (
        judge_pull(replace(log, air_kpa=air), find_pulls(log)[0])
        for log, (_, air) in zip(logs, DAYS, strict=True)
    )
    compared = at_equal_revs(near, high)
    assert compared is not None and np.abs(compared.more_kpa).max() < 4


def test_an_engine_that_stands_in_the_middle_of_a_pull_is_no_error() -> None:
    log = log_of(Sim(seed=2).run())
    (stretch,) = find_pulls(log)
    middle = (stretch.start + stretch.stop) // 2
    log.rpm[middle : middle + 2] = 0.0  # a signal that was lost
    assert judge_pull(log, stretch).slip is not True
