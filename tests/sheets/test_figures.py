"""Every line of every card, of every build that ships: what is typed is what is then shown."""

from __future__ import annotations

import cmath
import json
from collections.abc import Iterator
from math import radians

import pytest

from jovial_tack.answers.drive.solve import solve_again
from jovial_tack.answers.lay_out.starts import LAYOUTS
from jovial_tack.catalogue import load_catalogue
from jovial_tack.core.errors import BuildFileError
from jovial_tack.core.units import parse
from jovial_tack.core.value import replace
from jovial_tack.document.loading import build_from_json
from jovial_tack.document.model import Build, SpringArmTensioner, dump, replaced
from jovial_tack.document.targets import ArmAt, Target
from jovial_tack.document.travel import notch_offset_deg
from jovial_tack.sheets import Choice, Figure, Shown, Words, exists, sheet_of
from slides import slid
from support import DEMO, built, furnished, targets

CATALOGUE = load_catalogue()


BUILDS = {
    "demo": built(json.loads(DEMO.read_text("utf-8"))),
    "furnished": furnished(),
    "sprung slide": slid(),
    **{name: make(CATALOGUE) for name, make in LAYOUTS},
}


SOLVED = {name: solve_again(build, None, CATALOGUE, None) for name, build in BUILDS.items()}


def views(build: Build, name: str) -> Iterator[Shown[Target]]:
    for target in targets(build):
        if exists(build, target):
            yield Shown(build, SOLVED[name].results, target, 6600, CATALOGUE)


def whole(build: Build, name: str, target: Target | None = None) -> None:
    """It can be written, read back as it is, solved (as it is while dragging), and told of a target."""
    assert build_from_json(dump(build), CATALOGUE)[0] == build
    results = solve_again(build, None, CATALOGUE, SOLVED[name], live=True).results
    if target is None or not exists(build, target):
        return
    view = Shown(build, results, target, 6600, CATALOGUE)
    sheet = sheet_of(target)
    assert sheet.title(view) and sheet.acts(view) is not None
    for line in sheet.figures(view):
        if isinstance(line, Choice):
            assert line.chosen(view) in [key for key, _ in line.options(view)], line.name
        else:
            assert line.text(view) is not None


@pytest.mark.parametrize("units", ["mm", "in"])
@pytest.mark.parametrize("name", BUILDS)
def test_a_typed_figure_is_the_one_then_shown(name: str, units: str) -> None:
    build = replaced(BUILDS[name], display_units=units)
    seen = 0
    for view in views(build, name):
        for line in sheet_of(view.target).figures(view):
            if not isinstance(line, Figure) or line.change is None:
                continue
            value, unit = line.value(view), line.unit(build)
            if value is None:
                continue
            seen += 1
            where = (view.target, line.name)
            # as closely as it is shown
            step = 0.51 * max(1.0, line.quantity.factor(unit))
            assert parse(line.text(view), line.quantity, unit) == pytest.approx(value, abs=step)
            for typed in (value + 0.5, value - 0.5, value):
                try:
                    changed = line.change(build, view.target, typed)
                except BuildFileError as refused:
                    assert typed != value, (where, refused)
                    continue
                shown = line.value(replace(view, build=changed))
                assert shown == pytest.approx(typed, abs=6e-4), where
    assert seen > 10


@pytest.mark.parametrize("name", BUILDS)
def test_wild_figures_are_refused_in_words_or_solved(name: str) -> None:
    build = BUILDS[name]
    for view in views(build, name):
        for line in sheet_of(view.target).figures(view):
            if isinstance(line, Figure) and line.change is not None:
                for typed in (-1e9, -1.0, 0.0, 1e9):
                    try:
                        whole(line.change(build, view.target, typed), name)
                    except BuildFileError as refused:
                        assert refused.expected


@pytest.mark.parametrize("part", range(4))
@pytest.mark.parametrize("name", sorted(BUILDS.keys() - {"demo"}))  # furnished holds all of it
def test_every_choice_word_and_act_leaves_a_whole_build(name: str, part: int) -> None:
    build = BUILDS[name]
    for view in list(views(build, name))[part::4]:
        sheet = sheet_of(view.target)
        for line in sheet.figures(view):
            if isinstance(line, Choice):
                for key, words in line.options(view):
                    try:
                        changed = line.change(build, view.target, key)
                    except BuildFileError as refused:
                        assert key != line.chosen(view), (line.name, refused)
                        continue
                    assert words
                    assert line.chosen(replace(view, build=changed)) == key, line.name
                    whole(changed, name, view.target)
            elif isinstance(line, Words):
                curve = line.name.startswith("rpm:")
                if curve:
                    for wrong in ("Öre & <b>“x”", "1500:5", "3000:5 1500:9", "1500:-5 3000:9"):
                        with pytest.raises(BuildFileError):
                            line.change(build, view.target, wrong)
                typed = "1500:45 3000:110.5" if curve else "Öre & <b>“x”"
                if line.name == "Number":
                    with pytest.raises(BuildFileError, match="has no digits"):
                        line.change(build, view.target, typed)
                    typed = "5PK1200"
                changed = line.change(build, view.target, typed)
                assert line.text(replace(view, build=changed)) == typed
                whole(changed, name)
        for act in sheet.acts(view):
            try:
                changed = act.make(build)
            except BuildFileError as refused:
                assert refused.expected, act.name
                continue
            whole(changed, name, view.target)
            if act.then is not None:
                assert exists(changed, act.then(changed)), act.name


def test_the_mark_of_an_arm_stands_as_far_from_the_middle_as_its_pulley_has_swung() -> None:
    """By the places of the pulley's centre itself, along their circle."""
    build, results = BUILDS["demo"], SOLVED["demo"].results
    for drive in build.drives:
        arm = drive.tensioner
        assert isinstance(arm, SpringArmTensioner) and arm.window_deg is not None
        view = Shown(build, results, ArmAt(drive.id), 6600, CATALOGUE)
        line = next(line for line in sheet_of(view.target).figures(view) if line.name == "Its mark")
        assert isinstance(line, Figure)
        told = line.value(view)
        path = results.drive(drive.id).rest_path
        assert told is not None and path is not None
        stands = complex(path.centers[drive.route.index(arm.pulley)])
        pivot = complex(*arm.pivot_mm)
        turned = notch_offset_deg(arm)
        middle = cmath.rect(1.0, radians(sum(arm.window_deg) / 2 + turned))
        swung = cmath.phase((stands - pivot) / middle) * abs(stands - pivot)
        # toward the unwound side is more than nothing, whichever way the spring pushes
        way = 1 if arm.pushes == "ccw" else -1
        assert told == pytest.approx(way * swung, abs=1e-3)
