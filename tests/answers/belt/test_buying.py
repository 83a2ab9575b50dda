"""Belt windows, candidates, what to bring home and whether it goes on, against plain calculations."""

from __future__ import annotations

import json
import math
import random
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from scipy.optimize import brentq

from jovial_tack.answers.belt.as_seen import Seen, as_fitted
from jovial_tack.answers.belt.buying import bring_home, choose_belt
from jovial_tack.answers.belt.putting_on import FittingRoom
from jovial_tack.answers.belt.window import Candidate, Window
from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.drive.spread import length_sigma, spread_of
from jovial_tack.catalogue import load_catalogue
from jovial_tack.cli import main
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.value import fields_of
from jovial_tack.document.edits.belts import set_belt, set_belt_length
from jovial_tack.document.edits.changing import changed, with_pulley
from jovial_tack.document.edits.pulleys import set_diameter
from jovial_tack.document.edits.stock import read_stock, set_stock, write_stock
from jovial_tack.document.edits.tensioners import set_arm
from jovial_tack.document.model import Build, SpringArmTensioner, StockBelt
from layouts import moved
from plain import plain_of
from slides import SLOT, SWING, plain_length, two_pulleys
from support import DEMO, built, read_case, solvable

CATALOGUE = load_catalogue()
CORD = 1.6


def drive_of(build: Build, name: str) -> Any:
    return solvable(build, name).drive


def resting(build: Build, name: str, angle: float) -> float:
    """Effective length of the belt that rests an arm at an angle, by plain virtual work."""
    twin = plain_of(drive_of(build, name))
    tension = twin.slack(angle, [0.0] * len(twin.rho), 1.0)
    return (
        twin.total(angle) / (1 + (tension - twin.reference) / twin.stiffness) - 2 * math.pi * CORD
    )


@pytest.mark.parametrize("case", ["demo", "accessory_spring_arm", "blower_spring_arm"])
def test_the_window_of_an_arm_and_what_solves_at_its_ends(
    case: str, demo_data: dict[str, Any]
) -> None:
    build = built(demo_data if case == "demo" else read_case(case)["build"])
    build = changed(build, obstacles=None)
    for drive in build.drives:
        choice = choose_belt(build, drive.id, CATALOGUE)
        window, arm = choice.window, drive_of(build, drive.id).adjuster
        assert window is not None
        ends = [resting(build, drive.id, angle) for angle in arm.window]
        assert (window.shortest_mm, window.longest_mm) == pytest.approx(ends, abs=0.02)
        middle = resting(build, drive.id, sum(arm.window) / 2)
        assert window.mid_mm == pytest.approx(middle, abs=0.02)
        for length, share in (
            (window.shortest_mm, 0.0),
            (window.longest_mm, 1.0),
            (window.mid_mm, 0.5),
        ):
            result = solve(set_belt_length(build, drive.id, length), None, CATALOGUE).drive(
                drive.id
            )
            assert result.tensioner.window_fraction == pytest.approx(share, abs=2e-4)  # type: ignore[union-attr]
        for belt in choice.candidates:
            tried = solve(
                set_belt_length(build, drive.id, belt.effective_length_mm), None, CATALOGUE
            )
            arm_now = tried.drive(drive.id).tensioner
            if belt.place is not None:
                angle = arm_now.place.arm_angle_deg  # type: ignore[union-attr]
                assert belt.place.arm_angle_deg == pytest.approx(angle, abs=1e-4)
                assert belt.tension_n == pytest.approx(arm_now.tension_n, rel=1e-6)  # type: ignore[union-attr]
            inside = window.shortest_mm <= belt.effective_length_mm <= window.longest_mm
            assert belt.fits == inside and (belt.reason is not None or belt.can_be_fitted)
        assert choice.installed is not None
        assert choice.installed.effective_length_mm == drive.belt.effective_length_mm


