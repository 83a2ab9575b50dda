"""Run check on an engine that breathes: what it claims is there, and what it rules out is not."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Any, Literal, NamedTuple

import numpy as np
import pytest

from jovial_tack.core.run_check.moments import slipping_moments
from jovial_tack.core.run_check.points import Log
from jovial_tack.core.run_check.pull import Pull
from jovial_tack.core.run_check.pulls import find_pulls
from jovial_tack.core.run_check.slip import judge_pulls
from jovial_tack.core.value import replace as value_replace
from roads import Logged, Road, driven, roads, slip_at

Air = Literal["logged", "absolute", "gauge"]
_STANDARD = 101.325


def log_of(logged: Sequence[Logged], air: Air = "logged", *, throttle: bool = True) -> Log:
    """A log of drives of one car. air: logged with an absolute boost, or not at all."""
    road = logged[0].road
    known = road.air_kpa if air == "logged" else _STANDARD
    pressure = np.concatenate([each.map_kpa for each in logged])
    boost = pressure - (road.air_kpa if air == "gauge" else known)
    return Log(
        np.concatenate([each.time_s for each in logged]),
        np.concatenate([each.rpm for each in logged]),
        boost,
        throttle=np.concatenate([each.throttle for each in logged]) if throttle else None,
        air_kpa=known,
        air_sd_kpa=0.4 if air == "logged" else 8.0,
        is_absolute=air != "gauge",
        bypass=None,
    )


class Seen(NamedTuple):
    """What was told of a road, and the loss that was there at the top of what was looked at."""

    kind: str
    road: Road
    answer: Pull
    lost: float


def seen(
    count: int, *, slipping: bool, air: Air = "logged", air_kpa: float | None = None
) -> Iterator[Seen]:
    for kind, road in roads(count, slipping):
        driven_in = road if air_kpa is None else replace(road, air_kpa=air_kpa)
        log = log_of([driven(driven_in)], air)
        answer = judge_pulls(log, find_pulls(log)).answer
        if answer is not None:
            top = road.taper[0] if road.taper else road.high
            yield Seen(kind, road, answer, float(slip_at(road, np.array([top]))[0]))


def share(flags: Sequence[bool]) -> float:
    return sum(flags) / len(flags)


@pytest.fixture(scope="module")
def count(request: pytest.FixtureRequest) -> int:
    return int(request.config.getoption("--roads"))


def test_slip_is_found_where_it_is_and_claims_are_true(count: int) -> None:
    clean = list(seen(count, slipping=False))
    assert share([each.answer.slip is True for each in clean]) <= 0.01
    assert share([each.answer.slip is False for each in clean]) >= 0.55
    slips = list(seen(count, slipping=True))
    found = [each for each in slips if each.answer.slip]
    assert share([bool(s.answer.slip) for s in slips if 0.06 <= s.lost < 0.09]) >= 0.85
    assert share([bool(s.answer.slip) for s in slips if s.lost >= 0.09]) >= 0.95
    for each in found:  # by boost alone never more than likely, and what else it may be is told
        assert each.answer.confidence == "likely"
        assert {twin.name for twin in each.answer.twins} == {
            "throttle", "valve", "filter", "restriction", "choke", "heat",
        }  # fmt: skip
        assert "restriction" in each.answer.reason
    held, sized, near = [], [], []
    for each in found:
        assert each.road.slip and each.answer.onset_interval and each.answer.worst_interval
        low, high = each.answer.onset_interval
        held.append(low <= each.road.slip[0] <= high)
        low, high = each.answer.worst_interval
        sized.append(low <= each.lost <= high)
        near.append(abs((each.answer.onset_rpm or 0) - each.road.slip[0]) <= 200)
    assert share(held) >= 0.9
    assert share(sized) >= 0.9
    assert share(near) >= 0.75
    told = [each for each in slips if each.answer.slip is False]
    untrue = [each for each in told if each.lost > (each.answer.would_show or 0)]
    assert len(untrue) <= 0.05 * len(told)
    bands = ((0.03, 0.04), (0.04, 0.06), (0.06, 0.09), (0.09, 0.2))
    by_size = [share([bool(s.answer.slip) for s in slips if a <= s.lost < b]) for a, b in bands]
    print(  # pytest -s --roads 600 shows the figures of docs/METHOD.md
        f"clean {len(clean)}: claimed {share([e.answer.slip is True for e in clean]):.3f}, kept up"
        f" {share([e.answer.slip is False for e in clean]):.3f}; slipping {len(slips)}, found by size"
        f" {np.round(by_size, 2)}, onset in interval {share(held):.3f}, size {share(sized):.3f}, within"
        f" 200 {share(near):.3f}; would have shown untrue {len(untrue)} of {len(told)}"
    )


@pytest.mark.parametrize("air_kpa", [101.0, 82.0])
def test_air_that_nobody_logged_makes_no_claim(count: int, air_kpa: float) -> None:
    clean = list(seen(count // 3, slipping=False, air="absolute", air_kpa=air_kpa))
    assert share([each.answer.slip is True for each in clean]) <= 0.01
    assert not [each for each in clean if each.answer.slip is False]
    assert any("elevation" in each.answer.reason for each in clean)
    # above the air's pressure its own matters little
    gauge = list(seen(count // 3, slipping=False, air="gauge", air_kpa=air_kpa))
    assert share([each.answer.slip is True for each in gauge]) <= 0.01
    assert share([each.answer.slip is False for each in gauge]) > 0.5


@pytest.mark.parametrize(
    "twin", [{"taper": (5300.0, 0.35)}, {"valve": (38.0, 0.5)}, {"bypass": (5200.0, 0.15)}], ids=str
)
def test_what_looks_like_slip_is_never_clear(twin: dict[str, tuple[float, float]]) -> None:
    for seed in range(8):
        log = log_of([driven(Road(seed=seed, **twin))], throttle=False)  # type: ignore[arg-type]
        answer = judge_pulls(log, find_pulls(log)).answer
        assert answer is not None
        assert answer.confidence != "clear"
        assert answer.slip is not False
        named = {twin.name: twin.ruled_out for twin in answer.twins}
        assert not any(named.values())
    if "taper" in twin:  # with its throttle logged the pull ends where it closes
        log = log_of([driven(Road(**twin))])  # type: ignore[arg-type]
        answer = judge_pulls(log, find_pulls(log)).answer
        assert answer is not None and answer.slip is False
        assert "throttle closes" in answer.reason


def test_a_bypass_that_is_seen_to_open_is_no_slip() -> None:
    logged = driven(Road(seed=3, valve=(38.0, 0.5)))
    log = log_of([logged])
    assert "valve" in {twin.name for twin in judge_pulls(log, find_pulls(log)).pulls[0].twins}
    opens = np.where(logged.map_kpa - logged.road.air_kpa > 38, 30.0, 2.0) + logged.bypass - 2.0
    seen_to_open = judge_pulls(replace_channel(log, opens), find_pulls(log)).pulls[0]
    assert seen_to_open.slip is None and "bypass" in seen_to_open.reason
    shut = judge_pulls(replace_channel(log, logged.bypass), find_pulls(log)).pulls[0]
    assert {twin.name: twin.ruled_out for twin in shut.twins}["valve"]


def along_the_way(logged: Logged, *, throttle: bool = True) -> Log:
    """A log with the pressures either side of the blower, and how hot it presses."""
    return with_more(
        log_of([logged], throttle=throttle),
        before_blower_kpa=logged.inlet_kpa,
        after_blower_kpa=logged.outlet_kpa,
        discharge_c=logged.discharge_c,
    )


def test_pressures_and_heat_along_the_way_tell_where_boost_is_lost() -> None:
    elsewhere: dict[str, dict[str, Any]] = {
        "filter": {"clogged": 14.0},
        "restriction": {"valve": (38.0, 0.5)},
        "choke": {"choke": (5300.0, 0.08)},
        "throttle": {"taper": (5300.0, 0.35)},
    }
    for name, kind in {"slip": {"slip": (5400.0, 0.08, 1.2)}, **elsewhere}.items():
        claimed = there = 0
        for _, road in roads(20, slipping=False):
            plain = replace(road, taper=None, restriction=0.0)
            log = along_the_way(driven(replace(plain, **kind)), throttle=name != "throttle")
            if name == "throttle":
                log = with_more(log, before_throttle_kpa=log.after_blower_kpa)
            answer = judge_pulls(log, find_pulls(log)).answer
            assert answer is not None
            claimed += answer.slip is True
            seen = {twin.name for twin in answer.twins if twin.seen}
            there += bool(seen & {name})
            if name == "slip" and answer.slip:  # nothing that a pressure can tell is left open
                left = {twin.name for twin in answer.twins if not twin.ruled_out}
                assert {"valve", "heat"} <= left
        if name == "slip":
            assert claimed >= 18 and there == 0
        else:  # what the channel speaks for is not claimed as slip, and mostly told by its name
            assert claimed <= (12 if name == "choke" else 0), name
            assert there >= {"filter": 2, "choke": 5}.get(name, 10), name


def test_what_comes_before_the_belt_is_told() -> None:
    logged = driven(Road(seed=2))
    late = np.clip((logged.rpm - 5400.0) / 1000.0, 0.0, 1.0)
    log = with_more(log_of([logged]), knock_deg=-5.0 * late, mixture=0.82 + 0.25 * late)
    answer = judge_pulls(log, find_pulls(log)).answer
    assert answer is not None and "5° of ignition" in answer.reason
    # told from half of it on, which is at 5,900 rpm
    told = [float(word) for word in re.findall(r"above (\d+) rpm", answer.reason)]
    assert told and all(abs(rpm - 5900) < 100 for rpm in told)
    assert "lambda 1.0" in answer.reason and "no further pull" in answer.reason
    sound = with_more(log_of([logged]), knock_deg=0 * late, mixture=0.82 + 0.02 * late)
    answer = judge_pulls(sound, find_pulls(sound)).answer
    assert answer is not None and "ignition" not in answer.reason + answer.reason
    assert "lambda" not in answer.reason


def test_the_next_gear_is_another_pull_however_quick_its_change() -> None:
    first, second = driven(Road(seed=1, seconds=4.0)), driven(Road(seed=2, low=5600.0, high=7600.0))
    pulls = [log_of([each]) for each in (first, second)]
    parts = [log.taken(find_pulls(log)[0]) for log in pulls]
    step = 1 / first.road.hertz
    start = float(parts[0].time_s[-1] - parts[1].time_s[0]) + step
    joined = Log(
        np.concatenate([parts[0].time_s, parts[1].time_s + start]),
        np.concatenate([part.rpm for part in parts]),
        np.concatenate([part.boost_kpa for part in parts]),
        gear=np.repeat([3.0, 4.0], [part.rpm.size for part in parts]),
    )
    assert len(find_pulls(joined)) == 2
    by_speed = with_more(
        joined, gear=None, road_speed=joined.rpm / np.where(joined.gear == 3, 60, 42)
    )
    assert len(find_pulls(by_speed)) == 2


def with_more(log: Log, **channels: np.ndarray | None) -> Log:
    """The log with further channels."""
    return value_replace(log, **channels)


def replace_channel(log: Log, bypass: np.ndarray) -> Log:
    return Log(
        log.time_s, log.rpm, log.boost_kpa, None, log.throttle, log.air_kpa, log.air_sd_kpa,
        log.is_absolute, bypass,
    )  # fmt: skip


def test_pulls_of_a_file_are_judged_together() -> None:
    road = Road(slip=(5600.0, 0.07, 1.0), noise=0.02, seconds=4.0)
    every = [driven(replace(road, seed=k), 30.0 * k) for k in range(6)]
    log = log_of(every)
    judged = judge_pulls(log, find_pulls(log))
    assert len(judged.pulls) == 6
    assert judged.answer is not None and judged.answer.slip is True
    alone = [np.ptp(p.onset_interval) for p in judged.pulls if p.onset_interval is not None]
    assert judged.answer.onset_interval is not None
    # six pulls say more than one, though they share what the engine does
    assert np.ptp(judged.answer.onset_interval) < np.mean([*alone, 1e9 if not alone else alone[0]])
    low, high = judged.answer.onset_interval
    assert low <= 5600 <= high and high - low < 900


def test_a_displacement_blower_is_not_judged_by_the_fan_law() -> None:
    for seed in range(6):
        road = Road(seed=seed, displacement=True, slip=(5200.0, 0.12, 1.0) if seed % 2 else None)
        log = log_of([driven(road)])
        answer = judge_pulls(log, find_pulls(log)).answer
        assert answer is not None and answer.slip is None
        assert "displacement" in answer.reason and "speed" in answer.reason
        logged = driven(replace(road, slip=(5200.0, 0.2, 1.0) if seed % 2 else None))
        log = log_of([logged])
        shut = judge_pulls(replace_channel(log, logged.bypass), find_pulls(log)).answer
        assert shut is not None
        assert (shut.slip is True) == bool(seed % 2), shut.reason
        assert shut.confidence != "clear" and shut.slip is not False
        drawn = shut.trace
        assert drawn is not None
        away = np.abs(drawn.expected_kpa - drawn.boost_kpa)[drawn.rpm < 5000]
        assert np.median(away) < 2.0  # drawn by its own law, not by that of a fan


def geared(seed: int, *, slips: bool, skew: float) -> Log:
    """Three gears by the blower's own speed, whose channel is behind by skew, s."""
    dice = np.random.default_rng(seed)
    time = np.arange(0.0, 22.0, 1 / 400)
    rpm = np.interp(
        time, [0, 2, 6, 6.25, 10, 10.3, 15, 22], [1500, 2400, 6800, 4700, 6900, 5200, 6900, 1200]
    )
    ahead = np.zeros_like(time)
    if slips:
        for start in (6.1, 10.1):
            part = (time > start) & (time < start + 0.5)
            ahead[part] = 0.1 * np.sin(np.pi * (time[part] - start) / 0.5)
    blower = 2.05 * rpm * (1 + ahead)
    stamps = np.arange(0.2, 21.8, 0.02)
    return Log(
        stamps,
        np.interp(stamps, time, rpm) + dice.normal(0, 6, stamps.size),
        np.full(stamps.size, 50.0),
        np.interp(stamps - skew, time, blower) + dice.normal(0, 20, stamps.size),
    )


