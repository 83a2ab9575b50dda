"""How a build lines up, as text for the terminal."""

from __future__ import annotations

from jovial_tack.answers.line_up.read import label_of
from jovial_tack.answers.line_up.told import ToldLineUp
from jovial_tack.answers.line_up.words import (
    bolt_words,
    ear_words,
    length,
    plane_words,
    plate_words,
    pull_words,
    stood_words,
    unit_words,
    window_words,
)
from jovial_tack.document.model import Build

_MARKS = {"stop": "STOP ", "watch": "watch", "unknown": "open ", "note": "note "}


def lineup_table(build: Build, told: ToldLineUp) -> str:
    """Windows, moves, stacks, bolts, readings and the pull."""
    lines = [build.title or "line up", ""]
    lines += [f"{_MARKS.get(f.level, f.level)} {f.message}" for f in told.findings]
    lines += ["", "Where each pulley may stand"]
    if not told.lined.windows:
        lines.append("  not known: no belt has two pulleys whose planes are measured")
    for (drive, pulley), window in told.lined.windows.items():
        plane = build.drive(drive).pulley(pulley).plane_mm
        here = "" if plane is None else f", stands at {length(build, plane)}"
        lines.append(f"  {label_of(build, (drive, pulley))}: {window_words(build, window)}{here}")
    bolts = {(shaft, ear.ear.id): bolt for shaft, ear, bolt in told.bolts}
    pull, stood = dict(told.pull), dict(told.stood)
    for unit in told.stacks:
        lines += ["", unit_words(build, unit)]
        for ear in unit.ears:
            lines.append(f"  {ear_words(build, ear)}")
            bolt = bolts.get((unit.stack.shaft, ear.ear.id))
            if bolt is not None:
                lines.append(f"    {bolt_words(build, bolt)}")
        if unit.stack.shaft in stood:
            lines.append(f"  {stood_words(stood[unit.stack.shaft])}")
        if not unit.problem:
            lines.append(f"  {pull_words(build, unit.stack.shaft, pull[unit.stack.shaft])}")
    for plate in told.plates:
        lines += ["", plate_words(build, plate)]
    if told.read is not None:
        lines += ["", "By what was read"]
        lines += [f"  {plane_words(build, one)}" for one in told.read.pulleys]
        for line in told.read.lines:
            if line.problem:
                lines.append(f"  - {line.words}: not used: {line.problem}")
            elif line.suspect:
                lines.append(f"  ! {line.words}: does not fit the others; read it again")
    return "\n".join(lines)
