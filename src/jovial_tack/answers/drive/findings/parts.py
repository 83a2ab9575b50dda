"""Limits of the parts: speed, rotation, size, ribs, hub load, tone (docs/METHOD.md, section 9)."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.case import runs_free
from jovial_tack.answers.drive.duties import others_than, shortfalls
from jovial_tack.answers.drive.findings.seats import seat_findings
from jovial_tack.answers.drive.findings.teeth import teeth_findings
from jovial_tack.answers.drive.solved import Solved
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.kinds import (
    BELT_SPEED,
    OVERSPEED,
    PROUD_OF_RIM,
    RIB_MISMATCH,
    SMALL_PULLEY,
    SPAN_RESONANCE,
    UNDERSPEED,
    WRONG_ROTATION,
)
from jovial_tack.answers.results import Finding, Level
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.grip.span_readings import running_tone
from jovial_tack.document.model import Pulley

_WORDS = {"cw": "clockwise", "ccw": "counter-clockwise"}


def parts_findings(solved: Solved, catalogue: Catalogue, speech: Speech) -> list[Finding]:
    """Findings that hold whether or not the belt has a path, then those of the running state."""
    found = (
        _speeds(solved, speech)
        + _duties(solved, catalogue, speech)
        + _rotation(solved, speech)
        + _belt_speed(solved, speech)
    )
    found += _sizes(solved, speech) + _ribs(solved, speech) + teeth_findings(solved, speech)
    found += seat_findings(solved, speech)
    if solved.turning is not None:
        found += _resonance(solved, speech)
    return found


def _speeds(solved: Solved, speech: Speech) -> list[Finding]:
    found: list[Finding] = []
    redline = solved.case.engine.redline_rpm
    for place, shaft in enumerate(solved.case.shafts):
        speed = redline * float(solved.drive.ratios[place])
        if place == solved.drive.layout.driver and shaft.kind != "crank":
            continue  # judged in the drive that turns it
        if shaft.max_rpm is None or speed <= shaft.max_rpm:
            continue
        pulley = solved.case.pulleys[place]
        least = _diameter_for(solved, place, speed, shaft.max_rpm)
        found.append(
            Finding(
                OVERSPEED,
                "stop",
                pulley.id,
                f"{shaft.label} turns {speed:.0f} rpm at redline, over its {shaft.max_rpm:.0f} rpm"
                f" limit; {speech.at_least(least)} or more on its pulley keeps it below",
                value=speed,
                limit=shaft.max_rpm,
            )
        )
    return found


def _diameter_for(solved: Solved, place: int, rpm: float, wanted_rpm: float) -> float:
    """The diameter, mm, with which a pulley that turns rpm turns at a wanted speed."""
    radius = float(solved.drive.radii[place])
    offset = radius - solved.case.pulleys[place].diameter_mm / 2
    return 2 * (radius * rpm / wanted_rpm - offset)


def _duties(solved: Solved, catalogue: Catalogue, speech: Speech) -> list[Finding]:
    """Shafts that turn too slowly for what they are asked for."""
    found: list[Finding] = []
    for place, shaft in enumerate(solved.case.shafts):
        if place == solved.drive.layout.driver:
            continue  # judged in the drive that turns it
        pulley, ratio = solved.case.pulleys[place], float(solved.drive.ratios[place])
        others = others_than(shaft, solved.case.currents)
        for short in shortfalls(shaft, solved.case.engine, ratio, catalogue, others):
            if short.needed_rpm is None:
                mend = "no higher speed makes it give that much"
            else:
                most = _diameter_for(solved, place, short.rpm, short.needed_rpm)
                mend = f"{speech.at_most(most)} or less on its pulley would do"
            words = f"{shaft.label} {short.words}; {mend}"
            level: Level = "watch"
            if short.usual:
                level = "unknown"
                words = (
                    f"not known yet, by the output usual for its kind {shaft.label} {short.words};"
                    " type its output"
                )
            found.append(Finding(UNDERSPEED, level, pulley.id, words, short.rpm, short.needed_rpm))
    return found


def _rotation(solved: Solved, speech: Speech) -> list[Finding]:
    found: list[Finding] = []
    for place, shaft in enumerate(solved.case.shafts):
        turns = "ccw" if solved.case.signs[place] > 0 else "cw"
        if runs_free(solved.case.pulleys[place], solved.case.signs[place]):
            found.append(
                Finding(
                    WRONG_ROTATION,
                    "stop",
                    solved.case.pulleys[place].id,
                    f"the one-way pulley of {shaft.label} runs free and leaves its shaft standing;"
                    f" it must turn {_WORDS[solved.case.pulleys[place].one_way or 'cw']}",
                )
            )
        if shaft.needs_rotation in (None, "either", turns):
            continue
        other = "back" if solved.case.pulleys[place].side == "ribs" else "ribs"
        found.append(
            Finding(
                WRONG_ROTATION,
                "stop",
                solved.case.pulleys[place].id,
                f"{shaft.label} turns {_WORDS[turns]} and needs {_WORDS[shaft.needs_rotation]};"
                f" drive it from the belt's {other}",
            )
        )
    return found


def _belt_speed(solved: Solved, speech: Speech) -> list[Finding]:
    fastest = float(solved.drive.speed(solved.rpm).max())
    profile = solved.case.belt.profile
    watch, stop = profile.belt_speed_watch_mps, profile.belt_speed_stop_mps
    if fastest <= watch:
        return []
    over_stop = fastest > stop
    limit = stop if over_stop else watch
    return [
        Finding(
            BELT_SPEED,
            "stop" if over_stop else "watch",
            solved.case.model.route[solved.drive.layout.driver],
            f"the belt of {speech.drive} runs {speech.belt_speed(fastest)} at"
            f" {solved.rpm.max():.0f} rpm, over {speech.belt_speed(limit)};"
            " the rim maker's limit rules",
            value=fastest,
            limit=limit,
        )
    ]


def _sizes(solved: Solved, speech: Speech) -> list[Finding]:
    profile = solved.case.belt.profile
    found: list[Finding] = []
    for pulley in solved.case.pulleys:
        least = profile.least_grooved_mm if pulley.side == "ribs" else profile.least_back_mm
        if pulley.diameter_mm < least:
            found.append(
                Finding(
                    SMALL_PULLEY,
                    "watch",
                    pulley.id,
                    f"{speech.name(pulley.id)} at {speech.length(pulley.diameter_mm)} is under the"
                    f" {speech.length(least)} a {profile.name} belt should bend round on that side",
                    value=pulley.diameter_mm,
                    limit=least,
                )
            )
        rim = pulley.flange_mm
        if rim is not None and pulley.side == "ribs" and rim < profile.effective_to_cord_mm:
            proud = profile.effective_to_cord_mm - rim
            found.append(
                Finding(
                    PROUD_OF_RIM,
                    "watch",
                    pulley.id,
                    f"the belt's cord stands {speech.length(proud)} proud of the rim of"
                    f" {speech.name(pulley.id)}; a lip that high keeps it from climbing off",
                    value=rim,
                    limit=profile.effective_to_cord_mm,
                )
            )
    return found


def _ribs(solved: Solved, speech: Speech) -> list[Finding]:
    ribs, found = solved.case.belt.ribs, []
    for pulley in solved.case.pulleys:
        if pulley.grooves is None or pulley.side == "back":
            continue
        if solved.case.belt.profile.section == "toothed":
            found += _too_wide(pulley, ribs, speech)
            continue
        first = pulley.first_groove or 1
        name = speech.name(pulley.id)
        if ribs > pulley.grooves or first + ribs - 1 > pulley.grooves:
            over = max(ribs, first + ribs - 1)
            found.append(
                Finding(
                    RIB_MISMATCH,
                    "stop",
                    pulley.id,
                    f"the belt's {ribs} ribs from groove {first} need {over} grooves on {name}, which"
                    f" has {pulley.grooves}",
                    value=float(over),
                    limit=float(pulley.grooves),
                )
            )
        elif ribs < pulley.grooves and pulley.first_groove is None:
            found.append(
                Finding(
                    RIB_MISMATCH,
                    "watch",
                    pulley.id,
                    f"{name} has {pulley.grooves} grooves for {ribs} ribs; say which groove carries"
                    " the first rib",
                    value=float(ribs),
                    limit=float(pulley.grooves),
                )
            )
    return found


def _too_wide(pulley: Pulley, width_mm: int, speech: Speech) -> list[Finding]:
    """A toothed belt on a pulley narrower than it; a wider one leaves the side play that is wanted."""
    if pulley.grooves is None or width_mm <= pulley.grooves:
        return []
    words = (
        f"the belt is {speech.length(width_mm)} wide, and {speech.name(pulley.id)} has"
        f" {speech.length(pulley.grooves)} between its flanges"
    )
    return [Finding(RIB_MISMATCH, "stop", pulley.id, words, float(width_mm), float(pulley.grooves))]


def _resonance(solved: Solved, speech: Speech) -> list[Finding]:
    """A span whose running tone meets the firing order, or twice the tone, where the engine dwells."""
    cylinders, turning = solved.case.engine.cylinders, solved.turning
    if cylinders is None or turning is None:
        return []
    running = turning.nominal
    engine = solved.case.engine
    dwell = np.isin(solved.rpm, (engine.idle_rpm, engine.cruise_rpm))
    firing = solved.rpm[:, None] / 60.0 * cylinders / 2
    speed = solved.drive.speed(solved.rpm)[:, None]
    tone = running_tone(running.tractions, running.path.length, solved.drive.mass_kg_per_m, speed)
    band = solved.limits.resonance_band
    found: list[Finding] = []
    for multiple, word in ((1, "the firing order"), (2, "half the firing order")):
        near = (np.abs(firing / (multiple * tone) - 1) < band) & dwell[:, None]
        for span in np.flatnonzero(near.any(axis=0)):
            lane = int(np.argmax(near[:, span]))
            after = (int(span) + 1) % tone.shape[1]
            found.append(
                Finding(
                    SPAN_RESONANCE,
                    "watch",
                    solved.case.model.route[span],
                    f"the span from {speech.at(int(span))} to {speech.at(after)} rings at"
                    f" {tone[lane, span]:.0f} Hz, {word} at {solved.rpm[lane]:.0f} rpm: look for it"
                    " slapping there",
                    value=float(tone[lane, span]),
                    limit=float(firing[lane, 0] / multiple),
                )
            )
    return found
