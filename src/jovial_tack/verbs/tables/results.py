"""Results as a table of text for the terminal."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from jovial_tack.answers.results import ArmResult, DriveResult, FixedResult, Results
from jovial_tack.answers.verdicts import Verdict
from jovial_tack.core.units import FORCE, TORQUE, format_length, written_in
from jovial_tack.document.model import Build

_MARKS = {"stop": "STOP ", "watch": "watch", "unknown": "?    ", "note": "note "}
_LEVELS = {"stop": "STOP ", "watch": "watch", "good": "good ", "unknown": "?    "}


def results_table(
    build: Build, results: Results, remarks: Sequence[str], verdicts: Sequence[Verdict] = ()
) -> str:
    """The verdicts, then all drives of a build, one after the other, with the findings of each."""
    lines = [build.title or "(no title)", *(f"remark: {remark}" for remark in remarks)]
    for verdict in verdicts:
        mend = verdict.mends[0].sentence if verdict.mends else verdict.detail
        more = f"; {mend}" if mend else ""
        others = f" ({verdict.others})" if verdict.others else ""
        lines.append(f"{_LEVELS[verdict.mark]} {verdict.title}: {verdict.sentence}{others}{more}")
    for drive in results.drives:
        lines += ["", *_drive_lines(build, drive)]
    if not results.drives:
        lines.append("no drive yet")
    return "\n".join(lines)


def _drive_lines(build: Build, drive: DriveResult) -> list[str]:
    unit = build.display_units

    def length(mm: float | None) -> str:
        return "–" if mm is None else format_length(mm, unit, digits=3 if unit == "in" else 2)

    model, force = build.drive(drive.id), FORCE.shown(unit)
    lines = [f"== {model.label} =="]
    if drive.exists:
        lines.append(
            f"path {length(drive.cord_length_mm)} on the cord,"
            f" {length(drive.path_effective_length_mm)} effective,"
            f" {length(drive.back_length_mm)} over the back"
        )
        lines += _tensioner_lines(drive, unit, length)
        names = {pulley.id: build.shaft(pulley.shaft).label for pulley in model.pulleys}
        lines += _grid(
            ["pulley", "turns", "wrap °", "ratio", *(f"arc used @{r:.0f}" for r in drive.rpm)],
            [
                [
                    names[pulley.id],
                    pulley.turns,
                    f"{pulley.wrap_deg:.1f}",
                    f"{pulley.speed_ratio:.3f}",
                    *_column(pulley.arc_used_fraction, ".0%"),
                ]
                for pulley in drive.pulleys
            ],
        )
        lines += _grid(
            ["span", "length", *(f"{force} @{r:.0f}" for r in drive.rpm)],
            [
                [
                    f"{names[span.from_id]} → {names[span.to_id]}",
                    length(span.length_mm),
                    *_column([v and v / FORCE.factor(force) for v in span.tension_n], ".0f"),
                ]
                for span in drive.spans
            ],
        )
    lines += [f"{_MARKS[f.level]} {f.message} [{f.code}]" for f in drive.findings]
    return lines


def _tensioner_lines(
    drive: DriveResult, unit: str, length: Callable[[float | None], str]
) -> list[str]:
    tensioner = drive.tensioner
    if isinstance(tensioner, ArmResult):
        window = tensioner.window_fraction
        inside = "" if window is None else f", {100 * window:.0f} % into its window"
        return [
            f"{_stands(tensioner, length)} at rest{inside}; {_spring(tensioner, unit)},"
            f" belt {written_in(tensioner.tension_n, FORCE, unit)}"
        ]
    if isinstance(tensioner, FixedResult):
        called = length(tensioner.called_for_effective_length_mm)
        pull = written_in(tensioner.tension_n, FORCE, unit)
        return [f"belt {pull} at rest; calls for {called} effective length"]
    return []


def _stands(held: ArmResult, length: Callable[[float | None], str]) -> str:
    if held.arm_angle_deg is None:
        return f"slide {length(held.slide_mm)}"
    return f"arm {held.arm_angle_deg:.2f}°"


def _spring(held: ArmResult, unit: str) -> str:
    if held.torque_nm is None:
        return f"pushed with {written_in(held.force_n or 0.0, FORCE, unit)}"
    return written_in(held.torque_nm, TORQUE, unit, 2)


def _column(values: Sequence[float | None], form: str) -> list[str]:
    return ["–" if value is None else format(value, form) for value in values]


def _grid(header: list[str], rows: list[list[str]]) -> list[str]:
    widths = [max(len(row[k]) for row in [header, *rows]) for k in range(len(header))]
    lines = []
    for row in [header, *rows]:
        cells = [row[0].ljust(widths[0])]
        cells += [cell.rjust(width) for cell, width in zip(row[1:], widths[1:], strict=True)]
        lines.append("  " + "  ".join(cells))
    return lines
