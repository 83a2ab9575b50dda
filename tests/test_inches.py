"""In an inch build every sentence, card and table is in inches, pounds, psi and hp."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from contextlib import suppress
from functools import partial
from pathlib import Path

import pytest

from drawn import CATALOGUE, DEMO_DATA
from jovial_tack.answers.advice import advised
from jovial_tack.answers.belt.as_seen import Seen, as_fitted
from jovial_tack.answers.belt.buying import choose_belt
from jovial_tack.answers.belt.feel import from_feel
from jovial_tack.answers.belt.measured import from_measurement
from jovial_tack.answers.belt.steps import fitting_steps
from jovial_tack.answers.belt.words import about_belt, about_home
from jovial_tack.answers.drive.solve import solve_again
from jovial_tack.answers.lay_out.starts import LAYOUTS
from jovial_tack.answers.ratios.rev_plan import rev_plan
from jovial_tack.answers.results import Results
from jovial_tack.cli import main
from jovial_tack.core.errors import GeometryError, JovialTackError
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.tensioners import set_tensioner
from jovial_tack.document.model import Build, LockedTensioner
from jovial_tack.document.targets import BeltAt, PulleyAt
from jovial_tack.drawing.revs import rev_ranges
from jovial_tack.files.build_file import write_build
from jovial_tack.sheets import Figure, Shown, sheet_of
from jovial_tack.verbs.tables.results import results_table
from support import built, furnished, solvable, targets

METRIC = re.compile(
    r"(?<![\w.])[-−+]?\d[\d.,]* ?(mm|cm|N|kN|N·m|kPa|bar|kW|°C|m/s|kg/s|litres)(?![\w·])"
)
BUILDS: dict[str, Callable[[], Build]] = {
    "demo": lambda: built(DEMO_DATA), "furnished": furnished,
    **{name: partial(make, CATALOGUE) for name, make in LAYOUTS},
}  # fmt: skip


def on_cards(build: Build, results: Results) -> Iterator[str]:
    for target in targets(build):
        view = Shown(build, results, target, build.engine.redline_rpm, CATALOGUE)
        sheet = sheet_of(target)
        if not sheet.is_there(build, target):
            continue
        yield from (sheet.title(view), sheet.subtitle(view), sheet.caution(view))
        for line in sheet.figures(view):
            if isinstance(line, Figure):
                yield from (line.text(view), line.aside(view))


def at_the_bench(build: Build) -> Iterator[str]:
    for drive in build.drives:
        case, choice = solvable(build, drive.id), choose_belt(build, drive.id, CATALOGUE)
        yield from (about_home(choice, build), str(choice.problem), str(choice.reason))
        for belt in choice.candidates:
            yield from about_belt(belt, build, drive.id)
            yield from fitting_steps(case, belt, build.display_units)
        for way, reading in (("tape", 1650.0), ("flat", 1600.0), ("outside", 1640.0)):
            try:
                yield from from_measurement(build, drive.id, CATALOGUE, way, reading).steps  # type: ignore[arg-type]
            except JovialTackError as error:
                yield str(error)
        for seen in (Seen(share=0.3), Seen(share=0.9)):
            with suppress(GeometryError):
                causes = as_fitted(build, drive.id, CATALOGUE, seen).causes
                yield from (cause.sentence for cause in causes)
        result = solve_again(build, None, CATALOGUE, None).results.drive(drive.id)
        with suppress(GeometryError):  # an arm gives way; a belt without tension tells nothing
            felt = from_feel(build, result, CATALOGUE, push_n=40.0, play_mm=6.0)
            yield from felt.lines(build.display_units)


def sentences(build: Build) -> Iterator[str]:
    results, judged = advised(build, solve_again(build, None, CATALOGUE, None), CATALOGUE)
    for finding in results.findings:
        yield from (finding.message, *(mend.sentence for mend in finding.mends))
    for verdict in judged:
        yield from (verdict.sentence, verdict.detail, *(m.sentence for m in verdict.mends))
    yield from on_cards(build, results)
    yield from at_the_bench(build)


def too_tight(build: Build) -> Build:
    """Every bolted belt far too tight and every bearing with a limit, so that all of that is said."""
    for drive in build.drives:
        if isinstance(drive.tensioner, LockedTensioner):
            build = set_tensioner(build, drive.id, installed_tension_n=3000.0)
    limited = tuple(changed(shaft, hub_load_limit_n=400.0) for shaft in build.shafts)
    return changed(build, shafts=limited)


@pytest.mark.parametrize("name", BUILDS)
def test_no_metric_figure_stands_in_an_inch_build(name: str) -> None:
    for build in (BUILDS[name](), too_tight(BUILDS[name]())):
        found = list(sentences(changed(build, display_units="in")))
        assert len(found) > 60
        names = [part.label for part in build.shelf]  # the builder's own words
        assert not [
            text
            for text in found
            if METRIC.search(text) and not any(name in text for name in names)
        ]


VERBS = (
    "solve", "belt --measured tape=64in", "plan", "boost",
    "boost --target 8psi", "boost --pulleys", "plan --underdrive accessory",
)  # fmt: skip


@pytest.mark.parametrize("verb", VERBS)
def test_no_metric_figure_stands_in_its_tables(
    verb: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "inches.jtack"
    build = changed(built(DEMO_DATA), display_units="in")
    write_build(build, path)
    assert main([verb.split()[0], str(path), *verb.split()[1:]]) in (0, 1)
    told = capsys.readouterr().out
    for part in build.shelf:  # names are the builder's own
        told = told.replace(part.label, "")
    assert len(told) > 100 and not METRIC.search(told)


def last_digit(text: str) -> tuple[float, float]:
    """A printed figure, and half of its last printed digit."""
    figure = re.search(r"[-−+]?\d+(?:\.(\d+))?", text.replace("−", "-"))
    assert figure is not None, text
    return float(figure[0]), 0.5 * 10.0 ** -len(figure[1] or "")


def told_twice(build: Build) -> Iterator[tuple[str, list[str]]]:
    """Every figure that stands in several places, with what it says in each of them."""
    solution = solve_again(build, None, CATALOGUE, None)
    results, judged = advised(build, solution, CATALOGUE)
    table = results_table(build, results, (), judged)
    redline = build.engine.redline_rpm
    plan = {row.id: row for row in rev_plan(build, CATALOGUE)}
    for drive, result in zip(build.drives, results.drives, strict=True):
        view = Shown(build, results, BeltAt(drive.id), redline, CATALOGUE)
        card = {
            line.name: line.text(view)
            for line in sheet_of(view.target).figures(view)
            if isinstance(line, Figure)
        }
        choice = choose_belt(build, drive.id, CATALOGUE)
        own = choice.installed
        part = table.split(f"== {drive.label} ==")[1].split("\n== ")[0]
        if own is None or own.tension_n is None:
            continue
        about = about_belt(own, build, drive.id)[0]
        at_rest = re.search(r"([\d.]+ \w+) at rest", about)
        belt = re.search(r"belt ([\d.]+ \w+)", part)
        assert at_rest is not None and belt is not None
        yield "tension at rest", [card["Tension"], at_rest[1], belt[1]]
        length = re.search(r": ([\d.]+ \w+) effective", about)
        assert length is not None
        yield "belt length", [card["Belt length"], length[1]]
        arm = re.search(r"arm at ([\d.]+)°, (\d+) % into its window", about)
        if arm is not None:
            told = re.search(r"arm ([\d.]+)° at rest, (\d+) % into", part)
            left = re.search(r"([\d.]+ \w+) of growth left", about)
            assert told is not None
            yield "arm", [card["Arm"], arm[1], told[1]]
            yield "in its window", [card["In its window"], arm[2], told[2]]
            if left is not None:
                yield "stretch left", [card["Stretch left"], left[1]]
        for pulley in result.pulleys:
            shaft = build.shaft(drive.pulley(pulley.id).shaft)
            target = PulleyAt(drive.id, pulley.id)
            seen = Shown(build, results, target, redline, CATALOGUE)
            lines = {x.name: x for x in sheet_of(target).figures(seen) if isinstance(x, Figure)}
            speed = lines["Speed"].text(seen)
            if pulley.id != result.driver:
                yield "speed at redline", [speed, f"{plan[shaft.id].redline_rpm:.0f}"]
            slips = [f for f in result.findings if f.code == "slip" and f.where == pulley.id]
            for finding in slips:
                onset = re.search(r"from (\d+) rpm: (\d+) %", finding.message)
                ranges = [r for r in rev_ranges(build, results) if r.what.startswith(shaft.label)]
                assert onset is not None and pulley.worst_arc_used is not None
                yield (
                    "onset",
                    [onset[1], f"{ranges[0].low_rpm:.0f}", f"{pulley.slips_rpm[0][0]:.0f}"],
                )
                yield "share of the wrap", [onset[2], f"{100 * pulley.worst_arc_used:.0f}"]


@pytest.mark.parametrize("unit", ["mm", "in"])
@pytest.mark.parametrize("name", BUILDS)
def test_a_figure_that_stands_twice_is_the_same_figure(name: str, unit: str) -> None:
    kinds = set()
    for what, said in told_twice(changed(BUILDS[name](), display_units=unit)):
        kinds.add(what)
        figures = [last_digit(text) for text in said]
        for value, half in figures[1:]:
            first, own_half = figures[0]
            assert abs(value - first) <= max(half, own_half) * 1.001, (what, said)
        units = {
            text.split(" ")[1] for text in said if " " in text and text.split(" ")[1].isalpha()
        }
        assert len(units) <= 1, (what, said)
    assert {"tension at rest", "belt length", "speed at redline"} <= kinds
