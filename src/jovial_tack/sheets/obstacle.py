"""The sheet of something in the way: what it is, where, at what depth, and how near things come."""

from __future__ import annotations

from typing import Any

from jovial_tack.answers.drive.spread import known_by
from jovial_tack.answers.kinds import CLEARANCE
from jovial_tack.answers.lay_out.feeler import FeltGap, felt_gap, with_felt_gap
from jovial_tack.answers.results import ClearanceResult, Finding
from jovial_tack.core.units import LENGTH
from jovial_tack.document.edits.obstacles import (
    add_corner,
    remove_corner,
    remove_obstacle,
    set_corner,
    set_gap_of_kind,
    set_obstacle,
)
from jovial_tack.document.model import Obstacle
from jovial_tack.document.targets import NOTHING, ObstacleAt
from jovial_tack.sheets.fields import Fields
from jovial_tack.sheets.sheet import Act, Choice, Figure, Row, Sheet, Shown

_CAUTION = (
    "Outlines are as good as they were measured. Before the first start turn the engine twice by hand,"
    " plugs out, and look at every gap; engines rock on their mounts."
)


def _it(view: Shown[ObstacleAt]) -> Obstacle:
    return view.build.obstacle(view.target.obstacle)


def _felt(view: Shown[ObstacleAt]) -> FeltGap:
    return felt_gap(view.build, view.target.obstacle, view.catalogue, only_at_rest=view.moving)


def _needed(view: Shown[ObstacleAt]) -> float:
    own = _it(view).needed_mm
    return view.catalogue.obstacles[_it(view).kind].needed_mm if own is None else own


def _label(word: str) -> Any:
    return lambda view: f"{word} of {_it(view).label}"


def _carriers(view: Shown[ObstacleAt]) -> tuple[tuple[str, str], ...]:
    return ("", "the engine"), *((shaft.id, shaft.label) for shaft in view.build.shafts)


_KEYS: Fields[Obstacle, ObstacleAt] = Fields(
    Obstacle,
    lambda build, target: build.obstacle(target.obstacle),
    lambda build, target, **keys: set_obstacle(build, target.obstacle, **keys),
    named=lambda view: _it(view).label,
)
_NAMED: tuple[Row[ObstacleAt], ...] = (
    _KEYS.words("name", "Name", "Name of what is in the way", undo="name", reads="label"),
    _KEYS.choice(
        "kind",
        "Kind",
        lambda view: ((name, kind.label) for name, kind in view.catalogue.obstacles.items()),
        "What is in the way",
        undo="kind",
    ),
    Choice(
        "Outline",
        lambda _view: (("closed", "closed"), ("open", "an open line")),
        lambda view: "closed" if _it(view).closed else "open",
        lambda build, target, key: set_obstacle(build, target.obstacle, closed=key == "closed"),
        _label("outline"),
        "Whether the outline is closed",
    ),
    _KEYS.choice(
        "moves_with",
        "Hangs on",
        _carriers,
        "The shaft it moves with, such as the accessory whose body it is",
        undo="hold",
    ),
)
_WANTED: tuple[Row[ObstacleAt], ...] = (
    Figure(
        "Wanted gap",
        LENGTH,
        _needed,
        aside=lambda v: "representative" if _it(v).needed_mm is None else "",
        change=lambda b, t, mm: set_obstacle(b, t.obstacle, needed_mm=mm),
        label=_label("gap"),
        spoken="Gap that should be kept from it",
    ),
    *(
        _KEYS.figure(
            "z_mm",
            name,
            LENGTH,
            spoken,
            undo="depth",
            aside="forward",
            missing="any depth",
            axis=end,
        )
        for end, name, spoken in (
            (0, "Depth from", "Depth where it begins"),
            (1, "Depth to", "Depth where it ends"),
        )
    ),
)


