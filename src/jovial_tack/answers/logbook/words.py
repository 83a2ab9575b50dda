"""What the logbook tells, in words."""

from __future__ import annotations

from collections.abc import Mapping

from jovial_tack.answers.logbook.told import DueThing, KindOfLife, LogbookTold, WearTold
from jovial_tack.core.units import DISTANCE, HOURS, KM_PER_MILE, PASSES, Quantity, written_in
from jovial_tack.document.model import Build, Event

#: The kinds of events in words, in the order in which they are offered.
KINDS = {
    "belt_tried": "belt tried",
    "fitted": "belt fitted",
    "removed": "belt taken off",
    "tension_check": "tension check",
    "inspection": "inspection",
    "cost": "cost",
    "note": "note",
    "run": "run",
    "reading": "reading",
    "bearing": "bearing changed",
    "tensioner": "tensioner changed",
    "engine_locked": "engine locked up",
}
REASONS = {
    "interval": "its interval",
    "worn": "worn",
    "slipped": "slipped",
    "torn": "torn",
    "came_off": "came off",
    "engine_locked": "the engine locked up",
    "look": "by its look",
    "changed_plan": "a change of plan",
}
_FIRST = {"km": "distance", "hours": "hours", "passes": "passes", "months": "time"}


#: How each use is written.
USES: Mapping[str, Quantity] = {"km": DISTANCE, "hours": HOURS, "passes": PASSES}


def amount(value: float, unit: str, system: str = "mm") -> str:
    """An amount of use as it is read: miles in a build in inches.

    >>> amount(48210.4, "km"), amount(48210.4, "km", "in"), amount(3.0, "passes")
    ('48210 km', '29957 mi', '3 passes')
    """
    written = written_in(value, USES[unit], system)
    return f"{written} passes" if unit == "passes" else written


def due_words(thing: DueThing, system: str = "mm") -> str:
    """How far something is on its way to being due."""
    found = thing.due
    if thing.done:
        return f"{thing.label}: seen to"
    if found.state == "not_determined":
        return f"{thing.label}: cannot be told; its beginning, or the use since, is not known"
    if found.first == "event":
        return f"{thing.label}: due, the engine locked up"
    if found.first is None:
        return f"{thing.label}: due only after such an event"
    share = f"{100 * (found.share or 0.0):.0f} % by {_FIRST[found.first]}"
    if found.state == "stop":
        over = -found.left.get(found.first, 0.0)
        by = f"{amount(over, found.first, system)} over" if over >= 1.0 else share
        return f"{thing.label}: due, {by}"
    left = [amount(value, unit, system) for unit, value in found.left.items()]
    if found.days is not None:
        left.append(f"some {found.days:.0f} days")
    return (
        f"{thing.label}: {share}, {' or '.join(left)} left" if left else f"{thing.label}: {share}"
    )


def life_words(each: KindOfLife, system: str = "mm") -> str:
    """What belts of a construction tell of their life."""
    found, unit = each.record, each.unit
    name = each.construction.replace("_", " ")
    belts = "1 belt" if found.count == 1 else f"{found.count} belts"
    on = f", {found.running} still on" if found.running else ""
    begin = f"{name}: {belts}{on}, {amount(found.total, unit, system)} together"
    if found.rate is None:
        return f"{begin}; {found.ended} failed, too few to tell more"
    half = (
        f"half of them by {amount(found.median, unit, system)}"
        if found.median is not None
        else f"half of them last more than {amount(found.longest, unit, system)}"
    )
    low, high = found.rate_low or 0.0, found.rate_high or 0.0
    every = f"one in {amount(1 / found.rate, unit, system)} (95 %: {amount(1 / high, unit, system)}"
    return f"{begin}; {found.ended} failed, {half}, {every} to {amount(1 / low, unit, system)})"


def wear_words(build: Build, each: WearTold, unit: str) -> str:
    """How far a drive's ribs are worn."""
    found = build.find_drive(each.drive)
    said = [each.drive if found is None else found.label]
    if each.wear is not None:
        lost = max(each.wear.loss, 0.0)
        said.append(f"{100 * lost:.0f} % of the ribs' depth gone")
        if each.wear.limit_at is not None and each.wear.limit_sd is not None:
            system = build.display_units
            at, sd = (
                amount(value, unit, system) for value in (each.wear.limit_at, each.wear.limit_sd)
            )
            said.append(f"a fifth by {at} ± {sd} on this belt")
    if each.change:
        said.append(f"change it: {each.change}")
    return f"{said[0]}: {', '.join(said[1:])}" if len(said) > 1 else f"{said[0]}: looked at"


def cost_words(told: LogbookTold, system: str = "mm") -> tuple[str, ...]:
    """What it cost, a currency a line."""
    lines = []
    for currency, total in sorted(told.costs.total.items()):
        name = f" {currency}" if currency else ""
        line = f"{total:,.2f}{name} in all"
        wrong = told.costs.wrong_belts.get(currency)
        if wrong:
            line += f", {wrong:,.2f}{name} of it for belts that did not fit"
        per = told.costs.per_use.get(currency)
        if per is not None:
            of, times = {"hours": ("hour", 1.0), "passes": ("pass", 1.0)}.get(
                told.unit,
                ("1000 mi", 1000.0 * KM_PER_MILE) if system == "in" else ("1000 km", 1000.0),
            )
            line += f"; {times * per:,.2f}{name} for each {of}"
        lines.append(line)
    return tuple(lines)


def event_words(build: Build, event: Event) -> str:
    """An event in a line: what it was, of which drive, and its figures."""
    said = [KINDS[event.kind]]
    if event.drive:
        found = build.find_drive(event.drive)
        said.append(event.drive if found is None else found.label)
    figures = [
        event.number,
        {"fits": "fits", "long": "too long", "short": "too short", "off": "off"}.get(
            event.verdict or "", ""
        ),
        "" if event.arm_angle_deg is None else f"arm at {event.arm_angle_deg:.1f}°",
        "" if event.tone_hz is None else f"tone {event.tone_hz:.1f} Hz",
        "" if event.reason is None else REASONS[event.reason],
        "" if event.rib_depth_mm is None else f"ribs {event.rib_depth_mm:.2f} mm deep",
        "" if event.gauge is None else f"gauge {event.gauge}",
        "" if event.cracks_in_75mm is None else f"{event.cracks_in_75mm} cracks",
        *(name.replace("_", " ") for name, seen in event.findings.items() if seen),
        event.what,
        "" if event.cost is None else f"{event.cost:,.2f} {event.currency}".rstrip(),
        "" if event.onset_rpm is None else f"slip from {event.onset_rpm:.0f} rpm",
        event.note,
    ]
    said += [figure for figure in figures if figure]
    return ", ".join(said)


def offer_lines(build: Build) -> tuple[str, ...]:
    """What sellers ask, by drive, the cheapest of a currency first; those without a price last."""
    lines = []
    for drive in dict.fromkeys(offer.drive for offer in build.logbook.offers):
        found = build.find_drive(drive)
        offers = [offer for offer in build.logbook.offers if offer.drive == drive]
        offers.sort(key=lambda o: (o.price is None, o.currency, o.price or 0.0))
        for offer in offers:
            price = "no price" if offer.price is None else f"{offer.price:,.2f} {offer.currency}"
            numbers = " = ".join((offer.number, *offer.other_numbers))
            of = f" at {offer.seller}" if offer.seller else ""
            late = "" if offer.days is None else f", {offer.days:.0f} days"
            name = drive if found is None else found.label
            lines.append(f"{name}: {price.strip()} for {numbers}{of}{late}")
    return tuple(lines)
