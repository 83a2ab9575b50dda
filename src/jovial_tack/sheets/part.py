"""The sheet of a part on the shelf: its figures by kind, and where it could go."""

from __future__ import annotations

from collections.abc import Iterator

from jovial_tack.answers.interchange import interchange
from jovial_tack.answers.kinds import INTERCHANGE
from jovial_tack.answers.results import Finding
from jovial_tack.answers.survey.putting_on import put_on, spring_of
from jovial_tack.core.belt.lines import diameter_in_tape_mm, tape_round_mm
from jovial_tack.core.units import ANGLE, FORCE, LENGTH, RATIO, SPEED, TORQUE, TORQUE_RATE
from jovial_tack.document.edits.shelf import (
    KINDS,
    add_part,
    remove_part,
    set_part,
)
from jovial_tack.document.model import Build, ShelfPart
from jovial_tack.document.targets import NOTHING, PartAt
from jovial_tack.sheets.bolt_circle import FIXINGS, bolt_lines
from jovial_tack.sheets.fields import Fields, always
from jovial_tack.sheets.sheet import Act, Figure, Row, Sheet, Shown


def _it(view: Shown[PartAt]) -> ShelfPart:
    return view.build.part(view.target.part)


def _label(view: Shown[PartAt]) -> str:
    return f"part {_it(view).label}"


_KEYS = Fields(
    ShelfPart,
    lambda build, target: build.part(target.part),
    lambda build, target, **keys: set_part(build, target.part, **keys),
    _label,
)


def _by_tape(view: Shown[PartAt]) -> Figure[PartAt]:
    """The diameter as a tape laid round it reads, and typed so."""
    thick = view.catalogue.parts.tape_thick_mm

    def read(v: Shown[PartAt]) -> float | None:
        diameter = _it(v).diameter_mm
        return None if diameter is None else tape_round_mm(diameter, thick)

    def change(build: Build, target: PartAt, mm: float) -> Build:
        return set_part(build, target.part, diameter_mm=diameter_in_tape_mm(mm, thick))

    return Figure(
        "By tape",
        LENGTH,
        read,
        absent=always(""),
        aside=always("laid round it"),
        change=change,
        label=_label,
        spoken="What a tape laid round it reads",
    )


def _reading(place: int, axis: int) -> Figure[PartAt]:
    def read(view: Shown[PartAt]) -> float | None:
        readings = _it(view).readings or ()
        return readings[place][axis] if place < len(readings) else None

    def change(build: Build, target: PartAt, value: float) -> Build:
        readings = [list(r) for r in build.part(target.part).readings or ()]
        while len(readings) <= place:
            readings.append([10.0 * len(readings), 100.0])
        readings[place][axis] = value
        return set_part(build, target.part, readings=tuple((a, f) for a, f in readings))

    word, spoken = (("Wound", "degrees wound back"), ("Pull", "pull of the scale"))[axis]
    return Figure(
        f"{word} {place + 1}",
        (ANGLE, FORCE)[axis],
        read,
        absent=lambda _v: "",
        change=change,
        label=_label,
        spoken=f"Reading {place + 1}: {spoken}",
    )


_SIDES = (("", "not given"), ("ribs", "grooved"), ("back", "smooth"))
_ROTATIONS = (
    ("", "not given"),
    ("either", "either way"),
    ("cw", "clockwise"),
    ("ccw", "counter-clockwise"),
)


_HEAD: tuple[Row[PartAt], ...] = (
    _KEYS.words("name", "Name", "Name of the part"),
    _KEYS.figure(
        "count",
        "In hand",
        RATIO,
        "How many there are; 0 for one to buy",
        digits=0,
        counts=True,
        aside=lambda v: "to buy" if _it(v).count == 0 else "",
    ),
    _KEYS.figure("price", "Price", RATIO, "Price of one", digits=2),
)
_ROUND: tuple[Row[PartAt], ...] = (
    _KEYS.choice("side", "Face", _SIDES, "Grooved or smooth"),
    _KEYS.figure("diameter_mm", "Diameter", LENGTH, "Over the ribs, or flat"),
)
_PULLEY: tuple[Row[PartAt], ...] = (
    _KEYS.figure("grooves", "Grooves", RATIO, "How many grooves", digits=0, counts=True),
    _KEYS.figure("flange_mm", "Lip", LENGTH, "How far its rim stands over the ribs"),
    _KEYS.words("coating", "Coating", "Coating or surface"),
    _KEYS.figure(
        "friction_scale",
        "Grip",
        RATIO,
        "Friction against a plain pulley",
        aside="times plain",
        missing="times plain",
    ),
    _KEYS.figure("bore_mm", "Bore", LENGTH, "Bore"),
    _KEYS.figure("pilot_mm", "Pilot", LENGTH, "Pilot that centres it"),
    *bolt_lines(
        ("Bolts", "Bolt circle"),
        lambda b, t: b.part(t.part).bolt_circle,
        lambda b, t, circle: set_part(b, t.part, bolt_circle=circle),
        _label,
    ),
    _KEYS.choice("fixing", "Fixing", FIXINGS, "How it is fixed to its shaft"),
    _KEYS.figure(
        "offset_mm",
        "Face to groove",
        LENGTH,
        "From the mounting face forward to the groove centre",
    ),
)
_TENSIONER: tuple[Row[PartAt], ...] = (
    _KEYS.figure("arm_mm", "Arm", LENGTH, "From its pivot to its pulley"),
    _KEYS.figure(
        "lever_mm",
        "Scale at",
        LENGTH,
        "From its pivot to where the scale pulls",
        missing="at the pulley",
    ),
    *(_reading(place, axis) for place in (0, 1) for axis in (0, 1)),
    Figure(
        "Torque",
        TORQUE,
        lambda v: s[0] if (s := spring_of(_it(v))) else None,
        aside=always("unwound"),
        spoken="Torque at its unwound stop, from the readings",
    ),
    Figure(
        "Rate",
        TORQUE_RATE,
        lambda v: s[1] if (s := spring_of(_it(v))) else None,
        aside=always("wound back"),
        spoken="Torque gained for each degree wound back",
    ),
)


