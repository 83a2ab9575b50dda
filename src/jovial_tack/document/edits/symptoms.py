"""Edits of what is seen of a drive that is noisy or wears."""

from __future__ import annotations

from typing import Any

from jovial_tack.document.edits.changing import changed
from jovial_tack.document.model import Build, Symptoms, make


def set_finding(build: Build, drive_id: str, finding: str, seen: bool | None) -> Build:
    """Say that a finding is seen, is not there, or (None) was not looked at."""
    now = build.symptoms.get(drive_id) or make(Symptoms, {})
    others = {name: told for name, told in now.findings.items() if name != finding}
    findings = others if seen is None else {**others, finding: seen}
    made = changed(now, findings=findings or None)
    if finding == "once_a_turn" and not seen:
        made = changed(made, turns_with=None)  # what it beats with is of that finding
    return _with(build, drive_id, made)


def set_turning(build: Build, drive_id: str, turns_with: str | None) -> Build:
    """Say with what a recording of the noise beats: a pulley of the drive."""
    now = build.symptoms.get(drive_id) or make(Symptoms, {})
    return _with(build, drive_id, changed(now, turns_with=turns_with))


def set_material(build: Build, drive_id: str, material: str | None) -> Build:
    """Say of what rubber the belt is; None where that is not known."""
    now = build.symptoms.get(drive_id) or make(Symptoms, {})
    return _with(build, drive_id, changed(now, material=material))


def forget_symptoms(build: Build, drive_id: str) -> Build:
    """Begin anew with a drive."""
    left = {name: told for name, told in build.symptoms.items() if name != drive_id}
    return changed(build, symptoms=left or None)


def _with(build: Build, drive_id: str, symptoms: Symptoms) -> Build:
    every: dict[str, Any] = {n: told for n, told in build.symptoms.items() if n != drive_id}
    if symptoms.findings or symptoms.material or symptoms.turns_with or symptoms.unknown:
        every[drive_id] = symptoms
    return changed(build, symptoms=every or None)
