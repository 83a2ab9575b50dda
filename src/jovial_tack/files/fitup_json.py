"""What `fitup` prints with --json, key by key."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from jovial_tack.answers.fit_up.compare import Compared
from jovial_tack.answers.fit_up.explaining import Dialogue
from jovial_tack.answers.fit_up.steps import Step, Steps
from jovial_tack.answers.results import number
from jovial_tack.document.model import dump

Json = dict[str, Any]


def fitup_json(steps: Steps, told: Sequence[tuple[str, Dialogue]] = ()) -> Json:
    """Steps in order, loops by their members; told: what may be wrong of drives, by their ids."""
    return {
        "format": "jovial-tack/fitup",
        "version": 1,
        "steps": [_step(step) for step in steps.steps],
        "loop": [list(loop) for loop in steps.loops],
        **({"seen": [_explained(name, dialogue) for name, dialogue in told]} if told else {}),
    }


def _explained(name: str, dialogue: Dialogue) -> Json:
    """All that may be so, the likeliest first, and what to look at, what tells most a minute first."""
    told = sorted(dialogue.checks, key=lambda c: -dialogue.bits(c) / (1.0 + c.minutes))
    return {
        "drive": name,
        "explains": [
            {
                "cause": found.words,
                "kind": found.kind,
                "probability": float(dialogue.weights[place]),
                "mark": number(found.reads.mark),
                "tone_hz": number(found.reads.tone_hz),
            }
            for place in dialogue.order
            for found in (dialogue.hypotheses[place],)
        ],
        "unexplained": dialogue.unexplained,
        "check_next": [
            {"check": check.words, "minutes": check.minutes, "bits": dialogue.bits(check)}
            for check in told
        ],
    }


def _step(step: Step) -> Json:
    return {
        "id": step.id,
        "words": step.words,
        "after": list(step.after),
        "cautions": list(step.cautions),
        "looks": list(step.looks),
        "figures": {} if step.figures is None else _figures(step.figures),
        "stamp": step.stamp,
        "state": step.state,
        "look_again": step.look_again,
        **({} if step.seen is None else {"read": dump(step.seen)}),
        **({} if step.torque is None else {"torque": dump(step.torque)}),
    }


def _figures(figures: Compared) -> Json:
    told = {name: getattr(figures, name) for name in Compared.__struct_fields__}
    return {
        name: value if isinstance(value, str) else number(value)
        for name, value in told.items()
        if value is not None
    }
