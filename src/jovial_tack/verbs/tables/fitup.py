"""The steps of fitting up as a list."""

from __future__ import annotations

from collections.abc import Sequence

from jovial_tack.answers.fit_up.explaining import Dialogue, likely_words
from jovial_tack.answers.fit_up.steps import Step, Steps
from jovial_tack.answers.fit_up.telling import figure_lines, torque_words
from jovial_tack.document.model import Build

_BOXES = {"open": "[ ]", "done": "[x]", "again": "[!]"}


def fitup_table(build: Build, steps: Steps, told: Sequence[tuple[str, Dialogue]] = ()) -> str:
    """One line a step, and below it what belongs to it; then what may be wrong of drives."""
    lines = [line for k, step in enumerate(steps.steps) for line in _lines(build, step, k + 1)]
    for loop in steps.loops:
        lines.append(f"these wait for one another: {', '.join(loop)}")
    for name, dialogue in told:
        lines.append(f"{build.drive(name).label}, by what is seen:")
        lines += [f"  {words}" for words in likely_words(dialogue)]
        check = dialogue.next
        if check is not None:
            lines.append(f"  look next: {check.words} ({check.minutes:.0f} min)")
    return "\n".join(lines)


def _lines(build: Build, step: Step, number: int) -> list[str]:
    again = " (done before the build was changed)" if step.state == "again" else ""
    again = " (look again: something there was changed)" if step.look_again else again
    lines = [f"{_BOXES[step.state]} {number:3} {step.words}{again}"]
    inset = " " * 8
    lines += [f"{inset}! {caution}" for caution in step.cautions]
    lines += [f"{inset}{line}" for line in figure_lines(build, step)]
    if step.torque is not None:
        lines.append(f"{inset}{torque_words(step.torque, build.display_units)}")
    return lines
