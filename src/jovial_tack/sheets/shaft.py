"""The sheet of a shaft: where it stands, what it may bear, and what sits on it."""

from __future__ import annotations

from collections.abc import Callable

from jovial_tack.answers.lay_out.suited import best_span
from jovial_tack.answers.line_up.plate_proposed import proposed_plate
from jovial_tack.answers.results import Finding
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.units import FORCE, INERTIA, LENGTH, RATIO, SPEED, TORQUE
from jovial_tack.document.edits.brackets import add_bracket, bracket_of
from jovial_tack.document.edits.freedoms import set_mount
from jovial_tack.document.edits.routes import Side, lay_on, new_belt
from jovial_tack.document.edits.shafts import duplicate_shaft, move_shaft, remove_shaft, set_shaft
from jovial_tack.document.model import Build, Shaft, SuperchargerLoad
from jovial_tack.document.targets import (
    NOTHING,
    BeltAt,
    BracketAt,
    PlateAt,
    PulleyAt,
    ShaftAt,
    Target,
)
from jovial_tack.sheets.blower import blower_lines
from jovial_tack.sheets.fields import Fields
from jovial_tack.sheets.freedom import freedom_acts, freedom_lines
from jovial_tack.sheets.loads import end_play_lines, load_lines
from jovial_tack.sheets.nose import NOSE
from jovial_tack.sheets.pulley import caution_of
from jovial_tack.sheets.sheet import Act, Choice, Figure, Row, Sheet, Shown
from jovial_tack.sheets.situations import CARRIES_NONE

_LOADS = {
    "table": "a power curve",
    "constant_torque": "the same torque at every speed",
    "power_law": "torque growing with speed",
    "supercharger": "its air side",
}


def _pulleys(view: Shown[ShaftAt]) -> list[tuple[str, str]]:
    return [
        (drive.id, pulley.id)
        for drive in view.build.drives
        for pulley in drive.pulleys
        if pulley.shaft == view.target.shaft
    ]


def _turning(view: Shown[ShaftAt], column: str) -> float | None:
    for drive_id, pulley_id in _pulleys(view):
        result = view.results.drive(drive_id)
        found = result.pulley(pulley_id)
        if found is not None:
            values = getattr(found, column)
            value: float | None = (
                values[result.lane(view.rpm)] if isinstance(values, tuple) else values
            )
            return value
    return None


def _load(view: Shown[ShaftAt]) -> str:
    load = view.shaft.load
    if load is not None:
        return f"load: {_LOADS[load.type]}"
    if view.shaft.kind == "alternator" and view.shaft.output is not None:
        return "load: from its output"
    return "load: usual for its kind" if view.shaft.kind not in CARRIES_NONE else "carries no load"


def _move(build: Build, target: ShaftAt, x: float | None, y: float | None) -> Build:
    here = build.shaft(target.shaft).center_mm
    return move_shaft(build, target.shaft, here[0] if x is None else x, here[1] if y is None else y)


def _moved(view: Shown[ShaftAt]) -> str:
    return f"move {view.shaft.label}"


def _common_limit(view: Shown[ShaftAt]) -> str:
    """What shafts of a kind commonly bear, where no limit was given; nothing is judged by it."""
    usual = view.catalogue.kinds[view.shaft.kind].usual_max_rpm
    if view.shaft.max_rpm is not None or usual is None:
        return ""
    return f"; no limit of speed given, its kind commonly bears {usual:.0f} rpm (rep.)"


_TURNS = (("either", "either way"), ("cw", "clockwise"), ("ccw", "counter-clockwise"))
_MOUNTS = (("fixed", "none"), ("slot", "slot"), ("swing", "swing"), ("holes", "holes"))


def _set_kind(build: Build, target: ShaftAt, kind: str) -> Build:
    """Another kind; what only a blower has goes with it."""
    has_air = isinstance(build.shaft(target.shaft).load, SuperchargerLoad)
    if has_air and kind != "supercharger":
        return set_shaft(build, target.shaft, kind=kind, load=None)
    return set_shaft(build, target.shaft, kind=kind)


def _kinds(view: Shown[ShaftAt]) -> tuple[tuple[str, str], ...]:
    """The kinds there are; a crank stays one, and there is only one."""
    if view.shaft.kind == "crank":
        return (("crank", "Crank"),)
    kinds = view.catalogue.kinds.items()
    return tuple((name, kind.label) for name, kind in kinds if name != "crank")


