"""Planted faults, read as a builder reads them, and named by asking."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from jovial_tack.answers.drive.judging import solvable_case
from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.drive.spread import length_sigma, spread_of
from jovial_tack.answers.fit_up.compare import span_to_hear
from jovial_tack.answers.fit_up.explaining import Dialogue, likely_words, weighed
from jovial_tack.answers.fit_up.hypotheses import Hypothesis, Reads, hypotheses_of, reads_of
from jovial_tack.catalogue import load_catalogue
from jovial_tack.cli import main
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.edits.shafts import move_shaft
from jovial_tack.document.model import Build, dump
from slides import slid
from support import DEMO, built, read_case

CATALOGUE = load_catalogue()


def drawn(seed: int) -> tuple[Build, str]:
    """A build nobody has seen: a reference drive with its shafts pushed about."""
    rng = np.random.default_rng(seed)
    if seed == 0:
        return slid(), slid().drives[0].id
    demo = built(json.loads(DEMO.read_text("utf-8")))
    build = demo if seed % 2 else built(read_case("blower_spring_arm")["build"])
    build = build if seed % 2 else built({**dump(build), "obstacles": []})
    drive = build.drives[seed // 2 % len(build.drives)].id
    for shaft in build.shafts:
        if shaft.kind not in ("crank", "tensioner"):
            x, y = shaft.center_mm
            build = move_shaft(build, shaft.id, x + rng.normal(0, 3), y + rng.normal(0, 3))
    return build, drive


def span_of(build: Build, drive: str) -> str:
    return span_to_hear(build, solve(build, None, CATALOGUE).drive(drive)).from_id


class Reader:
    """Reads faults as a builder does: on an engine whose belt is off by what nobody knows, by eye and
    by ear.
    """

    def __init__(self, build: Build, drive: str, span: str, seed: int) -> None:
        self.drive, self.span, self.rng = drive, span, np.random.default_rng(seed)
        case = solvable_case(build, drive, CATALOGUE)
        self.sigma = length_sigma(case, spread_of(build, CATALOGUE))
        self.off = 0.5 if case.arm is not None and not case.arm.slides else 0.01

    def reads(self, planted: Hypothesis) -> Reads:
        length = planted.build.drive(self.drive).belt.effective_length_mm
        assert length is not None
        longer = length + float(self.rng.normal(0, 0.6 * self.sigma))
        landed = set_belt_length(planted.build, self.drive, longer)
        found = reads_of(landed, self.drive, self.span, CATALOGUE) or planted.reads
        mark = None if found.mark is None else found.mark + float(self.rng.normal(0, self.off))
        heard = float(1 + self.rng.normal(0, 0.02))
        return Reads(mark, None if found.tone_hz is None else found.tone_hz * heard)


def asked(dialogue: Dialogue, planted: int, rng: np.random.Generator) -> tuple[Dialogue, float]:
    """Up to four checks, each answered as the engine is, one in thirty-three wrongly; and minutes."""
    spent = 0.0
    for _ in range(4):
        check = None if dialogue.stands_out else dialogue.next
        if check is None:
            break
        spent += check.minutes
        place = next(k for k, (_, of) in enumerate(check.answers) if planted in of)
        if rng.random() > 0.97:
            place = int(rng.integers(len(check.answers)))
        dialogue = dialogue.answer(check, place)
    return dialogue, spent


@pytest.mark.parametrize("seed", range(6))
def test_planted_faults_are_named_by_four_checks_in_under_ten_minutes(seed: int) -> None:
    build, drive = drawn(seed)
    span = span_of(build, drive)
    reader = Reader(build, drive, span, 100 + seed)
    rng = reader.rng
    found = hypotheses_of(build, drive, span, CATALOGUE)
    kinds = sorted({h.kind for h in found} - {"right"})
    named, minutes, count = 0, [], 40
    for _ in range(count):
        kind = kinds[int(rng.integers(len(kinds)))]
        planted = int(rng.choice([k for k, h in enumerate(found) if h.kind == kind]))
        told = weighed(build, drive, span, reader.reads(found[planted]), found, CATALOGUE)
        assert told.weights.sum() == pytest.approx(1.0)
        told, spent = asked(told, planted, rng)
        named += told.order[0] == planted
        minutes.append(spent)
    assert named >= 0.85 * count
    assert np.median(minutes) < 10


def test_what_is_as_laid_out_is_told_so_and_what_nothing_explains_is_too() -> None:
    build = built(json.loads(DEMO.read_text("utf-8")))
    span = span_of(build, "accessory")
    found = hypotheses_of(build, "accessory", span, CATALOGUE)
    right = found[0].reads
    told = weighed(build, "accessory", span, right, found, CATALOGUE)
    assert told.hypotheses[told.order[0]].kind == "right" and not told.unexplained
    # each hypothesis is what solving its layout says
    for one in found:
        assert reads_of(one.build, "accessory", span, CATALOGUE) == one.reads
    wild = Reads((right.mark or 0.0) - 14.0, (right.tone_hz or 0.0) * 0.6)
    far = weighed(build, "accessory", span, wild, found, CATALOGUE)
    assert far.unexplained and "look for two" in likely_words(far)[-1]
    # without a reading the priors stand; a check that was answered is not asked again
    blank = weighed(build, "accessory", span, Reads(None, None), found, CATALOGUE)
    assert blank.weights[0] == pytest.approx(found[0].prior / sum(h.prior for h in found))
    check = blank.next
    assert check is not None
    after = blank.answer(check, 0)
    assert check.key not in {c.key for c in after.checks} and blank.bits(check) > 0


def test_the_verb_tells_causes_and_checks(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    asked_for = ["fitup", str(DEMO), "--seen", "accessory:arm_deg=81.8,tone_hz=131", "--json"]
    assert main(asked_for) == 0
    (seen,) = json.loads(capsys.readouterr().out)["seen"]
    assert seen["drive"] == "accessory" and seen["explains"][0]["kind"] in ("spring", "notch")
    assert sum(one["probability"] for one in seen["explains"]) == pytest.approx(1.0)
    assert seen["check_next"][0]["minutes"] == 1.0 and seen["check_next"][0]["bits"] > 0.3
    assert main(["fitup", str(DEMO), "--seen", "accessory:arm=81"]) == 2
    assert "arm_deg, travel, tone_hz" in capsys.readouterr().err
