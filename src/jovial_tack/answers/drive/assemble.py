"""From a build and the catalogue to drives the mechanics can solve.

Absent figures are filled in here, and only here, from the profile, the construction and the shaft's
kind, so that one place knows what is representative.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import chain

import numpy as np

from jovial_tack.answers.drive.adjusters import adjuster_of
from jovial_tack.answers.drive.belt_figures import BeltFigures, belt_figures
from jovial_tack.answers.drive.case import _SIGN, Case, SolvableCase, UnsolvableCase, runs_free
from jovial_tack.answers.drive.duties import Currents, currents_of
from jovial_tack.answers.drive.planes import plane_spread
from jovial_tack.answers.drive.taking import Situation, Taken, situation_of, taken_by
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.belt.lines import cord_radius
from jovial_tack.core.drive.arm import Layout
from jovial_tack.core.drive.loads import Load, NoLoad
from jovial_tack.core.drive.sliding import Slide, slide_to
from jovial_tack.core.drive.solve import BeltDrive
from jovial_tack.core.drive.train import CarriedLoad, Train, order_drives
from jovial_tack.core.value import Value, replace
from jovial_tack.document import model as doc
from jovial_tack.document.travel import track_of


class Placed(Value, frozen=True):
    """How a drive turns: the place of its driving pulley, the way each pulley turns (+1 ccw), and
    how many times as fast as the crank its driver does.
    """

    driver: int
    signs: tuple[int, ...]
    speed: float


class ShaftTurn(Value, frozen=True):
    """How a shaft turns: its way (+1 ccw), and how many times as fast as the crank."""

    sign: int
    speed: float


def assemble(build: doc.Build, catalogue: Catalogue) -> tuple[Case, ...]:
    """The cases of all drives, in the build's order; speeds go outward, loads come back inward."""
    crank = next((shaft.id for shaft in build.shafts if shaft.kind == "crank"), "")
    on_routes = {drive.id: [p.shaft for p in _on_route(drive)] for drive in build.drives}
    train = order_drives(crank, on_routes)
    belts = {drive.id: belt_figures(drive.belt, catalogue) for drive in build.drives}
    placed, turning = _placed(build, crank, train, belts)
    layouts = _laid_out(build, belts, placed)
    currents = _currents(build, placed, turning, catalogue)
    situation = situation_of(build, catalogue)
    drivers = dict(train.order)
    solved: dict[str, SolvableCase] = {}
    for name, _ in reversed(train.order):
        # belts further out are solved already: their loads come in on the shafts that drive them
        beyond = {
            shaft: tuple(case for other, case in solved.items() if drivers[other] == shaft)
            for shaft in on_routes[name]
        }
        layout, slide = layouts[name]
        solved[name] = _case(
            build,
            name,
            catalogue,
            belt=belts[name],
            placed=placed[name],
            layout=layout,
            slide=slide,
            beyond=beyond,
            currents=currents,
            situation=situation,
        )
    cases: dict[str, Case] = dict(solved)
    for name in train.idle + train.looped:
        problem = "looped" if name in train.looped else "idle"
        cases[name] = _unsolvable(build, name, belts[name], problem)
    return tuple(cases[drive.id] for drive in build.drives)


def _placed(
    build: doc.Build, crank: str, train: Train, belts: Mapping[str, BeltFigures]
) -> tuple[dict[str, Placed], dict[str, ShaftTurn]]:
    """How every drive turns, and every shaft, from the crank outward."""
    turning = {crank: ShaftTurn(_SIGN[build.engine.crank_rotation], 1.0)}
    placed: dict[str, Placed] = {}
    for name, driver_shaft in train.order:
        pulleys = _on_route(build.drive(name))
        driver = next(i for i, pulley in enumerate(pulleys) if pulley.shaft == driver_shaft)
        drives, driving = turning[driver_shaft], pulleys[driver]
        # a pulley on the belt's other side turns the other way
        signs = tuple(drives.sign if p.side == driving.side else -drives.sign for p in pulleys)
        placed[name] = Placed(driver, signs, drives.speed)
        belt_speed = drives.speed * radius_of(driving, belts[name])
        for pulley, sign in zip(pulleys, signs, strict=True):
            speed = belt_speed / radius_of(pulley, belts[name])
            turning.setdefault(pulley.shaft, ShaftTurn(sign, speed))
    return placed, turning


def _laid_out(
    build: doc.Build,
    belts: Mapping[str, BeltFigures],
    placed: Mapping[str, Placed],
) -> dict[str, tuple[Layout, Slide | None]]:
    """The layout of every drive, from the crank outward: a shaft that its belt moves stands where the
    belt puts it, for the other belts on it too.
    """
    centers = {shaft.id: complex(*shaft.center_mm) for shaft in build.shafts}
    slides: dict[str, Slide] = {}
    for name in placed:
        drive = build.drive(name)
        track, length = track_of(build, drive), drive.belt.effective_length_mm
        if track is None or length is None:
            continue
        assert isinstance(drive.tensioner, doc.LockedTensioner)
        shaft = drive.tensioner.shaft
        belt = belts[name]
        layout = _layout(drive, belt, placed[name], centers)
        moved = tuple(k for k, pulley in enumerate(_on_route(drive)) if pulley.shaft == shaft)
        pull = drive.tensioner.installed_tension_n
        slide = slide_to(layout, moved, track, belt.stretching(length), pull, centers[shaft])
        slides[name] = slide
        if slide.share is not None:
            centers[shaft] = complex(track.center(np.asarray(slide.share)))
    return {
        name: (_layout(build.drive(name), belts[name], placed[name], centers), slides.get(name))
        for name in placed
    }


