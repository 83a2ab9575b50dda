"""The sheet of a pulley: its size and place, and what it has to bear."""

from __future__ import annotations

from jovial_tack.answers.results import Numbers
from jovial_tack.core.units import (
    ANGLE,
    FORCE,
    LENGTH,
    PERCENT,
    POWER,
    RATIO,
    SPEED,
    TORQUE,
    Quantity,
    written_in,
)
from jovial_tack.document.edits.changing import changed, with_pulley
from jovial_tack.document.edits.pulleys import set_diameter, set_plane, set_tilt
from jovial_tack.document.edits.routes import set_side, shift_in_route, take_off
from jovial_tack.document.edits.shafts import move_shaft
from jovial_tack.document.edits.shelf import shelve_pulley
from jovial_tack.document.model import Build, SpringArmTensioner
from jovial_tack.document.targets import Target
from jovial_tack.sheets.sheet import (
    Act,
    Change,
    Choice,
    Figure,
    Row,
    Sheet,
    Shown,
    Words,
    findings_at,
    has_pulley,
)

_CAUTIONS = {
    "supercharger": "Over-speeding a blower can burst it: its maker's limit rules.",
    "fan": "A fan can start by itself: key out and fan unplugged before hands go in.",
    "tensioner": "The arm's spring stores energy: a bar that slips breaks hands. Know which bolt"
    " holds it together before undoing either.",
    "crank": "A damper is not swapped for a plain pulley unexamined.",
    "alternator": "Battery off first. Never pry on its case; on the lug, or move the bracket.",
    "power_steering": "Never pry on a pump's case or hammer its shaft.",
    "water_pump": "Hot parts cold before hands go in; engine off, key out.",
}
_GENERAL = "Engine off, key out before hands go in. Keep clear of a running belt."


def caution_of(kind: str) -> str:
    """The caution that belongs to work on a kind of shaft."""
    return _CAUTIONS.get(kind, _GENERAL)


def _lane(view: Shown, column: str) -> float | None:
    found = view.pulley_result
    values: Numbers = () if found is None else getattr(found, column)
    return values[view.lane] if values else None


def _sides(view: Shown) -> list[float]:
    if view.pulley_result is None:
        return []
    place, spans = view.drive.route.index(view.target[2]), view.result.spans
    pulls = (spans[place - 1].tension_n[view.lane], spans[place].tension_n[view.lane])
    return sorted(pull for pull in pulls if pull is not None)


def _slack(view: Shown) -> float | None:
    sides = _sides(view)
    return sides[0] if sides else None


def _tight(view: Shown) -> float | None:
    sides = _sides(view)
    return sides[-1] if sides else None


def _used(view: Shown) -> float | None:
    share = _lane(view, "arc_used_fraction")
    return None if share is None else 100 * share


def _weak(view: Shown) -> str:
    """The share with the arm at its weakest, at the speed shown; without an arm the worst of all."""
    found = view.pulley_result
    if found is None or found.worst_arc_used is None:
        return view.at()
    low = _lane(view, "low_arc_used")
    if getattr(view.drive.tensioner, "damping_fraction", None) and low is not None:
        return f"{100 * low:.0f} % arm weak"
    return f"worst {100 * found.worst_arc_used:.0f} %"


def _spacer(view: Shown) -> float | None:
    return view.result.spacer_mm(view.target[2]) or None


def _no_spacer(view: Shown) -> str:
    if view.pulley.side == "back":
        return "–"
    return "none" if view.result.spacer_mm(view.target[2]) == 0 else "–"


def _about_spacer(view: Shown) -> str:
    if view.pulley.side == "back":
        return "flat, fixes none"
    spacer = view.result.spacer_mm(view.target[2])
    if spacer is None:
        return "not determined"
    return "" if spacer == 0 else "to add" if spacer > 0 else "to take off"


def _limit(value: float | None, view: Shown, quantity: Quantity) -> str:
    shown = "" if value is None else written_in(value, quantity, view.build.display_units)
    return f"limit {shown.split()[0]}" if shown else view.at()


