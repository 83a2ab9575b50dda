"""The run check: a log's pulls judged, and what the model says of them (docs/METHOD.md, section 17)."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.solved import damping_fraction
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import LogError
from jovial_tack.core.grip.reserve import friction_at_limit
from jovial_tack.core.run_check.pulls import find_pulls
from jovial_tack.core.run_check.slip import Log, Pull, judge_pull
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build


class CheckedPull(Value, frozen=True):
    """A pull, and the friction with which the model slips at its onset: on ribs, as a share of design.

    Both None without a build, without slip, or where no friction makes the model slip there.
    """

    pull: Pull
    friction_ribs: float | None = None
    friction_share: float | None = None


class RunCheck(Value, frozen=True):
    """All pulls of a log; problem says why there is none."""

    pulls: tuple[CheckedPull, ...]
    problem: str | None

    @property
    def slips(self) -> bool:
        """Whether any pull shows slip."""
        return any(checked.pull.slip for checked in self.pulls)


def blower_drive(build: Build) -> str | None:
    """The drive a log of boost is about: the first that turns a supercharger."""
    for drive in build.drives:
        if any(build.shaft(pulley.shaft).kind == "supercharger" for pulley in drive.pulleys):
            return drive.id
    return None


def drive_case(build: Build, drive_id: str, catalogue: Catalogue) -> SolvableCase:
    """The drive of a build by id or by name. Raises LogError if there is none or it has no blower."""
    for case in assemble(build, catalogue):
        if drive_id in (case.model.id, case.model.label):
            if not isinstance(case, SolvableCase) or blower_place(case) is None:
                raise LogError(f"drive “{drive_id}” turns no supercharger that boost could tell of")
            return case
    known = ", ".join(drive.id for drive in build.drives)
    raise LogError(f"the build has no drive “{drive_id}”; it has {known or 'none'}")


def blower_place(case: SolvableCase) -> int | None:
    """The place on the route of the supercharger's pulley."""
    kinds = [shaft.kind for shaft in case.shafts]
    return kinds.index("supercharger") if "supercharger" in kinds else None


def check_run(
    log: Log,
    case: SolvableCase | None = None,
    progress: Callable[[str, float], None] = lambda _text, _share: None,
) -> RunCheck:
    """Find and judge the pulls of a log.

    case: the drive of the blower, if a build is at hand; progress is told what is being done and the
    share of it done, and may raise to cancel.
    """
    progress("Looking for full-throttle pulls", 0.0)
    stretches = find_pulls(log)
    ratio = None
    if case is not None:
        place = blower_place(case)
        ratio = None if place is None else float(case.drive.ratios[place])
    found: list[CheckedPull] = []
    for place, stretch in enumerate(stretches, start=1):
        progress(f"Judging pull {place} of {len(stretches)}", place / len(stretches))
        pull = judge_pull(log, stretch, ratio)
        found.append(_with_friction(pull, case))
    problem = None if found else _why_none(log)
    return RunCheck(tuple(found), problem)


def _with_friction(pull: Pull, case: SolvableCase | None) -> CheckedPull:
    if case is None or not case.decided or pull.onset_rpm is None:
        return CheckedPull(pull)
    # on the low side of damping, as every other judgement of slip
    share = friction_at_limit(case.drive, pull.onset_rpm, spring_scale=1.0 - damping_fraction(case))
    if share is None:
        return CheckedPull(pull)
    return CheckedPull(pull, share * case.belt.friction_ribs, share)


def _why_none(log: Log) -> str:
    most = float(np.max(log.boost_kpa, initial=0.0))
    low, high = float(log.rpm.min()), float(log.rpm.max())
    if high < 1.3 * low:
        return (
            f"no full-throttle pull in it: engine speed only goes from {low:.0f} to {high:.0f} rpm"
        )
    if most < 4.0:
        return f"no full-throttle pull with boost in it: boost reaches {most:.1f} kPa at most"
    return (
        "no full-throttle pull in it: one needs engine speed rising by a third for over a second"
        + (" with the throttle open" if log.throttle is not None else "")
    )
