"""Why a drive is noisy or wears: what is seen of it weighed together with what the layout computed.

Evidence, and no verdict. What is likely is ranked with why, where it is, and the nearest remedy that
was solved for the layout; then what to look at next (METHOD 18).
"""

from __future__ import annotations

from collections.abc import Mapping
from math import exp

import numpy as np

from jovial_tack.answers.kinds import (
    ARM_OUTSIDE_WINDOW,
    BELT_TOO_LONG,
    BELT_TOO_SHORT,
    CLEARANCE,
    HUB_LOAD,
    LOW_RESERVE,
    MISALIGNED,
    PROUD_OF_RIM,
    RIB_MISMATCH,
    SLIP,
    TOO_TIGHT,
    Kind,
)
from jovial_tack.answers.results import ArmResult, DriveResult, Finding
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.run_check.noisy_or import Table, bits_of, speaks, weighed
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, Symptoms

#: How far what the layout says may move the odds of a cause (rep.).
_LEAST, _MOST = 0.25, 6.0
#: From when on a cause is as good as known, and what a check must tell a minute to be worth it, bits.
_KNOWN, _WORTH = 0.9, 0.02
_EXTRA_MINUTES = 2.0
#: The findings of the layout that speak of a cause: what they tell of its place and its remedy.
_TOLD_BY: Mapping[str, tuple[Kind, ...]] = {
    "too_little_grip": (SLIP, LOW_RESERVE),
    "misaligned": (MISALIGNED,),
    "wrong_belt": (ARM_OUTSIDE_WINDOW, BELT_TOO_LONG, BELT_TOO_SHORT),
    "too_tight": (TOO_TIGHT,),
    "touches": (CLEARANCE,),
    "bearing": (HUB_LOAD,),
    "shallow_pulley": (PROUD_OF_RIM,),
    "not_seated": (RIB_MISMATCH,),
}


#: By how much a finding of the layout moves the odds of its cause (rep.).
_BY_FINDING = {"shallow_pulley": 5.0, "not_seated": 4.0, "bearing": 2.0, "too_tight": 2.0}
#: What is heard once a turn of the pulley it is at.
_TURNING = frozenset({"pulley_wobbles", "dirt_in_grooves", "shallow_pulley"})
_GRAVITY = ("stop", "watch", "unknown", "note")


class CodeSays(Value, frozen=True):
    """What a code of the engine says of a belt drive: the findings it stands for, none if it is of
    none.
    """

    code: str
    findings: tuple[str, ...]


def code_says(catalogue: Catalogue, code: str) -> CodeSays:
    """The findings an engine's code stands for, however it is written."""
    read = "".join(code.split()).upper().replace("O", "0")
    findings = catalogue.faults.findings.values()
    return CodeSays(read, tuple(found.name for found in findings if read in found.codes))


class Why(Value, frozen=True):
    """A finding that speaks for or against a cause, in tenths of a ban."""

    finding: str
    seen: bool
    tenth_bans: float


class Likely(Value, frozen=True):
    """A cause: how likely it is, where in the drive (a pulley), why, and what mends it; solved: whether
    that was solved for the layout.
    """

    cause: str
    words: str
    probability: float
    where: str | None
    why: tuple[Why, ...]
    remedy: str
    solved: bool


class NextLook(Value, frozen=True):
    """A finding that was not looked at: what it is expected to tell, bits, and its minutes."""

    finding: str
    bits: float
    minutes: float
    running: bool


class Diagnosis(Value, frozen=True):
    """All causes by falling probability; something_else: that it is none of them; look_next: what tells
    most for its minutes first, none once a cause is as good as known; unknown: keys that are no
    finding, which have no weight.
    """

    drive: str
    causes: tuple[Likely, ...]
    something_else: float
    look_next: tuple[NextLook, ...]
    unknown: tuple[str, ...]


def diagnose(build: Build, result: DriveResult, catalogue: Catalogue) -> Diagnosis:
    """Weigh what is told of a drive in the build's symptoms. result: as solved, with its mends."""
    symptoms = build.symptoms.get(result.id, Symptoms())
    faults = catalogue.faults
    names, looks = list(faults.causes), list(faults.findings)
    factors = layout_factors(build, result, catalogue)
    table = _table(catalogue, symptoms.material == "old", tuple(factors[name] for name in names))
    told = {looks.index(key): seen for key, seen in symptoms.findings.items() if key in looks}
    found = weighed(table, told)
    causes = []
    for place in np.argsort(-found.causes, kind="stable").tolist():
        name = names[place]
        own = _own_finding(result, name)
        why = [Why(looks[k], seen, speaks(table, k, place, seen=seen)) for k, seen in told.items()]
        why.sort(key=lambda each: -abs(each.tenth_bans))
        mend = own.mends[0].words if own is not None and own.mends else None
        causes.append(
            Likely(
                name,
                faults.causes[name].words,
                float(found.causes[place]),
                _where(result, name, own, symptoms.turns_with),
                tuple(each for each in why if abs(each.tenth_bans) >= 0.1),
                mend or faults.causes[name].remedy,
                mend is not None,
            )
        )
    next_ = () if causes and causes[0].probability >= _KNOWN else _next(catalogue, table, told)
    unknown = tuple(sorted(key for key in symptoms.findings if key not in looks))
    return Diagnosis(result.id, tuple(causes), found.something_else, next_, unknown)


