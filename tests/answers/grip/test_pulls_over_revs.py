"""Pulls on shafts, and how long a belt lasts against another state."""

from __future__ import annotations

import json

import numpy as np
import pytest

from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.grip.loads import belt_uses, pulls_mark, pulls_of
from jovial_tack.answers.grip.loads_words import pulls_words
from jovial_tack.catalogue import load_catalogue
from jovial_tack.cli import main
from jovial_tack.document.edits.belts import set_belt, set_belt_length
from jovial_tack.document.edits.pulleys import set_plane
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.document.model import Build
from support import DEMO, built

REVS = tuple(float(rpm) for rpm in range(900, 6601, 300))


def demo() -> Build:
    return built(json.loads(DEMO.read_text("utf-8")))


def test_a_shaft_bears_the_sum_of_its_belts_and_their_moments() -> None:
    build, catalogue = demo(), load_catalogue()
    build = set_shaft(build, "crank", bearing_mm=-20.0, hub_load_limit_n=2000.0)
    build = set_plane(set_plane(build, "accessory", "crank", 30.0), "blower", "crank", 96.0)
    results = solve(build, REVS, catalogue)
    crank = next(pulls for pulls in pulls_of(build, results) if pulls.shaft == "crank")
    each = []
    for name in ("accessory", "blower"):
        pulley = results.drive(name).pulley("crank")
        assert pulley is not None
        size = np.array(pulley.hub_load_n, dtype=float)
        each.append(size * np.exp(1j * np.radians(np.array(pulley.hub_direction_deg, dtype=float))))
    assert np.allclose(crank.pull_n, each[0] + each[1])
    moments = np.abs(50.0 * each[0] + 116.0 * each[1]) / 1000.0
    assert crank.moment_nm == pytest.approx(float(moments.max()))
    assert crank.most[0] == pytest.approx(float(np.abs(crank.pull_n).max()))
    assert "on its bearing" in pulls_words(build, crank)


def test_the_verb_tells_the_same(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["loads", str(DEMO), "--against", str(DEMO), "--json"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert {belt["drive"]: belt["life_ratio"] for belt in told["belts"]} == {
        "accessory": pytest.approx(1.0),
        "blower": pytest.approx(1.0),
    }
    blower = next(shaft for shaft in told["shafts"] if shaft["id"] == "blower")
    most = max(np.hypot(x, y) for x, y in blower["pull_n"])
    assert blower["most_n"] == pytest.approx(most)
    assert main(["loads", str(DEMO)]) == 0
    assert "bends a second" in capsys.readouterr().out


def test_the_mark_is_that_of_the_finding() -> None:
    catalogue = load_catalogue()
    tight = set_shaft(demo(), "blower", hub_load_limit_n=1000.0)
    results = solve(tight, None, catalogue)
    marks = {p.shaft: pulls_mark(tight, results, p) for p in pulls_of(tight, results)}
    assert (marks["blower"], marks["alternator"], marks["crank"]) == ("stop", "good", "unknown")


def test_a_belt_lives_as_long_as_itself_shorter_when_tighter_and_alike_only_in_one_make() -> None:
    build, catalogue = demo(), load_catalogue()
    results = solve(build, REVS, catalogue)

    def life(other: Build) -> float | None:
        uses = belt_uses(other, solve(other, REVS, catalogue), catalogue, (build, results))
        return next(use.life for use in uses if use.drive == "blower")

    assert life(build) == pytest.approx(1.0)
    tighter = life(set_belt_length(build, "blower", 1180.0))
    assert tighter is not None and tighter < 0.8
    assert life(set_belt(build, "blower", construction="low_stretch")) is None
    used = next(u for u in belt_uses(build, results, catalogue, None) if u.drive == "blower")
    speed, cord = results.drive("blower").belt_speed_mps[-1], results.drive("blower").cord_length_mm
    assert speed is not None and cord is not None
    assert used.bends_per_s == pytest.approx(4 * 1000 * speed / cord)
    assert used.life is None
