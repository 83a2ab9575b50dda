"""The sheet of a boss: where it is, its face and its thread."""

from __future__ import annotations

from functools import partial

from jovial_tack.core.units import LENGTH
from jovial_tack.document.edits.plates import (
    is_sat_on,
    remove_boss,
)
from jovial_tack.document.edits.stacks import set_boss
from jovial_tack.document.meant import boss_of
from jovial_tack.document.model import (
    Boss,
    Build,
)
from jovial_tack.document.targets import NOTHING, BossAt, PlateAt
from jovial_tack.sheets.fields import Fields
from jovial_tack.sheets.sheet import Act, Row, Sheet, Shown


def _boss(view: Shown[BossAt]) -> Boss:
    boss = view.build.find_boss(view.target.boss)
    if boss is None:
        raise KeyError(view.target.boss)
    return boss


def _boss_in(build: Build, target: BossAt) -> Boss:
    boss = build.find_boss(target.boss)
    if boss is None:
        raise KeyError(target.boss)
    return boss


_BOSS: Fields[Boss, BossAt] = Fields(
    Boss,
    _boss_in,
    lambda build, target, **keys: set_boss(build, target.boss, **keys),
    named=lambda view: _boss(view).label,
)
_BOSS_LINES: tuple[Row[BossAt], ...] = (
    _BOSS.words("name", "Name", "Name of the boss", undo="name", reads="label"),
    *(
        _BOSS.figure("at_mm", word, LENGTH, spoken, undo="place", axis=axis)
        for axis, word, spoken in (
            (0, "Right", "Its middle, to the right of the crank"),
            (1, "Up", "Its middle, above the crank"),
        )
    ),
    _BOSS.figure("z_mm", "Face", LENGTH, "How far forward its face stands", undo="face"),
    _BOSS.words("thread", "Thread", "Its thread, as M10x1.5 or 3/8-16", undo="thread"),
    _BOSS.figure("thread_depth_mm", "Thread, deep", LENGTH, "Depth of full thread", undo="thread"),
    _BOSS.choice(
        "material",
        "In",
        (("aluminium", "Aluminium"), ("iron", "Iron"), ("steel", "Steel")),
        "What the boss is cast in",
        undo="material",
    ),
    _BOSS.figure(
        "sd_mm", "Known to ±", LENGTH, "One standard deviation of its place", undo="place", digits=2
    ),
)


def _boss_acts(view: Shown[BossAt]) -> tuple[Act, ...]:
    boss = _boss(view)
    if is_sat_on(view.build, boss.id):
        return ()  # it goes with the ear
    return (
        Act(
            "Delete",
            partial(remove_boss, boss_id=boss.id),
            f"delete {boss.label}",
            lambda _build: NOTHING,
            removes=True,
        ),
    )


def _boss_subtitle(view: Shown[BossAt]) -> str:
    boss = _boss(view)
    on = next((plate.label for plate in view.build.plates if plate.id == boss.on), None)
    where = "Boss of the engine" if on is None else f"On the front face of {on}"
    return f"{where}. Drag it, or type where it is; the holes over it go along."


BOSS = Sheet(
    title=lambda v: _boss(v).label,
    subtitle=_boss_subtitle,
    figures=lambda _v: _BOSS_LINES,
    caution=lambda _v: (
        "A place is as good as it was measured: survey bosses that a plate is cut for."
    ),
    findings=lambda _v: (),
    is_there=lambda build, target: build.find_boss(target.boss) is not None,
    related=lambda v: tuple(
        (plate.label, PlateAt(plate.id))
        for plate in v.build.plates
        if plate.id == _boss(v).on
        or any((b := boss_of(v.build, c)) and b.id == _boss(v).id for c in plate.features)
    ),
    acts=_boss_acts,
)