@pytest.mark.parametrize(
    ("turn", "shift", "mirror"), [(37.0, 0j, False), (-120.0, 40 - 25j, False), (15.0, 10j, True)]
)
def test_an_engine_turned_moved_or_mirrored_takes_the_same_belts(
    demo_data: dict[str, Any], turn: float, shift: complex, mirror: bool
) -> None:
    demo_data.pop("obstacles", None)
    still, turned = built(demo_data), built(moved(demo_data, turn, shift, mirror))
    for drive in ("accessory", "blower"):
        one, other = (choose_belt(b, drive, CATALOGUE) for b in (still, turned))
        assert one.window is not None and other.window is not None
        assert fields_of(other.window) == pytest.approx(fields_of(one.window), abs=1e-6)
        assert other.uncertain_mm == pytest.approx(one.uncertain_mm, rel=1e-9)
        assert [b.number for b in other.bring_home] == [b.number for b in one.bring_home]
        for a, b in zip(one.candidates, other.candidates, strict=True):
            assert (a.number, a.fits, a.can_be_fitted) == (b.number, b.fits, b.can_be_fitted)
            if a.window_fraction is not None:
                assert a.window_fraction == pytest.approx(b.window_fraction, abs=1e-6)
                assert a.tension_hot_n == pytest.approx(b.tension_hot_n, rel=1e-6)
            if a.toggle is not None:
                away = b.toggle.arm_angle_deg  # type: ignore[union-attr]
                assert a.toggle.arm_angle_deg == pytest.approx(away, abs=1e-4)


def share_of(data: dict[str, Any], path: float) -> float:
    return float(brentq(lambda share: plain_length(data, share) - path, 0.0, 1.0))


@pytest.mark.parametrize("mount", [SLOT, SWING], ids=["slot", "swing"])
def test_the_window_of_a_travel(mount: dict[str, Any]) -> None:
    data = two_pulleys(mount, 1026.0)
    build = built(data)
    choice = choose_belt(build, build.drives[0].id, CATALOGUE)
    belt, pull = (
        drive_of(build, build.drives[0].id).belt,
        build.drives[0].tensioner.installed_tension_n,  # type: ignore[union-attr]
    )
    stretch = 1 + (pull - float(belt.reference_tension_n)) / float(belt.stiffness_n)
    lengths = [
        plain_length(data, share) / stretch - 2 * math.pi * CORD for share in (0.0, 1.0, 0.5)
    ]
    assert choice.window is not None
    assert choice.window.shortest_mm == pytest.approx(min(lengths[:2]), abs=0.02)
    assert choice.window.longest_mm == pytest.approx(max(lengths[:2]), abs=0.02)
    assert choice.window.mid_mm == pytest.approx(lengths[2], abs=0.02)
    fitting = [c for c in choice.candidates if c.fits]
    assert fitting
    for candidate in fitting:
        wanted = candidate.effective_length_mm
        share = share_of(data, (wanted + 2 * math.pi * CORD) * stretch)
        rising = lengths[1] > lengths[0]
        assert candidate.window_fraction == pytest.approx(share if rising else 1 - share, abs=1e-4)
        assert candidate.tension_n == pull
    # a place seen on the travel means the belt that lies there
    seen = as_fitted(build, build.drives[0].id, CATALOGUE, Seen(share=0.25))
    assert seen.implied_mm == pytest.approx(
        plain_length(data, 0.25) / stretch - 2 * math.pi * CORD, abs=0.02
    )


def test_the_window_of_a_stretch_belt() -> None:
    data = two_pulleys(SLOT, 1010.0)
    del data["shafts"][1]["mount"]
    data["drives"][0]["tensioner"] = {"type": "stretch"}
    data["drives"][0]["belt"] |= {"construction": "stretch"}
    data["drives"][0]["belt"].pop("stiffness_n_per_rib", None)
    build = built(data)
    belt = next(iter(assemble(build, CATALOGUE))).belt
    path = plain_of(drive_of(build, build.drives[0].id)).total(0.0)
    choice = choose_belt(build, build.drives[0].id, CATALOGUE)
    assert choice.window is not None
    for length, pull in (
        (choice.window.shortest_mm, belt.construction.most_tension_n_per_rib * belt.ribs),
        (choice.window.longest_mm, belt.reference_tension_n),
    ):
        cord = length + 2 * math.pi * CORD
        stretched = belt.reference_tension_n + belt.stiffness_n * (path / cord - 1)
        assert stretched == pytest.approx(pull, rel=1e-9)
    for candidate in choice.candidates:
        assert candidate.fitting is not None and candidate.fitting.peak_tension_n is not None
        assert candidate.fits == (0.0 <= candidate.window_fraction <= 1.0)  # type: ignore[operator]
        assert candidate.fitting.peak_tension_n >= candidate.tension_n - 1e-6  # type: ignore[operator]