def _shows(catalogue: Catalogue, old: bool) -> tuple[tuple[float, ...], ...]:
    """How often each cause alone shows each finding (F, C); cracks by the rubber."""
    faults = catalogue.faults
    rows = []
    for name, finding in faults.findings.items():
        seen_with = faults.old_rubber.get(name, finding.seen_with) if old else finding.seen_with
        rows.append(tuple(seen_with.get(cause, 0.0) for cause in faults.causes))
    return tuple(rows)


def _table(catalogue: Catalogue, old: bool, factors: tuple[float, ...]) -> Table:
    """The table of a drive: the priors moved by what its layout says."""
    faults = catalogue.faults
    prior = np.array([cause.prior for cause in faults.causes.values()])
    odds = prior / (1.0 - prior) * np.array(factors)
    findings = faults.findings.values()
    return Table(
        odds / (1.0 + odds),
        np.array([finding.leak for finding in findings]),
        np.array(_shows(catalogue, old)),
        tuple(finding.group for finding in findings),
    )


def _exp(power: float) -> float:
    """e to a power, within what a factor may be anyway."""
    return exp(min(max(power, -20.0), 20.0))


def layout_factors(build: Build, result: DriveResult, catalogue: Catalogue) -> dict[str, float]:
    """By how much what the layout computed moves the odds of each cause; 1 where it says nothing."""
    factors = dict.fromkeys(catalogue.faults.causes, 1.0)
    used = [p.worst_arc_used for p in result.pulleys if p.worst_arc_used is not None]
    if used:
        factors["too_little_grip"] = _exp(5.0 * (max(used) - 0.75))
    angles = [s.misalignment_deg for s in result.spans if s.misalignment_deg is not None]
    good = catalogue.profile(build.drive(result.id).belt.profile).good_angle_deg
    if angles and good:
        factors["misaligned"] = _exp(1.6 * (max(map(abs, angles)) / good - 1.0))
    held = result.tensioner
    if isinstance(held, ArmResult) and held.window_fraction is not None:
        share = held.window_fraction
        outside = max(-share, share - 1.0, 0.0)
        factors["wrong_belt"] = 0.6 * _exp(6.0 * outside)
        factors["tension_low"] = _exp(2.0 * max(share - 0.8, 0.0))
    tones = [s.tone_hz for s in result.spans if s.tone_hz is not None]
    if tones:
        factors["span_slap"] = 4.0 if _meets_firing(build, tones) else 0.4
    gaps = [found.gap_mm for found in result.clearances]
    if gaps:
        factors["touches"] = _exp((4.0 - min(gaps)) / 3.0)
    kinds = {finding.kind for finding in result.findings}
    for name, factor in _BY_FINDING.items():
        if kinds & set(_TOLD_BY[name]):
            factors[name] = factor
    return {name: min(max(factor, _LEAST), _MOST) for name, factor in factors.items()}


def _meets_firing(build: Build, tones: list[float]) -> bool:
    """Whether the tone of a span is near the rate at which the engine fires at idle or cruise."""
    engine = build.engine
    rates = [
        rpm / 60.0 * (engine.cylinders or 8) / 2.0 for rpm in (engine.idle_rpm, engine.cruise_rpm)
    ]
    return any(abs(tone / rate - 1.0) < 0.1 for tone in tones for rate in rates)


def _own_finding(result: DriveResult, cause: str) -> Finding | None:
    """The gravest finding of the layout that speaks of a cause."""
    kinds = _TOLD_BY.get(cause, ())
    own = [finding for finding in result.findings if finding.kind in kinds]
    return min(
        own,
        key=lambda finding: _GRAVITY.index(finding.level),
        default=None,
    )


def _where(
    result: DriveResult, cause: str, own: Finding | None, turns_with: str | None
) -> str | None:
    """The pulley at which a cause would be. turns_with: the one a recording beats with."""
    if cause in _TURNING and turns_with in {pulley.id for pulley in result.pulleys}:
        return turns_with
    if own is not None:
        return own.where
    by: list[tuple[float, str]] = []
    if cause == "too_little_grip":
        by = [(p.worst_arc_used or 0.0, p.id) for p in result.pulleys]
    elif cause == "misaligned":
        by = [(abs(s.misalignment_deg or 0.0), s.from_id) for s in result.spans]
    elif cause == "bearing":
        by = [(max((n or 0.0 for n in p.hub_load_n), default=0.0), p.id) for p in result.pulleys]
    elif cause == "span_slap":
        by = [(s.length_mm, s.from_id) for s in result.spans]
    return max(by)[1] if by else None


def _next(catalogue: Catalogue, table: Table, told: dict[int, bool]) -> tuple[NextLook, ...]:
    """What was not looked at, by what it is expected to tell for its minutes."""
    findings = list(catalogue.faults.findings.values())
    left = [place for place in range(len(findings)) if place not in told]
    looks = []
    for place, bits in zip(left, bits_of(table, told, left).tolist(), strict=True):
        finding = findings[place]
        worth = bits / (_EXTRA_MINUTES + finding.minutes)
        if worth >= _WORTH:
            looks.append((worth, NextLook(finding.name, bits, finding.minutes, finding.running)))
    looks.sort(key=lambda each: (-each[0], each[1].finding))
    return tuple(look for _, look in looks)
