"""Nets of readings: exact ones are found, noise is told as it is, blunders are named, gaps are said."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jovial_tack.core.survey.adjusting import adjust
from jovial_tack.core.survey.doubting import doubt, redundancy_of
from jovial_tack.core.survey.net import Net, Reading, Rows
from jovial_tack.core.survey.next_reading import length_sd, next_reading
from jovial_tack.core.value import replace
from nets import ALL, USUAL_SD, drawn_net, points, reading

SEEDS = st.integers(0, 10_000)


@settings(max_examples=30, deadline=None)
@given(SEEDS)
def test_every_derivative_is_that_of_its_model(seed: int) -> None:
    places, net = drawn_net(seed, kinds=ALL, extra=14, off=20.0)
    belt = Reading(
        "belt", (0, 1, 2), 900.0, 2.0, (80.0, 90.0, 70.0), turns=(1, 1, 1), at=(0j, 3 + 4j, 0j)
    )
    pattern = Reading("pattern", (1, 2, 3), 0.0, 0.2, at=(0j, 50 + 10j, 80 - 40j))
    net = replace(net, readings=(*net.readings, belt, pattern), level_sd=0.01, zeros=(0.5,))
    net = replace(net, readings=(replace(net.readings[0], zero=0), *net.readings[1:]))
    rows = Rows(net)
    x = rows.begin(places + 3.0)
    x[rows.level or 0] = 0.4
    off, by = rows.compute(x)
    for k in range(x.size):
        step = np.zeros_like(x)
        step[k] = 1e-5
        slope = (rows.compute(x + step)[0] - rows.compute(x - step)[0]) / 2e-5
        assert slope == pytest.approx(by[:, k], rel=1e-4, abs=1e-4)
    assert off.size == rows.of.size


@pytest.mark.parametrize("spot", [False, True], ids=["150 mm off", "all at one spot"])
def test_exact_readings_give_the_places_from_anywhere(spot: bool) -> None:
    offered = 0
    for seed in range(20):
        places, net = drawn_net(seed, kinds=ALL, extra=10, spot=spot)
        found = adjust(net)
        assert found.determined.all()
        away = float(np.abs(found.places - places).max())
        if away > 0.01:  # two arrangements fit: then the true one is offered beside it
            away = min((float(np.abs(other - places).max()) for other in found.also), default=1e9)
            offered += 1
        assert away < 0.01, seed
    assert offered <= 8


def test_the_spread_told_is_that_of_many_surveys() -> None:
    places, net = drawn_net(3, kinds=("distance", "dx", "dy", "tangent", "angle"), off=2.0)
    found = adjust(net, places)
    dice, tried = np.random.default_rng(8), []
    for _ in range(700):
        shaken = tuple(replace(r, value=r.value + r.sd * dice.normal()) for r in net.readings)
        tried.append(adjust(replace(net, readings=shaken), places, search=False).places)
    spread = np.std(np.array(tried), axis=0)
    told = np.array(
        [np.hypot(*np.sqrt(np.diag(found.covariance)[2 * k : 2 * k + 2])) for k in range(8)]
    )
    near = np.array([found.ellipses[k].major < 5.0 for k in range(8)])
    assert near.sum() >= 6
    assert told[near] == pytest.approx(spread[near], rel=0.1, abs=1e-9)


def test_a_blunder_is_named_and_a_clean_list_is_left_alone() -> None:
    named = wrong = alarms = tried = 0
    for seed in range(80):
        places, net = drawn_net(1000 + seed, count=7, extra=12, noise=1.0, off=5.0)
        clean = adjust(net, places, search=False)
        alarms += not doubt(clean).is_sound
        dice = np.random.default_rng(seed)
        checked = np.flatnonzero(redundancy_of(clean) >= 0.3)
        if not checked.size:
            continue
        at = int(dice.choice(checked))
        readings = list(net.readings)
        readings[at] = replace(readings[at], value=readings[at].value + 8.0 * dice.choice([-1, 1]))
        off = replace(net, readings=tuple(readings))
        found = doubt(adjust(off, places, search=False))
        tried += 1
        suspects = {k for each in found.doubts for k in (each.reading, *each.alike)}
        named += at in suspects
        wrong += bool(found.doubts) and at not in suspects
        for each in found.doubts:
            if each.reading == at and not each.alike:
                assert abs(each.would_read - net.readings[at].value) < 4 * np.hypot(
                    each.sd, USUAL_SD
                )
    assert tried >= 70
    assert named >= 0.9 * tried
    assert wrong <= 0.05 * tried
    assert alarms <= 0.03 * 80


def test_why_a_reading_may_be_off_is_told_by_the_difference_it_makes() -> None:
    _, net = drawn_net(4, count=6, extra=9, off=3.0)
    rims = dict.fromkeys(range(6), 84.0)
    at = int(np.argmax(redundancy_of(adjust(net))))
    true = net.readings[at].value
    swapped = f"{true:.0f}"
    for more, words in (
        (42.0, "rim"),
        (-84.0, "over the rims"),
        (25.4, "inch"),
        (100.0, "ten cent"),
    ):
        readings = list(net.readings)
        readings[at] = replace(readings[at], value=true + more)
        (only,) = doubt(adjust(replace(net, readings=tuple(readings))), rims).doubts
        assert only.reading == at
        assert any(words in reason for reason in only.reasons), (more, only.reasons)
    exchanged = float(swapped[0] + swapped[2] + swapped[1])
    if abs(exchanged - true) > 8:
        readings[at] = replace(readings[at], value=exchanged)
        (only,) = doubt(adjust(replace(net, readings=tuple(readings))), rims).doubts
        assert "two digits exchanged" in only.reasons


def test_what_no_reading_holds_is_said_and_stays_where_it_is_drawn() -> None:
    places, net = drawn_net(5, count=6, extra=6, off=4.0)
    loose = replace(net, readings=tuple(r for r in net.readings if 5 not in r.points))
    found = adjust(loose)
    assert found.determined.tolist() == [True] * 5 + [False]
    assert found.places[5] == pytest.approx(net.start[5])
    single = replace(
        loose, readings=(*loose.readings, reading("distance", (0, 5), places, np.zeros(6)))
    )
    found = adjust(single)
    assert not found.determined[5] and found.determined[:5].all()
    assert abs(found.places[5]) == pytest.approx(abs(places[5]), abs=1e-6)
    turned = adjust(replace(net, direction=None))
    assert turned.turn_free and turned.determined.all()
    leveled = replace(
        net, direction=None, readings=(*net.readings, reading("dx", (1, 2), places, np.zeros(6)))
    )
    assert not adjust(leveled).turn_free


def test_two_arrangements_that_fit_are_both_offered_and_the_next_reading_parts_them() -> None:
    dice = np.random.default_rng(12)
    places = points(5, dice)
    rims = np.zeros(5)
    # the last hangs on two others: it may stand on either side of their line
    pairs = [(0, 1), (0, 2), (1, 2), (0, 3), (1, 3), (2, 3), (1, 4), (2, 4)]
    readings = tuple(reading("distance", pair, places, rims) for pair in pairs)
    # without a level the whole net could be turned over as well
    readings = (*readings, reading("dy", (0, 2), places, rims), reading("dy", (0, 3), places, rims))
    net = Net(places + 3.0, readings, 0, (0, 1, float(np.angle(places[1]))))
    found = adjust(replace(net, start=np.where(np.arange(5) == 0, 0j, places + 3.0)))
    (other,) = found.also
    axis = (places[2] - places[1]) / abs(places[2] - places[1])
    mirrored = places[1] + axis**2 * (places[4] - places[1]).conjugate()
    assert found.places[4] == pytest.approx(places[4], abs=0.01)
    assert other[4] == pytest.approx(mirrored, abs=0.01)
    ahead = next_reading(found, [], {"distance": 0.7})
    assert ahead is not None and ahead.parts and 4 in ahead.points
    settled = reading("distance", ahead.points, places, rims)
    assert adjust(replace(net, readings=(*readings, settled))).also == ()


def test_what_is_left_out_hides_no_arrangement() -> None:
    """Distances from points in a line leave two sides; the height that told them apart is wrong."""
    places = np.array([0j, 200 + 0j, -150 + 0j, 90 + 0j, 40 + 160j])
    none = np.zeros(5)
    readings = [Reading("at", (k,), 0.0, 0.2, at=(complex(places[k]),)) for k in (1, 2, 3)]
    readings += [reading("distance", (k, 4), places, none) for k in range(4)]
    height = reading("dy", (0, 4), places, none)
    readings.append(replace(height, value=height.value + 4.0))
    net = Net(places + np.array([0, 0, 0, 0, 3 + 2j]), tuple(readings), 0, (0, 1, 0.0))
    adjusted = adjust(net)
    assert adjusted.also == ()
    doubted = doubt(adjusted)
    (only,) = doubted.doubts
    assert only.reading == len(readings) - 1 and not only.alike
    (other,) = doubted.adjusted.also
    assert other[4] == pytest.approx(40 - 160j, abs=0.1)
    assert doubted.adjusted.places[4] == pytest.approx(40 + 160j, abs=0.1)


@settings(max_examples=12, deadline=None)
@given(SEEDS)
def test_the_next_reading_helps_as_much_as_is_said(seed: int) -> None:
    _, net = drawn_net(seed, count=6, extra=3, noise=0.5, off=3.0)
    found = adjust(net)
    dice = np.random.default_rng(seed)
    along = dice.normal(size=12)
    ahead = next_reading(found, [along], {"distance": 0.7, "dx": 1.0})
    if ahead is None:  # none is worth its while where all is known well already
        assert found.determined.all()
        return
    (now,), (then,) = ahead.length_sd_mm
    assert now == pytest.approx(length_sd(found, along))
    more = reading(ahead.kind, ahead.points, found.places, np.zeros(6))
    after = adjust(
        replace(net, readings=(*net.readings, replace(more, sd=ahead.sd))),
        found.places,
        search=False,
    )
    assert length_sd(after, along) == pytest.approx(then, rel=0.02)


def test_a_worn_hook_is_one_offset_of_all_its_readings() -> None:
    places, net = drawn_net(21, count=7, extra=12, off=3.0)
    worn = tuple(
        replace(r, value=r.value + 0.8, zero=0) if k % 2 else r for k, r in enumerate(net.readings)
    )
    plain = adjust(replace(net, readings=tuple(replace(r, zero=None) for r in worn)))
    told = adjust(replace(net, readings=worn, zeros=(1.0,)))
    assert np.abs(told.places - places).max() < 0.5 * np.abs(plain.places - places).max()


def test_a_bound_holds_only_what_it_forbids() -> None:
    places = np.array([0j, 300 + 0j])

    def net(value: float, bound: str) -> Net:
        readings = (
            Reading("distance", (0, 1), 300.0, 2.0),
            Reading("distance", (0, 1), value, 0.1, bound=bound),  # type: ignore[arg-type]
        )
        return Net(places, readings, 0, (0, 1, 0.0))

    for value, bound, apart in (
        (310.0, "most", 300.0),
        (290.0, "most", 290.0),
        (310.0, "least", 310.0),
    ):
        belt = replace(
            net(value, bound).readings[1], kind="round", diameters=(0.001, 0.001), value=2 * value
        )
        found = adjust(replace(net(value, bound), readings=(net(value, bound).readings[0], belt)))
        assert float(abs(found.places[1])) == pytest.approx(apart, abs=0.2)


def test_a_large_net_follows_what_is_typed() -> None:
    _, net = drawn_net(2, count=20, extra=22, noise=1.0, off=3.0)
    assert len(net.readings) >= 59
    found = adjust(net)
    typed = replace(
        net,
        readings=(*net.readings[:-1], replace(net.readings[-1], value=net.readings[-1].value + 1)),
    )
    warm, cold = adjust(typed, found.places, search=False), adjust(typed)
    assert warm.places == pytest.approx(cold.places, abs=1e-4)