def test_by_blower_speed_the_whole_log_is_looked_at() -> None:
    for seed in range(4):
        for skew in (-0.04, 0.0, 0.04):
            held = geared(seed, slips=False, skew=skew)
            assert slipping_moments(held) == ()
            judged = judge_pulls(held, find_pulls(held))
            assert judged.answer is not None and judged.answer.slip is False
            log = geared(seed, slips=True, skew=skew)
            judged = judge_pulls(log, find_pulls(log))
            assert judged.answer is not None and judged.answer.slip is True
            assert "gear changes" in judged.answer.reason
            assert all(moment.in_gear_change for moment in judged.moments)
            assert {round(moment.from_s) for moment in judged.moments} <= {6, 10}


def test_grip_and_slip_in_turn_are_jerks_and_a_loss_without_end_shows_against_the_build() -> None:
    dice = np.random.default_rng(4)
    time = np.arange(0.0, 12.0, 0.02)
    rpm = np.interp(time, [0, 2, 9, 12], [2400, 2400, 6800, 2000])
    jerks = 0.06 * (np.sin(2 * np.pi * 2.5 * time) > 0.2) * ((time > 6) & (time < 8.6))
    ratio = 2.05 + dice.normal(0, 0.004, time.size)
    log = Log(time, rpm, np.full(time.size, 40.0), blower_rpm=rpm * ratio * (1 - jerks))
    judged = judge_pulls(log, find_pulls(log), 2.05)
    assert judged.answer is not None and judged.answer.slip is True
    assert any(moment.in_jerks and 6 <= moment.from_s <= 8.7 for moment in judged.moments)
    for creeps in (0.0, 0.05):
        log = with_more(log, blower_rpm=rpm * ratio * (1 - creeps))
        answer = judge_pulls(log, find_pulls(log), 2.05).answer
        assert answer is not None
        assert ("1.95 times the crank where the build says 2.05" in answer.reason) == (creeps > 0)