def _set(key: str) -> Change:
    return lambda b, t, value: with_pulley(
        b, t[1], changed(b.drive(t[1]).pulley(t[2]), **{key: value})
    )


def _move_x(build: Build, target: Target, mm: float) -> Build:
    shaft = build.shaft(build.drive(target[1]).pulley(target[2]).shaft)
    return move_shaft(build, shaft.id, mm, shaft.center_mm[1])


def _move_y(build: Build, target: Target, mm: float) -> Build:
    shaft = build.shaft(build.drive(target[1]).pulley(target[2]).shaft)
    return move_shaft(build, shaft.id, shaft.center_mm[0], mm)


_ONE_WAY = (("", "both ways"), ("cw", "clockwise only"), ("ccw", "counter-clockwise only"))
_FIGURES: tuple[Row, ...] = (
    Choice(
        "Belt runs on",
        lambda _v: (("ribs", "its ribs"), ("back", "its back")),
        lambda v: v.pulley.side,
        lambda b, t, side: set_side(b, t[1], t[2], side),
        lambda v: f"side of {v.shaft.label}",
        "Side of the belt on this pulley",
    ),
    Choice(
        "Turns its shaft",
        lambda _v: _ONE_WAY,
        lambda v: v.pulley.one_way or "",
        lambda b, t, key: with_pulley(
            b, t[1], changed(b.drive(t[1]).pulley(t[2]), one_way=key or None)
        ),
        lambda v: f"one-way of {v.shaft.label}",
        "Both ways, or only one as a one-way pulley does",
    ),
    Figure(
        "Diameter",
        LENGTH,
        lambda v: v.pulley.diameter_mm,
        aside=lambda v: "over the ribs" if v.pulley.side == "ribs" else "flat",
        change=lambda b, t, mm: set_diameter(b, t[1], t[2], mm),
        label=lambda v: f"diameter of {v.shaft.label}",
        spoken="Diameter of the pulley",
    ),
    Figure(
        "Former",
        LENGTH,
        lambda v: v.pulley.former_mm,
        absent=lambda _v: "",
        aside=lambda v: "not given" if v.pulley.former_mm is None else "before",
        change=lambda b, t, mm: with_pulley(
            b, t[1], changed(b.drive(t[1]).pulley(t[2]), former_mm=mm)
        ),
        label=lambda v: f"former pulley of {v.shaft.label}",
        spoken="Diameter the engine had here before",
    ),
    Figure(
        "Lip",
        LENGTH,
        lambda v: v.pulley.flange_mm,
        absent=lambda _v: "",
        aside=lambda _v: "over the ribs",
        change=_set("flange_mm"),
        label=lambda v: f"lip of {v.shaft.label}",
        spoken="How far its rim stands over the ribs",
    ),
    Words(
        "Coating",
        lambda v: v.pulley.coating,
        lambda b, t, text: with_pulley(b, t[1], changed(b.drive(t[1]).pulley(t[2]), coating=text)),
        lambda v: f"coating of {v.shaft.label}",
        "Coating or surface",
    ),
    Figure(
        "Grip",
        RATIO,
        lambda v: v.pulley.friction_scale,
        digits=2,
        aside=lambda _v: "times plain",
        change=_set("friction_scale"),
        label=lambda v: f"grip of {v.shaft.label}",
        spoken="Friction against a plain pulley",
    ),
    Figure(
        "Place x",
        LENGTH,
        lambda v: v.shaft.center_mm[0],
        change=_move_x,
        label=lambda v: f"move {v.shaft.label}",
        spoken="Place of the shaft, to the right",
    ),
    Figure(
        "Place y",
        LENGTH,
        lambda v: v.shaft.center_mm[1],
        change=_move_y,
        label=lambda v: f"move {v.shaft.label}",
        spoken="Place of the shaft, upward",
    ),
    Figure(
        "Groove plane",
        LENGTH,
        lambda v: v.pulley.plane_mm,
        aside=lambda v: "not measured" if v.pulley.plane_mm is None else "forward",
        absent=lambda _v: "",
        change=lambda b, t, mm: set_plane(b, t[1], t[2], mm),
        label=lambda v: f"plane of {v.shaft.label}",
        spoken="Groove plane, forward from the reference face",
    ),
    Figure(
        "Tilt about y",
        ANGLE,
        lambda v: v.pulley.tilt_deg[1],
        digits=2,
        signed=True,
        aside=lambda _v: "left, right",
        change=lambda b, t, d: set_tilt(b, t[1], t[2], 1, d),
        label=lambda v: f"tilt of {v.shaft.label}",
        spoken="Tilt of the axis to the left or right",
    ),
    Figure(
        "Tilt about x",
        ANGLE,
        lambda v: v.pulley.tilt_deg[0],
        digits=2,
        signed=True,
        aside=lambda _v: "up, down",
        change=lambda b, t, d: set_tilt(b, t[1], t[2], 0, d),
        label=lambda v: f"tilt of {v.shaft.label}",
        spoken="Tilt of the axis up or down",
    ),
    Figure(
        "Speed", SPEED, lambda v: _lane(v, "rpm"), aside=lambda v: _limit(v.shaft.max_rpm, v, SPEED)
    ),
    Figure(
        "Wrap",
        ANGLE,
        lambda v: None if v.pulley_result is None else v.pulley_result.wrap_deg,
        aside=lambda _v: "at rest",
    ),
    Figure("Arc used", PERCENT, _used, aside=_weak, spoken="Share of the wrap the load uses"),
    Figure("Torque", TORQUE, lambda v: _lane(v, "torque_nm"), aside=Shown.at),
    Figure("Power", POWER, lambda v: _lane(v, "power_kw"), aside=Shown.at),
    Figure("Belt, slack", FORCE, _slack, aside=Shown.at),
    Figure("Belt, tight", FORCE, _tight, aside=Shown.at),
    Figure(
        "Hub load",
        FORCE,
        lambda v: _lane(v, "hub_load_n"),
        aside=lambda v: _limit(v.shaft.hub_load_limit_n, v, FORCE),
        spoken="Pull of the belt on the bearing",
    ),
    Figure(
        "Spacer",
        LENGTH,
        _spacer,
        aside=_about_spacer,
        absent=_no_spacer,
        digits=2,
        signed=True,
        spoken="Spacer that puts the pulley in line",
    ),
)