def test_those_brought_home_are_the_best_of_all_pairs_by_simulation() -> None:
    rng, window = np.random.default_rng(2), Window(995.0, 1005.0, 1000.0)
    belts = [
        Candidate(f"B{mm:.0f}", mm, None, None, None, fits=True, can_be_fitted=True, reason=None)
        for mm in np.arange(975.0, 1026.0, 5.0)
    ]
    sigma = 6.0
    home, any_fits = bring_home(belts, window, sigma)
    shifts = rng.normal(0.0, sigma, 200_000)

    def share(lengths: tuple[float, ...]) -> float:
        fit = [(995.0 + shifts <= mm) & (mm <= 1005.0 + shifts) for mm in lengths]
        return float(np.any(fit, axis=0).mean())

    chosen = tuple(b.effective_length_mm for b in home)
    assert len(home) == 3 and any_fits == pytest.approx(share(chosen), abs=0.005)
    for belt in home:
        assert belt.probability == pytest.approx(share((belt.effective_length_mm,)), abs=0.005)
    best = max(
        share((a, b, c))
        for a in range(980, 1021, 5)
        for b in range(a, 1021, 5)
        for c in range(b, 1021, 5)
    )
    assert any_fits is not None and any_fits >= best - 0.006
    assert bring_home([], window, sigma) == ((), None)
    assert bring_home(belts[:1], window, 1.0) == ((), None)  # 20 sigma off: left in the shop
    alone, chance = bring_home(belts[4:7], window, 0.1)
    assert [belt.effective_length_mm for belt in alone] == [995.0, 1000.0] and chance == 1.0
    sure, certain = bring_home(belts, window, 0.5)
    assert len(sure) == 2 and certain == pytest.approx(1.0)


def test_the_uncertainty_is_that_of_shaken_surveys(demo_data: dict[str, Any]) -> None:
    """Every centre and diameter shaken as the limits say moves the belt called for as much as told."""
    build = built(demo_data)
    case = solvable(build, "accessory")
    limits, drive, rng = CATALOGUE.limits, case.drive, random.Random(11)
    assert case.arm is not None
    angle, twin = sum(case.arm.window) / 2, plain_of(drive)
    base, found = twin.total(angle), []
    centers, rho = list(twin.centers), list(twin.rho)
    for _ in range(1500):
        shake = [
            complex(rng.gauss(0, limits.survey_sigma_mm), rng.gauss(0, limits.survey_sigma_mm))
            for _ in centers
        ]
        twin.centers = [c + s for c, s in zip(centers, shake, strict=True)]
        index, pivot, *rest = twin.arm  # type: ignore[misc]
        twin.arm = (index, complex(case.arm.pivot) + shake[index], *rest)
        twin.rho = [r + math.copysign(rng.gauss(0, limits.diameter_sigma_mm) / 2, r) for r in rho]
        found.append(twin.total(angle) - base)
        del pivot
    wraps = twin.trace(angle)[2]
    back = sum(w for w, p in zip(wraps, case.pulleys, strict=True) if p.side == "back")
    more = math.hypot(0.3 / 2 * back, limits.belt_length_tolerance / 2 * base)
    wanted = math.hypot(float(np.std(found)), more)
    assert length_sigma(case, spread_of(build, CATALOGUE)) == pytest.approx(wanted, rel=0.06)


def test_a_belt_goes_on_if_the_arm_lets_it_over_the_lowest_rim(demo_data: dict[str, Any]) -> None:
    build = built(demo_data)
    case = solvable(build, "blower")
    room = FittingRoom(case, CATALOGUE)
    twin = plain_of(case.drive)
    stops = sorted(case.arm.stops)  # type: ignore[union-attr]
    shortest = min(twin.total(a) for a in np.linspace(stops[0], stops[1], 400))
    assert room.path_in_mm == pytest.approx(shortest, abs=0.05)
    loose = 1180.0 + 2 * math.pi * CORD
    loose *= 1 - case.belt.reference_tension_n / case.belt.stiffness_n
    assert room.judge(1180.0).slack_mm == pytest.approx(loose - shortest, abs=0.05)
    assert room.judge(1180.0).can and room.judge(1180.0).last.smooth
    tight = room.judge(1170.0)
    assert not tight.can and tight.leave_off == ("blower_idler",)
    # lips on every pulley: the belt has to be that much longer
    for pulley in build.drive("blower").pulleys:
        build = with_pulley(build, "blower", changed(pulley, flange_mm=4.0))
    lipped = FittingRoom(solvable(build, "blower"), CATALOGUE)
    assert lipped.lasts[0].lifted_mm > 0.05
    assert lipped.judge(1180.0).spare_mm == pytest.approx(
        room.judge(1180.0).slack_mm - lipped.lasts[0].lifted_mm
    )


