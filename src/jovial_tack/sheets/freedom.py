"""The lines of a shaft's freedom: ends of a slot, pivot and angles of a swing, holes, and the screw."""

from __future__ import annotations

from typing import Any

from jovial_tack.core.units import ANGLE, LENGTH
from jovial_tack.document.edits.freedoms import put_in_hole, set_freedom
from jovial_tack.document.model import Build, HolesMount, SlotMount, SwingMount
from jovial_tack.document.targets import ShaftAt
from jovial_tack.sheets.fields import Fields
from jovial_tack.sheets.sheet import Act, Choice, Figure, Row, Shown

_AXES = ("to the right", "upward")


def _slot_of(build: Build, target: ShaftAt) -> SlotMount:
    mount = build.shaft(target.shaft).mount
    assert isinstance(mount, SlotMount)
    return mount


def _swing_of(build: Build, target: ShaftAt) -> SwingMount:
    mount = build.shaft(target.shaft).mount
    assert isinstance(mount, SwingMount)
    return mount


def _write(build: Build, target: ShaftAt, **keys: Any) -> Build:
    return set_freedom(build, target.shaft, **keys)


def _label(view: Shown[ShaftAt]) -> str:
    return f"freedom of {view.shaft.label}"


_SLOT = Fields(SlotMount, _slot_of, _write, _label)
_SWING = Fields(SwingMount, _swing_of, _write, _label)
_SCREW = "Thread pitch of the screw that moves it"
_SLOT_LINES = (
    *(
        _SLOT.figure(
            key,
            f"Slot {word} {'xy'[axis]}",
            LENGTH,
            f"{word} of the slot, {_AXES[axis]}",
            axis=axis,
        )
        for word, key in (("from", "from_mm"), ("to", "to_mm"))
        for axis in (0, 1)
    ),
    _SLOT.figure("screw_pitch_mm", "Screw pitch", LENGTH, _SCREW),
)
_SWING_LINES = (
    _SWING.figure("pivot_mm", "Bolt x", LENGTH, "Bolt it swings about, to the right", axis=0),
    _SWING.figure("pivot_mm", "Bolt y", LENGTH, "Bolt it swings about, upward", axis=1),
    _SWING.figure("radius_mm", "Swing radius", LENGTH, "From the bolt to the shaft"),
    _SWING.figure("from_deg", "Swing from", ANGLE, "One end of the swing"),
    _SWING.figure("to_deg", "Swing to", ANGLE, "The other end of the swing"),
    _SWING.figure("screw_pitch_mm", "Screw pitch", LENGTH, _SCREW),
    _SWING.figure(
        "screw_radius_mm", "Screw radius", LENGTH, "From the bolt to where the screw pushes"
    ),
)


def _hole(place: int, axis: int) -> Figure[ShaftAt]:
    def change(build: Build, target: ShaftAt, mm: float) -> Build:
        mount = build.shaft(target.shaft).mount
        assert isinstance(mount, HolesMount)
        holes = [list(hole) for hole in mount.positions_mm]
        holes[place][axis] = mm
        moved = set_freedom(build, target.shaft, positions_mm=tuple((x, y) for x, y in holes))
        return put_in_hole(moved, target.shaft, mount.at)

    return Figure(
        f"Hole {place + 1} {'xy'[axis]}",
        LENGTH,
        lambda v: v.shaft.mount.positions_mm[place][axis],  # type: ignore[union-attr]
        change=change,
        label=_label,
        spoken=f"Hole {place + 1}, {_AXES[axis]}",
    )


def freedom_lines(view: Shown[ShaftAt]) -> tuple[Row[ShaftAt], ...]:
    """The lines of the freedom a shaft has."""
    mount = view.shaft.mount
    if isinstance(mount, SlotMount):
        return _SLOT_LINES
    if isinstance(mount, SwingMount):
        return _SWING_LINES
    if not isinstance(mount, HolesMount) or not mount.positions_mm:
        return ()
    places = range(len(mount.positions_mm))
    chosen: Choice[ShaftAt] = Choice(
        "In hole",
        lambda _v: tuple((str(k), str(k + 1)) for k in places),
        lambda v: str(v.shaft.mount.at),  # type: ignore[union-attr]
        lambda b, t, key: put_in_hole(b, t.shaft, int(key)),
        lambda v: f"hole of {v.shaft.label}",
        "The hole it is bolted into",
    )
    return (chosen, *(_hole(place, axis) for place in places for axis in (0, 1)))


def freedom_acts(view: Shown[ShaftAt]) -> tuple[Act, ...]:
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