def _layout(
    drive: doc.Drive,
    belt: BeltFigures,
    placed: Placed,
    centers: Mapping[str, complex],
) -> Layout:
    pulleys = _on_route(drive)
    rho = np.array([s * radius_of(p, belt) for s, p in zip(placed.signs, pulleys, strict=True)])
    stands = np.array([centers[pulley.shaft] for pulley in pulleys])
    return Layout(stands, rho, placed.driver)


def _on_route(drive: doc.Drive) -> tuple[doc.Pulley, ...]:
    return tuple(drive.pulley(name) for name in drive.route)


def radius_of(pulley: doc.Pulley, belt: BeltFigures) -> float:
    """Cord radius of a belt on a pulley, mm."""
    profile = belt.profile
    offset = profile.effective_to_cord_mm if pulley.side == "ribs" else profile.cord_to_back_mm
    return cord_radius(pulley.diameter_mm, offset)


def _case(
    build: doc.Build,
    name: str,
    catalogue: Catalogue,
    *,
    belt: BeltFigures,
    placed: Placed,
    layout: Layout,
    slide: Slide | None,
    beyond: Mapping[str, tuple[SolvableCase, ...]],
    currents: Mapping[str, Currents],
    situation: Situation,
) -> SolvableCase:
    model, driver = build.drive(name), placed.driver
    pulleys = _on_route(model)
    shafts = tuple(build.shaft(pulley.shaft) for pulley in pulleys)
    borne = []
    for place, shaft in enumerate(shafts):
        if place == driver or runs_free(pulleys[place], placed.signs[place]):
            borne.append(_NOTHING)
            continue
        turns = abs(layout.signed_radii[driver] / layout.signed_radii[place])
        taken = taken_by(build, shaft, float(placed.speed * turns), catalogue, situation)
        borne.append(_borne(shaft, taken, beyond[shaft.id]))
    guessed = tuple(dict.fromkeys(name for each in borne for name in each.guessed))
    solvable = BeltDrive(
        layout,
        adjuster_of(model, shafts, layout, belt, situation.spring_factor),
        belt.stretching(model.belt.effective_length_mm or 1.0),
        belt.mass_kg_per_m,
        np.array([friction_of(pulley, belt, situation) for pulley in pulleys]),
        tuple(each.load for each in borne),
        placed.speed,
    )
    further = [beyond[shaft.id] for place, shaft in enumerate(shafts) if place != driver]
    # what alternators give matters to a drive that has one, and only to it
    charged = tuple(currents.items()) if any(s.kind == "alternator" for s in shafts) else ()
    spread = plane_spread(build, catalogue, model) if build.survey.readings else None
    key = (
        model,
        shafts,
        build.engine,
        build.air,
        placed,
        tuple(layout.centers.tolist()),
        tuple(case.key for case in chain.from_iterable(further)),
        charged,
        situation,
        repr(spread),  # NaN equals nothing, itself neither
    )
    return SolvableCase(
        model=model,
        engine=build.engine,
        pulleys=pulleys,
        shafts=shafts,
        belt=belt,
        driver=driver,
        signs=placed.signs,
        drive=solvable,
        key=key,
        slide=slide,
        currents=currents,
        situation=situation.label,
        guessed=guessed,
        known=replace(solvable, loads=tuple(each.known for each in borne)) if guessed else None,
        plane_spread=spread,
    )


class Borne(Value, frozen=True):
    """What a belt bears at one pulley: with usual loads where none is known, without them, and the
    shafts whose load is such a guess.
    """

    load: Load
    known: Load
    guessed: tuple[str, ...]


_NOTHING = Borne(NoLoad(), NoLoad(), ())


def _borne(shaft: doc.Shaft, taken: Taken, beyond: Sequence[SolvableCase]) -> Borne:
    """A shaft's own load with those of the belts it drives."""
    turned = beyond
    names = [shaft.id] if taken.guessed else []
    return Borne(
        _carried(taken.load, [case.drive for case in turned]),
        _carried(taken.known, [case.known or case.drive for case in turned]),
        (*names, *chain.from_iterable(case.guessed for case in turned)),
    )


def friction_of(pulley: doc.Pulley, belt: BeltFigures, situation: Situation) -> float:
    """Effective friction of a belt on a pulley, on the side in contact."""
    side = belt.friction_ribs if pulley.side == "ribs" else belt.friction_back
    return side * pulley.friction_scale * situation.friction_factor


def _carried(own: Load, further: Sequence[BeltDrive | None]) -> Load:
    """A shaft's load with those of the belts it turns."""
    beyond = tuple(drive for drive in further if drive is not None)
    return CarriedLoad(own, beyond) if beyond else own


def _currents(
    build: doc.Build,
    placed: Mapping[str, Placed],
    turning: Mapping[str, ShaftTurn],
    catalogue: Catalogue,
) -> dict[str, Currents]:
    """What every alternator gives; none behind a one-way pulley that runs free."""
    free = {
        pulley.shaft
        for name, how in placed.items()
        for pulley, sign in zip(_on_route(build.drive(name)), how.signs, strict=True)
        if runs_free(pulley, sign)
    }
    ratios = {shaft: how.speed for shaft, how in turning.items() if shaft not in free}
    return currents_of(build.shafts, ratios, build.engine, catalogue)


def _unsolvable(build: doc.Build, name: str, belt: BeltFigures, problem: str) -> UnsolvableCase:
    drive = build.drive(name)
    pulleys = _on_route(drive)
    shafts = tuple(build.shaft(pulley.shaft) for pulley in pulleys)
    key = (drive, shafts, build.engine, problem)
    return UnsolvableCase(drive, build.engine, pulleys, shafts, belt, key, problem)
