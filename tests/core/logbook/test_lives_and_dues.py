"""Lives, dues and wear against independent calculations."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from jovial_tack.core.logbook.due import Due, add_months, due, due_by_event, read_day
from jovial_tack.core.logbook.lives import Life, poisson_interval, record, survival
from jovial_tack.core.logbook.wear import change_by_cracks, wear

LIVES = st.lists(st.tuples(st.integers(1, 40), st.booleans()), min_size=1, max_size=30)


@given(LIVES)
def test_survival_and_rates_are_those_of_another_library(drawn: list[tuple[int, bool]]) -> None:
    lives = [Life(float(use), failed) for use, failed in drawn]
    held = stats.CensoredData(
        uncensored=[life.use for life in lives if life.failed],
        right=[life.use for life in lives if not life.failed],
    )
    if any(life.failed for life in lives):
        whole = stats.ecdf(held).sf
        for use, share in survival(lives):
            assert share == pytest.approx(float(whole.evaluate(use)), abs=1e-12)
    found = record(lives, running=1)
    total, ended = sum(life.use for life in lives), sum(life.failed for life in lives)
    if ended < 3:
        assert found.rate is None and found.median is None
        return
    assert found.rate == pytest.approx(ended / total)
    low, high = stats.chi2.ppf(0.025, 2 * ended) / 2, stats.chi2.ppf(0.975, 2 * ended + 2) / 2
    assert (found.rate_low, found.rate_high) == pytest.approx((low / total, high / total))
    shares = dict(survival(lives))
    if found.median is None:
        assert min(shares.values()) > 0.5
    else:
        assert shares[found.median] <= 0.5
        assert all(share > 0.5 for use, share in shares.items() if use < found.median)


def test_intervals_of_a_count_hold_from_none_to_thousands() -> None:
    for count in (0, 1, 2, 50, 400, 5000):
        low = stats.chi2.ppf(0.025, 2 * count) / 2 if count else 0.0
        high = stats.chi2.ppf(0.975, 2 * count + 2) / 2
        assert poisson_interval(count) == pytest.approx((low, high), rel=1e-9, abs=1e-9)


@given(st.dates(date(1950, 1, 1), date(2100, 1, 1)), st.integers(1, 300))
def test_months_keep_the_day_or_end_with_the_month(day: date, months: int) -> None:
    later = add_months(day, months)
    assert (later.year * 12 + later.month) - (day.year * 12 + day.month) == months
    tomorrow = later + timedelta(days=1)
    assert later.day == day.day or (later.day < day.day and tomorrow.day == 1)


def judged(**given_: object) -> Due:
    told: dict[str, object] = {
        "limits": {}, "months": None, "then": {}, "now": {}, "since": None, "today": None,
        "per_month": {}, **given_,
    }  # fmt: skip
    return due(**told)  # type: ignore[arg-type]


def test_whichever_comes_first_is_due_and_what_is_not_known_is_never_good() -> None:
    then, now = {"km": 1000.0, "hours": 10.0}, {"km": 9000.0, "hours": 15.0}
    found = judged(
        limits={"km": 10_000.0, "hours": 50.0}, then=then, now=now, per_month={"km": 500.0}
    )
    assert (found.share, found.first, found.state) == (0.8, "km", "watch")
    assert found.left == {"km": 2000.0, "hours": 45.0}
    assert found.days == pytest.approx(2000 / 500 * 30.44)
    # the calendar may be first: of 29 days of a leap year's February 15 are gone
    found = judged(months=1, since=date(2028, 1, 31), today=date(2028, 2, 15))
    assert (found.share, found.days) == (15 / 29, 14.0)
    assert judged(months=1, since=date(2027, 1, 31), today=date(2027, 2, 28)).state == "stop"
    # a use that is not known leaves it open, unless another limit is reached
    found = judged(limits={"km": 100.0, "hours": 50.0}, then={"hours": 1.0}, now=now)
    assert (found.state, found.share) == ("not_determined", None)
    assert judged(limits={"km": 5.0, "hours": 4.0}, then={"hours": 1.0}, now=now).state == "stop"
    assert judged(limits={"km": 5.0}, then={"km": 9.0}, now={"km": 8.0}).state == "not_determined"
    assert judged().state == judged(months=3, since=date(2027, 1, 1)).state == "not_determined"
    assert (due_by_event().state, due_by_event().share) == ("stop", 1.0)
    assert read_day("2027-02-29") is None and read_day("2028-02-29") == date(2028, 2, 29)


def test_wear_is_the_line_through_its_readings_and_told_only_where_it_shows() -> None:
    rng = np.random.default_rng(4)
    uses = [0.0, 5000.0, 9000.0, 14_000.0, 20_000.0]
    depths = [2.0 - 1e-5 * use + rng.normal(0, 0.01) for use in uses]
    found, line = wear(uses, depths, 2.0), stats.linregress(uses, depths)
    assert found is not None and found.per_use == pytest.approx(-line.slope)
    assert found.limit_at == pytest.approx((1.6 - line.intercept) / line.slope)
    assert found.limit_sd is not None and 0 < found.limit_sd < 0.2 * 40_000
    assert found.loss == pytest.approx(1 - (line.intercept + line.slope * 20_000) / 2.0)
    # two readings half a gauge apart tell no wear; one tells how deep it is
    two, one = wear([0.0, 9000.0], [2.0, 1.95], 2.0), wear([100.0], [1.7], 2.0)
    assert two is not None and two.limit_at is None
    assert one is not None and one.per_use is None
    assert one.loss == pytest.approx(0.15) and wear([], [], 2.0) is None
    for told, change in (
        (("old", 3, None), True), (("old", 2, None), False), (("epdm", 0, None), False),
        (("epdm", 1, None), True), ((None, 9, None), False), (("old", 1, True), True),
    ):  # fmt: skip
        assert change_by_cracks(*told)[0] is change
