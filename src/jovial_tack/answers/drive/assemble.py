"""From a build and the catalogue to drives the mechanics can solve.

Absent figures are filled in here, and only here, from the profile, the construction and the shaft's
kind, so that one place knows what is representative.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from jovial_tack.answers.drive.adjusters import adjuster_of
from jovial_tack.answers.drive.belt_figures import BeltFigures, belt_figures
from jovial_tack.answers.drive.case import _SIGN, Case, runs_free
from jovial_tack.answers.drive.duties import Currents, currents_of
from jovial_tack.answers.drive.taking import Situation, Taken, situation_of, taken_by
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.belt.lines import cord_radius
from jovial_tack.core.drive.arm import Layout
from jovial_tack.core.drive.loads import Load, NoLoad
from jovial_tack.core.drive.sliding import Slide, slide_to
from jovial_tack.core.drive.solve import BeltDrive
from jovial_tack.core.drive.train import CarriedLoad, order_drives
from jovial_tack.core.value import replace
from jovial_tack.document import model as doc
from jovial_tack.document.travel import track_of


def assemble(build: doc.Build, catalogue: Catalogue) -> tuple[Case, ...]:
    """The cases of all drives, in the build's order; speeds go outward, loads come back inward."""
    crank = next((shaft.id for shaft in build.shafts if shaft.kind == "crank"), "")
    train = order_drives(
        crank, {drive.id: [pulley.shaft for pulley in _on_route(drive)] for drive in build.drives}
    )
    turning: dict[str, tuple[int, float]] = {crank: (_SIGN[build.engine.crank_rotation], 1.0)}
    drivers = dict(train.order)
    placed: dict[str, tuple[int, tuple[int, ...], float]] = {}
    belts = {drive.id: belt_figures(drive.belt, catalogue) for drive in build.drives}
    for name, driver_shaft in train.order:
        drive = build.drive(name)
        pulleys = _on_route(drive)
        driver = next(i for i, pulley in enumerate(pulleys) if pulley.shaft == driver_shaft)
        sign, speed = turning[driver_shaft]
        radii = [_radius(pulley, belts[name]) for pulley in pulleys]
        signs = tuple(sign if pulley.side == pulleys[driver].side else -sign for pulley in pulleys)
        placed[name] = (driver, signs, speed)
        for pulley, pulley_sign, radius in zip(pulleys, signs, radii, strict=True):
            turning.setdefault(pulley.shaft, (pulley_sign, speed * radii[driver] / radius))
    layouts = _laid_out(build, belts, placed)
    currents = _currents(build, placed, turning, catalogue)
    situation = situation_of(build, catalogue)
    cases: dict[str, Case] = {}
    for name, _ in reversed(train.order):
        outer = {
            shaft: tuple(case for other, case in cases.items() if drivers[other] == shaft)
            for shaft in {pulley.shaft for pulley in build.drive(name).pulleys}
        }
        cases[name] = _case(
            build,
            name,
            catalogue,
            belts[name],
            placed[name],
            layouts[name],
            outer,
            currents,
            situation,
        )
    for name in train.idle + train.looped:
        problem = "looped" if name in train.looped else "idle"
        cases[name] = _unsolvable(build, name, belts[name], problem)
    return tuple(cases[drive.id] for drive in build.drives)


def _laid_out(
    build: doc.Build,
    belts: Mapping[str, BeltFigures],
    placed: Mapping[str, tuple[int, tuple[int, ...], float]],
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
    placed: tuple[int, tuple[int, ...], float],
    centers: Mapping[str, complex],
) -> Layout:
    driver, signs, _ = placed
    pulleys = _on_route(drive)
    rho = np.array([s * _radius(p, belt) for s, p in zip(signs, pulleys, strict=True)])
    return Layout(np.array([centers[pulley.shaft] for pulley in pulleys]), rho, driver)


def _on_route(drive: doc.Drive) -> tuple[doc.Pulley, ...]:
    return tuple(drive.pulley(name) for name in drive.route)


