"""The sheet of a sprung slide: its spring and window, and where the belt puts it along its slot."""

from __future__ import annotations

from typing import Any

from jovial_tack.answers.drive.spread import known_by
from jovial_tack.core.units import FORCE, FORCE_RATE, LENGTH, PERCENT
from jovial_tack.document.edits.tensioners import set_tensioner
from jovial_tack.document.model import Build, SpringSlideTensioner
from jovial_tack.document.targets import ArmAt, BeltAt, PulleyAt, ShaftAt
from jovial_tack.document.travel import slot_of
from jovial_tack.sheets.fields import Fields
from jovial_tack.sheets.held import at_rest, in_window, running, window_sd
from jovial_tack.sheets.sheet import Choice, Figure, Row, Sheet, Shown, findings_at

_CAUTION = (
    "The spring stores energy: hold the slide at the end of its slot before the belt comes off or goes"
    " on, and keep fingers out of the slot."
)


def _its_slide(build: Build, target: ArmAt) -> SpringSlideTensioner:
    slide = build.drive(target.drive).tensioner
    assert isinstance(slide, SpringSlideTensioner)
    return slide


def _slide(view: Shown[ArmAt]) -> SpringSlideTensioner:
    return _its_slide(view.build, view.target)


def _slot_mm(view: Shown[ArmAt]) -> float | None:
    shaft = view.build.shaft(view.drive.pulley(_slide(view).pulley).shaft)
    slot = slot_of(view.drive, shaft)
    return None if slot is None else slot.length_mm


def _set_window_end(place: int) -> Any:
    def change(build: Build, target: ArmAt, value: float) -> Build:
        slide = _its_slide(build, target)
        shaft = build.shaft(build.drive(target.drive).pulley(slide.pulley).shaft)
        slot = slot_of(build.drive(target.drive), shaft)
        ends = list(slide.window_mm or (0.0, 0.0 if slot is None else slot.length_mm))
        ends[place] = value
        return set_tensioner(build, target.drive, window_mm=tuple(ends))

    return change


_KEYS = Fields(
    SpringSlideTensioner,
    _its_slide,
    lambda build, target, **keys: set_tensioner(build, target.drive, **keys),
    named=lambda view: view.drive.label,
)

_FIGURES: tuple[Row[ArmAt], ...] = (
    Choice(
        "Pushes",
        lambda _v: (("second", "on, to the slot's second end"), ("first", "back, to its first")),
        lambda v: _slide(v).pushes_to,
        lambda b, t, key: set_tensioner(b, t.drive, pushes_to=key),
        lambda v: f"push of {v.drive.label}",
        "To which end of its slot the spring pushes it",
    ),
    _KEYS.figure(
        "force_n", "Force", FORCE, "Force of the spring at its named place", undo="spring"
    ),
    _KEYS.figure(
        "at_mm",
        "At",
        LENGTH,
        "Place at which the spring has its named force",
        undo="spring",
        aside="from its first end",
    ),
    _KEYS.figure(
        "rate_n_per_mm",
        "Rate",
        FORCE_RATE,
        "Force gained for each length it is pushed back",
        undo="spring rate",
    ),
    Figure(
        "Damping",
        PERCENT,
        lambda v: 100 * (_slide(v).damping_fraction or 0.0),
        change=lambda b, t, share: set_tensioner(b, t.drive, damping_fraction=share * 0.01),
        aside=lambda _v: "of force",
        label=lambda v: f"damping of {v.drive.label}",
        spoken="Damping of the slide, as a share of its force",
    ),
    *(
        _KEYS.figure(
            "window_mm",
            f"Window, {word}",
            LENGTH,
            f"The {word} end of the slide's working window, from its slot's first end",
            undo="window",
            missing="",
            axis=place,
            change=_set_window_end(place),
        )
        for place, word in enumerate(("low", "high"))
    ),
    Figure("Slot", LENGTH, _slot_mm, aside=lambda _v: "from end to end"),
    Figure("Stands", LENGTH, at_rest("slide_mm"), aside=lambda _v: "at rest"),
    Figure(
        "Running",
        LENGTH,
        running("running"),
        aside=Shown.at,
        spoken="Where the slide stands while running",
    ),
    Figure("In its window", PERCENT, in_window, aside=lambda _v: "0 wound"),
    Figure(
        "Known to ±",
        PERCENT,
        window_sd,
        aside=lambda v: known_by(at_rest("surveyed")(v)),
        spoken="One standard deviation of how far it rests into its window, by where the shafts are",
    ),
    Figure("Spring now", FORCE, at_rest("force_n"), aside=lambda _v: "at rest"),
    Figure("To the toggle", LENGTH, at_rest("toggle_mm"), aside=lambda _v: "lever lost"),
    Figure("Belt pull", FORCE, at_rest("tension_n"), aside=lambda _v: "at rest"),
    Figure("Running pull", FORCE, running("running_tension_n"), aside=Shown.at),
    Figure(
        "Stretch left", LENGTH, lambda v: v.result.growth_left_mm, aside=lambda _v: "to the end"
    ),
)

SLIDE = Sheet(
    title=lambda v: f"Slide of {v.drive.label}",
    subtitle=lambda v: "Sprung, along the slot of its shaft",
    figures=lambda _v: _FIGURES,
    acts=lambda _v: (),
    caution=lambda _v: _CAUTION,
    findings=lambda v: findings_at(v, _slide(v).pulley),
    is_there=lambda b, t: isinstance(b.drive(t.drive).tensioner, SpringSlideTensioner),
    related=lambda v: (
        ("Belt", BeltAt(v.target.drive)),
        ("Pulley", PulleyAt(v.target.drive, _slide(v).pulley)),
        ("Shaft", ShaftAt(v.drive.pulley(_slide(v).pulley).shaft)),
    ),
)
