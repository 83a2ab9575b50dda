"""The steps of fitting up on paper, with the boxes of the window and room for what is seen."""

from __future__ import annotations

from contextlib import suppress
from pathlib import Path
from typing import Any

from jovial_tack.answers.fit_up.steps import Step, Steps
from jovial_tack.answers.fit_up.telling import figure_lines, seen_line, torque_words
from jovial_tack.answers.results import Results
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.words import capital, sentence
from jovial_tack.document.model import Build
from jovial_tack.drawing.routing import Picture, routing_picture
from jovial_tack.files.paper.page import (
    HEAD_PT,
    SMALL_PT,
    drawn,
    gap,
    mark_of,
    pdf,
    table,
    tick_box,
    width_mm,
    words,
)
from jovial_tack.files.whole import replace_file

_BOX_MM, _NUMBER_MM, _SEEN_MM = 7.0, 8.0, 46.0
_PICTURE_MM = 90.0
_SEEN_AT = ("tension", "recheck", "first")


def write_fitup(
    build: Build,
    steps: Steps,
    results: Results,
    catalogue: Catalogue,
    path: Path,
    saved_as: Path | None,
    paper: str = "a4",
) -> None:
    """Write the steps to a file. saved_as: the build's own file, whose checksum tells which state of it
    this is. Raises SaveError.
    """
    picture = None
    with suppress(GeometryError):  # a drive that does not rest has no picture
        picture = routing_picture(build, results, catalogue)
    replace_file(path, fitup_pdf(build, steps, picture, mark_of(saved_as), paper))


def fitup_pdf(
    build: Build, steps: Steps, picture: Picture | None, mark: str, paper: str = "a4"
) -> bytes:
    """The bytes of the file. picture: the routing, where it can be drawn; mark: of which build."""
    name = build.title or build.engine.name or "Build without a title"
    story: list[Any] = [words(f"{name}: fitting up", size=HEAD_PT, bold=True), gap(2)]
    if picture is not None:
        story += [drawn(picture, _PICTURE_MM), gap(3)]
    story += step_rows(build, steps, paper)
    return pdf(f"{name}: fitting up", mark, paper, story)


def step_rows(build: Build, steps: Steps, paper: str) -> list[Any]:
    """A row for each step, to be set on any sheet."""
    for_words = width_mm(paper) - _BOX_MM - _NUMBER_MM - _SEEN_MM
    rows = [
        [tick_box(step.state), str(k), _said(build, step), _seen(step)]
        for k, step in enumerate(steps.steps, 1)
    ]
    if not rows:
        return [words("Nothing to fit up yet.")]
    told: list[Any] = [table(rows, (_BOX_MM, _NUMBER_MM, for_words, _SEEN_MM), head=False)]
    for loop in steps.loops:
        told.append(words(f"These wait for one another: {', '.join(loop)}."))
    return told


def _said(build: Build, step: Step) -> list[Any]:
    """What a step says, what to beware of below it, smaller."""
    said = [words(sentence(step.words), bold=True)]
    if step.state == "again":
        said.append(words("Done before the build was changed: again.", size=SMALL_PT))
    elif step.look_again:
        said.append(words("Something there was changed since: look again.", size=SMALL_PT))
    said += [words(caution, size=SMALL_PT) for caution in step.cautions]
    looks = "; ".join(step.looks)
    if looks:
        said.append(words(f"Look: {looks}.", size=SMALL_PT))
    said += [words(capital(line), size=SMALL_PT) for line in figure_lines(build, step)]
    if step.torque is not None:
        told = torque_words(step.torque, build.display_units)
        said.append(words(f"Your figures: {told}.", size=SMALL_PT))
    return said


def _seen(step: Step) -> list[Any]:
    """What was seen and noted; else lines to write it on."""
    done, said = step.done, []
    if done is not None:
        said.append(words(f"done {done.at}", size=SMALL_PT))
        if done.note:
            said.append(words(done.note, size=SMALL_PT))
    if step.kind in _SEEN_AT and step.figures is not None:
        read = seen_line(step)
        said.append(words(f"seen: {read}" if read else "mark ______  tone ______", size=SMALL_PT))
    return said or [words("", size=SMALL_PT)]
