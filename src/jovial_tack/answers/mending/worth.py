"""What every change of a drive is worth: solved, ranked by the reserve it wins, beside what it costs.

docs/METHOD.md, section 8.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from jovial_tack.answers.belt.order import belts_to_order
from jovial_tack.answers.comparing import Bill, bill_of
from jovial_tack.answers.drive.solve import Solution, solve_again
from jovial_tack.answers.kinds import SLIP
from jovial_tack.answers.mending.changes import Change, changes
from jovial_tack.answers.mending.mends import costs_of
from jovial_tack.answers.results import ArmResult, DriveResult, FixedResult, Level, Results
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.drive.path import Path
from jovial_tack.core.errors import JovialTackError
from jovial_tack.core.units import format_length
from jovial_tack.core.value import Value
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.edits.changing import changed, with_pulley
from jovial_tack.document.edits.pulleys import set_diameter, set_plane
from jovial_tack.document.edits.routes import Side, lay_on
from jovial_tack.document.edits.shafts import add_shaft
from jovial_tack.document.model import Build, Drive

#: How many of a sort are told, those first that win most for what is done.
_OF_A_SORT = {"belt": 2, "idler": 1, "spring": 2, "pull": 2, "crank": 2, "coating": 2}
#: Where an idler is tried: on the span that leaves or enters, its share of the way from the pulley, and
#: how far it pushes that aside, mm.
Spot = tuple[bool, float, float]
_BEGIN: tuple[Spot, ...] = tuple(
    (leaves, share, off)
    for leaves in (True, False)
    for share in (0.35, 0.6)
    for off in (15.0, 35.0)
)
_OFF_STEP_MM, _SHARE_STEP = 10.0, 0.12
#: What wins less than this of the loads wins nothing that can be felt.
_LEAST_WON = 0.005


class Worth(Value, frozen=True, eq=False):
    """One change and what it does to a drive.

    factor: all loads times this slip its first pulley, before and after (METHOD 8); slips_from: rpm at
    design friction, None for never; hub_n: the greatest pull on any of its pulleys from idle to
    redline; rest_n: tension at rest; to_buy, cost: parts more than now; worse: what it makes worse,
    with how grave the gravest of that is.
    """

    words: str
    build: Build
    factor: tuple[float, float]
    slips_from: tuple[float | None, float | None]
    hub_n: tuple[float, float]
    rest_n: tuple[float | None, float | None]
    to_buy: int
    cost: float
    worse: tuple[str, ...] = ()
    level: Level | None = None
    sort: str = ""

    @property
    def won(self) -> float:
        """By how much of its loads the drive holds more."""
        return self.factor[1] - self.factor[0]


def worth_of(
    build: Build,
    drive_id: str,
    catalogue: Catalogue,
    check_cancelled: Callable[[], None] = lambda: None,
    tell: Callable[[Worth], None] = lambda _worth: None,
) -> tuple[Worth, ...]:
    """What every change of a drive that wins reserve is worth, what makes no stop before what does, the
    most won first. tell: called with each as it is found.
    """
    before = solve_again(build, None, catalogue, None)
    now = before.results.drive(drive_id)
    if now.grip is None or now.grip.capacity_factor is None:
        return ()
    found: list[Worth] = []

    def tried(change: Change) -> Worth | None:
        check_cancelled()
        worth = _worth(build, drive_id, change, catalogue, before)
        if worth is not None and worth.won >= _LEAST_WON:
            found.append(worth)
            tell(worth)
        return worth

    for change in _all_changes(build, now, catalogue, before.results):
        tried(change)
    _try_idlers(build, now, catalogue, tried)
    return ranked(found)


def ranked(found: list[Worth]) -> tuple[Worth, ...]:
    """In the order in which they are told; of a sort only the best few."""
    ordered = sorted(found, key=lambda one: (one.level == "stop", -one.won))
    told: list[Worth] = []
    for one in ordered:
        alike = sum(other.sort == one.sort for other in told)
        if alike < _OF_A_SORT.get(one.sort, len(found)):
            told.append(one)
    return tuple(told)


def reserve_of(build: Build, drive_id: str, catalogue: Catalogue) -> float | None:
    """All loads of a drive times this slip its first pulley; None if nothing does up to fifty times."""
    grip = solve_again(build, None, catalogue, None).results.drive(drive_id).grip
    return None if grip is None else grip.capacity_factor


def _all_changes(
    build: Build, result: DriveResult, catalogue: Catalogue, results: Results
) -> Iterator[Change]:
    drive = build.drive(result.id)
    yield from _coatings(build, drive, catalogue)
    yield from changes(build, result, {SLIP}, catalogue, results)
    yield from _crank_pulleys(build, drive, result, catalogue)


def _coatings(build: Build, drive: Drive, catalogue: Catalogue) -> Iterator[Change]:
    """A coated rim in place of a plain one, each ribbed pulley by itself."""
    for name in drive.route:
        pulley = drive.pulley(name)
        if pulley.side != "ribs" or pulley.coating or pulley.friction_scale != 1.0:
            continue
        coated = changed(pulley, coating="grit", friction_scale=catalogue.parts.coating_friction)
        label = build.shaft(pulley.shaft).label
        yield Change(
            f"coat the pulley of {label}", with_pulley(build, drive.id, coated), sort="coating"
        )


def _crank_pulleys(
    build: Build, drive: Drive, result: DriveResult, catalogue: Catalogue
) -> Iterator[Change]:
    """A larger pulley on the shaft that drives the belt, with the belt that then fits best."""
    if not result.driver:
        return
    unit, pulley = build.display_units, drive.pulley(result.driver)
    step = catalogue.parts.pulley_step(unit)
    for share in catalogue.parts.crank_steps:
        size = round(pulley.diameter_mm * (1.0 + share) / step) * step
        larger = set_diameter(build, drive.id, pulley.id, round(size, 4))
        words = f"a {format_length(size, unit)} pulley on {build.shaft(pulley.shaft).label}"
        order = belts_to_order(larger, catalogue, drive.id).get(drive.id)
        if order is not None and not order.is_fitted:
            larger = set_belt_length(larger, drive.id, round(order.effective_length_mm, 4))
            words += f" with {order.number}"
        yield Change(words, larger, of_pulley=True, sort="crank")


def _try_idlers(
    build: Build,
    result: DriveResult,
    catalogue: Catalogue,
    tried: Callable[[Change], Worth | None],
) -> None:
    """One more idler where it wraps the belt further round the pulley that slips first: a few places on
    either of its spans, then others about the best.
    """
    place = _slips_first(result)
    path, drive = result.rest_path, build.drive(result.id)
    if place is None or path is None:
        return
    best: tuple[float, Spot] | None = None
    for first in (True, False):
        spots = _BEGIN if first else _about(best)
        for spot in spots:
            change = _with_idler(build, drive, path, place, spot, catalogue)
            worth = None if change is None else tried(change)
            if worth is None or worth.level == "stop":
                continue
            if best is None or worth.won > best[0]:
                best = worth.won, spot


def _slips_first(result: DriveResult) -> int | None:
    """The place on the route of the ribbed or smooth pulley that uses most of its arc at any speed."""
    if result.arcs_used is None:
        return None
    used = np.nan_to_num(result.arcs_used[1], nan=np.inf).max(axis=0)
    return int(np.argmax(used))


def _about(best: tuple[float, Spot] | None) -> Iterator[Spot]:
    """Places about the best of the first ones."""
    if best is None:
        return
    leaves, share, off = best[1]
    yield leaves, share, off + _OFF_STEP_MM
    yield leaves, share, max(off - _OFF_STEP_MM, _OFF_STEP_MM / 2)
    yield leaves, share + _SHARE_STEP, off
    yield leaves, share - _SHARE_STEP, off


def _with_idler(
    build: Build, drive: Drive, path: Path, place: int, spot: Spot, catalogue: Catalogue
) -> Change | None:
    """The build with an idler that pushes a span of a pulley aside, so that it wraps further round it.

    spot: whether it is the span that leaves the pulley; how far along from it, as a share of its
    length; how far aside, mm. The belt then turns the other way at the idler than at the pulley.
    """
    leaves, share, off = spot
    span = place if leaves else (place - 1) % len(drive.route)
    start, end = complex(path.start[span]), complex(path.end[span])
    along = (end - start) / abs(end - start)
    from_pulley = share if leaves else 1.0 - share
    # toward the pulley's own side of the span: there it is wrapped further
    aside = (1j if path.signed_radii[place] > 0 else -1j) * along
    radius = catalogue.kinds["idler"].typical_diameter_mm / 2
    center = start + from_pulley * (end - start) + aside * (off - radius)
    at = round(center.real * 2) / 2, round(center.imag * 2) / 2
    slips = drive.pulley(drive.route[place])
    side: Side = "back" if slips.side == "ribs" else "ribs"
    try:
        made, shaft = add_shaft(build, "idler", catalogue, at)
        made = lay_on(made, drive.id, drive.route[span], shaft, side, catalogue)
        idler = made.drive(drive.id).route[made.drive(drive.id).route.index(drive.route[span]) + 1]
        made = set_plane(made, drive.id, idler, slips.plane_mm)
        order = belts_to_order(made, catalogue, drive.id).get(drive.id)
    except JovialTackError:
        return None
    if order is None or order.missed is not None:
        return None  # no stocked belt goes round it as it should
    made = set_belt_length(made, drive.id, round(order.effective_length_mm, 4))
    x, y = (format_length(mm, build.display_units) for mm in at)
    size = format_length(2 * radius, build.display_units)
    words = f"an idler of {size} at x {x}, y {y}, with {order.number}"
    return Change(words, made, sort="idler")


def _worth(
    build: Build, drive_id: str, change: Change, catalogue: Catalogue, before: Solution
) -> Worth | None:
    """What one change does; None where the drive does not run with it."""
    after = solve_again(change.build, None, catalogue, before).results
    return worth_between(build, drive_id, change, before.results, after)


def worth_between(
    build: Build, drive_id: str, change: Change, before: Results, after: Results
) -> Worth | None:
    """What a change does that was solved before and after; None where the drive does not run with it,
    or where nothing slips up to fifty times its loads.
    """
    was, now = before.drive(drive_id), after.drive(drive_id)
    if was.grip is None or now.grip is None or was.grip.capacity_factor is None:
        return None
    factor = now.grip.capacity_factor
    if factor is None:
        return None
    costs = costs_of(before, after)
    levels: list[Level] = [finding.level for finding in costs]
    level: Level | None = "stop" if "stop" in levels else "watch" if "watch" in levels else None
    bills: tuple[Bill, Bill] = bill_of(build), bill_of(change.build)
    return Worth(
        words=change.words,
        build=change.build,
        factor=(was.grip.capacity_factor, factor),
        slips_from=(was.grip.slip_from_rpm[1], now.grip.slip_from_rpm[1]),
        hub_n=(greatest_pull_n(was), greatest_pull_n(now)),
        rest_n=(_rest_n(was), _rest_n(now)),
        to_buy=bills[1].to_buy - bills[0].to_buy,
        cost=bills[1].cost - bills[0].cost,
        worse=tuple(dict.fromkeys(finding.kind.code for finding in costs)),
        level=level,
        sort=change.sort,
    )


def greatest_pull_n(result: DriveResult) -> float:
    """The greatest pull of a drive's belt on any of its pulleys from idle to redline, N."""
    return max((abs(pull) for each in result.readings.pulls_n for pull in each), default=0.0)


def _rest_n(result: DriveResult) -> float | None:
    held = result.tensioner
    return held.tension_n if isinstance(held, ArmResult | FixedResult) else None
