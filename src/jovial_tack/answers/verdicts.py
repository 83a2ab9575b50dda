"""The four answers a builder wants at any moment, each one sentence with its figure."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

from jovial_tack.answers.belt.order import OrderedBelt
from jovial_tack.answers.doubts import Doubt, doubts_of
from jovial_tack.answers.drive.findings.guesses import guessed_loads
from jovial_tack.answers.drive.words import percent
from jovial_tack.answers.kinds import NOT_DETERMINED, SLIP, Judged, Station
from jovial_tack.answers.results import ArmResult, DriveResult, Finding, Mend, PulleyResult, Results
from jovial_tack.catalogue import Catalogue, Limits
from jovial_tack.core.units import FORCE, format_length, written_in
from jovial_tack.core.value import Value, replace
from jovial_tack.core.words import capital
from jovial_tack.document.model import Build

Mark = Literal["good", "watch", "stop", "unknown"]


#: The station at which each verdict is read, and on whose mark it shows.
READ_AT: Mapping[str, Station] = {
    "Fits": "lay_out",
    "Order": "belt",
    "Holds": "grip",
    "Lines up": "line_up",
}


class Verdict(Value, frozen=True):
    """One answer. where: (drive, pulley) it is about, if it is about one place; mended_at: the
    station that mends it, if that is another than its own; count: how many findings it speaks of;
    mends: changes that mend the gravest, solved; belts: at Order, the number for each drive.
    """

    title: str
    mark: Mark
    sentence: str
    detail: str
    where: tuple[str, str] | None = None
    mended_at: Station | None = None
    count: int = 0
    mends: tuple[Mend, ...] = ()
    belts: tuple[tuple[str, str], ...] = ()

    @property
    def others(self) -> str:
        """How many more things it speaks of, in words; "" if there are none."""
        return f"+{self.count - 1} more" if self.count > 1 else ""

    @property
    def station(self) -> Station:
        """The station it leads to."""
        return self.mended_at or READ_AT[self.title]


def verdicts(
    build: Build, results: Results, orders: Mapping[str, OrderedBelt | None], catalogue: Catalogue
) -> tuple[Verdict, Verdict, Verdict, Verdict]:
    """Fits, Order, Holds and Lines up, in that order."""
    doubts = doubts_of(build, catalogue)
    return (
        _asked(_fits(build, results, catalogue.limits), doubts),
        _asked(order_verdict(build, orders), doubts),
        _asked(_in_its_case(_holds(build, results), results), doubts),
        _asked(_lines_up(build, results), doubts),
    )


def _asked(verdict: Verdict, doubts: Sequence[Doubt]) -> Verdict:
    """A verdict that is not good as long as a figure it rests on is asked about."""
    asked = next((doubt for doubt in doubts if verdict.title in doubt.judges), None)
    if asked is None or verdict.mark != "good":
        return verdict
    return replace(
        verdict, mark="unknown", sentence=capital(asked.sentence), detail=verdict.sentence
    )


def _worst(results: Results, title: Judged) -> tuple[DriveResult, Finding, int] | None:
    """The gravest finding of a verdict, its drive, and how many more there are.

    What is not known yet, because a guess stands in, comes after what is.
    """
    found = [
        (drive, finding)
        for level in ("stop", "watch", "unknown")
        for drive in results.drives
        for finding in drive.findings
        if finding.kind.verdict == title and finding.level == level
    ]
    return (*found[0], len(found) - 1) if found else None


def _from_finding(title: str, drive: DriveResult, finding: Finding, more: int) -> Verdict:
    what, _, mend = finding.message.partition("; ")
    return Verdict(
        title,
        "unknown" if finding.level == "note" else finding.level,
        capital(what),
        mend,
        (drive.id, finding.where),
        finding.kind.mended_at,
        more + 1,
        finding.mends,
    )


def _fits(build: Build, results: Results, limits: Limits) -> Verdict:
    title: Judged = "Fits"
    worst = _worst(results, title)
    if worst is not None:
        return _from_finding(title, *worst)
    if not results.drives:
        return Verdict(title, "unknown", "No belt drive yet", "")
    loose = [d for d in results.drives if not d.exists or d.tensioner is None]
    if loose:
        name = build.drive(loose[0].id).label
        return Verdict(title, "unknown", f"{name}: not decided yet", _note(loose[0]))
    arms = [
        (drive, drive.tensioner.window_fraction)
        for drive in results.drives
        if isinstance(drive.tensioner, ArmResult) and drive.tensioner.window_fraction is not None
    ]
    edge = limits.window_edge_fraction
    parts = [
        f"{build.drive(drive.id).label} {_noun(drive)} {_in_window(drive.tensioner)} into its window"
        for drive, _ in arms
    ]
    near = [drive for drive, f in arms if not edge <= f <= 1 - edge]
    belts = "The belt has a path" if len(results.drives) == 1 else "All belts have a path"
    if near:
        return Verdict(
            title,
            "watch",
            f"{build.drive(near[0].id).label}: {_noun(near[0])} near the end of its window",
            " · ".join(parts),
            (near[0].id, near[0].spans[0].from_id),
        )
    return Verdict(title, "good", belts, " · ".join(parts))


def _note(drive: DriveResult) -> str:
    return next((f.message for f in drive.findings if f.kind is NOT_DETERMINED), "")


def order_verdict(build: Build, orders: Mapping[str, OrderedBelt | None]) -> Verdict:
    """The belts to order; good only where all of them are fitted."""
    title = "Order"
    if not orders:
        return Verdict(title, "unknown", "No belt to name yet", "Choose a tensioner and a belt")
    unit = build.display_units
    named, changes, kept = [], [], []
    missing: tuple[str, str] | None = None
    where: tuple[str, str] | None = None
    for drive_id, order in orders.items():
        drive = build.drive(drive_id)
        if order is None:
            named.append(f"{drive.label}: no stocked length fits")
            missing = missing or (drive_id, drive.route[0])
            continue
        length = format_length(order.effective_length_mm, unit, digits=0 if unit == "mm" else 2)
        named.append(f"{length}, {order.width}")
        detail = _order_detail(order, unit)
        if order.is_fitted:
            kept.append(detail)
        else:
            changes.append(f"new on {drive.label}: {detail}")
            where = where or (drive_id, drive.route[0])
    mark: Mark = "stop" if missing else "watch" if changes else "good"
    detail = " · ".join(changes or kept)
    belts = tuple((name, o.number) for name, o in orders.items() if o is not None)
    return Verdict(title, mark, " · ".join(named), detail, missing or where, belts=belts)


def _noun(drive: DriveResult) -> str:
    return drive.tensioner.place.noun if isinstance(drive.tensioner, ArmResult) else "arm"


def _in_window(arm: object) -> str:
    """How far an arm rests into its window; with its ± where the shafts were surveyed."""
    assert isinstance(arm, ArmResult) and arm.window_fraction is not None
    return percent(arm.window_fraction, arm.window_sd if arm.surveyed else None)


def _order_detail(order: OrderedBelt, unit: str) -> str:
    """How the belt would sit, and what speaks against it."""
    text = ""
    if order.window_fraction is not None and order.growth_left_mm is not None:
        left = format_length(order.growth_left_mm, unit, digits=0 if unit == "mm" else 2)
        inside = percent(order.window_fraction, order.window_sd)
        text = f"{order.noun} {inside} in, {left} of stretch left"
    elif order.travel_fraction is not None:
        text = f"bolted {percent(order.travel_fraction)} along its travel"
    elif order.off_by_mm is not None:
        off = format_length(abs(order.off_by_mm), unit)
        text = f"{off} {'over' if order.off_by_mm > 0 else 'under'} what it calls for"
    elif order.tension_n is not None:
        text = f"{written_in(order.tension_n, FORCE, unit)} at rest"
    return text if order.missed is None else f"{text}; {order.missed}"


def _most_used(results: Results) -> tuple[float, DriveResult, PulleyResult] | None:
    """The greatest share of its wrap that a pulley uses at a listed speed, and which it is."""
    known = [
        (fraction, drive, pulley)
        for drive in results.drives
        for pulley in drive.pulleys
        for fraction in pulley.arc_used_fraction
        if fraction is not None
    ]
    return max(known, key=lambda item: item[0], default=None)


def _holds(build: Build, results: Results) -> Verdict:
    title: Judged = "Holds"
    worst = _worst(results, title)
    if worst is not None:
        verdict = _from_finding(title, *worst)
        return replace(verdict, sentence=_with_band(verdict.sentence, *worst[:2]))
    used = _most_used(results)
    if used is None:
        return Verdict(title, "unknown", "No tension to judge yet", "")
    fraction, drive, pulley = used
    name = build.shaft(build.drive(drive.id).pulley(pulley.id).shaft).label
    most = f"{name} uses most: {percent(fraction)} of its wrap"
    guessing = next((d for d in results.drives if d.guessed), None)
    if guessing is not None:
        guessed = dict.fromkeys(name for d in results.drives for name in d.guessed)
        loads = guessed_loads(build, tuple(guessed))
        detail = f"type the load of {loads} to know; {most}"
        where = guessing.id, _pulley_on(build, guessing)
        return Verdict(title, "unknown", "Nothing slips with usual loads", detail, where)
    return Verdict(title, "good", "Nothing slips up to redline", most, (drive.id, pulley.id))


def _with_band(sentence: str, drive: DriveResult, finding: Finding) -> str:
    """What slips, with from where it would with wet and with new and dry ribs: how well the friction is
    known. Only of what is the first to slip, since that is what was solved.
    """
    head, _, share = sentence.partition(": ")
    grip = drive.grip
    if finding.kind is not SLIP or grip is None:
        return sentence
    wet, design, dry = grip.slip_from_rpm
    pulley = drive.pulley(finding.where)
    first = () if pulley is None else pulley.slips_rpm
    if design is None or not first or abs(first[0][0] - design) > 0.5:
        return sentence
    told = [
        f"{name} {'never' if rpm is None else f'from {rpm:.0f}'}"
        for name, rpm in (("wet", wet), ("dry", dry))
    ]
    return f"{head} ({', '.join(told)}): {share.partition(' (')[0]}"


def _pulley_on(build: Build, drive: DriveResult) -> str:
    """The pulley of the first shaft of a drive whose load is only the usual one; its driver if that
    shaft is on another belt.
    """
    pulleys = build.drive(drive.id).pulleys
    on = (pulley.id for pulley in pulleys if pulley.shaft in drive.guessed)
    return next(on, drive.driver)


def _in_its_case(verdict: Verdict, results: Results) -> Verdict:
    """A verdict that says in which load case it holds."""
    label = next((drive.situation for drive in results.drives if drive.situation), "")
    return replace(verdict, sentence=f"{label}: {verdict.sentence}") if label else verdict


def _lines_up(build: Build, results: Results) -> Verdict:
    title: Judged = "Lines up"
    worst = _worst(results, title)
    if worst is not None:
        return _from_finding(title, *worst)
    if not results.drives:
        return Verdict(title, "unknown", "Nothing to line up yet", "")
    every = [span.misalignment_deg for drive in results.drives for span in drive.spans]
    angles = [angle for angle in every if angle is not None]
    unknown = len(every) - len(angles)
    lost = [build.drive(drive.id).label for drive in results.drives if not drive.exists]
    if lost and angles:
        said = f"{lost[0]} has no path yet"
        return Verdict(title, "unknown", said, f"the rest runs straight within {max(angles):.2f}°")
    if unknown or not angles:
        sentence = "Groove planes not measured" if not angles else f"{unknown} spans unknown"
        return Verdict(title, "unknown", sentence, "Give every grooved pulley its plane")
    return Verdict(title, "good", "Every span runs straight", f"worst angle {max(angles):.2f}°")
