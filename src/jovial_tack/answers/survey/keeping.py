"""Keep an accessory or delete it: what each way means for route, belt, wraps, rotation and grip."""

from __future__ import annotations

from itertools import chain

from jovial_tack.answers.comparing import Compared, compared
from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.lay_out.suited import fit_belt
from jovial_tack.answers.results import DriveResult, Results
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.units import format_length
from jovial_tack.core.value import Value
from jovial_tack.document.edits.shafts import remove_shaft, set_shaft
from jovial_tack.document.edits.variants import bare
from jovial_tack.document.model import Build

_LESS_WRAP_DEG = 3.0
_WORDS = {"cw": "clockwise", "ccw": "counter-clockwise"}


class Way(Value, frozen=True):
    """One way to go on: the build it makes, how that stands, and what changes, in words."""

    build: Build
    stands: Compared
    changes: tuple[str, ...]


def ways_without(build: Build, shaft_id: str, catalogue: Catalogue) -> tuple[Way, ...]:
    """The build as it stands, without a shaft, and with an idler in its place.

    Where belts have a tensioner, the stocked ones that suit are fitted in what is compared.
    """
    build = bare(build)
    label = build.shaft(shaft_id).label
    on = [d.id for d in build.drives if any(p.shaft == shaft_id for p in d.pulleys)]
    gone = remove_shaft(build, shaft_id)
    idle = set_shaft(
        build,
        shaft_id,
        kind="idler",
        name=f"Idler for {label}",
        load=None,
        max_rpm=None,
        needs_rotation=None,
        hub_load_limit_n=None,
        part=None,
    )
    before = solve(build, None, catalogue)
    ways = [Way(build, compared(f"Keep {label}", build, catalogue, present=True), ())]
    for name, tried in ((f"Delete {label}", gone), (f"An idler for {label}", idle)):
        for drive in on:
            model = tried.find_drive(drive)
            if model is not None and model.tensioner is not None:
                tried = fit_belt(tried, drive, catalogue)
        after = solve(tried, None, catalogue)
        each = [_changes(build, tried, before, after, drive) for drive in on]
        changes = tuple(chain.from_iterable(each))
        ways.append(Way(tried, compared(name, tried, catalogue, present=False), changes))
    return tuple(ways)


def _changes(build: Build, tried: Build, before: Results, after: Results, drive: str) -> list[str]:
    label = build.drive(drive).label
    if all(d.id != drive for d in tried.drives):
        return [f"{label} goes: nothing is left for it to drive."]
    was, now = before.drive(drive), after.drive(drive)
    words = [_belt_words(build, tried, drive)] if now.exists else [f"{label} has no path then."]
    route = ", ".join(
        tried.shaft(tried.drive(drive).pulley(p).shaft).label for p in tried.drive(drive).route
    )
    words.append(f"Its route: {route}.")
    words += _pulley_words(tried, was, now, drive)
    return words


def _belt_words(build: Build, tried: Build, drive: str) -> str:
    lengths = [b.drive(drive).belt.effective_length_mm for b in (build, tried)]
    unit, label = build.display_units, build.drive(drive).label
    texts = ["no belt" if mm is None else format_length(mm, unit) for mm in lengths]
    if lengths[0] == lengths[1]:
        return f"{label} keeps its belt of {texts[0]}."
    return f"{label}: belt of {texts[1]} in place of {texts[0]}."


def _pulley_words(tried: Build, was: DriveResult, now: DriveResult, drive: str) -> list[str]:
    words = []
    for pulley in now.pulleys:
        old = was.pulley(pulley.id)
        if old is None:
            continue
        shaft = tried.shaft(tried.drive(drive).pulley(pulley.id).shaft)
        if abs(pulley.wrap_deg - old.wrap_deg) >= _LESS_WRAP_DEG:
            words.append(f"{shaft.label}: wrap {old.wrap_deg:.0f}° becomes {pulley.wrap_deg:.0f}°.")
        if pulley.turns != old.turns:
            cover = " Only with a cover made for it." if shaft.kind == "water_pump" else ""
            words.append(f"{shaft.label} turns {_WORDS[pulley.turns]} then.{cover}")
    turns = [p for p in now.pulleys if p.wrap_deg < 1.0]
    words += [f"The belt only touches {p.id}; it can go as well." for p in turns]
    return words
