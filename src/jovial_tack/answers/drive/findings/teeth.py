"""Toothed belts: pulleys of no whole number of teeth, and too few teeth in mesh (METHOD 14)."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.solved import Solved
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.kinds import TEETH
from jovial_tack.answers.results import Finding
from jovial_tack.core.belt.toothed import LEAST_MESH

_TOOTH_OFF = 0.03


def teeth_findings(solved: Solved, speech: Speech) -> list[Finding]:
    """Findings on the teeth of a drive; none for other belts."""
    profile, found = solved.case.belt.profile, []
    pitch = profile.tooth_pitch_mm
    if profile.section != "toothed" or pitch is None:
        return []
    for place, pulley in enumerate(solved.case.pulleys):
        if pulley.side == "back":
            continue
        around = 2 * np.pi * float(solved.drive.radii[place]) / pitch
        whole = max(round(around), 1)
        name = speech.name(pulley.id)
        if abs(around - whole) > _TOOTH_OFF:
            fits = whole * pitch / np.pi - 2 * profile.effective_to_cord_mm
            words = (
                f"{name} with {speech.length(pulley.diameter_mm)} over its tips has {around:.2f} teeth"
                f" of {pitch:g} mm; {whole} teeth are {speech.length(fits, 3)}"
            )
            found.append(Finding(TEETH, "stop", pulley.id, words, around, float(whole)))
        if solved.turning is None or solved.case.shafts[place].kind in ("idler", "tensioner"):
            continue
        mesh = float(solved.turning.nominal.path.wrap[0, place]) / (2 * np.pi) * whole
        if mesh < LEAST_MESH:
            words = (
                f"{name} has {mesh:.1f} teeth in mesh, under {LEAST_MESH:.0f}; more wrap or a larger"
                " pulley keeps its teeth from shearing"
            )
            found.append(Finding(TEETH, "stop", pulley.id, words, mesh, LEAST_MESH))
    return found
