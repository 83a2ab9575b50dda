"""The sheet of a belt: its length, where it puts the arm, and what the drive has in hand."""

from __future__ import annotations

from jovial_tack.answers.drive.spread import known_by
from jovial_tack.answers.lay_out.suited import (
    bolt_shaft,
    fit_belt,
    set_spring_arm,
    set_spring_slide,
)
from jovial_tack.answers.results import FixedResult, GripResult, TravelResult
from jovial_tack.core.units import (
    ANGLE,
    BELT_SPEED,
    FORCE,
    LENGTH,
    PERCENT,
    RATIO,
    SPEED,
    written_in,
)
from jovial_tack.document.edits.belts import set_belt, set_belt_length
from jovial_tack.document.edits.changing import changed, with_drive
from jovial_tack.document.edits.routes import fit_number, remove_belt, set_profile
from jovial_tack.document.edits.tensioners import (
    set_no_tensioner,
    set_stretch,
    set_tensioner,
)
from jovial_tack.document.model import (
    Belt,
    Build,
    Drive,
    LockedTensioner,
    SpringArmTensioner,
    SpringSlideTensioner,
    Sprung,
)
from jovial_tack.document.targets import ArmAt, BeltAt, Target
from jovial_tack.sheets.fields import Fields
from jovial_tack.sheets.held import held, in_window, window_sd
from jovial_tack.sheets.sheet import Act, Choice, Figure, Row, Sheet, Shown, Words

_CAUTION = (
    "Belt off: engine cold, key out. The figures are estimates from the data entered; makers'"
    " limits and a qualified engineer's word come first."
)
_CONSTRUCTIONS = {
    "standard": "plain",
    "soft_grip": "soft grip",
    "low_stretch": "low stretch",
    "stretch": "stretch belt",
}


def _grip(view: Shown[BeltAt]) -> GripResult | None:
    return view.result.grip


def _rest_tension(view: Shown[BeltAt]) -> float | None:
    tensioner = view.result.tensioner
    return None if tensioner is None else tensioner.tension_n


def _called_for(view: Shown[BeltAt]) -> float | None:
    tensioner = view.result.tensioner
    return tensioner.called_for_effective_length_mm if isinstance(tensioner, FixedResult) else None


def _travel(view: Shown[BeltAt]) -> TravelResult | None:
    tensioner = view.result.tensioner
    return tensioner.travel if isinstance(tensioner, FixedResult) else None


def _usable(view: Shown[BeltAt], end: int) -> float | None:
    travel, ends = _travel(view), view.result.usable_travel_fraction
    if travel is None or ends is None:
        return None
    return abs(ends[end] - travel.travel_fraction) * sum(travel.travel_left_mm)


def _reserve(view: Shown[BeltAt]) -> float | None:
    grip = _grip(view)
    if grip is None or grip.capacity_factor is None:
        return None
    return 100 * (grip.capacity_factor - 1)


def _speed(view: Shown[BeltAt]) -> float | None:
    return view.result.belt_speed_mps[view.lane] if view.result.belt_speed_mps else None


def _never(view: Shown[BeltAt]) -> str:
    return "never" if _grip(view) is not None else "–"


_DRIVE: Fields[Drive, BeltAt] = Fields(
    Drive,
    lambda build, target: build.drive(target.drive),
    lambda build, target, **keys: with_drive(build, changed(build.drive(target.drive), **keys)),
    named=lambda view: view.drive.label,
)
_BELT: Fields[Belt, BeltAt] = Fields(
    Belt,
    lambda build, target: build.drive(target.drive).belt,
    lambda build, target, **keys: set_belt(build, target.drive, **keys),
    named=lambda view: view.drive.label,
)
_LENGTH = _BELT.figure(
    "effective_length_mm",
    "Belt length",
    LENGTH,
    "Effective length of the belt",
    undo="belt",
    aside="effective",
    missing="effective",
    change=lambda b, t, mm: set_belt_length(b, t.drive, mm),
)


