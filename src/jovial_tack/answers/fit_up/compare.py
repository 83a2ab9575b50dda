"""Figures to compare on the engine with what the layout says, at rest and cold (METHOD 17)."""

from __future__ import annotations

from jovial_tack.answers.results import ArmResult, DriveResult, FixedResult, SpanResult
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, Sprung

#: How closely a tone is read by ear or telephone, as a share (rep.).
TONE_WITHIN = 0.03


class Compared(Value, frozen=True):
    """What a drive should read: arm_angle_deg, slide_mm, window_share of a sprung tensioner;
    travel_share and turns of its screw of a bolted one; tension_n; of the span to listen to (the
    longest one beside no moving pulley, the pulley it leaves) its tone and the push for 1/64 of it.
    None where that is not known.
    """

    arm_angle_deg: float | None
    slide_mm: float | None
    window_share: float | None
    travel_share: float | None
    turns: float | None
    tension_n: float | None
    span: str | None
    tone_hz: float | None
    push_n: float | None


def compared(build: Build, result: DriveResult) -> Compared | None:
    """The figures of a drive that runs; None while it is undecided or has no path."""
    held = result.tensioner
    if held is None or not result.spans:
        return None
    span = span_to_hear(build, result)
    arm = held if isinstance(held, ArmResult) else None
    travel = held.travel if isinstance(held, FixedResult) else None
    share = None if travel is None else travel.travel_fraction
    if arm is not None and arm.travel_share is not None:
        share = arm.travel_share
    return Compared(
        None if arm is None else arm.arm_angle_deg,
        None if arm is None else arm.slide_mm,
        None if arm is None else arm.window_fraction,
        share,
        None if travel is None else travel.turns_to_go,
        held.tension_n,
        span.from_id,
        span.tone_hz,
        None if arm is not None else span.push_n,
    )


def span_to_hear(build: Build, result: DriveResult) -> SpanResult:
    """The longest span that ends at no sprung pulley, which would give, else the longest."""
    held = build.drive(result.id).tensioner
    moving = held.pulley if isinstance(held, Sprung) else None
    still = [span for span in result.spans if moving not in (span.from_id, span.to_id)]
    return max(still or list(result.spans), key=lambda span: span.length_mm)
