"""From measurements to belts by another way, how belts seat, toothed drives in builds, and own data."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import pytest

from jovial_tack.answers.belt.buying import choose_belt
from jovial_tack.answers.belt.feel import from_feel
from jovial_tack.answers.belt.measured import WAYS, from_measurement, string_in
from jovial_tack.answers.belt.putting_on import wind_back
from jovial_tack.answers.belt.seating import seat_of
from jovial_tack.answers.belt.tone import from_tone, from_twist
from jovial_tack.answers.drive.solve import solve
from jovial_tack.catalogue import load_catalogue
from jovial_tack.cli import main
from jovial_tack.core.errors import BuildFileError, CatalogueError, GeometryError
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.pulleys import set_diameter
from jovial_tack.document.edits.routes import fit_number
from jovial_tack.document.model import Pulley, SpringArmTensioner
from jovial_tack.files.own_data import own_catalogue
from plain import plain_of
from support import DEMO, built, read_case, solvable

CATALOGUE = load_catalogue()
CORD, BACK = 1.6, 1.1


def on_line(build: Any, drive: str, angle: float, ribs_mm: float, back_mm: float) -> float:
    """Length of a line round the pulleys: so far outside grooved diameters, and inside smooth ones."""
    case = solvable(build, drive)
    twin = plain_of(case.drive)
    twin.rho = [
        math.copysign(p.diameter_mm / 2 + (ribs_mm if p.side == "ribs" else back_mm), r)
        for p, r in zip(case.pulleys, twin.rho, strict=True)
    ]
    return twin.total(angle)


@pytest.mark.parametrize("drive", ["accessory", "blower"])
def test_a_right_reading_leads_to_the_layouts_own_belt(
    demo_data: dict[str, Any], drive: str
) -> None:
    build = changed(built(demo_data), obstacles=None)
    case = solvable(build, drive)
    assert case.arm is not None
    low, high = case.arm.window
    middle = (low + high) / 2
    window = choose_belt(build, drive, CATALOGUE).window
    assert window is not None
    sinks = 4.41 - 1.25 / math.sin(math.radians(20))
    assert string_in(case.belt.profile, 2.5) == pytest.approx(sinks)
    for way, thick, ribs, back in (("tape", 0.3, 0.15, 0.15), ("string", 2.5, -sinks, 1.25)):
        for angle in (middle, low + 0.3 * (high - low)):
            reading = on_line(build, drive, angle, ribs, back)
            held = math.degrees(angle)
            for off in (0.0, 3.0, -4.0):
                found = from_measurement(
                    build,
                    drive,
                    CATALOGUE,
                    way,  # type: ignore[arg-type]
                    reading + off,
                    thick_mm=thick,
                    held_at=held,
                )
                assert found.order_mm == pytest.approx(window.mid_mm + off, abs=0.02)
    # a belt fitted and solved is found again from a tape round its back, and from the flat cut belt
    fitted = set_belt_length(build, drive, window.mid_mm + 2.0)
    arm = solve(fitted, None, CATALOGUE).drive(drive)
    assert arm.back_length_mm is not None
    held = arm.tensioner.arm_angle_deg  # type: ignore[union-attr, assignment]
    outside = from_measurement(
        fitted, drive, CATALOGUE, "outside", arm.back_length_mm, held_at=held
    )
    assert outside.old_mm == pytest.approx(window.mid_mm + 2.0, abs=0.02)
    assert arm.cord_length_mm is not None
    flat = from_measurement(fitted, drive, CATALOGUE, "flat", arm.cord_length_mm, held_at=held)
    assert flat.order_mm == pytest.approx(window.mid_mm + 2.0, abs=0.02)
    assert flat.old_mm == pytest.approx(
        arm.cord_length_mm * (1 + case.belt.reference_tension_n / case.belt.stiffness_n)
        - 2 * math.pi * CORD
    )


def test_the_trades_allowance_is_right_on_one_layout_and_costs_a_belt_on_another(
    demo_data: dict[str, Any],
) -> None:
    build = changed(built(demo_data), obstacles=None)
    verdicts = {}
    for drive in ("accessory", "blower"):
        drawn = from_measurement(build, drive, CATALOGUE, "tape", 1000.0, thick_mm=0.2)
        assert drawn.expected_mm is not None
        right = from_measurement(build, drive, CATALOGUE, "tape", drawn.expected_mm, thick_mm=0.2)
        case = solvable(build, drive)
        stops = case.arm.stops  # type: ignore[union-attr]
        twin = plain_of(case.drive)
        slack = max(twin.total(stops[0] + k * (stops[1] - stops[0]) / 400) for k in range(401))
        assert right.trade_mm == pytest.approx(slack - 2 * math.pi * CORD - 12.0, abs=0.05)
        verdicts[drive] = right.trade_fits
        generous = from_measurement(
            build, drive, CATALOGUE, "tape", drawn.expected_mm, thick_mm=0.2, allowance_mm=25.0
        )
        assert generous.trade_mm == pytest.approx(right.trade_mm - 13.0)  # type: ignore[operator]
    assert verdicts == {"accessory": True, "blower": False}


def test_readings_that_mean_nothing_say_so(demo_data: dict[str, Any]) -> None:
    build = built(demo_data)
    for way, reading, thick, said in (
        ("teeth", 120.0, 0.0, "toothed"), ("rims", 1200.0, 2.0, "V-grooves"),
        ("string", 1200.0, 5.0, "lies in a groove"), ("tape", 0.0, 0.2, "above zero"),
        ("tape", 1200.0, 50.0, "thick"), ("flat", math.nan, 0.0, "above zero"),
    ):  # fmt: skip
        with pytest.raises(GeometryError, match=said):
            from_measurement(build, "blower", CATALOGUE, way, reading, thick_mm=thick)  # type: ignore[arg-type]
    toothed = fit_number(build, "blower", "1200-8M-30", CATALOGUE)
    assert from_measurement(toothed, "blower", CATALOGUE, "teeth", 150.0).old_mm == pytest.approx(
        1200.0 - 2 * math.pi * 0.686
    ) if choose_belt(toothed, "blower", CATALOGUE).window else True  # fmt: skip
    for way in WAYS:
        assert WAYS[way].title and WAYS[way].how


def test_measuring_by_the_verb(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["belt", str(DEMO), "--measured", "tape=1620", "--thick", "0.2", "--json"]) == 0
    told = json.loads(capsys.readouterr().out)["measured"]
    assert told["order_mm"] > 1600 and told["trade_fits"] is True
    for wrong in (["--measured", "tape"], ["--measured", "foot=12"], ["--measured", "teeth=12"]):
        assert main(["belt", str(DEMO), *wrong]) == 2
        assert len(capsys.readouterr().err.splitlines()) == 1


def test_v_belts_ride_proud_sit_deep_or_bottom() -> None:
    profile = CATALOGUE.profile("SAE 0.500")
    pulley = Pulley(id="p", shaft="s", diameter_mm=120.0, side="ribs", groove_depth_mm=14.0)

    def seated(width: float, depth: float = 14.0) -> Any:
        own = changed(pulley, groove_width_mm=width, groove_depth_mm=depth, groove_angle_deg=36.0)
        return seat_of(profile, 1, own, CATALOGUE.parts, "mm")

    even = seated(profile.pitch_mm)
    assert even.good and even.top_mm == pytest.approx(0.0)
    narrow = seated(profile.pitch_mm - 1.0)
    assert (
        narrow.top_mm == pytest.approx(0.5 / math.tan(math.radians(18)))
        and "proud" in narrow.words[0]
    )
    wide = seated(profile.pitch_mm + 1.0)
    assert "deep" in wide.words[0] and not wide.good
    shallow = seated(profile.pitch_mm, profile.thickness_mm - 1.0)
    assert "bottoms" in shallow.words[0] and shallow.top_mm == pytest.approx(1.0)
    ribbed = CATALOGUE.profile("PK")
    grooved = Pulley(id="p", shaft="s", diameter_mm=120.0, side="ribs", grooves=8)
    assert "say which" in seat_of(ribbed, 7, grooved, CATALOGUE.parts, "mm").words[0]
    second = seat_of(ribbed, 7, changed(grooved, first_groove=2), CATALOGUE.parts, "mm")
    assert "groove 2 of 8" in second.words[0]
    belt = next(outline for role, outline in second.outlines if role == "belt")
    middle = (min(x for x, _ in belt) + max(x for x, _ in belt)) / 2
    assert middle == pytest.approx(0.5 * 3.56)  # half a groove off the middle of the pulley
    assert not seat_of(ribbed, 7, changed(grooved, first_groove=3), CATALOGUE.parts, "mm").good


def test_toothed_builds_want_whole_teeth_and_enough_of_them_in_mesh() -> None:
    def tip(teeth: int) -> float:
        return teeth * 8.0 / math.pi - 2 * 0.686

    data: dict[str, Any] = {
        "format": "jovial-tack/build", "version": 1,
        "engine": {"idle_rpm": 850, "cruise_rpm": 2600, "redline_rpm": 7000, "crank_rotation": "cw"},
        "shafts": [
            {"id": "crank", "kind": "crank", "center_mm": [0, 0]},
            {"id": "cam", "kind": "camshaft", "center_mm": [0, 266.527],
             "load": {"type": "constant_torque", "torque_nm": 15}},
        ],
        "drives": [{
            "id": "t",
            "belt": {
                "profile": "8M", "ribs": 30, "effective_length_mm": 800 - 2 * math.pi * 0.686,
            },
            "pulleys": [
                {"id": "crank", "shaft": "crank", "diameter_mm": tip(22), "side": "ribs"},
                {"id": "cam", "shaft": "cam", "diameter_mm": tip(44), "side": "ribs"},
            ],
            "route": ["crank", "cam"],
            "tensioner": {"type": "locked", "shaft": "cam", "installed_tension_n": 200},
        }],
    }  # fmt: skip
    build = built(data)
    result = solve(build, None, CATALOGUE)
    assert not result.stops and not any(f.code == "slip" for f in result.findings)
    assert result.drive("t").pulley("cam").speed_ratio == pytest.approx(0.5)  # type: ignore[union-attr]
    # the tip circles, the cord and the toothed formulas agree on the length
    assert result.drive("t").cord_length_mm == pytest.approx(800.0, abs=0.01)
    off = solve(set_diameter(build, "t", "crank", 60.0), None, CATALOGUE)
    (tooth,) = [f for f in off.findings if f.code == "teeth"]
    assert tooth.level == "stop" and "24 teeth" in tooth.message
    few = set_diameter(build, "t", "crank", tip(10))
    assert any(
        f.code == "teeth" and f.level == "stop" and "in mesh" in f.message
        for f in solve(few, None, CATALOGUE).findings
    )


def test_own_data_lies_over_the_shipped_and_faults_are_told(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    folder = tmp_path / "jovial-tack/catalogue"
    folder.mkdir(parents=True)
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    assert own_catalogue() is CATALOGUE
    (folder / "constructions.toml").write_text("[PK.standard]\nstiffness_n_per_rib = 17500.0\n")
    (folder / "lengths.toml").write_text("[PK]\nsteps = [[1000, 1100, 50]]\n")
    (folder / "limits.toml").write_text("survey_sigma_mm = 0.2\n")
    mine = own_catalogue()
    assert mine.construction("PK", "standard").stiffness_n_per_rib == 17500.0
    assert mine.construction("PK", "standard").friction_ribs == 0.45
    assert mine.lengths["PK"] == (1000.0, 1050.0, 1100.0) and mine.limits.survey_sigma_mm == 0.2
    assert mine.version.startswith(CATALOGUE.version + "+own-")
    assert CATALOGUE.construction("PK", "standard").stiffness_n_per_rib == 15000.0
    for name, text, said in (
        ("constructions", "[PK.standard]\nstiffness = 1.0\n", "stiffness"),
        ("constructions", "[PK.standard]\nsource = 3\n", "needs words"),
        ("constructions", "[PK.odd]\nsource = 'x'\n", "lacks"),
        ("profiles", "[XK]\npitch_mm = 3.0\n", "lacks"), ("lengths", "[PK]\nsteps = 3\n", "steps"),
        ("profiles", "[PK\n", "no TOML"),
        ("constructions", "[PK.standard]\nmost_tension_n_per_rib = 0\n", "above zero"),
        ("limits", "damping_fraction_low = 'x'\n", "needs a number"),
    ):  # fmt: skip
        path = folder / f"{name}.toml"
        kept = path.read_text() if path.is_file() else None
        path.write_text(text)
        with pytest.raises(CatalogueError, match=said):
            own_catalogue(strict=True)
        # it is said, and the shipped figure stands there
        used = own_catalogue()
        assert len(used.problems) == 1 and said in used.problems[0]
        assert used.constructions["PK"]["standard"].friction_ribs == 0.45
        assert main(["solve", str(DEMO), "--bare"]) == 1
        assert "remark: own data" in capsys.readouterr().out
        path.unlink() if kept is None else path.write_text(kept)


def test_a_number_typed_fits_its_belt(demo_data: dict[str, Any]) -> None:
    build = built(demo_data)
    inches = fit_number(build, "blower", "10k 468", CATALOGUE).drive("blower").belt
    assert (inches.profile, inches.ribs) == ("PK", 10)
    assert inches.effective_length_mm == pytest.approx(46.8 * 25.4)
    single = fit_number(build, "blower", "13425", CATALOGUE).drive("blower").belt
    assert (single.profile, single.ribs) == ("SAE 0.380", 1)
    assert single.effective_length_mm == pytest.approx(42.5 * 25.4 - 6.4)
    assert (
        fit_number(build, "blower", " ", CATALOGUE).drive("blower").belt.effective_length_mm is None
    )
    pair = fit_number(build, "blower", "2 x AV13x1150", CATALOGUE).drive("blower").belt
    assert (pair.profile, pair.ribs) == ("SAE 0.500", 2)
    written = CATALOGUE.profile("SAE 0.500").number(2, pair.effective_length_mm or 0.0)
    assert written == "2 x AV13x1150"
    with pytest.raises(BuildFileError, match="number"):
        fit_number(build, "blower", "hinge", CATALOGUE)


@pytest.mark.parametrize("drive_id", ["accessory", "blower"])
def test_a_tone_is_the_tension_that_makes_it_sprung_drives_too(drive_id: str) -> None:
    """Half a wave as long as the span, twice there and back at the speed of waves on it."""
    build = built(json.loads(DEMO.read_text("utf-8")))
    result = solve(build, None, CATALOGUE).drive(drive_id)
    held, grip = result.tensioner, result.grip
    assert held is not None and grip is not None
    mass = solvable(build, drive_id).belt.mass_kg_per_m
    for span in result.spans:
        there_and_back = 2 * span.length_mm / 1000 / math.sqrt(held.tension_n / mass)
        heard = from_tone(build, result, CATALOGUE, tone_hz=1 / there_and_back, span=span.from_id)
        assert heard.tension_n == pytest.approx(held.tension_n, rel=1e-9)
        assert heard.set_to is not None and heard.set_to.tone_hz == pytest.approx(span.tone_hz)
        assert heard.between_n == pytest.approx(
            (held.tension_n * 0.98**2, held.tension_n * 1.02**2), rel=1e-9
        )
    least, most = heard.least, heard.most
    assert least is not None and most is not None and least.tension_n == grip.least_tension_n
    for hz, words in ((0.97 * least.tone_hz, "too slack"), (1.03 * most.tone_hz, "too tight")):
        off = from_tone(build, result, CATALOGUE, tone_hz=hz, span=span.from_id)
        assert off.verdict.startswith(words) or least.tension_n > most.tension_n
    near = from_tone(build, result, CATALOGUE, tone_hz=1.01 * least.tone_hz, span=span.from_id)
    assert "not surely" in near.verdict or least.tension_n > most.tension_n
    for hz in (1.0, 5000.0):
        with pytest.raises(GeometryError, match="Hz is needed"):
            from_tone(build, result, CATALOGUE, tone_hz=hz)


def test_a_twist_means_the_tension_that_its_tone_means_and_a_v_belt_has_none() -> None:
    build = built(json.loads(DEMO.read_text("utf-8")))
    result = solve(build, None, CATALOGUE).drive("accessory")
    for span in result.spans:
        heard = from_tone(build, result, CATALOGUE, tone_hz=55.0, span=span.from_id)
        assert heard.least is not None and heard.least.twist_nm is not None
        twisted = from_twist(
            build, result, CATALOGUE, twist_nm=heard.least.twist_nm, span=span.from_id
        )
        assert twisted.tension_n == pytest.approx(heard.least.tension_n)
        assert twisted.tone_hz == pytest.approx(heard.least.tone_hz)
        low, high = twisted.between_n
        assert low < twisted.tension_n < high and "quarter turn" in twisted.lines()[0]
    data = json.loads(DEMO.read_text("utf-8"))
    belt = data["drives"][0]["belt"]
    for key in [key for key in belt if key.endswith("_per_rib") or key.startswith("friction")]:
        del belt[key]
    data["drives"][0]["belt"] = belt | {"profile": "A", "ribs": 1, "construction": "standard"}
    single = built(data)
    with pytest.raises(GeometryError, match="no strip"):
        from_twist(single, solve(single, None, CATALOGUE).drives[0], CATALOGUE, twist_nm=1.0)


def test_the_verb_tells_a_tone_of_any_span(capsys: pytest.CaptureFixture[str]) -> None:
    asked = ["belt", str(DEMO), "--drive", "accessory", "--tone", "60", "--span", "pump", "--json"]
    assert main(asked) in (0, 1)
    heard = json.loads(capsys.readouterr().out)["heard"]
    assert heard["from"] == "pump" and heard["tone_hz"] == 60.0
    assert heard["between_n"][0] < heard["tension_n"] < heard["between_n"][1]
    assert main([*asked[:-3], "--span", "nowhere"]) == 2
    assert "no span leaves “nowhere”" in capsys.readouterr().err


@pytest.mark.parametrize("span", ["crank", None])
def test_a_play_under_a_push_is_the_tension_that_makes_it(span: str | None) -> None:
    """The middle of an elastic string between freely turning pulleys, solved by balance of forces."""
    build = built(read_case("two_pulleys_locked")["build"])
    result = solve(build, None, CATALOGUE).drive(build.drives[0].id)
    case = solvable(build)
    chosen = next((s for s in result.spans if s.from_id == span), None) or max(
        result.spans, key=lambda s: s.length_mm
    )
    length, rest = chosen.length_mm, result.rest_path
    assert rest is not None and result.tensioner is not None and result.grip is not None
    tension, play = result.tensioner.tension_n, length / 40
    longer = 2 * math.hypot(length / 2, play) - length
    pulled = float(tension + case.belt.stiffness_n / rest.total * longer)
    push = 2 * pulled * math.sin(math.atan2(play, length / 2))
    felt = from_feel(build, result, CATALOGUE, push_n=push, play_mm=play, span=span)
    assert felt.tension_n == pytest.approx(tension, rel=0.02)  # the formula is of small plays
    assert felt.between_n[0] < felt.tension_n < felt.between_n[1]
    for feel, told in (
        (felt.least, result.grip.least_tension_n), (felt.set_to, tension),
        (felt.most, result.grip.most_tension_n),
    ):  # fmt: skip
        assert feel is not None and feel.tension_n == told
        for push_n, play_mm in ((feel.push_n, play), (push, feel.play_mm)):
            again = from_feel(build, result, CATALOGUE, push_n=push_n, play_mm=play_mm, span=span)
            assert again.tension_n == pytest.approx(feel.tension_n, rel=1e-6)
    least, most = felt.least, felt.most
    assert least is not None and most is not None
    for push_n, words in ((0.97 * least.push_n, "too slack"), (1.03 * most.push_n, "too tight")):
        off = from_feel(build, result, CATALOGUE, push_n=push_n, play_mm=play, span=span)
        assert off.verdict.startswith(words)
    with pytest.raises(GeometryError, match="slack belt"):
        from_feel(build, result, CATALOGUE, push_n=0.5, play_mm=length / 5)
    demo = built(json.loads(DEMO.read_text("utf-8")))
    sprung = solve(demo, None, CATALOGUE).drive(demo.drives[0].id)
    with pytest.raises(GeometryError, match="sprung tensioner"):
        from_feel(demo, sprung, CATALOGUE, push_n=30.0, play_mm=5.0)


@pytest.mark.parametrize("pushes", ["cw", "ccw"])
def test_winding_an_arm_back_takes_its_torque_there_and_its_damping(pushes: str) -> None:
    """The same arm mirrored takes the same; a notch changes nothing; a longer bar less."""
    arm = built(json.loads(DEMO.read_text("utf-8"))).drive("blower").tensioner
    assert isinstance(arm, SpringArmTensioner)
    if arm.pushes != pushes:
        stops = tuple(-stop for stop in arm.stops_deg)
        arm = changed(
            arm, pushes=pushes, angle_deg=-arm.angle_deg, stops_deg=stops, window_deg=None
        )
    travel = abs(arm.stops_deg[1] - arm.stops_deg[0])
    from_stop = min(abs(stop - arm.angle_deg) for stop in arm.stops_deg)
    wound = wind_back(arm, CATALOGUE)
    sprung = wound.torque_nm / (1.0 + (arm.damping_fraction or 0.0))
    # wound to the stop it is stronger than where its torque is told
    assert sprung > arm.torque_nm and from_stop < travel
    back = (sprung - arm.torque_nm) / arm.rate_nm_per_deg
    assert min(abs(back - abs(stop - arm.angle_deg)) for stop in arm.stops_deg) < 1e-9
    assert wound.pull_n == pytest.approx(wound.torque_nm / 0.45) and not wound.is_told
    long = wind_back(changed(arm, wrench_mm=900.0), CATALOGUE)
    assert long.is_told and long.pull_n == pytest.approx(wound.pull_n / 2)
    short = wind_back(changed(arm, wrench_mm=100.0), CATALOGUE)
    assert short.people == math.ceil(short.pull_n / 300.0) >= 2
    assert wind_back(changed(arm, notches_deg=(0.0, 8.0), notch=1), CATALOGUE) == wound