def _related(view: Shown) -> tuple[tuple[str, Target], ...]:
    drive, name = view.drive, view.target[2]
    before = drive.route[drive.route.index(name) - 1]
    found: list[tuple[str, Target]] = [
        ("Belt", ("belt", drive.id)),
        ("Shaft", ("shaft", view.pulley.shaft)),
        ("Span in", ("span", drive.id, before)),
        ("Span out", ("span", drive.id, name)),
    ]
    if isinstance(drive.tensioner, SpringArmTensioner) and drive.tensioner.pulley == name:
        found.insert(0, ("Arm", ("arm", drive.id)))
    return tuple(found)


def _acts(view: Shown) -> tuple[Act, ...]:
    drive, name = view.target[1], view.target[2]
    label = view.shaft.label
    return (
        Act(
            "Take off the belt",
            lambda b: take_off(b, drive, name),
            f"take {label} off",
            lambda b: ("shaft", view.pulley.shaft),
            removes=True,
        ),
        Act(
            "Put it on the shelf",
            lambda b: shelve_pulley(b, drive, name)[0],
            f"shelve {label}",
            lambda b: ("part", b.shelf[-1].id),
        ),
        Act("Earlier in travel", lambda b: shift_in_route(b, drive, name, -1), f"reroute {label}"),
        Act("Later in travel", lambda b: shift_in_route(b, drive, name, 1), f"reroute {label}"),
    )


PULLEY = Sheet(
    title=lambda v: v.shaft.label,
    subtitle=lambda v: (
        f"{v.drive.label}, on the belt's {'ribs' if v.pulley.side == 'ribs' else 'back'}"
    ),
    figures=lambda _view: _FIGURES,
    caution=lambda v: caution_of(v.shaft.kind),
    findings=lambda v: findings_at(v, v.target[2]),
    is_there=has_pulley,
    related=_related,
    acts=_acts,
)