def _wide(view: Shown[BeltAt]) -> Figure[BeltAt]:
    """How wide the belt is: ribs, V-belts side by side, or the width of a toothed belt."""
    section = view.catalogue.profiles[view.drive.belt.profile].section
    name, spoken, quantity = {
        "ribbed": ("Ribs", "Number of ribs", RATIO),
        "v": ("Belts", "V-belts side by side", RATIO),
        "toothed": ("Width", "Width of the belt", LENGTH),
    }[section]
    return _BELT.figure(
        "ribs",
        name,
        quantity,
        spoken,
        undo="width",
        aside="side by side" if section == "v" else "",
        digits=0 if quantity is RATIO else None,
        counts=True,
    )


_ROUND: tuple[Row[BeltAt], ...] = (
    Figure(
        "Path",
        LENGTH,
        lambda v: v.result.path_effective_length_mm,
        aside=lambda _v: "effective",
        spoken="Effective length of the path at rest",
    ),
    Figure(
        "Over the back",
        LENGTH,
        lambda v: v.result.back_length_mm,
        aside=lambda _v: "by tape",
        spoken="What a tape laid round the belt in place reads",
    ),
    Figure("Tension", FORCE, _rest_tension, aside=lambda _v: "at rest"),
)
_ARM: tuple[Row[BeltAt], ...] = (
    Figure(
        "Arm",
        ANGLE,
        lambda v: a.arm_angle_deg if (a := held(v)) else None,
        aside=lambda _v: "at rest",
        digits=2,
    ),
    Figure("In its window", PERCENT, in_window, aside=lambda _v: "0 wound"),
    Figure(
        "Known to ±",
        PERCENT,
        window_sd,
        aside=lambda v: known_by((a := held(v)) is not None and a.surveyed),
        spoken="One standard deviation of how far it rests into its window, by where the shafts are",
    ),
    Figure(
        "Stretch left",
        LENGTH,
        lambda v: v.result.growth_left_mm,
        aside=lambda _v: "to the end",
        spoken="Growth of the belt before its tensioner leaves its window",
    ),
    Figure(
        "To the toggle",
        ANGLE,
        lambda v: a.toggle_deg if (a := held(v)) else None,
        aside=lambda _v: "lever lost",
        spoken="How far the arm is from losing its lever",
    ),
)


def _each(view: Shown[BeltAt]) -> str:
    """Beside the installed tension: what it is for each of several V-belts side by side."""
    belt, pull = view.drive.belt, getattr(view.drive.tensioner, "installed_tension_n", None)
    several = belt.ribs > 1 and view.catalogue.profile(belt.profile).section == "v"
    if not several or pull is None:
        return "tension"
    return f"{written_in(pull / belt.ribs, FORCE, view.build.display_units)} each"


