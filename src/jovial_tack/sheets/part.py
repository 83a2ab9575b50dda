"""The sheet of a part on the shelf: its figures by kind, and where it could go."""

from __future__ import annotations

from typing import Any

from jovial_tack.answers.interchange import interchange
from jovial_tack.answers.kinds import INTERCHANGE
from jovial_tack.answers.results import Finding
from jovial_tack.answers.survey.putting_on import put_on, spring_of
from jovial_tack.core.units import ANGLE, FORCE, LENGTH, RATIO, SPEED, TORQUE, TORQUE_RATE
from jovial_tack.document.edits.shelf import (
    KINDS,
    add_part,
    diameter_by_tape,
    remove_part,
    set_part,
    tape_of,
)
from jovial_tack.document.model import Build, ShelfPart
from jovial_tack.document.targets import Target
from jovial_tack.sheets.bolt_circle import FIXINGS, bolt_lines
from jovial_tack.sheets.sheet import Act, Change, Choice, Figure, Row, Sheet, Shown, Words


def _it(view: Shown) -> ShelfPart:
    return view.build.part(view.target[1])


def _set(key: str) -> Change:
    return lambda b, t, value: set_part(b, t[1], **{key: value})


def _whole(key: str) -> Change:
    """A figure that counts: whole numbers only, told by the model."""
    return lambda b, t, n: set_part(b, t[1], **{key: int(n) if n.is_integer() else n})


def _label(view: Shown) -> str:
    return f"part {_it(view).label}"


def _not_given(key: str) -> Any:
    return lambda view: "not given" if getattr(_it(view), key) is None else ""


def _number(view: Shown, key: str) -> float | None:
    value = getattr(_it(view), key)
    return None if value is None else float(value)


def _figure(name: str, key: str, spoken: str, **more: Any) -> Figure:
    more.setdefault("aside", _not_given(key))
    return Figure(
        name,
        more.pop("quantity", LENGTH),
        lambda v: _number(v, key),
        absent=lambda _v: "",
        change=more.pop("change", _set(key)),
        label=_label,
        spoken=spoken,
        **more,
    )


def _words(name: str, key: str, spoken: str) -> Words:
    return Words(
        name,
        lambda v: getattr(_it(v), key),
        lambda b, t, text: set_part(b, t[1], **{key: text}),
        _label,
        spoken,
    )


def _tape(view: Shown) -> float | None:
    diameter = _it(view).diameter_mm
    return None if diameter is None else tape_of(diameter)


def _reading(place: int, axis: int) -> Figure:
    def read(view: Shown) -> float | None:
        readings = _it(view).readings or ()
        return readings[place][axis] if place < len(readings) else None

    def change(build: Build, target: Target, value: float) -> Build:
        readings = [list(r) for r in build.part(target[1]).readings or ()]
        while len(readings) <= place:
            readings.append([10.0 * len(readings), 100.0])
        readings[place][axis] = value
        return set_part(build, target[1], readings=tuple((a, f) for a, f in readings))

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


def _choice(name: str, key: str, options: tuple[tuple[str, str], ...], spoken: str) -> Choice:
    return Choice(
        name,
        lambda _v: options,
        lambda v: getattr(_it(v), key) or "",
        lambda b, t, chosen: set_part(b, t[1], **{key: chosen or None}),
        _label,
        spoken,
    )


