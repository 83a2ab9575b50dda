"""Whether every pulley holds its belt (docs/METHOD.md, section 8)."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.state import SolvedDrive, damping_fraction
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
    state: SolvedDrive,
    catalogue: Catalogue,
    speech: Speech,
    onset_rpm: float | None,
    least_scale: float | None,
    *,
    mends: bool,
) -> list[Finding]:
    """Slip, floating belt, low reserve and low wrap."""
    found: list[Finding] = []
    if state.low is not None:
        used = state.low.arc_used_fraction
        mend = _mend(state, least_scale) if mends and (used >= 1.0).any() else ""
        found += _slips(state, speech, used, onset_rpm, mend)
        found += _floats(state, speech)
    found += _low_wraps(state, catalogue, speech)
    found += _tight_side(state, speech)
    return found


def _slips(
    state: SolvedDrive,
    speech: Speech,
    used: np.ndarray,
    onset_rpm: float | None,
    mend: str,
) -> list[Finding]:
    found: list[Finding] = []
    known = np.nan_to_num(used, nan=-1.0)
    worst_lane = known.argmax(axis=0)
    watch = state.limits.low_reserve_arc_used
    order = sorted(range(known.shape[1]), key=lambda place: -known[worst_lane[place], place])
    against = (
        " (judged on the low side of the arm's damping)" if damping_fraction(state.case) else ""
    )
    for place in order:
        fraction = float(known[worst_lane[place], place])
        rpm = state.rpm[worst_lane[place]]
        pulley = state.case.model.route[place]
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


def _mend(state: SolvedDrive, scale: float | None) -> str:
    """What tension would hold, solved; in terms of what the builder can change."""
    if state.low is not None and np.isin(state.low.outcome, (WOUND_STOP, UNWOUND_STOP)).any():
        return "; the arm lies on its stop there: fit a belt that keeps it in its window first"
    if scale is None:
        return "; no tension it could take would hold it: more wrap, less load or more ribs"
    tension = rest_traction(state.drive, scale, state.travel)
    belt = state.case.belt
    most = belt.construction.most_tension_n_per_rib * belt.ribs
    if np.isnan(tension) or tension > most:
        return (
            f"; tension alone does not mend it (more than the {most:.0f} N the belt should rest at):"
            " more wrap, less load or more ribs"
        )
    if isinstance(state.case.model.tensioner, SpringArmTensioner):
        torque = state.case.model.tensioner.torque_nm * scale
        return f"; {torque:.1f} N·m on the arm ({tension:.0f} N at rest) would hold it"
    return f"; {tension:.0f} N at rest would hold it"


def _floats(state: SolvedDrive, speech: Speech) -> list[Finding]:
    assert state.low is not None
    tractions = state.low.tractions
    if not (tractions <= 0).any():
        return []
    lane, span = np.unravel_index(int(np.nanargmin(tractions)), tractions.shape)
    floating = state.rpm[(tractions <= 0).any(axis=-1)]
    pulley = state.case.model.route[span]
    return [
        Finding(
            BELT_FLOATS,
            "stop",
            pulley,
            f"the belt floats off {speech.name(pulley)} from {floating.min():.0f} rpm: its slack side"
            f" has no pull left ({tractions[lane, span]:.0f} N at {state.rpm[lane]:.0f} rpm);"
            " more tension or less belt speed",
            value=float(tractions[lane, span]),
            limit=0.0,
        )
    ]


def _low_wraps(state: SolvedDrive, catalogue: Catalogue, speech: Speech) -> list[Finding]:
    assert state.rest is not None
    found: list[Finding] = []
    for place, shaft in enumerate(state.case.shafts):
        wrap = float(np.degrees(state.rest.wrap[place]))
        least = catalogue.kinds[shaft.kind].least_wrap_deg
        if wrap < least:
            found.append(
                Finding(
                    LOW_WRAP,
                    "watch",
                    state.case.model.route[place],
                    f"{speech.at(place)} has {wrap:.0f}° of wrap; {least:.0f}° is usual for its kind",
                    value=wrap,
                    limit=least,
                )
            )
    return found


def _tight_side(state: SolvedDrive, speech: Speech) -> list[Finding]:
    """The arm belongs on the slack side: at redline it should see less than half of the rise."""
    arm, running = state.case.arm, state.running
    if arm is None or running is None:
        return []
    tractions = running.tractions[state.redline]
    rise = float(tractions.max() - tractions.min())
    before = (arm.index - 1) % tractions.size
    share = float((tractions[before] + tractions[arm.index]) / 2 - tractions.min())
    if rise < 1.0 or share <= 0.5 * rise or not np.isfinite(share):
        return []
    return [
        Finding(
            TENSIONER_ON_TIGHT_SIDE,
            "watch",
            state.case.model.route[arm.index],
            f"the arm of {speech.drive} sits {percent(share / rise)} of the way up to the tight side;"
            f" just after {speech.at(state.drive.layout.driver)} in belt travel it would hold better",
            value=share / rise,
            limit=0.5,
        )
    ]