_SLIDE: tuple[Row[BeltAt], ...] = (
    Figure(
        "Slide",
        LENGTH,
        lambda v: a.slide_mm if (a := held(v)) else None,
        aside=lambda _v: "at rest",
        spoken="How far the slide stands from the first end of its slot",
    ),
    *_ARM[1:-1],
    Figure(
        "To the toggle",
        LENGTH,
        lambda v: a.toggle_mm if (a := held(v)) else None,
        aside=lambda _v: "lever lost",
        spoken="How far the slide is from losing its lever",
    ),
)
_LOCKED: tuple[Row[BeltAt], ...] = (
    Figure(
        "Installed",
        FORCE,
        lambda v: getattr(v.drive.tensioner, "installed_tension_n", None),
        aside=_each,
        change=lambda b, t, n: set_tensioner(b, t.drive, installed_tension_n=n),
        label=lambda v: f"tension of {v.drive.label}",
        spoken="Installed tension",
    ),
    Figure(
        "Calls for",
        LENGTH,
        _called_for,
        aside=lambda v: "at mid travel" if _travel(v) else "effective",
        spoken="The belt it calls for",
    ),
    Figure(
        "On its travel",
        PERCENT,
        lambda v: 100 * t.travel_fraction if (t := _travel(v)) else None,
        aside=lambda _v: "0 at the start",
    ),
    Figure(
        "Travel back",
        LENGTH,
        lambda v: t.travel_left_mm[0] if (t := _travel(v)) else None,
        aside=lambda _v: "left",
    ),
    Figure(
        "Travel on",
        LENGTH,
        lambda v: t.travel_left_mm[1] if (t := _travel(v)) else None,
        aside=lambda _v: "left",
    ),
    Figure(
        "Usable back",
        LENGTH,
        lambda v: _usable(v, 0),
        aside=lambda _v: "clear",
        spoken="Travel back before something is touched",
    ),
    Figure(
        "Usable on",
        LENGTH,
        lambda v: _usable(v, 1),
        aside=lambda _v: "clear",
        spoken="Travel on before something is touched",
    ),
    Figure(
        "Screw",
        RATIO,
        lambda v: t.turns_to_go if (t := _travel(v)) else None,
        signed=True,
        aside=lambda _v: "turns to go",
        spoken="Turns of its screw from where it is drawn",
    ),
)
_HOLDS: tuple[Row[BeltAt], ...] = (
    Figure("Belt speed", BELT_SPEED, _speed, aside=Shown.at),
    Figure(
        "Reserve",
        PERCENT,
        _reserve,
        aside=lambda _v: "of all loads",
        signed=True,
        spoken="How much all loads may grow before the first pulley slips",
    ),
    Figure(
        "Slips wet from",
        SPEED,
        lambda v: g.slip_from_rpm[0] if (g := _grip(v)) else None,
        absent=_never,
    ),
    Figure(
        "Least tension",
        FORCE,
        lambda v: g.least_tension_n if (g := _grip(v)) else None,
        aside=lambda _v: "that holds",
    ),
    Figure(
        "Most tension",
        FORCE,
        lambda v: g.most_tension_n if (g := _grip(v)) else None,
        aside=lambda _v: "allowed",
    ),
)


def _profiles(view: Shown[BeltAt]) -> tuple[tuple[str, str], ...]:
    words = {"v": "V", "ribbed": "ribbed", "toothed": "toothed"}
    return tuple((n, f"{words[p.section]} {n}") for n, p in view.catalogue.profiles.items())


def _set_profile(view: Shown[BeltAt]) -> Choice[BeltAt]:
    return Choice(
        "Profile",
        _profiles,
        lambda v: v.drive.belt.profile,
        lambda b, t, key: set_profile(b, t.drive, key, view.catalogue),
        lambda v: f"profile of {v.drive.label}",
        "Cross-section of the belt",
    )


_NAME = _DRIVE.words("name", "Name", "Name of the drive", undo="name", reads="label")
_CONSTRUCTION = _BELT.choice(
    "construction",
    "Construction",
    tuple(_CONSTRUCTIONS.items()),
    "How the belt is built",
    undo="construction",
)


def _number(view: Shown[BeltAt]) -> str:
    belt = view.drive.belt
    profile = view.catalogue.profile(belt.profile)
    length = belt.effective_length_mm
    return "" if length is None else profile.number(belt.ribs, length, view.build.display_units)


def _number_line(view: Shown[BeltAt]) -> Words[BeltAt]:
    return Words(
        "Number",
        _number,
        lambda b, t, text: fit_number(b, t.drive, text, view.catalogue),
        lambda v: f"belt of {v.drive.label}",
        "Number of the belt, in any common scheme",
    )


_BOUGHT: tuple[Row[BeltAt], ...] = (
    Choice(
        "In hand",
        lambda _v: (("no", "to buy"), ("yes", "owned")),
        lambda v: "yes" if v.drive.belt.owned else "no",
        lambda b, t, key: set_belt(b, t.drive, owned=True if key == "yes" else None),
        lambda v: f"belt of {v.drive.label}",
        "Whether the belt is owned",
    ),
    _BELT.figure("price", "Price", RATIO, "Price of the belt", undo="price", digits=2),
)


def _tensioners(view: Shown[BeltAt]) -> tuple[tuple[str, str], ...]:
    """What can make the tension: nothing yet, an arm under a pulley, a shaft that is moved, stretch."""
    driver = view.result.driver or view.drive.route[0]
    driven = [name for name in view.drive.route if name != driver]
    arms = [(f"arm {name}", f"spring arm: {view.name_of(name)}") for name in driven]
    slides = [(f"slide {name}", f"sprung slide: {view.name_of(name)}") for name in driven]
    shafts = [(f"locked {name}", f"moved and bolted: {view.name_of(name)}") for name in driven]
    return (("none", "not decided"), *arms, *slides, *shafts, ("stretch", "the belt's own stretch"))