_HEAD: tuple[Row, ...] = (
    _words("Name", "name", "Name of the part"),
    _figure(
        "In hand",
        "count",
        "How many there are; 0 for one to buy",
        quantity=RATIO,
        digits=0,
        change=_whole("count"),
        aside=lambda v: "to buy" if _it(v).count == 0 else "",
    ),
    _figure("Price", "price", "Price of one", quantity=RATIO, digits=2),
)
_PULLEY: tuple[Row, ...] = (
    _choice("Face", "side", _SIDES, "Grooved or smooth"),
    _figure("Diameter", "diameter_mm", "Over the ribs, or flat"),
    Figure(
        "By tape",
        LENGTH,
        _tape,
        absent=lambda _v: "",
        aside=lambda _v: "laid round it",
        change=lambda b, t, mm: set_part(b, t[1], diameter_mm=diameter_by_tape(mm)),
        label=_label,
        spoken="What a tape laid round it reads",
    ),
    _figure(
        "Grooves", "grooves", "How many grooves", quantity=RATIO, digits=0, change=_whole("grooves")
    ),
    _figure("Lip", "flange_mm", "How far its rim stands over the ribs"),
    _words("Coating", "coating", "Coating or surface"),
    _figure(
        "Grip",
        "friction_scale",
        "Friction against a plain pulley",
        quantity=RATIO,
        aside=lambda _v: "times plain",
    ),
    _figure("Bore", "bore_mm", "Bore"),
    _figure("Pilot", "pilot_mm", "Pilot that centres it"),
    *bolt_lines(
        ("Bolts", "Bolt circle"),
        lambda b, t: b.part(t[1]).bolt_circle,
        lambda b, t, circle: set_part(b, t[1], bolt_circle=circle),
        _label,
    ),
    _choice("Fixing", "fixing", FIXINGS, "How it is fixed to its shaft"),
    _figure("Face to groove", "offset_mm", "From the mounting face forward to the groove centre"),
)
_TENSIONER: tuple[Row, ...] = (
    _figure("Arm", "arm_mm", "From its pivot to its pulley"),
    _figure(
        "Scale at",
        "lever_mm",
        "From its pivot to where the scale pulls",
        aside=lambda v: "at the pulley" if _it(v).lever_mm is None else "",
    ),
    *(_reading(place, axis) for place in (0, 1) for axis in (0, 1)),
    Figure(
        "Torque",
        TORQUE,
        lambda v: s[0] if (s := spring_of(_it(v))) else None,
        aside=lambda _v: "unwound",
        spoken="Torque at its unwound stop, from the readings",
    ),
    Figure(
        "Rate",
        TORQUE_RATE,
        lambda v: s[1] if (s := spring_of(_it(v))) else None,
        aside=lambda _v: "wound back",
        spoken="Torque gained for each degree wound back",
    ),
)
_ACCESSORY: tuple[Row, ...] = (
    Choice(
        "Kind",
        lambda v: (
            ("", "not given"),
            *((n, k.label) for n, k in v.catalogue.kinds.items() if n != "crank"),
        ),
        lambda v: _it(v).of or "",
        lambda b, t, key: set_part(b, t[1], of=key or None),
        _label,
        "What it is",
    ),
    _figure("Most speed", "max_rpm", "Greatest speed its maker allows", quantity=SPEED),
    _figure(
        "Most hub load", "hub_load_limit_n", "Greatest pull its bearing allows", quantity=FORCE
    ),
    _choice("Must turn", "needs_rotation", _ROTATIONS, "Which way it must turn"),
)
_SMALL: tuple[Row, ...] = (
    _figure("Thickness", "thickness_mm", "Thickness"),
    _figure("Bore", "bore_mm", "Bore"),
)
_BOLT: tuple[Row, ...] = (
    _words("Thread", "thread", "Thread, such as M8 x 1.25 or 3/8-16"),
    _figure("Length", "length_mm", "Length under the head"),
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


def _lines(view: Shown) -> tuple[Row, ...]:
    return (*_HEAD, *_BY_KIND[_it(view).kind], _words("Note", "note", "Note on the part"))


def _goes_on(view: Shown) -> list[tuple[str, str]]:
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


def _acts(view: Shown) -> tuple[Act, ...]:
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
            lambda b: ("part", b.shelf[-1].id),
        ),
        Act(
            "Delete",
            lambda b: remove_part(b, part.id),
            f"delete {part.label}",
            lambda _b: (),
            removes=True,
        ),
    ]
    return tuple(acts)


def _fits(view: Shown) -> tuple[Finding, ...]:
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
    is_there=lambda build, target: build.part(target[1]).id == target[1],
    acts=_acts,
)