_KEYS: Fields[Shaft, ShaftAt] = Fields(
    Shaft,
    lambda build, target: build.shaft(target.shaft),
    lambda build, target, **keys: set_shaft(build, target.shaft, **keys),
    named=lambda view: view.shaft.label,
)
_FIGURES: tuple[Row[ShaftAt], ...] = (
    _KEYS.words("name", "Name", "Name of the shaft", undo="name", reads="label"),
    Choice(
        "Kind",
        _kinds,
        lambda v: v.shaft.kind,
        _set_kind,
        lambda v: f"kind of {v.shaft.label}",
        "What the shaft turns",
    ),
    _KEYS.choice(
        "needs_rotation",
        "Must turn",
        _TURNS,
        "Which way it must be turned",
        undo="rotation",
        unset="either",
    ),
    Choice(
        "Freedom",
        lambda _v: _MOUNTS,
        lambda v: v.shaft.mount.type if v.shaft.mount else "fixed",
        lambda b, t, key: set_mount(b, t.shaft, key),
        lambda v: f"freedom of {v.shaft.label}",
        "How the shaft can be moved",
    ),
    _KEYS.figure(
        "center_mm",
        "Place x",
        LENGTH,
        "Place of the shaft, to the right",
        undo=_moved,
        axis=0,
        change=lambda b, t, mm: _move(b, t, mm, None),
    ),
    _KEYS.figure(
        "center_mm",
        "Place y",
        LENGTH,
        "Place of the shaft, upward",
        undo=_moved,
        axis=1,
        change=lambda b, t, mm: _move(b, t, None, mm),
    ),
    _KEYS.figure(
        "inertia_kg_m2",
        "Inertia",
        INERTIA,
        "Moment of inertia of what turns with the shaft, at its own speed",
        undo="inertia",
        missing="not told",
    ),
    _KEYS.figure(
        "max_rpm",
        "Most speed",
        SPEED,
        "Greatest speed its maker allows",
        undo="limit",
        aside="limit",
        missing="limit unknown",
    ),
    _KEYS.figure(
        "min_rpm",
        "Least speed",
        SPEED,
        "Least speed at which it is of use",
        undo="least speed",
        aside="of use, at idle",
    ),
    _KEYS.figure(
        "hub_load_limit_n",
        "Most hub load",
        FORCE,
        "Greatest pull its bearing allows",
        undo="limit",
        aside="limit",
    ),
    Figure("Speed", SPEED, lambda v: _turning(v, "rpm"), aside=Shown.at),
    Figure("Ratio", RATIO, lambda v: _turning(v, "speed_ratio"), aside=lambda _v: "to the crank"),
    Figure("Torque", TORQUE, lambda v: _turning(v, "torque_nm"), aside=Shown.at),
)


def _findings(view: Shown[ShaftAt]) -> tuple[Finding, ...]:
    mine = [
        f
        for drive_id, pulley_id in _pulleys(view)
        for f in view.results.drive(drive_id).findings
        if f.where == pulley_id
    ]
    return tuple(f for f in view.results.findings if f in mine)


def _acts(view: Shown[ShaftAt]) -> tuple[Act, ...]:
    """New belts to other shafts, ways onto the belts there are, a copy, and away."""
    here, label, catalogue = view.shaft, view.shaft.label, view.catalogue
    found: list[Act] = []
    on = {drive_id for drive_id, _ in _pulleys(view)}
    crank = next((s.id for s in view.build.shafts if s.kind == "crank"), None)
    if crank is not None and here.id != crank:
        found.append(
            Act(
                "New belt to the crank",
                lambda b: new_belt(b, crank, here.id, catalogue)[0],
                f"new belt to {label}",
                lambda b: BeltAt(b.drives[-1].id),
            )
        )
    for drive in view.build.drives:
        for side in _SIDES if drive.id not in on else ():
            found.append(
                Act(
                    f"{drive.label}: lay its {side} on it",
                    _joining(drive.id, here.id, side, catalogue),
                    f"lay {drive.label} on {label}",
                    _pulley_on(drive.id, here.id),
                )
            )
    found += freedom_acts(view)
    carrier = bracket_of(view.build, here.id)
    if carrier is None:
        found.append(
            Act(
                "New bracket under it",
                lambda b: add_bracket(b, here.id)[0],
                f"bracket of {label}",
                lambda b: BracketAt(b.brackets[-1].id),
            )
        )
    if here.kind != "crank":
        found.append(
            Act(
                "Plate to carry it",
                lambda b: proposed_plate(b, here.id, view.catalogue)[0],
                f"bracket plate of {label}",
                lambda b: PlateAt(b.plates[-1].id),
            )
        )
    found.append(
        Act(
            "Duplicate",
            lambda b: duplicate_shaft(b, here.id)[0],
            f"duplicate {label}",
            lambda b: ShaftAt(b.shafts[-1].id),
        )
    )
    if here.kind != "crank":
        found.append(
            Act(
                "Delete",
                lambda b: remove_shaft(b, here.id),
                f"delete {label}",
                lambda _b: NOTHING,
                removes=True,
            )
        )
    return tuple(found)


_SIDES: tuple[Side, ...] = ("ribs", "back")


def _joining(drive: str, shaft: str, side: Side, catalogue: Catalogue) -> Callable[[Build], Build]:
    def join(build: Build) -> Build:
        after = best_span(build, drive, shaft, side, catalogue) or build.drive(drive).route[0]
        return lay_on(build, drive, after, shaft, side, catalogue)

    return join


def _pulley_on(drive: str, shaft: str) -> Callable[[Build], Target]:
    def target(build: Build) -> Target:
        pulleys = build.drive(drive).pulleys
        return PulleyAt(drive, next(p.id for p in pulleys if p.shaft == shaft))

    return target


def _related(view: Shown[ShaftAt]) -> tuple[tuple[str, Target], ...]:
    ways: list[tuple[str, Target]] = [
        (f"Pulley of {view.build.drive(d).label}", PulleyAt(d, p)) for d, p in _pulleys(view)
    ]
    carrier = bracket_of(view.build, view.target.shaft)
    if carrier is not None:
        ways.append((carrier.label, BracketAt(carrier.id)))
    return tuple(ways)


def _lines(view: Shown[ShaftAt]) -> tuple[Row[ShaftAt], ...]:
    at, limits = _FIGURES[:6], _FIGURES[6:]
    loads = (*load_lines(view), *blower_lines(view), *end_play_lines(view))
    return (*at, *freedom_lines(view), *limits, *loads, *NOSE)


SHAFT = Sheet(
    title=lambda v: v.shaft.label,
    subtitle=lambda v: f"Shaft, {v.shaft.kind.replace('_', ' ')}; {_load(v)}{_common_limit(v)}",
    figures=_lines,
    caution=lambda v: caution_of(v.shaft.kind),
    findings=_findings,
    is_there=lambda build, target: build.shaft(target.shaft).id == target.shaft,
    related=_related,
    acts=_acts,
)
