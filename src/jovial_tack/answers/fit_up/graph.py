"""What there is to do on the engine to put a build on it, and what comes after what (METHOD 17)."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

from jovial_tack.answers.belt.putting_on import FittingRoom
from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.fit_up.stamps import Path
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.value import Value
from jovial_tack.document.model import (
    Build,
    Drive,
    LockedTensioner,
    Pulley,
    Shaft,
    SlotMount,
    Sprung,
    SwingMount,
)
from jovial_tack.document.targets import (
    NOTHING,
    ArmAt,
    BeltAt,
    BracketAt,
    PulleyAt,
    ShaftAt,
    Target,
)

#: The kinds of steps in the order in which they are done where nothing else decides.
KINDS = (
    "safe", "bracket", "threads", "unit", "pulley", "align", "mount", "belt", "last", "tension",
    "mount_adjuster", "jam", "fixing", "turn", "recheck", "clear", "start", "hot", "first", "own",
)  # fmt: skip
_FIXED_ON = ("keyed", "bolted")
#: What of a shaft its unit, and a pulley on its nose, depends on.
_OF_UNIT = ("kind", "center_mm", "mount", "part", "face_mm")
_OF_NOSE = ("nose_bore_mm", "nose_pilot_mm", "nose_bolt_circle", "nose_fixing")


class Node(Value, frozen=True):
    """Something to do: its id and kind, what it comes after, what of the build it depends on, and what
    it is about.

    of: shaft, bracket, drive or (drive, pulley) it is of; depends: paths into the build's file (see
    `stamps`).
    """

    id: str
    kind: str
    of: tuple[str, ...]
    after: tuple[str, ...]
    depends: tuple[Path, ...]
    about: tuple[Target, ...]

    @property
    def rank(self) -> tuple[int, str]:
        """Which of several is done first."""
        return KINDS.index(self.kind), self.id


def step_id(kind: str, *of: str) -> str:
    """The id of a step: its kind and what it is of, colons within names written otherwise."""
    return ":".join([kind, *(name.replace("%", "%25").replace(":", "%3A") for name in of)])


def _node(
    kind: str,
    *of: str,
    after: Iterable[str] = (),
    depends: Iterable[Path] = (),
    about: Iterable[Target] = (NOTHING,),
    name: str = "",
) -> Node:
    """A step. name: the kind as it stands in the id, where it is another."""
    own = step_id(name or kind, *of)
    return Node(own, kind, of, tuple(after), tuple(depends), tuple(about))


class _Plan:
    """All that is asked of a build several times while its steps are told."""

    def __init__(self, build: Build, catalogue: Catalogue) -> None:
        self.build = build
        self.serves: dict[str, list[Drive]] = {}
        for drive in sorted(build.drives, key=lambda d: d.id):
            for shaft in {pulley.shaft for pulley in drive.pulleys}:
                self.serves.setdefault(shaft, []).append(drive)
        self.adjusters: dict[str, list[Drive]] = {}
        for drive in build.drives:
            if isinstance(drive.tensioner, LockedTensioner):
                self.adjusters.setdefault(drive.tensioner.shaft, []).append(drive)
        self.left_off = dict(_left_off(build, catalogue))

    def depth(self, drive: Drive, shaft: str) -> float:
        """How far forward a drive's pulleys stand on a shaft, mm; those not measured foremost."""
        planes = [p.plane_mm for p in drive.pulleys if p.shaft == shaft]
        return min((float("inf") if plane is None else plane for plane in planes), default=0.0)

    def seen_at(self, shaft: str) -> Target:
        """What shows where a shaft is: its foremost pulley."""
        drives = sorted(self.serves[shaft], key=lambda drive: self.depth(drive, shaft))
        drive = drives[-1]
        return PulleyAt(drive.id, next(p.id for p in drive.pulleys if p.shaft == shaft))

    def shafts(self, drive: Drive) -> list[str]:
        """The shafts of a drive, each once."""
        return sorted({pulley.shaft for pulley in drive.pulleys})


def nodes_of(build: Build, catalogue: Catalogue) -> tuple[Node, ...]:
    """All steps of a build; only what is in it makes one."""
    plan = _Plan(build, catalogue)
    return tuple(
        node for part in (_preparing, _hanging, _belting, _looking, _own) for node in part(plan)
    )


