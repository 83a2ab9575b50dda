"""A sprung slide: the same mechanics as an arm, along a straight line."""

from __future__ import annotations

import numpy as np
import pytest

from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.finder.figures import case_of
from jovial_tack.answers.finder.space import space_of
from jovial_tack.answers.finder.sure import how_sure
from jovial_tack.answers.finder.trying import find
from jovial_tack.answers.results import ArmResult
from jovial_tack.catalogue import load_catalogue
from jovial_tack.core.drive.adjuster import INSIDE
from jovial_tack.core.drive.arm import SpringArm
from jovial_tack.core.drive.lanes import Lanes
from jovial_tack.core.drive.path import trace
from jovial_tack.core.drive.solve import run_from_rest, states_at
from jovial_tack.core.drive.uncertainty import arm_follows
from jovial_tack.core.value import replace
from jovial_tack.document.model import Choices, SpringSlideTensioner, make
from slides import slid
from support import solvable

CATALOGUE = load_catalogue()
RPM = np.array([850.0, 2600.0, 6600.0])


@pytest.mark.parametrize("seed", range(4))
def test_a_slide_is_an_arm_that_has_no_end(seed: int) -> None:
    """An arm ten kilometres long swings along a straight line: it must stand and pull where the slide
    does, at rest and at speed.
    """
    case = solvable(slid(seed), slid(seed).drives[0].id)
    slide, far = case.arm, 1e7
    assert slide is not None and slide.slides
    across = 1j * slide.way
    ratio = slide.arm_mm / far
    # at the middle of the slot it swings across its own length, toward where the slide goes
    pivot = complex(slide.center(np.asarray(0.5))) + far * across

    def as_angle(share: float) -> float:
        return float(np.angle(-across) + (share - 0.5) * ratio)

    arm = SpringArm(
        slide.index, pivot, far, slide.push, as_angle(slide.angle),
        slide.torque_nm / ratio, slide.rate_nm_per_rad / ratio**2,
        (as_angle(slide.stops[0]), as_angle(slide.stops[1])),
        (as_angle(slide.window[0]), as_angle(slide.window[1])),
    )  # fmt: skip
    found = []
    for adjuster in (slide, arm):
        drive = replace(case.drive, adjuster=adjuster)
        rest = Lanes.at_rest(drive.pulley_count, drive.belt)
        ran, _ = run_from_rest(drive, Lanes.joined(rest, states_at(drive, RPM)))
        assert (ran.outcome == INSIDE).all()
        found.append((adjuster.center(ran.angle), ran.tractions))
    (here, pulls), (there, others) = found
    assert np.abs(here - there).max() < 1e-3
    assert pulls == pytest.approx(others, rel=1e-5)


def test_its_pull_is_its_force_over_what_it_takes_up() -> None:
    """By the path's own length: at rest T = F/(dL/ds), with F of the spring where it stands."""
    build = slid()
    case, result = solvable(build, build.drives[0].id), solve(build, None, CATALOGUE).drives[0]
    held, slide = result.tensioner, build.drives[0].tensioner
    assert isinstance(held, ArmResult) and isinstance(slide, SpringSlideTensioner)
    assert case.arm is not None and held.slide_mm is not None

    def length(mm: float) -> float:
        centers = case.drive.layout.centers.copy()
        centers[case.arm.index] = case.arm.center(np.asarray(mm / case.arm.arm_mm))  # type: ignore[union-attr]
        return float(trace(centers, case.drive.layout.signed_radii).total)

    onward = 1 if slide.pushes_to == "second" else -1
    grown = onward * (length(held.slide_mm + 0.01) - length(held.slide_mm - 0.01)) / 0.02
    back = onward * (slide.at_mm - held.slide_mm)
    force = slide.force_n + slide.rate_n_per_mm * back
    assert held.force_n == pytest.approx(force, rel=1e-9)
    assert held.tension_n == pytest.approx(force / grown, rel=1e-6)
    # the belt on the label is what fills that path
    assert case.drive.belt.length_at(np.asarray(held.tension_n)) == pytest.approx(
        length(held.slide_mm), abs=1e-6
    )


def test_what_it_gives_way_by_is_what_solving_again_gives() -> None:
    build = slid(1)
    case = solvable(build, build.drives[0].id)
    arm, layout, belt = case.arm, case.drive.layout, case.belt
    assert arm is not None

    def rests(shift: complex, place: int) -> float:
        centers = layout.centers.copy()
        centers[place] += shift
        moved = replace(layout, centers=centers)
        own = replace(arm, pivot=arm.pivot + (shift if place == arm.index else 0j))
        drive = replace(case.drive, layout=moved, adjuster=own)
        ran, _ = run_from_rest(drive, Lanes.at_rest(drive.pulley_count, drive.belt))
        return float(ran.angle[0])

    follows, _ = arm_follows(layout, arm, rests(0j, 0), belt.stiffness_n, belt.reference_tension_n)
    for place in range(layout.centers.size):
        for axis, way in ((1.0, "real"), (1j, "imag")):
            slope = (rests(0.01 * axis, place) - rests(-0.01 * axis, place)) / 0.02
            assert getattr(follows[place], way) == pytest.approx(slope, rel=1e-3, abs=1e-7)


@pytest.mark.parametrize("seed", range(2))
def test_the_finder_and_the_engines_drawn_take_it_as_it_is(seed: int) -> None:
    build = slid(seed)
    drive = build.drives[0]
    length = drive.belt.effective_length_mm
    assert length is not None
    lengths = [length + by for by in (-40.0, -5.0, 0.0, 5.0, 40.0)]
    choices = make(Choices, {"drive": drive.id, "belt_lengths_mm": lengths})
    space = space_of(build, choices, CATALOGUE)
    found = find(space, RPM.tolist()).fitting
    told = {int(name): k for k, name in enumerate(found.combination)}
    for row in range(len(lengths)):
        one = case_of(space.build_of(row), space).drive
        rest = Lanes.at_rest(one.pulley_count, one.belt)
        ran, _ = run_from_rest(one, Lanes.joined(rest, states_at(one, RPM)))
        assert isinstance(one.adjuster, SpringArm)
        inside = 0 <= float(one.adjuster.window_fraction(ran.angle)[0]) <= 1
        held = (ran.outcome == INSIDE).all() and (ran.tractions[1:] > 0).all()
        assert (row in told) == bool(inside and held)
        if row in told:
            used = float(ran.arc_used_fraction[1:].max())
            assert found.angle[told[row]] == pytest.approx(float(ran.angle[0]), abs=1e-7)
            assert found.arc_used[told[row]] == pytest.approx(used, rel=1e-6)
    assert 0 < len(told) < len(lengths)
    sure = how_sure(build, drive.id, CATALOGUE, samples=200)
    assert sure is not None and sure.fits > 0.5