def _gaps(view: Shown[ObstacleAt]) -> tuple[Row[ObstacleAt], ...]:
    """The gap as it is felt, and what becomes of it."""
    return (
        Figure(
            "Gap at rest",
            LENGTH,
            lambda v: _felt(v).rest_mm,
            absent=lambda _v: "not near",
            aside=lambda _v: "by feeler, cold",
            label=_label("gap"),
            digits=2,
            change=lambda b, t, mm: with_felt_gap(b, t.obstacle, mm, view.catalogue),
            spoken="Gap at rest; a gap felt on the engine corrects the outline",
        ),
        Figure(
            "Known to ±",
            LENGTH,
            lambda v: None if (gap := _told(v)) is None else gap.gap_sd_mm,
            digits=2,
            aside=lambda v: known_by((gap := _told(v)) is not None and gap.surveyed),
            spoken="One standard deviation of the gap, by where the shafts are",
        ),
        Figure(
            "Hot",
            LENGTH,
            lambda v: _felt(v).hot_mm,
            aside=lambda _v: "running",
            digits=2,
            spoken="Gap running with block and pulleys grown, the belt swinging",
        ),
        Figure(
            "Over the travel",
            LENGTH,
            lambda v: _felt(v).travel_mm,
            digits=2,
            aside=lambda _v: "the least",
            spoken="Least gap with the arm anywhere in its window",
        ),
        Figure(
            "Next belts",
            LENGTH,
            lambda v: _felt(v).next_belts_mm,
            digits=2,
            aside=lambda _v: "the least",
            spoken="Gap with the next shorter or longer stocked belt",
        ),
        Figure(
            "To grind",
            LENGTH,
            lambda v: _felt(v).to_grind_mm,
            absent=lambda _v: "nothing",
            aside=lambda _v: "to keep it",
            digits=2,
            spoken="What must go for the wanted gap to be kept hot, over the travel and with"
            " the next belts",
        ),
    )


#: The corners of an outline with more, as from a scan, are not typed.
_MOST_CORNERS = 80


def _corner(place: int, axis: int) -> Figure[ObstacleAt]:
    name = f"Corner {place + 1} {'xy'[axis]}"
    return Figure(
        name,
        LENGTH,
        lambda v: _it(v).outline_mm[place][axis],
        change=lambda b, t, mm: set_corner(b, t.obstacle, place, axis, mm),
        label=_label("outline"),
        spoken=f"Corner {place + 1}, {('to the right', 'upward')[axis]}",
    )


def _lines(view: Shown[ObstacleAt]) -> tuple[Row[ObstacleAt], ...]:
    count = len(_it(view).outline_mm)
    corners = range(count if count <= _MOST_CORNERS else 0)
    return (
        *_NAMED,
        *_gaps(view),
        *_WANTED,
        *(_corner(place, axis) for place in corners for axis in (0, 1)),
    )


def _acts(view: Shown[ObstacleAt]) -> tuple[Act, ...]:
    name, label = view.target.obstacle, _it(view).label
    found = [Act("Add a corner", lambda b: add_corner(b, name), f"outline of {label}")]
    if len(_it(view).outline_mm) > 2:
        last = len(_it(view).outline_mm) - 1
        found.append(
            Act(
                "Take the last corner off",
                lambda b: remove_corner(b, name, last),
                f"outline of {label}",
            )
        )
    kind = view.catalogue.obstacles[_it(view).kind].label.lower()
    if sum(o.kind == _it(view).kind for o in view.build.obstacles) > 1:
        gap = _needed(view)
        found.append(
            Act(
                f"This gap from every {kind}",
                lambda b: set_gap_of_kind(b, _it(view).kind, gap),
                f"gap from every {kind}",
            )
        )
    found.append(
        Act(
            "Delete",
            lambda b: remove_obstacle(b, name),
            f"delete {label}",
            lambda _b: NOTHING,
            removes=True,
        )
    )
    return tuple(found)


def _told(view: Shown[ObstacleAt]) -> ClearanceResult | None:
    """The tightest gap of any drive to it, over the window."""
    found = [
        gap
        for drive in view.results.drives
        for gap in drive.clearances
        if gap.obstacle == view.target.obstacle and gap.of != "wrench"
    ]
    return min(found, key=lambda gap: gap.gap_mm, default=None)


def _findings(view: Shown[ObstacleAt]) -> tuple[Finding, ...]:
    label = _it(view).label
    return tuple(f for f in view.results.findings if f.kind is CLEARANCE and label in f.message)


OBSTACLE = Sheet(
    title=lambda v: _it(v).label,
    subtitle=lambda v: (
        f"{v.catalogue.obstacles[_it(v).kind].label}, in the way. Drag it, or one of its corners."
    ),
    figures=_lines,
    caution=lambda _v: _CAUTION,
    findings=_findings,
    is_there=lambda build, target: build.obstacle(target.obstacle).id == target.obstacle,
    acts=_acts,
)
