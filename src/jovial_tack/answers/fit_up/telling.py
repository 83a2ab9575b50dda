"""Figures to compare and torque notes, in words and in the unit of the build."""

from __future__ import annotations

from jovial_tack.answers.fit_up.compare import TONE_WITHIN
from jovial_tack.answers.fit_up.steps import Step
from jovial_tack.core.units import FORCE, TONE, TORQUE, format_length, written, written_in
from jovial_tack.document.model import Build, TorqueNote


def figure_lines(build: Build, step: Step) -> tuple[str, ...]:
    """What the drive of a step should read; () where nothing is compared."""
    figures = step.figures
    if figures is None:
        return ()
    unit, said = build.display_units, []
    if figures.arm_angle_deg is not None:
        said.append(f"arm at {figures.arm_angle_deg:.1f}°{_inside(figures.window_share)}")
    if figures.slide_mm is not None:
        stands = format_length(figures.slide_mm, unit)
        said.append(f"slide {stands} from its first end{_inside(figures.window_share)}")
    elif figures.travel_share is not None:
        turns = "" if figures.turns is None else f", {figures.turns:+.1f} turns of its screw"
        said.append(f"at {100 * figures.travel_share:.0f} % of its travel{turns}")
    if figures.tone_hz is not None and figures.span is not None:
        name = _span_name(build, step.of[0], figures.span)
        within = round(100 * TONE_WITHIN)
        said.append(f"tone of {name} {written(figures.tone_hz, TONE)} ± {within} %")
    if figures.push_n is not None:
        said.append(
            f"{written_in(figures.push_n, FORCE, unit)} pushes it aside by 1/64 of its length"
        )
    if figures.tension_n is not None:
        said.append(f"{written_in(figures.tension_n, FORCE, unit)} in the belt at rest")
    return tuple(said)


def seen_line(step: Step) -> str:
    """What was seen at a step; "" where nothing was."""
    seen, said = step.seen, []
    if seen is None:
        return ""
    if seen.arm_angle_deg is not None:
        said.append(f"arm {seen.arm_angle_deg:.1f}°")
    if seen.travel_share is not None:
        said.append(f"{100 * seen.travel_share:.0f} % of its travel")
    if seen.tone_hz is not None:
        said.append(f"tone {written(seen.tone_hz, TONE)}")
    return ", ".join(said)


def _inside(share: float | None) -> str:
    return "" if share is None else f", {100 * share:.0f} % into its window"


def _span_name(build: Build, drive_id: str, span: str) -> str:
    """A span by what is at its ends."""
    drive = build.drive(drive_id)
    after = drive.route[(drive.route.index(span) + 1) % len(drive.route)]
    names = [build.shaft(drive.pulley(name).shaft).label for name in (span, after)]
    return " to ".join(names)


def torque_words(note: TorqueNote, unit: str) -> str:
    """The builder's own note on fasteners."""
    parts = []
    if note.nm is not None:
        parts.append(written_in(note.nm, TORQUE, unit))
    if note.lubricant is not None:
        parts.append(note.lubricant)
    if note.lock:
        parts.append(f"locked: {note.lock}")
    if note.left_hand:
        parts.append("left-hand thread")
    if note.note:
        parts.append(note.note)
    return ", ".join(parts)
