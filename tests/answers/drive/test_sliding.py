"""Shafts on slots and swings: where the belt puts them, against an independent calculation."""

from __future__ import annotations

import math
import random
from typing import Any

import pytest
from scipy.optimize import brentq

from jovial_tack.answers.belt.order import belts_to_order
from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.results import DriveResult, FixedResult, TravelResult
from jovial_tack.catalogue import load_catalogue
from jovial_tack.document.edits.shafts import move_shaft
from slides import CORD, FROM, SLOT, SWING, TO, center_at, plain_length, two_pulleys
from support import built


def solved(data: dict[str, Any]) -> DriveResult:
    return solve(built(data), None, load_catalogue()).drives[0]


def travel_of(result: DriveResult) -> TravelResult:
    assert isinstance(result.tensioner, FixedResult)
    assert result.tensioner.travel is not None
    return result.tensioner.travel


@pytest.mark.parametrize("mount", [SLOT, SWING], ids=["slot", "swing"])
@pytest.mark.parametrize("idler", [False, True])
def test_positions_agree_with_an_independent_calculation(
    mount: dict[str, Any], idler: bool
) -> None:
    rng, found = random.Random(3), 0
    for _ in range(12):
        share = rng.uniform(0.05, 0.95)
        data = two_pulleys(mount, 1.0, idler)
        belt = data["drives"][0]["belt"]
        stiffness = belt["stiffness_n_per_rib"] * belt["ribs"]
        reference = belt["reference_tension_n_per_rib"] * belt["ribs"]
        pull = data["drives"][0]["tensioner"]["installed_tension_n"]
        stretch = 1 + (pull - reference) / stiffness
        try:
            cord = plain_length(data, share) / stretch
        except ValueError:
            continue
        belt["effective_length_mm"] = cord - 2 * math.pi * CORD
        result = solved(data)
        if not result.exists:
            assert any(f.code in ("pulleys_overlap", "no_contact") for f in result.findings)
            continue
        travel = travel_of(result)
        places = [complex(*p) for p in (travel.center_mm, *travel.other_positions_mm)]
        assert min(abs(place - center_at(mount, share)) for place in places) < 0.01
        low, high = share - 1e-3, share + 1e-3
        root = brentq(lambda s: plain_length(data, s) - cord * stretch, low, high)  # noqa: B023
        assert min(abs(place - center_at(mount, root)) for place in places) < 1e-6
        assert result.tensioner is not None
        assert result.tensioner.tension_n == pytest.approx(pull)
        assert result.cord_length_mm == pytest.approx(cord * stretch, abs=1e-6)
        found += 1
    assert found >= 5


def test_where_two_places_exist_the_one_drawn_is_taken_and_the_other_told() -> None:
    # an arc whose path is longest in its middle
    mount = {
        "type": "swing",
        "pivot_mm": [120.0, 0.0],
        "radius_mm": 180.0,
        "from_deg": -80,
        "to_deg": 80,
    }
    data = two_pulleys(mount, 1.0)
    belt = data["drives"][0]["belt"]
    at = plain_length(data, 0.3)
    pull = data["drives"][0]["tensioner"]["installed_tension_n"]
    stretch = 1 + (pull - belt["reference_tension_n_per_rib"] * belt["ribs"]) / (
        belt["stiffness_n_per_rib"] * belt["ribs"]
    )
    belt["effective_length_mm"] = at / stretch - 2 * math.pi * CORD
    driven = next(s for s in data["shafts"] if "mount" in s)
    for share in (0.3, 0.7):
        point = center_at(mount, share)
        driven["center_mm"] = [point.real + 3, point.imag]
        travel = travel_of(solved(data))
        other = center_at(mount, 1 - share)
        assert complex(*travel.center_mm) == pytest.approx(point, abs=0.01)
        assert travel.travel_fraction == pytest.approx(share, abs=1e-4)
        assert [complex(*p) for p in travel.other_positions_mm] == [pytest.approx(other, abs=0.01)]
        whole = math.radians(160) * 180
        assert travel.travel_left_mm == pytest.approx((share * whole, (1 - share) * whole), abs=0.1)


@pytest.mark.parametrize(("length", "code"), [(600.0, "belt_too_short"), (2000.0, "belt_too_long")])
def test_a_belt_that_fits_nowhere_is_told_with_those_that_do(length: float, code: str) -> None:
    result = solved(two_pulleys(SLOT, length))
    assert not result.exists
    (finding,) = [f for f in result.findings if f.level == "stop"]
    assert finding.code == code
    assert "fit on its travel" in finding.message
    assert finding.limit is not None
    mended = solved(two_pulleys(SLOT, finding.limit + (0.01 if length < 1000 else -0.01)))
    assert mended.exists


def test_without_a_length_it_stands_as_drawn_and_calls_for_mid_travel() -> None:
    data = two_pulleys(SLOT, None)
    result = solved(data)
    assert isinstance(result.tensioner, FixedResult)
    assert result.tensioner.travel is None
    called = result.tensioner.called_for_effective_length_mm
    fitted = travel_of(solved(two_pulleys(SLOT, called)))
    assert fitted.travel_fraction == pytest.approx(0.5, abs=1e-6)
    order = belts_to_order(built(data), load_catalogue())[data["drives"][0]["id"]]
    assert order is not None
    assert (
        0.2 < travel_of(solved(two_pulleys(SLOT, order.effective_length_mm))).travel_fraction < 0.8
    )


def test_a_shaft_takes_its_slot_along() -> None:
    build = built(two_pulleys(SLOT, 1040.0))
    shaft = next(s for s in build.shafts if s.mount is not None)
    moved = move_shaft(build, shaft.id, shaft.center_mm[0] + 5, shaft.center_mm[1] - 2)
    mount = moved.shaft(shaft.id).mount
    assert mount.from_mm == (FROM[0] + 5, FROM[1] - 2)  # type: ignore[union-attr]
    assert mount.to_mm == (TO[0] + 5, TO[1] - 2)  # type: ignore[union-attr]


def test_a_screw_tells_the_turns_from_where_it_is_drawn_to_where_the_belt_wants_it() -> None:
    data = two_pulleys(SLOT | {"screw_pitch_mm": 1.5}, None)
    drive = data["drives"][0]
    order = belts_to_order(built(data), load_catalogue())[drive["id"]]
    assert order is not None
    drive["belt"]["effective_length_mm"] = order.effective_length_mm
    shaft = next(s for s in data["shafts"] if s["id"] == drive["tensioner"]["shaft"])
    shaft["center_mm"] = list(FROM)
    travel = travel_of(solved(data))
    moved = abs(complex(*travel.center_mm) - complex(*FROM))
    assert travel.turns_to_go == pytest.approx(moved / 1.5, abs=1e-3)
