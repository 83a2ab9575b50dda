"""Whatever text is read for a curve, a map or a stock list: taken whole, or refused in one sentence."""

from __future__ import annotations

import json
import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st

from jovial_tack.answers.belt.measured import WAYS, from_measurement
from jovial_tack.catalogue import load_catalogue
from jovial_tack.core.errors import JovialTackError
from jovial_tack.core.ratios.compressor_map import CompressorMap, SpeedLine
from jovial_tack.document.edits.curves import read_map, with_curve
from jovial_tack.document.edits.stock import read_stock, write_stock
from jovial_tack.sheets.loads import curve_text, read_curve
from support import DEMO, built

CATALOGUE = load_catalogue()
BUILD = built(json.loads(DEMO.read_text("utf-8")))
CELL = st.one_of(
    st.sampled_from(["rpm", "speed", "flow kg/s", "ratio", "eff", "current_a", "kW", "number"]),
    st.sampled_from(["7PK1835", "5K683", "nan", "inf", "-1", "0", "1e400", "", "½", "1,5", "#"]),
    st.floats(width=32).map(str), st.integers(-10, 99999).map(str), st.text(max_size=6),
)  # fmt: skip
TABLE = st.lists(st.lists(CELL, max_size=5), max_size=8).flatmap(
    lambda rows: st.sampled_from([",", ";", "\t"]).map(
        lambda mark: "\n".join(mark.join(row) for row in rows)
    )
)


def refused_in_words(error: JovialTackError) -> bool:
    return bool(str(error)) and "\n" not in str(error)


@settings(max_examples=300, deadline=None)
@given(text=st.one_of(TABLE, st.text(max_size=200)))
def test_no_text_makes_a_reader_fail(text: str) -> None:
    for shaft in ("alternator", "pump", "blower"):
        try:
            build, what = with_curve(BUILD, shaft, text)
        except JovialTackError as error:
            assert refused_in_words(error)
        else:
            assert what and build != BUILD
    for read in (read_map, read_curve):
        try:
            read(text)
        except JovialTackError as error:
            assert refused_in_words(error)
    try:
        stock = read_stock(text)
    except JovialTackError as error:
        assert refused_in_words(error)
    else:
        assert read_stock(write_stock(stock)) == stock


@settings(max_examples=120, deadline=None)
@example(way="flat", reading=1.79e308, thick=0.0, held=0.0)
@given(
    way=st.sampled_from(list(WAYS)),
    reading=st.floats(allow_nan=True), thick=st.floats(-5, 30), held=st.floats(-720, 720),
)  # fmt: skip
def test_no_measurement_makes_the_bench_fail(
    way: str, reading: float, thick: float, held: float
) -> None:
    for drive in ("accessory", "blower"):
        try:
            found = from_measurement(
                BUILD,
                drive,
                CATALOGUE,
                way,  # type: ignore[arg-type]
                reading,
                thick_mm=thick,
                held_at=held,
            )
        except JovialTackError as error:
            assert refused_in_words(error)
        else:
            assert math.isfinite(found.order_mm) and found.sigma_mm > 0 and found.steps


@given(
    points=st.lists(
        st.tuples(st.integers(1, 20000), st.integers(0, 500)), min_size=2, max_size=9,
        unique_by=lambda point: point[0],
    )
)  # fmt: skip
def test_a_typed_curve_is_read_as_it_is_written(points: list[tuple[int, int]]) -> None:
    rpm, values = zip(*sorted(points), strict=True)
    assert read_curve(curve_text(rpm, values)) == (
        tuple(map(float, rpm)),
        tuple(map(float, values)),
    )


@pytest.mark.slow
@settings(max_examples=60, deadline=None)
@given(seed=st.integers(0, 10_000))
def test_efficiency_between_lines_stays_between_theirs_and_is_exact_on_them(seed: int) -> None:
    rng = np.random.default_rng(seed)
    lines = []
    for k, speed in enumerate(np.sort(rng.uniform(2e4, 8e4, 4)), start=1):
        flow = np.sort(rng.uniform(0.1 * k, 0.1 * k + 0.09, 5)) + np.arange(5) * 1e-4
        ratio = 1.2 + 0.4 * k - np.sort(rng.uniform(0.0, 0.3, 5))
        lines.append(SpeedLine(float(speed), flow, ratio, rng.uniform(0.5, 0.8, 5)))
    chart = CompressorMap(tuple(lines))
    for low, high in pairwise(lines):
        own = (low.flow - low.flow[0]) / np.ptp(low.flow)
        other = (high.flow - high.flow[0]) / np.ptp(high.flow)
        share, t = rng.uniform(0, 1), rng.uniform(0, 1)

        def along(values: np.ndarray, places: np.ndarray, at: float = share) -> float:
            return float(np.interp(at, places, values))

        flow_at = (1 - t) * along(low.flow, own) + t * along(high.flow, other)
        ratio_at = (1 - t) * along(low.ratio, own) + t * along(high.ratio, other)
        eta = (1 - t) * along(low.efficiency, own) + t * along(high.efficiency, other)
        assert float(chart.efficiency(np.array(flow_at), np.array(ratio_at))) == pytest.approx(
            eta, abs=1e-6
        )
        for at in range(5):
            found = chart.efficiency(low.flow[at : at + 1], low.ratio[at : at + 1])
            assert found == pytest.approx(low.efficiency[at : at + 1], abs=1e-6)