def _radius(pulley: doc.Pulley, belt: BeltFigures) -> float:
    profile = belt.profile
    offset = profile.effective_to_cord_mm if pulley.side == "ribs" else profile.cord_to_back_mm
    return cord_radius(pulley.diameter_mm, offset)


def _case(
    build: doc.Build,
    name: str,
    catalogue: Catalogue,
    belt: BeltFigures,
    placed: tuple[int, tuple[int, ...], float],
    laid_out: tuple[Layout, Slide | None],
    outer: Mapping[str, tuple[Case, ...]],
    currents: Mapping[str, Currents],
    situation: Situation,
) -> Case:
    drive_model = build.drive(name)
    driver, signs, speed = placed
    pulleys = _on_route(drive_model)
    shafts = tuple(build.shaft(pulley.shaft) for pulley in pulleys)
    layout, slide = laid_out
    friction = [
        (belt.friction_ribs if p.side == "ribs" else belt.friction_back)
        * p.friction_scale
        * situation.friction_factor
        for p in pulleys
    ]
    loads: list[Load] = []
    known: list[Load] = []
    guessed: list[str] = []
    for place, shaft in enumerate(shafts):
        ratio = speed * abs(layout.signed_radii[driver] / layout.signed_radii[place])
        own = taken_by(build, shaft, float(ratio), catalogue, situation)
        free = runs_free(pulleys[place], signs[place])
        if free or place == driver:
            own = Taken(NoLoad(), NoLoad())
        beyond = [] if place == driver or free else [c for c in outer[shaft.id] if c.drive]
        if own.guessed:
            guessed.append(shaft.id)
        guessed += [name for case in beyond for name in case.guessed if name not in guessed]
        loads.append(_carried(own.load, [case.drive for case in beyond]))
        known.append(_carried(own.known, [case.known or case.drive for case in beyond]))
    solvable = BeltDrive(
        layout,
        adjuster_of(drive_model, layout, belt, situation.spring_factor),
        belt.stretching(drive_model.belt.effective_length_mm or 1.0),
        belt.mass_kg_per_m,
        np.array(friction),
        tuple(loads),
        speed,
    )
    beyond_keys = tuple(
        case.key for i, shaft in enumerate(shafts) if i != driver for case in outer[shaft.id]
    )
    stands = tuple(layout.centers.tolist())
    charged = tuple(currents.items()) if any(s.kind == "alternator" for s in shafts) else ()
    key = (
        drive_model,
        shafts,
        build.engine,
        build.air,
        driver,
        signs,
        speed,
        stands,
        beyond_keys,
        charged,
        situation,
    )
    return Case(
        drive_model,
        build.engine,
        pulleys,
        shafts,
        belt,
        driver,
        signs,
        solvable,
        None,
        key,
        slide,
        currents,
        situation.label,
        tuple(guessed),
        replace(solvable, loads=tuple(known)) if guessed else None,
    )


def _carried(own: Load, further: Sequence[BeltDrive | None]) -> Load:
    """A shaft's load with those of the belts it turns."""
    beyond = tuple(drive for drive in further if drive is not None)
    return CarriedLoad(own, beyond) if beyond else own


def _currents(
    build: doc.Build,
    placed: Mapping[str, tuple[int, tuple[int, ...], float]],
    turning: Mapping[str, tuple[int, float]],
    catalogue: Catalogue,
) -> dict[str, Currents]:
    """What every alternator gives; none behind a one-way pulley that runs free."""
    free = {
        pulley.shaft
        for name, (_, signs, _) in placed.items()
        for pulley, sign in zip(_on_route(build.drive(name)), signs, strict=True)
        if runs_free(pulley, sign)
    }
    ratios = {shaft: speed for shaft, (_, speed) in turning.items() if shaft not in free}
    return currents_of(build.shafts, ratios, build.engine, catalogue)


def _unsolvable(build: doc.Build, name: str, belt: BeltFigures, problem: str) -> Case:
    drive = build.drive(name)
    pulleys = _on_route(drive)
    shafts = tuple(build.shaft(pulley.shaft) for pulley in pulleys)
    key = (drive, shafts, build.engine, problem)
    return Case(drive, build.engine, pulleys, shafts, belt, 0, (), None, problem, key)
