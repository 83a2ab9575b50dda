"""Rival states of one build, kept inside it and compared on the same verdicts."""

from __future__ import annotations

from dataclasses import dataclass

from jovial_tack.build.edits import changed
from jovial_tack.build.model import Build, Variant
from jovial_tack.build.order import belts_to_order
from jovial_tack.build.results import DriveResult
from jovial_tack.build.routing import free_name
from jovial_tack.build.shelf import Bill, bill_of
from jovial_tack.build.solve import solve
from jovial_tack.build.verdicts import Verdict, verdicts
from jovial_tack.catalogue import Catalogue

PRESENT = "as it stands"


def bare(build: Build) -> Build:
    """A build without its variants."""
    return changed(build, variants=None)


def keep_variant(build: Build, name: str = "variant") -> Build:
    """Keep the present state as a variant, under a name of its own."""
    own = free_name(name.strip() or "variant", [PRESENT, *(v.name for v in build.variants)])
    new = Variant.model_validate({"name": own, "build": bare(build)})
    return changed(build, variants=(*build.variants, new))


def take_variant(build: Build, name: str) -> Build:
    """Go on from a variant. The present state is kept as one too, unless it is one already."""
    chosen = next(variant for variant in build.variants if variant.name == name)
    if all(variant.build != bare(build) for variant in build.variants):
        build = keep_variant(build, f"before {name}")
    return changed(chosen.build, variants=build.variants)


def drop_variant(build: Build, name: str) -> Build:
    """Let go of a variant."""
    kept = tuple(variant for variant in build.variants if variant.name != name)
    return changed(build, variants=kept or None)


@dataclass(frozen=True)
class Compared:
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
        verdicts=verdicts(build, results, orders, catalogue.limits),
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