def seen_with(build: Build, drive: str, changed_build: Build) -> Seen:
    """Where the pointer stands between its marks when a build is really another."""
    tensioner = solve(changed_build, None, CATALOGUE).drive(drive).tensioner
    return Seen(share=tensioner.window_fraction)  # type: ignore[union-attr]


def test_an_arm_seen_elsewhere_tells_belt_or_survey(demo_data: dict[str, Any]) -> None:
    build = built(demo_data)
    angle = solve(build, None, CATALOGUE).drive("blower").tensioner.place.arm_angle_deg  # type: ignore[union-attr]
    right = as_fitted(build, "blower", CATALOGUE, Seen(arm_deg=angle))
    assert right.off_mm == pytest.approx(0.0, abs=1e-4) and right.causes[0].cause == "nothing"
    shorter = set_belt_length(build, "blower", 1195.0 - 6.0)
    seen = as_fitted(build, "blower", CATALOGUE, seen_with(build, "blower", shorter))
    assert seen.off_mm == pytest.approx(-6.0, abs=1e-3)
    for bad in (Seen(arm_deg=-100.0), Seen(share=9.0), Seen()):
        with pytest.raises(GeometryError):
            as_fitted(build, "blower", CATALOGUE, bad)


def test_what_is_really_the_matter_is_never_cut_off(demo_data: dict[str, Any]) -> None:
    build = built(demo_data)
    for drive in ("blower", "accessory"):
        length = build.drive(drive).belt.effective_length_mm
        assert length is not None
        arm = build.drive(drive).tensioner
        assert isinstance(arm, SpringArmTensioner) and arm.notches_deg is not None
        truly: list[tuple[str, Build]] = [
            ("belt", set_belt_length(build, drive, length + off))
            for off in (-20.0, -5.0, 5.0, 10.0)
        ]
        weak = {"torque_nm": 0.6 * arm.torque_nm, "rate_nm_per_deg": 0.6 * arm.rate_nm_per_deg}
        truly.append(("spring", set_arm(build, drive, **weak)))
        for pulley in build.drive(drive).pulleys:
            if pulley.former_mm is not None:
                old = set_diameter(build, drive, pulley.id, pulley.former_mm)
                if solve(old, None, CATALOGUE).drive(drive).tensioner is not None:
                    truly.append(("former", old))
        for cause, real in truly:
            found = as_fitted(build, drive, CATALOGUE, seen_with(build, drive, real))
            weights = [each.weight for each in found.causes]
            assert cause in {each.cause for each in found.causes}, (drive, cause, found)
            assert weights == sorted(weights, reverse=True) and 0.8 < sum(weights) <= 1 + 1e-9
            names = [each.words for each in found.causes if each.cause == "belt"]
            if cause == "belt" and abs(found.off_mm) > 8:  # the belt that is really on is named
                assert f"PK{length + found.off_mm:.0f} " in names[0]
    # the tensioner at its second notch: its pointer stands where the belt on the label would put it
    turned = set_arm(build, "blower", notch=1)
    found = as_fitted(build, "blower", CATALOGUE, seen_with(build, "blower", turned))
    assert found.causes[0].cause == "notch" and "8°" in found.causes[0].words


