"""What is missing to say more. A figure that is not known is named, never assumed."""

from __future__ import annotations

from jovial_tack.answers.drive.case import UnsolvableCase
from jovial_tack.answers.drive.solved import Solved
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.kinds import DRIVE_LOOP, NOT_DETERMINED
from jovial_tack.answers.results import Finding, Level
from jovial_tack.document.model import SuperchargerLoad


def unsolvable_findings(case: UnsolvableCase, speech: Speech) -> tuple[Finding, ...]:
    """Findings of a drive that cannot be handed to the mechanics."""
    where = case.model.route[0]
    if case.problem == "looped":
        return (
            Finding(
                DRIVE_LOOP,
                "stop",
                where,
                f"{speech.drive} joins shafts that other belts already turn, so that the belts would"
                " fight over one speed; take one pulley of the loop off",
            ),
        )
    return (
        _note(
            where,
            f"nothing turns {speech.drive}: put one of its pulleys on the crank or on a shaft that"
            " another belt drives",
        ),
    )


def unknown_findings(solved: Solved, speech: Speech) -> list[Finding]:
    """Notes on what was not determined, one a matter."""
    model, found = solved.case.model, []
    driver = model.route[solved.drive.layout.driver]
    if model.tensioner is None:
        found.append(
            _note(driver, f"{speech.drive} has no tensioner yet: only its path is computed")
        )
    elif solved.case.lacks_slot:
        found.append(
            _note(
                getattr(model.tensioner, "pulley", driver),
                f"the slide of {speech.drive} has no slot: give its shaft a slot as its freedom",
            )
        )
    elif not solved.case.decided:
        found.append(
            _note(driver, f"{speech.drive} has no belt length yet: only its path is computed")
        )
    unplaced = [
        pulley.id
        for pulley in solved.case.pulleys
        if pulley.plane_mm is None and pulley.side == "ribs"
    ]
    if unplaced:
        names = ", ".join(speech.name(name) for name in unplaced)
        found.append(
            _note(unplaced[0], f"groove planes not measured: {names}; alignment there is unknown")
        )
    for place, shaft in enumerate(solved.case.shafts):
        if not isinstance(shaft.load, SuperchargerLoad) or place == solved.drive.layout.driver:
            continue
        if shaft.load.model is None or solved.case.engine.displacement_l is None:
            wants = "model" if shaft.load.model is None else "engine's displacement"
            found.append(
                _note(
                    model.route[place],
                    f"the boost of {shaft.label} needs its {wants}; the typical load of a blower"
                    " stands in",
                )
            )
    return found


def _note(where: str, message: str, level: Level = "note") -> Finding:
    return Finding(NOT_DETERMINED, level, where, message)