def _left_off(build: Build, catalogue: Catalogue) -> Iterator[tuple[str, str]]:
    """The drives whose belt goes on only with an idler left off, and its shaft."""
    for case in assemble(build, catalogue):
        length = case.model.belt.effective_length_mm
        if not isinstance(case, SolvableCase) or not case.decided or length is None:
            continue
        try:
            fitting = FittingRoom(case, catalogue).judge(length)
        except GeometryError:
            continue
        if not fitting.can and fitting.leave_off:
            yield case.model.id, case.model.pulley(fitting.leave_off[0]).shaft


def _preparing(plan: _Plan) -> Iterator[Node]:
    build = plan.build
    yield _node("safe")
    for bracket in build.brackets:
        about, depends = BracketAt(bracket.id), ("brackets", bracket.id)
        yield _node("bracket", bracket.id, after=["safe"], depends=[depends], about=[about])
    for stack in build.stacks:
        bosses = [build.find_boss(ear.boss) for ear in stack.ears]
        known = [boss for boss in bosses if boss is not None and boss.thread_depth_mm is not None]
        if known and stack.shaft in plan.serves:
            depends_on = [("bosses", boss.id) for boss in known]
            at = [plan.seen_at(stack.shaft)]
            yield _node("threads", stack.shaft, after=["safe"], depends=depends_on, about=at)


def _is_unit(shaft: Shaft, plan: _Plan) -> bool:
    """Whether something is hung on the engine there: all that a belt turns, but the crank."""
    return shaft.kind != "crank" and shaft.id in plan.serves


def _stack_path(plan: _Plan, shaft: str) -> list[Path]:
    return [] if plan.build.find_stack(shaft) is None else [("stacks", shaft)]


def _hanging(plan: _Plan) -> Iterator[Node]:
    build = plan.build
    for shaft in build.shafts:
        if not _is_unit(shaft, plan):
            continue
        after = [step_id("bracket", b.id) for b in build.brackets if shaft.id in b.shafts]
        after += ["safe", step_id("threads", shaft.id)]
        depends: list[Path] = [("shafts", shaft.id, key) for key in _OF_UNIT]
        depends += _stack_path(plan, shaft.id)
        yield _node("unit", shaft.id, after=after, depends=depends, about=[plan.seen_at(shaft.id)])
    for drive in build.drives:
        for pulley in drive.pulleys:
            yield _pulley(plan, drive, pulley)


def _pulley(plan: _Plan, drive: Drive, pulley: Pulley) -> Node:
    shaft = plan.build.shaft(pulley.shaft)
    after = [step_id("unit", shaft.id) if _is_unit(shaft, plan) else "safe"]
    # what stands behind it on the same shaft is put on first
    mine = plan.depth(drive, shaft.id)
    after += [
        step_id("pulley", other.id, p.id)
        for other in plan.serves[shaft.id]
        if plan.depth(other, shaft.id) < mine
        for p in other.pulleys
        if p.shaft == shaft.id
    ]
    depends: list[Path] = [("drives", drive.id, "pulleys", pulley.id)]
    depends += [("shafts", shaft.id, key) for key in _OF_NOSE]
    about = [PulleyAt(drive.id, pulley.id)]
    return _node("pulley", drive.id, pulley.id, after=after, depends=depends, about=about)


def _pulley_paths(drive: Drive, *keys: str) -> list[Path]:
    return [("drives", drive.id, "pulleys", p.id, key) for p in drive.pulleys for key in keys]


def _belting(plan: _Plan) -> Iterator[Node]:
    for drive in plan.build.drives:
        on = [step_id("unit", name) for name in plan.shafts(drive)]
        on += [step_id("pulley", drive.id, pulley.id) for pulley in drive.pulleys]
        depends = _pulley_paths(drive, "plane_mm", "tilt_deg", "first_groove")
        yield _node("align", drive.id, after=on, depends=depends, about=[BeltAt(drive.id)])
    yield from _mounts(plan)
    for drive in plan.build.drives:
        yield from _of_belt(plan, drive)


def _mounts(plan: _Plan) -> Iterator[Node]:
    """Bolts to their torque: before the belt where nothing of it moves, after the tension where it is
    set by that shaft.
    """
    last = set(plan.left_off.values())
    for shaft in plan.build.shafts:
        if not _is_unit(shaft, plan) or shaft.id in last:
            continue
        name, about = step_id("mount", shaft.id), [plan.seen_at(shaft.id)]
        depends: list[Path] = [("notes_torque", name), *_stack_path(plan, shaft.id)]
        tensioned = plan.adjusters.get(shaft.id, [])
        if not tensioned:
            after = [step_id("align", drive.id) for drive in plan.serves[shaft.id]]
            yield _node("mount", shaft.id, after=after, depends=depends, about=about)
            continue
        after = [step_id("tension", drive.id) for drive in tensioned]
        yield _node(
            "mount_adjuster", shaft.id, after=after, depends=depends, about=about, name="mount"
        )
        mount = shaft.mount
        if isinstance(mount, SlotMount | SwingMount) and mount.screw_pitch_mm is not None:
            screw = [("shafts", shaft.id, "mount")]
            yield _node("jam", shaft.id, after=[name], depends=screw, about=about)


