"""The pulls of a log as text for the terminal; apart from `table`, which a solve loads."""

from __future__ import annotations

from collections.abc import Sequence

from jovial_tack.answers.run_check.judging import CheckedPull, RunCheck, friction_band
from jovial_tack.core.run_check.moments import moment_words
from jovial_tack.core.run_check.pull import Pull
from jovial_tack.core.units import PRESSURE, written_in


def run_check_table(name: str, remarks: Sequence[str], checked: RunCheck, unit: str = "mm") -> str:
    """The pulls of a log, one after the other."""
    lines = [name, *(f"remark: {remark}" for remark in remarks)]
    if checked.problem is not None:
        lines.append(checked.problem)
    if checked.answer is not None and checked.pulls != (checked.answer,):
        name = "all pulls" if len(checked.pulls) > 1 else "whole log"
        lines += ["", *pull_lines(name, checked.answer, unit)]
    for place, pull in enumerate(checked.pulls, start=1):
        lines += ["", *pull_lines(f"pull {place}", pull, unit)]
    if checked.moments:
        lines += ["", "besides, by the blower's own speed:"]
        lines += [f"  {where}: {much}" for where, much in map(moment_words, checked.moments)]
    return "\n".join(lines)


def pull_lines(name: str, checked: CheckedPull, unit: str = "mm") -> list[str]:
    """One pull in a few lines: where it is, the answer, its reason, and the friction it means."""
    pull = checked.pull
    answer = {True: "SLIPS", False: "no slip found", None: "cannot tell"}[pull.slip]
    sure = "" if pull.slip is None else f" ({pull.confidence})"
    lines = [
        f"{name}: {pull.from_s:.1f} to {pull.to_s:.1f} s, {pull.low_rpm:.0f} to"
        f" {pull.high_rpm:.0f} rpm: {answer}{sure}",
        f"  {pull.reason}",
    ]
    if pull.onset_rpm is not None and pull.onset_interval is not None:
        low, high = pull.onset_interval
        lost = written_in(pull.boost_lost_kpa or 0.0, PRESSURE, unit)
        lines.append(
            f"  from {pull.onset_rpm:.0f} rpm ({low:.0f} to {high:.0f}); at the top {lost}"
            f" and {100 * (pull.worst_slip or 0):.1f} % of blower speed lost{_between(pull)}"
        )
    if checked.friction_ribs is not None and checked.friction_share is not None:
        lines.append(
            f"  the model slips there with a friction of {checked.friction_ribs:.2f}"
            f"{friction_band(checked)} on the ribs, {100 * checked.friction_share:.0f} % of the design"
            " value"
        )
    return lines


def _between(pull: Pull) -> str:
    if pull.worst_interval is None:
        return ""
    low, high = (100 * share for share in pull.worst_interval)
    return f" ({low:.1f} to {high:.1f})"
