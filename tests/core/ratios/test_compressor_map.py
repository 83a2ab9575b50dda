"""Compressor maps: margins against plain geometry, corrected flow and speed, texts read and refused."""

from __future__ import annotations

import numpy as np
import pytest

from jovial_tack.core.errors import GeometryError
from jovial_tack.core.ratios.blower import Air, AirEngine, Centrifugal, Compression, charge_at
from jovial_tack.core.ratios.compressor_map import REFERENCE
from jovial_tack.document.edits.curves import read_map

HEAD = "speed_rpm,corrected_flow_kg_s,pressure_ratio,efficiency\n"
ROWS = [
    (20000, 0.05, 1.20, 0.66), (20000, 0.10, 1.18, 0.72), (20000, 0.16, 1.10, 0.60),
    (40000, 0.14, 1.80, 0.70), (40000, 0.26, 1.74, 0.76), (40000, 0.38, 1.40, 0.62),
    (60000, 0.28, 2.80, 0.68), (60000, 0.44, 2.66, 0.74), (60000, 0.56, 2.00, 0.58),
]  # fmt: skip
TEXT = HEAD + "\n".join(",".join(map(str, row)) for row in ROWS) + "\n"


def test_surge_and_choke_are_the_ends_of_the_lines_and_straight_between() -> None:
    chart = read_map(TEXT)
    ratios = np.array([1.20, 1.50, 1.80, 2.80, 1.10, 1.0])
    assert chart.flow_at_surge(ratios) == pytest.approx([0.05, 0.095, 0.14, 0.28, 0.025, 0.0])
    choke = chart.flow_at_choke(np.array([1.10, 1.25, 1.40, 1.70, 2.00, 2.33, 2.66, 2.80]))
    assert choke == pytest.approx([0.16, 0.27, 0.38, 0.47, 0.56, 0.50, 0.44, 0.28])
    assert np.isnan(chart.flow_at_surge(np.array(2.81))) and np.isnan(
        chart.flow_at_choke(np.array(2.9))
    )
    for rpm, flow, ratio, efficiency in ROWS:
        assert chart.efficiency(np.array(flow), np.array(ratio)) == pytest.approx(efficiency), rpm
    # half way between two lines, at half of each one's flows
    between = chart.efficiency(np.array(0.1825), np.array((1.74 + 1.18 - 0.08 / 12) / 2))
    assert between == pytest.approx((0.76 + 0.72 - 0.12 / 12) / 2)
    assert np.isnan(chart.efficiency(np.array(0.05), np.array(2.0)))


def test_the_working_line_is_corrected_to_the_reference_air() -> None:
    chart, engine = read_map(TEXT), AirEngine(4.0, 4, (6000.0,), (0.95,))
    blower = Centrifugal(13000.0, 90.0, REFERENCE, Compression(0.7, 0.93, 0.6))
    rpm = np.array([3000.0, 6000.0])
    level = chart.operating(charge_at(blower, engine, REFERENCE, rpm, 2.1), REFERENCE, 4.0)
    assert level.rpm == pytest.approx(rpm * 2.1 * 4.0)
    assert level.inside.all() and (level.surge_margin > 0).all() and (level.choke_margin > 0).all()
    high = Air(80.0, 10.0)
    charge = charge_at(blower, engine, high, rpm, 2.1)
    there = chart.operating(charge, high, 4.0)
    warm = 283.15 / 298.15
    assert there.rpm == pytest.approx(rpm * 8.4 / warm**0.5)
    assert there.flow == pytest.approx(charge.mass_flow_kg_s * warm**0.5 / (80.0 / 101.325))
    far = chart.operating(charge_at(blower, engine, high, rpm, 3.4), high, 4.0)
    assert list(far.inside) == [True, False]


def test_other_units_and_marks_are_read_and_nonsense_is_told() -> None:
    chart = read_map(TEXT)
    german = "Speed rpm;Flow lb/min;Pressure ratio;Eff %\n" + "\n".join(
        f"{n};{f / 0.45359237 * 60:.8f};{r};{100 * e:.4f}".replace(".", ",") for n, f, r, e in ROWS
    )
    for one, other in zip(chart.lines, read_map(german).lines, strict=True):
        assert other.flow == pytest.approx(one.flow) and other.efficiency == pytest.approx(
            one.efficiency
        )
    assert np.isnan(read_map(TEXT.replace("efficiency", "remark")).lines[0].efficiency).all()
    for wrong, said in (
        ("", "row of heads"),
        (TEXT.replace("pressure_ratio", "p"), "pressure ratio"),
        (HEAD + "20000,0.05,1.2,0.7\n20000,0.1,1.1,0.7\n", "two speed lines"),
        (TEXT.replace("1.8,", "1.1,"), "rise with the speed"),
        (TEXT.replace("0.14,", "x,"), "row 5"),
        (TEXT.replace("0.05,", "-0.05,"), "above 0"),
        (TEXT.replace("0.26,", "0.14,"), "rising order"),
    ):
        with pytest.raises(GeometryError, match=said):
            read_map(wrong)
