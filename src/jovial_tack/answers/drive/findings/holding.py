"""Whether every pulley holds its belt (docs/METHOD.md, section 8)."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.solved import Solved, damping_fraction
from jovial_tack.answers.drive.words import Speech, percent
from jovial_tack.answers.kinds import (
    BELT_FLOATS,
    LOW_RESERVE,
    LOW_WRAP,
    SLIP,
    TENSIONER_ON_TIGHT_SIDE,
)
from jovial_tack.answers.results import Finding
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.drive.adjuster import UNWOUND_STOP, WOUND_STOP
from jovial_tack.core.grip.reserve import rest_traction
from jovial_tack.document.model import SpringArmTensioner


def holding_findings(
    solved: Solved,
    catalogue: Catalogue,
    speech: Speech,
    onset_rpm: float | None,
    least_scale: float | None,
    *,
    mends: bool,
) -> list[Finding]:
    """Slip, floating belt, low reserve and low wrap."""
    found: list[Finding] = []
    if solved.low is not None:
        used = solved.low.arc_used_fraction
        mend = _mend(solved, least_scale) if mends and (used >= 1.0).any() else ""
        found += _slips(solved, speech, used, onset_rpm, mend)
        found += _floats(solved, speech)
    found += _low_wraps(solved, catalogue, speech)
    found += _tight_side(solved, speech)
    return found


def _slips(
    solved: Solved,
    speech: Speech,
    used: np.ndarray,
    onset_rpm: float | None,
    mend: str,
) -> list[Finding]:
    found: list[Finding] = []
    known = np.nan_to_num(used, nan=-1.0)
    worst_lane = known.argmax(axis=0)
    watch = solved.limits.low_reserve_arc_used
    order = sorted(range(known.shape[1]), key=lambda place: -known[worst_lane[place], place])
    against = (
        " (judged on the low side of the arm's damping)" if damping_fraction(solved.case) else ""
    )
    for place in order:
        fraction = float(known[worst_lane[place], place])
        rpm = solved.rpm[worst_lane[place]]
        pulley = solved.case.model.route[place]
        if fraction >= 1.0:
            since = f" from {onset_rpm:.0f} rpm" if onset_rpm is not None and not found else ""
            found.append(
                Finding(
                    SLIP,
                    "stop",
                    pulley,
                    f"{speech.name(pulley)} slips{since}: {percent(fraction)} of its wrap at"
                    f" {rpm:.0f} rpm{mend}{against}",
                    value=fraction,
                    limit=1.0,
                )
            )
        elif fraction > watch:
            found.append(
                Finding(
                    LOW_RESERVE,
                    "watch",
                    pulley,
                    f"{speech.name(pulley)} uses {percent(fraction)} of its wrap at {rpm:.0f} rpm;"
                    f" above {percent(watch)} wet or oily ribs may slip",
                    value=fraction,
                    limit=watch,
                )
            )
    return found


def _mend(solved: Solved, scale: float | None) -> str:
    """What tension would hold, solved; in terms of what the builder can change."""
    if solved.low is not None and np.isin(solved.low.outcome, (WOUND_STOP, UNWOUND_STOP)).any():
        return "; the arm lies on its stop there: fit a belt that keeps it in its window first"
    if scale is None:
        return "; no tension it could take would hold it: more wrap, less load or more ribs"
    tension = rest_traction(solved.drive, scale, solved.travel)
    belt = solved.case.belt
    most = belt.construction.most_tension_n_per_rib * belt.ribs
    if np.isnan(tension) or tension > most:
        return (
            f"; tension alone does not mend it (more than the {most:.0f} N the belt should rest at):"
            " more wrap, less load or more ribs"
        )
    if isinstance(solved.case.model.tensioner, SpringArmTensioner):
        torque = solved.case.model.tensioner.torque_nm * scale
        return f"; {torque:.1f} N·m on the arm ({tension:.0f} N at rest) would hold it"
    return f"; {tension:.0f} N at rest would hold it"


def _floats(solved: Solved, speech: Speech) -> list[Finding]:
    assert solved.low is not None
    tractions = solved.low.tractions
    if not (tractions <= 0).any():
        return []
    lane, span = np.unravel_index(int(np.nanargmin(tractions)), tractions.shape)
    floating = solved.rpm[(tractions <= 0).any(axis=-1)]
    pulley = solved.case.model.route[span]
    return [
        Finding(
            BELT_FLOATS,
            "stop",
            pulley,
            f"the belt floats off {speech.name(pulley)} from {floating.min():.0f} rpm: its slack side"
            f" has no pull left ({tractions[lane, span]:.0f} N at {solved.rpm[lane]:.0f} rpm);"
            " more tension or less belt speed",
            value=float(tractions[lane, span]),
            limit=0.0,
        )
    ]


def _low_wraps(solved: Solved, catalogue: Catalogue, speech: Speech) -> list[Finding]:
    assert solved.rest is not None
    found: list[Finding] = []
    for place, shaft in enumerate(solved.case.shafts):
        wrap = float(np.degrees(solved.rest.wrap[place]))
        least = catalogue.kinds[shaft.kind].least_wrap_deg
        if wrap < least:
            found.append(
                Finding(
                    LOW_WRAP,
                    "watch",
                    solved.case.model.route[place],
                    f"{speech.at(place)} has {wrap:.0f}° of wrap; {least:.0f}° is usual for its kind",
                    value=wrap,
                    limit=least,
                )
            )
    return found


def _tight_side(solved: Solved, speech: Speech) -> list[Finding]:
    """The arm belongs on the slack side: at redline it should see less than half of the rise."""
    arm, running = solved.case.arm, solved.running
    if arm is None or running is None:
        return []
    tractions = running.tractions[solved.redline]
    rise = float(tractions.max() - tractions.min())
    before = (arm.index - 1) % tractions.size
    share = float((tractions[before] + tractions[arm.index]) / 2 - tractions.min())
    if rise < 1.0 or share <= 0.5 * rise or not np.isfinite(share):
        return []
    return [
        Finding(
            TENSIONER_ON_TIGHT_SIDE,
            "watch",
            solved.case.model.route[arm.index],
            f"the arm of {speech.drive} sits {percent(share / rise)} of the way up to the tight side;"
            f" just after {speech.at(solved.drive.layout.driver)} in belt travel it would hold better",
            value=share / rise,
            limit=0.5,
        )
    ]
