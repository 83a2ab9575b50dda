"""Live solves tell what deep ones tell, when asked; V-belts stand on their pitch line; layouts hold."""

from __future__ import annotations

import json
import math

import numpy as np
import pytest

from jovial_tack.answers.belt.order import belts_to_order
from jovial_tack.answers.drive.solve import solve, solve_again
from jovial_tack.answers.lay_out.starts import LAYOUTS
from jovial_tack.answers.results import DriveResult, Readings
from jovial_tack.answers.verdicts import verdicts
from jovial_tack.catalogue import load_catalogue
from jovial_tack.core.value import replace
from jovial_tack.document.edits.routes import set_profile
from jovial_tack.document.edits.shafts import move_shaft
from support import DEMO, built, with_own_loads

CATALOGUE = load_catalogue()
BUILD = built(json.loads(DEMO.read_text("utf-8")))


def test_what_a_live_solve_tells_is_what_the_deep_one_tells() -> None:
    build = move_shaft(BUILD, "crank", 1.5, -2.0)
    deep = solve(build, None, CATALOGUE)
    live = solve_again(build, None, CATALOGUE, None, live=True).results
    for one, other in zip(live.drives, deep.drives, strict=True):
        assert one.spans == other.spans
        for mine, theirs in zip(one.pulleys, other.pulleys, strict=True):
            # where slip begins is looked at more closely once nothing moves any more
            assert replace(mine, slips_rpm=()) == replace(theirs, slips_rpm=())
            assert np.allclose(mine.slips_rpm, theirs.slips_rpm, rtol=0.01)
        assert one.readings.spacers_mm == other.readings.spacers_mm
        assert one.growth_left_mm == other.growth_left_mm
        # the searches are left out: nothing graver than what the deep solve finds
        assert {f.code for f in one.findings} <= {f.code for f in other.findings}
        assert one.rest_path is not None and other.rest_path is not None
        assert (one.rest_path.centers == other.rest_path.centers).all()
        used, low = one.arcs_used  # type: ignore[misc]
        for place, pulley in enumerate(other.pulleys):
            assert used[:, place] == pytest.approx(pulley.arc_used_fraction)
            assert low[:, place] == pytest.approx(pulley.low_arc_used)


def test_what_is_told_is_worked_out_once_and_only_when_asked() -> None:
    asked = []

    def tell() -> Readings:
        asked.append(1)
        return Readings(spacers_mm=(1.0,))

    result = DriveResult("d", (850.0,), tell)
    assert not asked and result.lane(900.0) == 0
    assert result.findings == () and result.spans == () and result.readings.spacers_mm == (1.0,)
    assert asked == [1]


@pytest.mark.parametrize(
    ("profile", "less_mm"), [("SAE 0.380", 1.5), ("SAE 0.440", 1.8), ("SAE 0.500", 2.0)]
)
def test_a_v_belt_runs_on_pitch_diameters_below_the_effective_ones(
    profile: str, less_mm: float
) -> None:
    build = dict(LAYOUTS)["V-belt front, alternator swung"](CATALOGUE)
    for drive in build.drives:
        build = set_profile(build, drive.id, profile, CATALOGUE)
    drive = next(d for d in build.drives if len(d.route) == 2)
    result = solve(build, None, CATALOGUE).drive(drive.id)
    assert result.cord_length_mm is not None and result.path_effective_length_mm is not None
    pitch = {p.id: p.diameter_mm - less_mm for p in drive.pulleys}
    crank, pump = pitch["crank"], pitch["power_steering"]
    found = result.pulley("power_steering")
    assert found is not None and found.speed_ratio == pytest.approx(crank / pump)
    centers = result.rest_path.centers  # type: ignore[union-attr]
    apart = abs(complex(centers[1] - centers[0]))
    # two pulleys: spans and arcs by the textbook formula on pitch diameters
    lean = math.asin((crank - pump) / 2 / apart)
    length = 2 * apart * math.cos(lean) + math.pi * (crank + pump) / 2 + lean * (crank - pump)
    assert result.cord_length_mm == pytest.approx(length, abs=1e-6)
    # the effective line lies outside the cord by half of what the pitch diameter is smaller
    assert result.path_effective_length_mm == pytest.approx(length + math.pi * less_mm)


def test_changing_the_profile_counts_anew_only_between_kinds() -> None:
    ribbed = set_profile(BUILD, "accessory", "PJ", CATALOGUE)
    assert ribbed.drive("accessory").belt.ribs == 7
    single = set_profile(ribbed, "accessory", "SAE 0.440", CATALOGUE)
    assert single.drive("accessory").belt.ribs == 1
    assert single.drive("accessory").belt.stiffness_n_per_rib is None
    assert set_profile(single, "accessory", "PK", CATALOGUE).drive("accessory").belt.ribs == 6
    assert set_profile(BUILD, "accessory", "PK", CATALOGUE) is BUILD


@pytest.mark.parametrize(("name", "make"), LAYOUTS)
def test_every_layout_to_start_from_has_a_path_a_stocked_belt_and_holds(
    name: str, make: object
) -> None:
    assert callable(make)
    build = make(CATALOGUE)
    results = solve(build, None, CATALOGUE)
    judged = verdicts(build, results, belts_to_order(build, CATALOGUE), CATALOGUE)
    marks = [verdict.mark for verdict in judged]
    # a usual load is a guess: no alarm, and no green light before the builder's own is typed
    assert marks == ["good", "good", "unknown", "unknown"], (name, judged)
    assert judged[2].sentence == "Nothing slips with usual loads", (name, judged)
    known = with_own_loads(build)
    again = verdicts(known, solve(known, None, CATALOGUE), {}, CATALOGUE)
    assert again[2].mark == "good" and again[2].detail in judged[2].detail