def _kinds(view: Shown[PartAt]) -> Iterator[tuple[str, str]]:
    yield "", "not given"
    for name, kind in view.catalogue.kinds.items():
        if name != "crank":
            yield name, kind.label


_ACCESSORY: tuple[Row[PartAt], ...] = (
    _KEYS.choice("of", "Kind", _kinds, "What it is"),
    _KEYS.figure("max_rpm", "Most speed", SPEED, "Greatest speed its maker allows"),
    _KEYS.figure("hub_load_limit_n", "Most hub load", FORCE, "Greatest pull its bearing allows"),
    _KEYS.choice("needs_rotation", "Must turn", _ROTATIONS, "Which way it must turn"),
)
_SMALL: tuple[Row[PartAt], ...] = (
    _KEYS.figure("thickness_mm", "Thickness", LENGTH, "Thickness", digits=2),
    _KEYS.figure(
        "tolerance_mm",
        "Within ±",
        LENGTH,
        "How far its thickness may be off",
        digits=2,
        missing="as measured",
    ),
    _KEYS.figure("outer_mm", "Outer", LENGTH, "Outer diameter"),
    _KEYS.figure("bore_mm", "Bore", LENGTH, "Bore"),
)
_BOLT: tuple[Row[PartAt], ...] = (
    _KEYS.words("thread", "Thread", "Thread, such as M8 x 1.25 or 3/8-16"),
    _KEYS.figure("length_mm", "Length", LENGTH, "Length under the head"),
    _KEYS.figure(
        "threaded_mm",
        "Threaded",
        LENGTH,
        "How much of it is threaded",
        missing="as its standard has it",
    ),
)
_BY_KIND = {
    "pulley": _PULLEY,
    "idler": _PULLEY,
    "tensioner": _TENSIONER,
    "accessory": _ACCESSORY,
    "spacer": _SMALL,
    "washer": _SMALL,
    "bolt": _BOLT,
}


_NOTE = _KEYS.words("note", "Note", "Note on the part")


def _lines(view: Shown[PartAt]) -> tuple[Row[PartAt], ...]:
    kind = _it(view).kind
    turned = (*_ROUND, _by_tape(view)) if kind in ("pulley", "idler") else ()
    return (*_HEAD, *turned, *_BY_KIND[kind], _NOTE)


def _goes_on(view: Shown[PartAt]) -> list[tuple[str, str]]:
    """The shafts a part may be put on: id and name."""
    part, build = _it(view), view.build
    if part.kind in ("spacer", "washer", "bolt"):
        return []
    shafts = [
        shaft
        for shaft in build.shafts
        if part.kind == "pulley"
        or (part.kind == "accessory" and shaft.kind != "crank")
        or shaft.kind in ("idler", "tensioner")
    ]
    return [(shaft.id, shaft.label) for shaft in shafts]


def _acts(view: Shown[PartAt]) -> tuple[Act, ...]:
    part, catalogue = _it(view), view.catalogue
    acts = [
        Act(
            f"Put on {label}",
            lambda b, s=shaft: put_on(b, s, part.id, catalogue),  # type: ignore[misc]
            f"{part.label} on {label}",
        )
        for shaft, label in _goes_on(view)
    ]
    figures = {key: getattr(part, key) for key in part.given if key not in ("id", "name", "kind")}
    acts += [
        Act(
            "Duplicate",
            lambda b: add_part(b, part.kind, **figures)[0],
            f"duplicate {part.label}",
            lambda b: PartAt(b.shelf[-1].id),
        ),
        Act(
            "Delete",
            lambda b: remove_part(b, part.id),
            f"delete {part.label}",
            lambda _b: NOTHING,
            removes=True,
        ),
    ]
    return tuple(acts)


def _fits(view: Shown[PartAt]) -> tuple[Finding, ...]:
    """Whether it interchanges with the pulleys there are, one line each, where something is known."""
    part, found = _it(view), []
    if part.kind not in ("pulley", "idler"):
        return ()
    for drive in view.build.drives:
        for pulley in drive.pulleys:
            if pulley.part == part.id:
                continue
            fits = interchange(view.build, drive.id, pulley.id, part.id)
            if not fits:
                continue
            levels = [fit.level for fit in fits]
            level = "stop" if "stop" in levels else "watch" if "watch" in levels else "note"
            words = {"stop": "does not fit", "watch": "fits, moved", "note": "fits"}[level]
            said = "; ".join(fit.words for fit in fits)
            label = view.build.shaft(pulley.shaft).label
            found.append(Finding(INTERCHANGE, level, part.id, f"{label}: {words}: {said}"))  # type: ignore[arg-type]
    return tuple(found)


PART = Sheet(
    title=lambda v: _it(v).label,
    subtitle=lambda v: f"{KINDS[_it(v).kind]} on the shelf. Drag it onto a shaft, or press below.",
    figures=_lines,
    caution=lambda v: (
        "A pressed pulley is pulled with its own puller, never levered or hammered."
        if _it(v).fixing == "pressed"
        else "Measured parts are as good as their measuring: try them on before the belt is bought."
    ),
    findings=_fits,
    is_there=lambda build, target: build.part(target.part).id == target.part,
    acts=_acts,
)
