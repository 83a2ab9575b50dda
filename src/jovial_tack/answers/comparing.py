"""Whole builds compared: verdicts, reserve, hub loads, what is to buy."""

from __future__ import annotations

from jovial_tack.answers.belt.order import belts_to_order
from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.results import DriveResult
from jovial_tack.answers.verdicts import Verdict, verdicts
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.value import Value
from jovial_tack.document.edits.variants import PRESENT, bare
from jovial_tack.document.model import Build


class Bill(Value, frozen=True):
    """What a build is made of: parts that are owned, parts to buy, what those cost as far as prices are
    known, and how many prices are missing.
    """

    owned: int
    to_buy: int
    cost: float
    unpriced: int


def bill_of(build: Build) -> Bill:
    """Count pulleys, tensioners and belts against the shelf. Those that are not from it are to buy."""
    needed: dict[str, int] = {}
    owned = to_buy = unpriced = 0
    cost = 0.0

    def buy(price: float | None) -> None:
        nonlocal to_buy, unpriced, cost
        to_buy += 1
        unpriced += price is None
        cost += price or 0.0

    for drive in build.drives:
        for pulley in drive.pulleys:
            if pulley.part is None:
                buy(None)
            else:
                needed[pulley.part] = needed.get(pulley.part, 0) + 1
        if drive.belt.owned:
            owned += 1
        else:
            buy(drive.belt.price)
    for shaft in build.shafts:
        if shaft.part is not None:
            needed[shaft.part] = needed.get(shaft.part, 0) + 1
    for name, count in needed.items():
        part = build.part(name)
        owned += min(count, part.count)
        for _ in range(max(0, count - part.count)):
            buy(part.price)
    return Bill(owned, to_buy, cost, unpriced)


class Compared(Value, frozen=True):
    """One state on the table: its four verdicts, how many belts and pulleys it has, the least reserve
    of its drives (a fraction, None if unknown), the greatest hub load as a share of its limit, and what
    is owned and what is to buy.
    """

    name: str
    is_present: bool
    verdicts: tuple[Verdict, Verdict, Verdict, Verdict]
    belts: int
    pulleys: int
    reserve: float | None
    hub_share: float | None
    bill: Bill


def compare(build: Build, catalogue: Catalogue) -> tuple[Compared, ...]:
    """The present state and every variant, each solved in full."""
    rows = [(PRESENT, bare(build)), *((v.name, v.build) for v in build.variants)]
    return tuple(
        compared(name, state, catalogue, present=place == 0)
        for place, (name, state) in enumerate(rows)
    )


def compared(name: str, build: Build, catalogue: Catalogue, *, present: bool) -> Compared:
    """One state, solved in full."""
    results = solve(build, None, catalogue)
    orders = belts_to_order(build, catalogue)
    factors = [d.grip.capacity_factor for d in results.drives if d.grip is not None]
    known = [factor - 1 for factor in factors if factor is not None]
    shares = [share for d in results.drives for share in _hub_shares(build, d)]
    return Compared(
        name=name,
        is_present=present,
        verdicts=verdicts(build, results, orders, catalogue),
        belts=len(build.drives),
        pulleys=sum(len(drive.pulleys) for drive in build.drives),
        reserve=min(known, default=None),
        hub_share=max(shares, default=None),
        bill=bill_of(build),
    )


def _hub_shares(build: Build, result: DriveResult) -> list[float]:
    """Greatest hub load of each pulley over its bearing's limit, where a limit is known."""
    drive, found = build.drive(result.id), []
    for pulley in result.pulleys:
        limit = build.shaft(drive.pulley(pulley.id).shaft).hub_load_limit_n
        loads = [load for load in pulley.hub_load_n if load is not None]
        if limit is not None and loads:
            found.append(max(loads) / limit)
    return found