def test_three_hours_of_driving_have_six_pulls() -> None:
    dice = np.random.default_rng(5)
    hertz = 20.0
    time = np.arange(0.0, 3 * 3600.0, 1 / hertz)
    rpm = 2200 + 600 * np.sin(time / 37) + 400 * np.sin(time / 7.3)
    throttle = 14 + 6 * np.sin(time / 11) + dice.normal(0, 0.4, time.size)
    boost = -55 + 12 * np.sin(time / 11) + dice.normal(0, 0.8, time.size)
    for k in range(6):
        pull = driven(Road(seed=k, hertz=hertz), 0.0)
        at = 1500 * (k + 1) * round(hertz)
        part = slice(at, at + pull.time_s.size)
        rpm[part], throttle[part] = pull.rpm, pull.throttle
        boost[part] = pull.map_kpa - pull.road.air_kpa
    log = Log(time, rpm, boost, throttle=throttle)
    assert len(find_pulls(log)) == 6


def test_a_lift_within_a_pull_is_left_out_and_what_follows_counts() -> None:
    for slip in (None, (5600.0, 0.09, 1.0)):
        logged = driven(Road(seed=3, seconds=7.0, slip=slip))
        lifted = (logged.time_s > 4.5) & (logged.time_s < 4.85)
        log = log_of([logged])
        assert log.throttle is not None
        log.boost_kpa[lifted] -= 45.0
        log.throttle[lifted] = 20.0
        (pull,) = judge_pulls(log, find_pulls(log)).pulls
        assert (pull.slip is True) == (slip is not None), pull.reason
        assert "throttle closes" not in pull.reason
