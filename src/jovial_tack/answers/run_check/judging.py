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
from jovial_tack.core.run_check.moments import Moment
from jovial_tack.core.run_check.points import Law, Log
from jovial_tack.core.run_check.pull import Pull
from jovial_tack.core.run_check.pulls import find_pulls
from jovial_tack.core.run_check.slip import judge_pulls
from jovial_tack.core.value import Value, replace
from jovial_tack.document.model import Build, SuperchargerLoad


class CheckedPull(Value, frozen=True):
    """A pull, and the friction with which the model slips at its onset: on ribs, as a share of design.

    friction_band: on ribs, from the onset's interval; an end is None where no friction makes the model
    slip there. All None without a build or without slip.
    """

    pull: Pull
    friction_ribs: float | None = None
    friction_share: float | None = None
    friction_band: tuple[float | None, float | None] | None = None


class RunCheck(Value, frozen=True):
    """All pulls of a log and what they say together; problem says why there is none."""

    pulls: tuple[CheckedPull, ...]
    problem: str | None
    answer: CheckedPull | None = None
    moments: tuple[Moment, ...] = ()

    @property
    def slips(self) -> bool:
        """Whether the pulls together show slip, or any by itself."""
        every = [*self.pulls, *([self.answer] if self.answer is not None else [])]
        return any(checked.pull.slip for checked in every)


def friction_band(checked: CheckedPull) -> str:
    """The band of friction that the onset's interval means, in words: “ (0.41 to 0.47)”."""
    if checked.friction_band is None:
        return ""
    low, high = checked.friction_band
    if low is None or high is None:
        return f" (from {low:.2f} on)" if low is not None else ""
    return f" ({low:.2f} to {high:.2f})"


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
    law = _law_of(case)
    if law is not None:
        log = replace(log, law=law)

    def judging(place: int) -> None:
        share = (place + 1) / (len(stretches) + 1)
        progress(f"Judging pull {place + 1} of {len(stretches)}", share)

    judged = judge_pulls(log, stretches, ratio, judging)
    if judged.answer is None:
        return RunCheck((), _why_none(log))
    pulls = tuple(_with_friction(pull, case) for pull in judged.pulls)
    alone = len(pulls) == 1 and judged.answer == judged.pulls[0]
    answer = pulls[0] if alone else _with_friction(judged.answer, case)
    return RunCheck(pulls, None, answer, judged.moments)


def _law_of(case: SolvableCase | None) -> Law | None:
    """The law of the build's blower; None where it is not described."""
    place = None if case is None else blower_place(case)
    if case is None or place is None:
        return None
    load = case.shafts[place].load
    if not isinstance(load, SuperchargerLoad) or load.model is None:
        return None
    return "fan" if load.model == "centrifugal" else "displacement"


def _with_friction(pull: Pull, case: SolvableCase | None) -> CheckedPull:
    if case is None or not case.decided or pull.onset_rpm is None:
        return CheckedPull(pull)
    share = _friction(case, pull.onset_rpm)
    if share is None:
        return CheckedPull(pull)
    ribs = case.belt.friction_ribs
    assert pull.onset_interval is not None
    ends = [_friction(case, rpm) for rpm in pull.onset_interval]
    # the later it sets in the more friction there is, mostly; the band is told from its lesser end
    low, high = (None if end is None else end * ribs for end in ends)
    if low is not None and high is not None and low > high:
        low, high = high, low
    return CheckedPull(pull, share * ribs, share, (low, high))


def _friction(case: SolvableCase, rpm: float) -> float | None:
    """The share of the friction with which the model just slips at a speed."""
    # on the low side of damping, as every other judgement of slip
    return friction_at_limit(case.drive, rpm, spring_scale=1.0 - damping_fraction(case))


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
