"""A gap felt on the engine corrects the outline; what becomes of it is solved."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from jovial_tack.answers.belt.measured import from_measurement
from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.lay_out.feeler import felt_gap, with_felt_gap
from jovial_tack.catalogue import load_catalogue
from jovial_tack.core.errors import BuildFileError, GeometryError
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.edits.obstacles import add_obstacle, set_obstacle
from support import built

CATALOGUE = load_catalogue()


def test_a_felt_gap_is_the_gap_then(demo_data: dict[str, Any]) -> None:
    build = built(demo_data)
    before = felt_gap(build, "hood", CATALOGUE)
    assert before.rest_mm is not None and before.to_grind_mm is None
    for gap in (before.rest_mm + 4.0, before.rest_mm - 3.0, 2.5):
        corrected = with_felt_gap(build, "hood", gap, CATALOGUE)
        after = felt_gap(corrected, "hood", CATALOGUE)
        assert after.rest_mm == pytest.approx(gap, abs=0.01)
        # a corner or a side has moved, no more
        was, now = (np.array(b.obstacle("hood").outline_mm) for b in (build, corrected))
        assert 1 <= int((np.abs(was - now).max(axis=1) > 1e-9).sum()) <= 2
        if after.to_grind_mm is not None:
            assert after.least_mm == pytest.approx(after.needed_mm - after.to_grind_mm)
    assert felt_gap(corrected, "hood", CATALOGUE).to_grind_mm is not None  # 2.5 of the 10 wanted
    # the gaps told beside it are those of the builds they speak of
    over = min(
        c.gap_mm
        for drive in solve(corrected, None, CATALOGUE).drives
        for c in drive.clearances
        if c.obstacle == "hood"
    )
    assert felt_gap(corrected, "hood", CATALOGUE).travel_mm == pytest.approx(over, abs=1e-6)
    nothing, far = add_obstacle(build, CATALOGUE)
    nothing = set_obstacle(
        nothing, far, outline_mm=((900.0, 900.0), (950.0, 900.0), (900.0, 950.0))
    )
    with pytest.raises(BuildFileError):
        with_felt_gap(nothing, far, 3.0, CATALOGUE)
    with pytest.raises(BuildFileError):  # into the belt: no gap at all
        with_felt_gap(set_obstacle(build, "hood", outline_mm=((-900.0, -900.0), (900.0, -900.0),
                      (900.0, 900.0), (-900.0, 900.0))), "hood", 3.0, CATALOGUE)  # fmt: skip


def test_a_reading_of_a_hemmed_in_arm_is_another_belt(demo_data: dict[str, Any]) -> None:
    build = built(demo_data)
    free = from_measurement(build, "accessory", CATALOGUE, "tape", 1600.0, thick_mm=0.2)
    x, y = build.shaft("arm").center_mm
    for side in (-60.0, 60.0):
        box = (
            (x + side, y - 12),
            (x + side + 20, y - 12),
            (x + side + 20, y + 12),
            (x + side, y + 12),
        )
        hemmed, _ = add_obstacle(build, CATALOGUE, outline=box)
        try:
            found = from_measurement(hemmed, "accessory", CATALOGUE, "tape", 1600.0, thick_mm=0.2)
        except GeometryError:
            continue  # nothing of its window is left
        # the same reading, and what is ordered is the middle of what the arm can still reach
        assert found.expected_mm == free.expected_mm
        assert found.order_mm != pytest.approx(free.order_mm, abs=0.2)
        fitted = set_belt_length(hemmed, "accessory", found.order_mm)
        assert solve(fitted, None, CATALOGUE).drive("accessory").exists
        return
    raise AssertionError("neither box left the arm some of its window")
