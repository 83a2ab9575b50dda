"""Where shafts fall into place: level with others, in line with their rims, with equal gaps; mirrors.

All lengths mm. A shaft's radius is that of its largest pulley, or the usual one of its kind.
"""

from __future__ import annotations

from collections.abc import Mapping

from jovial_tack.catalogue import Catalogue
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.plates import mirrored
from jovial_tack.document.edits.shafts import move_shaft
from jovial_tack.document.model import (
    Bracket,
    Build,
    Drive,
    HolesMount,
    Obstacle,
    Point,
    Rotation,
    Shaft,
    SlotMount,
    SpringArmTensioner,
    SwingMount,
)
from jovial_tack.document.snapping import _even_gaps, others_of, radius_on

_TURNED: dict[str, Rotation] = {"cw": "ccw", "ccw": "cw"}


def level_with(build: Build, shaft_id: str, other: str, *, plumb: bool = False) -> Build:
    """Put a shaft level with another one, or plumb above or below it."""
    x, y = build.shaft(shaft_id).center_mm
    ox, oy = build.shaft(other).center_mm
    return move_shaft(build, shaft_id, ox if plumb else x, y if plumb else oy)


def rim_level_with(build: Build, shaft_id: str, other: str, catalogue: Catalogue) -> Build:
    """Put a shaft so that the nearer of its upper or lower rims is level with the other's."""
    x, y = build.shaft(shaft_id).center_mm
    oy = build.shaft(other).center_mm[1]
    off = radius_on(build, other, catalogue) - radius_on(build, shaft_id, catalogue)
    return move_shaft(build, shaft_id, x, min((oy + off, oy - off), key=lambda v: abs(v - y)))


def with_equal_gaps(
    build: Build, shaft_id: str, centers: Mapping[str, Point], catalogue: Catalogue
) -> Build:
    """Put a shaft where its gaps to its two nearest neighbours are equal; as it is if nowhere near."""
    others = others_of(build, shaft_id, centers, catalogue)
    radius = radius_on(build, shaft_id, catalogue)
    found = _even_gaps(build.shaft(shaft_id).center_mm, radius, others, 1000.0, (1, 1))
    return build if found is None else move_shaft(build, shaft_id, *found[0])


def mirror_shaft(build: Build, shaft_id: str) -> Build:
    """Put a shaft on the other side of the crank's vertical."""
    x, y = build.shaft(shaft_id).center_mm
    return move_shaft(build, shaft_id, 2 * _axis(build) - x, y)


def _axis(build: Build) -> float:
    crank = next((s for s in build.shafts if s.kind == "crank"), None)
    return 0.0 if crank is None else crank.center_mm[0]


def mirror_build(build: Build) -> Build:
    """The whole layout mirrored at the crank's vertical; the crank goes on turning as it did.

    The belts then run the other way round their pulleys, so what was the slack side becomes the tight
    one: routes are reversed, arms push the other way.
    """
    axis = _axis(build)

    def flip(point: Point) -> Point:
        return round(2 * axis - point[0], 3), point[1]

    def shaft(old: Shaft) -> Shaft:
        mount = old.mount
        if isinstance(mount, SlotMount):
            mount = changed(mount, from_mm=flip(mount.from_mm), to_mm=flip(mount.to_mm))
        elif isinstance(mount, SwingMount):
            mount = changed(
                mount,
                pivot_mm=flip(mount.pivot_mm),
                from_deg=180.0 - mount.from_deg,
                to_deg=180.0 - mount.to_deg,
            )
        elif isinstance(mount, HolesMount):
            mount = changed(mount, positions_mm=tuple(flip(p) for p in mount.positions_mm))
        needs = {} if old.mount is None else {"mount": mount}
        return changed(old, center_mm=flip(old.center_mm), **needs)

    def drive(old: Drive) -> Drive:
        held = old.tensioner
        changes: dict[str, object] = {"route": tuple(reversed(old.route))}
        if isinstance(held, SpringArmTensioner):
            changes["tensioner"] = _mirrored_arm(held, flip)
        pulleys = tuple(
            changed(p, tilt_deg=(p.tilt_deg[0], -p.tilt_deg[1])) if p.tilt_deg[1] else p
            for p in old.pulleys
        )
        return changed(old, pulleys=pulleys, **changes)

    def obstacle(old: Obstacle) -> Obstacle:
        return changed(old, outline_mm=tuple(flip(point) for point in old.outline_mm))

    out = changed(
        build,
        shafts=tuple(shaft(s) for s in build.shafts),
        drives=tuple(drive(d) for d in build.drives),
    )
    if build.obstacles:
        out = changed(out, obstacles=tuple(obstacle(o) for o in build.obstacles))
    if build.bosses:
        out = changed(
            out, bosses=tuple(changed(boss, at_mm=flip(boss.at_mm)) for boss in build.bosses)
        )
    if build.plates:
        out = changed(out, plates=tuple(mirrored(plate, flip) for plate in build.plates))
    if build.brackets:
        out = changed(out, brackets=tuple(_mirrored_bracket(one) for one in build.brackets))
    return out


def _mirrored_bracket(old: Bracket) -> Bracket:
    """A bracket whose places lie to the other side."""
    changes: dict[str, object] = {"offsets_mm": tuple((-x + 0.0, y) for x, y in old.offsets_mm)}
    if old.plate is not None:
        changes["plate"] = changed(old.plate, direction_deg=180.0 - old.plate.direction_deg)
    return changed(old, **changes)


def _mirrored_arm(arm: SpringArmTensioner, flip: object) -> SpringArmTensioner:
    """An arm mirrored at a vertical: angles count from the other side, and it pushes the other way."""
    assert callable(flip)
    changes: dict[str, object] = {
        "pivot_mm": flip(arm.pivot_mm),
        "pushes": _TURNED[arm.pushes],
        "angle_deg": 180.0 - arm.angle_deg,
        "stops_deg": tuple(180.0 - stop for stop in arm.stops_deg),
    }
    if arm.window_deg is not None:
        changes["window_deg"] = tuple(180.0 - end for end in arm.window_deg)
    if arm.notches_deg is not None:
        changes["notches_deg"] = tuple(-notch for notch in arm.notches_deg)
    if arm.wrench_mm is not None:
        changes["wrench_deg"] = -arm.wrench_deg
    return changed(arm, **changes)
