"""The lines of a shaft's freedom: ends of a slot, pivot and angles of a swing, holes, and the screw."""

from __future__ import annotations

from typing import Any

from jovial_tack.core.units import ANGLE, LENGTH
from jovial_tack.document.edits.freedoms import put_in_hole, set_freedom
from jovial_tack.document.model import Build, HolesMount, SlotMount, SwingMount
from jovial_tack.document.targets import Target
from jovial_tack.sheets.sheet import Act, Change, Choice, Figure, Row, Shown

_AXES = ("to the right", "upward")


def _of(key: str, axis: int | None = None) -> Any:
    """A figure of the mount, or one coordinate of a point of it."""

    def read(view: Shown) -> float | None:
        value: Any = getattr(view.shaft.mount, key)
        found: float | None = value if axis is None else value[axis]
        return found

    return read


def _set(key: str, axis: int | None = None) -> Change:
    def change(build: Build, target: Target, value: float) -> Build:
        if axis is None:
            return set_freedom(build, target[1], **{key: value})
        point = list(getattr(build.shaft(target[1]).mount, key))
        point[axis] = value
        return set_freedom(build, target[1], **{key: tuple(point)})

    return change


def _line(name: str, key: str, spoken: str, axis: int | None = None, **more: Any) -> Figure:
    return Figure(
        name,
        more.pop("quantity", LENGTH),
        _of(key, axis),
        change=_set(key, axis),
        label=lambda v: f"freedom of {v.shaft.label}",
        spoken=spoken,
        **more,
    )


def _not_given(key: str) -> Any:
    return lambda view: "not given" if getattr(view.shaft.mount, key) is None else ""


_SCREW = _line(
    "Screw pitch",
    "screw_pitch_mm",
    "Thread pitch of the screw that moves it",
    absent=lambda _v: "",
    aside=_not_given("screw_pitch_mm"),
)
_SLOT = (
    *(
        _line(f"Slot {word} {'xy'[axis]}", key, f"{word} of the slot, {_AXES[axis]}", axis)
        for word, key in (("from", "from_mm"), ("to", "to_mm"))
        for axis in (0, 1)
    ),
    _SCREW,
)
_SWING = (
    _line("Bolt x", "pivot_mm", "Bolt it swings about, to the right", 0),
    _line("Bolt y", "pivot_mm", "Bolt it swings about, upward", 1),
    _line("Swing radius", "radius_mm", "From the bolt to the shaft"),
    _line("Swing from", "from_deg", "One end of the swing", quantity=ANGLE),
    _line("Swing to", "to_deg", "The other end of the swing", quantity=ANGLE),
    _SCREW,
    _line(
        "Screw radius",
        "screw_radius_mm",
        "From the bolt to where the screw pushes",
        absent=lambda _v: "",
        aside=_not_given("screw_radius_mm"),
    ),
)


def _hole(place: int, axis: int) -> Figure:
    def change(build: Build, target: Target, mm: float) -> Build:
        mount = build.shaft(target[1]).mount
        assert isinstance(mount, HolesMount)
        holes = [list(hole) for hole in mount.positions_mm]
        holes[place][axis] = mm
        moved = set_freedom(build, target[1], positions_mm=tuple((x, y) for x, y in holes))
        return put_in_hole(moved, target[1], mount.at)

    return Figure(
        f"Hole {place + 1} {'xy'[axis]}",
        LENGTH,
        lambda v: v.shaft.mount.positions_mm[place][axis],  # type: ignore[union-attr]
        change=change,
        label=lambda v: f"freedom of {v.shaft.label}",
        spoken=f"Hole {place + 1}, {_AXES[axis]}",
    )


def freedom_lines(view: Shown) -> tuple[Row, ...]:
    """The lines of the freedom a shaft has."""
    mount = view.shaft.mount
    if isinstance(mount, SlotMount):
        return _SLOT
    if isinstance(mount, SwingMount):
        return _SWING
    if not isinstance(mount, HolesMount) or not mount.positions_mm:
        return ()
    places = range(len(mount.positions_mm))
    chosen = Choice(
        "In hole",
        lambda _v: tuple((str(k), str(k + 1)) for k in places),
        lambda v: str(v.shaft.mount.at),  # type: ignore[union-attr]
        lambda b, t, key: put_in_hole(b, t[1], int(key)),
        lambda v: f"hole of {v.shaft.label}",
        "The hole it is bolted into",
    )
    return (chosen, *(_hole(place, axis) for place in places for axis in (0, 1)))


def freedom_acts(view: Shown) -> tuple[Act, ...]:
    """Holes added and taken away."""
    shaft, mount = view.shaft, view.shaft.mount
    if not isinstance(mount, HolesMount):
        return ()
    label = f"freedom of {shaft.label}"
    x, y = mount.positions_mm[-1] if mount.positions_mm else shaft.center_mm
    more = (*mount.positions_mm, (x + 20.0, y))
    acts = [Act("Add a hole", lambda b: set_freedom(b, shaft.id, positions_mm=more), label)]
    if len(mount.positions_mm) > 1:
        fewer = mount.positions_mm[:-1]
        at = min(mount.at, len(fewer) - 1)
        acts.append(
            Act(
                "Take the last hole away",
                lambda b: put_in_hole(set_freedom(b, shaft.id, positions_mm=fewer), shaft.id, at),
                label,
            )
        )
    return tuple(acts)
