"""The reference cases, as they stand and turned, moved, mirrored and re-ordered."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jovial_tack.answers.drive.solve import solve
from jovial_tack.catalogue import load_catalogue
from jovial_tack.files.results_json import drive_json
from layouts import OTHER, moved
from support import CASES, built, read_case


def _close(name: str, got: float, wanted: float) -> bool:
    if name.endswith("_mm"):
        return abs(got - wanted) <= 0.01
    if name.endswith("_deg"):
        return abs(got - wanted) <= 0.01
    return math.isclose(got, wanted, rel_tol=2e-3, abs_tol=1e-6)


def mismatches(got: Any, wanted: Any, name: str = "", path: str = "") -> list[str]:
    if isinstance(wanted, dict):
        return [m for k in wanted for m in mismatches(got[k], wanted[k], k, f"{path}.{k}")]
    if isinstance(wanted, list):
        assert len(got) == len(wanted), path
        pairs = enumerate(zip(got, wanted, strict=True))
        return [m for k, (g, w) in pairs for m in mismatches(g, w, name, f"{path}[{k}]")]
    if isinstance(wanted, float | int) and not isinstance(wanted, bool) and got is not None:
        return [] if _close(name, got, wanted) else [f"{path}: {got} is not {wanted}"]
    return [] if got == wanted else [f"{path}: {got} is not {wanted}"]


def _solved(build: dict[str, Any], rpm: list[float]) -> dict[str, Any]:
    return drive_json(solve(built(build), rpm, load_catalogue()).drives[0])


@pytest.mark.parametrize("name", CASES)
def test_case_within_its_tolerances(name: str) -> None:
    case = read_case(name)
    assert mismatches(_solved(case["build"], case["expected"]["rpm"]), case["expected"]) == []


@given(
    name=st.sampled_from(sorted(CASES)),
    turn=st.floats(-400, 400),
    x=st.floats(-2000, 2000),
    y=st.floats(-2000, 2000),
    mirror=st.booleans(),
    first=st.integers(0, 5),
)
@settings(max_examples=60, deadline=None)
def test_place_turn_mirror_and_first_pulley_change_nothing_else(
    name: str, turn: float, x: float, y: float, mirror: bool, first: int
) -> None:
    case = read_case(name)
    wanted = case["expected"]
    build = moved(case["build"], turn, complex(x, y), mirror)
    route = build["drives"][0]["route"]
    start = first % len(route)
    build["drives"][0]["route"] = route[start:] + route[:start]
    got = _solved(build, wanted["rpm"])

    spans = {(span["from"], span["to"]): span for span in got["spans"]}
    pulleys = {pulley["id"]: pulley for pulley in got["pulleys"]}
    got["spans"] = [spans[span["from"], span["to"]] for span in wanted["spans"]]
    got["pulleys"] = [pulleys[pulley["id"]] for pulley in wanted["pulleys"]]
    if mirror:
        for pulley in got["pulleys"]:
            pulley["turns"] = OTHER[pulley["turns"]]
    if "arm_angle_deg" in got["tensioner"]:

        def back(angle: float) -> float:
            return 180.0 - (angle - turn) if mirror else angle - turn

        arm = got["tensioner"]
        arm["arm_angle_deg"] = back(arm["arm_angle_deg"])
        arm["running"]["arm_angle_deg"] = [back(a) for a in arm["running"]["arm_angle_deg"]]
    assert mismatches(got, wanted) == []


@pytest.mark.parametrize("name", CASES)
def test_work_balance(name: str) -> None:
    case = read_case(name)
    result = _solved(case["build"], [700.0, 3000.0, 6500.0])
    crank = next(p for p in result["pulleys"] if p["id"] == "crank")
    driven = [p for p in result["pulleys"] if p["id"] != "crank"]
    for k in range(3):
        assert crank["power_kw"][k] == pytest.approx(sum(p["power_kw"][k] for p in driven))
        assert crank["power_kw"][k] > 0