def _tensioner(view: Shown[BeltAt]) -> str:
    held = view.drive.tensioner
    if isinstance(held, SpringArmTensioner):
        return f"arm {held.pulley}"
    if isinstance(held, SpringSlideTensioner):
        return f"slide {held.pulley}"
    if isinstance(held, LockedTensioner):
        on_it = (p.id for p in view.drive.pulleys if p.shaft == held.shaft)
        return f"locked {next(on_it, '')}"
    return "none" if held is None else "stretch"


def _tension_by(view: Shown[BeltAt]) -> Choice[BeltAt]:
    def change(build: Build, target: BeltAt, key: str) -> Build:
        way, _, name = key.partition(" ")
        if way == "arm":
            return set_spring_arm(build, target.drive, name, view.catalogue)
        if way == "slide":
            return set_spring_slide(build, target.drive, name, view.catalogue)
        if way == "locked":
            shaft = build.drive(target.drive).pulley(name).shaft
            return bolt_shaft(build, target.drive, shaft, view.catalogue)
        return (
            set_stretch(build, target.drive)
            if way == "stretch"
            else set_no_tensioner(build, target.drive)
        )

    return Choice(
        "Tension by",
        _tensioners,
        _tensioner,
        change,
        lambda v: f"tensioner of {v.drive.label}",
        "What makes the tension",
    )


def _acts(view: Shown[BeltAt]) -> tuple[Act, ...]:
    drive = view.target.drive
    off = Act(
        "Take the belt away",
        lambda b: remove_belt(b, drive),
        f"take away {view.drive.label}",
        removes=True,
    )
    if view.drive.tensioner is None:
        return (off,)
    fit = Act(
        "Fit the belt that suits",
        lambda b: fit_belt(b, drive, view.catalogue),
        f"fit {view.drive.label}",
    )
    return fit, off


def _figures(view: Shown[BeltAt]) -> tuple[Row[BeltAt], ...]:
    tensioner = view.drive.tensioner
    middle: tuple[Row[BeltAt], ...] = ()
    if isinstance(tensioner, SpringArmTensioner):
        middle = _ARM
    elif isinstance(tensioner, SpringSlideTensioner):
        middle = _SLIDE
    elif isinstance(tensioner, LockedTensioner):
        middle = _LOCKED
    return (
        _NAME,
        _number_line(view),
        _set_profile(view),
        _LENGTH,
        _wide(view),
        *_ROUND,
        _CONSTRUCTION,
        _tension_by(view),
        *middle,
        *_HOLDS,
        *_BOUGHT,
    )


def _related(view: Shown[BeltAt]) -> tuple[tuple[str, Target], ...]:
    held = view.drive.tensioner
    what = "Slide" if isinstance(held, SpringSlideTensioner) else "Arm"
    return ((what, ArmAt(view.target.drive)),) if isinstance(held, Sprung) else ()


def _is_there(build: Build, target: BeltAt) -> bool:
    return build.drive(target.drive).id == target.drive


def _width(view: Shown[BeltAt]) -> str:
    belt = view.drive.belt
    profile = view.catalogue.profile(belt.profile)
    kind = "V-belt" if profile.section == "v" else f"{profile.name} belt"
    if profile.section == "toothed":
        kind = f"toothed {profile.name} belt"
    return f"{kind}, {profile.counted(belt.ribs)}"


BELT = Sheet(
    title=lambda v: v.drive.label,
    subtitle=lambda v: f"{_width(v)}, {_CONSTRUCTIONS[v.drive.belt.construction]}",
    figures=_figures,
    caution=lambda _v: _CAUTION,
    findings=lambda v: tuple(f for f in v.results.findings if f in v.result.findings),
    is_there=_is_there,
    related=_related,
    acts=_acts,
)