def test_a_stock_list_is_read_written_and_bought_from(demo_data: dict[str, Any]) -> None:
    build = built(demo_data)
    stock = read_stock(
        "Part number;Price;Qty\n10PK1183;21,505;2\n10K468;18;0\nhinge;3;1\nA52;9;1\n"
    )
    assert [entry.number for entry in stock] == ["10PK1183", "10K468", "A52"]
    assert read_stock(write_stock(stock)) == stock
    assert read_stock("10PK1183\n7PK1610\n") == (
        StockBelt(number="10PK1183"),
        StockBelt(number="7PK1610"),
    )
    choice = choose_belt(set_stock(build, stock), "blower", CATALOGUE)
    assert [c.number for c in choice.candidates] == ["10PK1183", "10K468"]
    assert (choice.candidates[0].price, choice.candidates[0].count) == (21.505, 2)
    assert choice.candidates[1].effective_length_mm == pytest.approx(46.8 * 25.4)
    # none of the accessory's width: the generic lengths stand in
    assert len(choose_belt(set_stock(build, stock), "accessory", CATALOGUE).candidates) > 5
    for nonsense in ("", "a,b\nc,d\n"):
        with pytest.raises(GeometryError):
            read_stock(nonsense)


def test_drives_for_which_nothing_can_be_chosen_say_why(demo_data: dict[str, Any]) -> None:
    build = built(demo_data)
    undecided = changed(build.drive("blower"), tensioner=None)
    build = changed(build, drives=(build.drives[0], undecided))
    choice = choose_belt(build, "blower", CATALOGUE)
    assert choice.window is None and "tensioner" in (choice.problem or "")
    lever = set_arm(built(demo_data), "blower", window_deg=(200.0, 210.0), stops_deg=(190.0, 220.0))
    assert choose_belt(lever, "blower", CATALOGUE).problem is not None
    wide = set_belt(built(demo_data), "blower", ribs=29)
    assert choose_belt(wide, "blower", CATALOGUE).installed is not None


def test_the_verbs_tell_belts_numbers_and_toothed_drives(
    capsys: pytest.CaptureFixture[str], tmp_path: Path
) -> None:
    assert main(["belt", str(DEMO), "--drive", "blower", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert set(told) >= {"installed", "window", "candidates", "bring_home"}
    assert set(told["window"]) == {"shortest_mm", "longest_mm", "mid_mm"}
    assert told["installed"]["number"] == "10PK1195" and told["bring_home"][0]["probability"] > 0.9
    assert set(told["candidates"][0]) >= {
        "number", "effective_length_mm", "arm_angle_deg", "window_fraction", "tension_n", "fits",
        "can_be_fitted", "reason",
    }  # fmt: skip
    assert main(["belt", str(DEMO), "--arm-at", "80"]) == 0
    assert "as fitted" in capsys.readouterr().out
    assert main(["number", "7pk", "1835", "--json"]) == 0
    (reading,) = json.loads(capsys.readouterr().out)["readings"]
    assert reading["same_as"] == {"ribs and inches": "7K722", "seven digits": "9070722"}
    assert main(["number", "hinge", "--json"]) == 1
    said = json.loads(capsys.readouterr().out)
    assert said["readings"] == [] and said["problem"]
    assert main(["toothed", "--pitch", "8", "--teeth", "30,60", "--belt", "120", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["center_distance_mm"] == pytest.approx(297.5448, abs=1e-3) and told["ratio"] == 0.5
    assert (
        main(["toothed", "--pitch", "8", "--teeth", "30,60", "--center", "300", "--torque", "20"])
        == 0
    )
    capsys.readouterr()
    drive = ["toothed", "--pitch", "8", "--teeth", "30,60", "--belt", "120"]
    assert main([*drive, "--width", "30", "--json"]) == 0
    warm = json.loads(capsys.readouterr().out)
    strain = warm["warm_strain"]["aluminium"]
    assert warm["warm_tension_change_n"]["aluminium"] == pytest.approx(strain * 30 * 12000.0)
    empty = tmp_path / "empty.jtack"
    empty.write_text(json.dumps(json.loads(DEMO.read_text()) | {"drives": []}))
    capsys.readouterr()
    for wrong in (
        ["belt", str(DEMO), "--drive", "x"], ["belt", str(empty)], ["belt", str(DEMO), "--arm-at", "x"],
        ["toothed", "--pitch", "8", "--teeth", "30", "--belt", "120"],
        ["toothed", "--pitch", "8", "--teeth", "30,x", "--belt", "120"],
        ["toothed", "--pitch", "8", "--teeth", "30,60", "--belt", "20"],
        ["toothed", "--pitch", "nan", "--teeth", "30,60", "--belt", "120"], ["number"],
    ):  # fmt: skip
        assert main(wrong) == 2, wrong
        assert len(capsys.readouterr().err.splitlines()) == 1, wrong