def _of_belt(plan: _Plan, drive: Drive) -> Iterator[Node]:
    own, belt, shafts = ("drives", drive.id), BeltAt(drive.id), plan.shafts(drive)
    after = [step_id("align", drive.id)]
    after += [step_id("mount", name) for name in shafts if name not in plan.adjusters]
    # a belt behind this one on the same shaft must be on before
    after += [
        step_id("belt", other.id)
        for name in shafts
        for other in plan.serves[name]
        if plan.depth(other, name) < plan.depth(drive, name)
    ]
    depends: list[Path] = [(*own, "belt"), (*own, "route"), *_pulley_paths(drive, "side")]
    on = _node("belt", drive.id, after=after, depends=depends, about=[belt])
    yield on
    tighten, last = [on.id], plan.left_off.get(drive.id)
    if last is not None:
        name = step_id("last", last)
        depends = [(*own, "belt"), ("notes_torque", name)]
        yield _node("last", last, after=[on.id], depends=depends, about=[plan.seen_at(last)])
        tighten.append(name)
    by: Target = ArmAt(drive.id) if isinstance(drive.tensioner, Sprung) else belt
    depends = [(*own, "tensioner"), (*own, "belt")]
    yield _node("tension", drive.id, after=tighten, depends=depends, about=[by])
    for pulley in drive.pulleys:
        shaft = plan.build.shaft(pulley.shaft)
        if shaft.nose_fixing not in _FIXED_ON:
            continue
        name = step_id("fixing", drive.id, pulley.id)
        depends = [(*own, "pulleys", pulley.id), ("shafts", shaft.id, "nose_fixing")]
        depends.append(("notes_torque", name))
        tight, about = step_id("tension", drive.id), [PulleyAt(drive.id, pulley.id)]
        yield _node("fixing", drive.id, pulley.id, after=[tight], depends=depends, about=about)


def _looking(plan: _Plan) -> Iterator[Node]:
    drives, shafts = plan.build.drives, plan.build.shafts
    if not drives:
        return
    belts = [BeltAt(drive.id) for drive in drives]
    before = [step_id("tension", drive.id) for drive in drives]
    before += [step_id(kind, shaft.id) for shaft in shafts for kind in ("mount", "jam", "last")]
    before += [step_id("fixing", drive.id, p.id) for drive in drives for p in drive.pulleys]
    routes = [("drives", drive.id, "route") for drive in drives]
    crank = next((ShaftAt(shaft.id) for shaft in shafts if shaft.kind == "crank"), NOTHING)
    yield _node("turn", after=before, depends=routes, about=[crank])
    for drive in drives:
        own = ("drives", drive.id)
        depends = [(*own, "tensioner"), (*own, "belt")]
        at = [BeltAt(drive.id)]
        yield _node("recheck", drive.id, after=["turn"], depends=depends, about=at)
    yield _node("clear", after=[step_id("recheck", drive.id) for drive in drives])
    yield _node("start", after=["clear"], about=belts)
    yield _node("hot", after=["start"], about=belts)
    for drive in drives:
        depends = [("drives", drive.id, "belt")]
        at = [BeltAt(drive.id)]
        yield _node("first", drive.id, after=["hot"], depends=depends, about=at)


def _own(plan: _Plan) -> Iterator[Node]:
    for step in plan.build.fit_up.own:
        yield _node("own", step.id, after=step.after, depends=[("fit_up", "own", step.id, "words")])


def waits_for(build: Build, nodes: Sequence[Node]) -> dict[str, tuple[str, ...]]:
    """What each step comes after; the builder's own steps are put before others too, and are meant by
    their plain ids as well.
    """
    ids = {node.id for node in nodes}

    def meant(name: str) -> str:
        return name if name in ids else step_id("own", name)

    waits = {node.id: [meant(name) for name in node.after] for node in nodes}
    for step in build.fit_up.own:
        for other in step.before:
            waits.setdefault(meant(other), []).append(step_id("own", step.id))
    return {name: tuple(dict.fromkeys(waits[name])) for name in ids}
