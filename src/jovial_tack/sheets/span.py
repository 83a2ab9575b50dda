"""The sheet of a span: its length, its pull, how it feels and sounds, and its angle."""

from __future__ import annotations

from jovial_tack.answers.kinds import MISALIGNED, SPAN_RESONANCE
from jovial_tack.answers.results import SpanResult
from jovial_tack.core.units import ANGLE, FORCE, LENGTH, TONE, format_length
from jovial_tack.document.edits.routes import lay_on
from jovial_tack.document.model import Shaft
from jovial_tack.document.targets import BeltAt, PulleyAt, SpanAt
from jovial_tack.sheets.sheet import Act, Figure, Row, Sheet, Shown, findings_at, has_pulley

_MOST_OFFERED = 4


def _span(view: Shown[SpanAt]) -> SpanResult | None:
    return next((s for s in view.result.spans if s.from_id == view.target.leaves), None)


def _after(view: Shown[SpanAt]) -> str:
    route = view.drive.route
    return route[(route.index(view.target.leaves) + 1) % len(route)]


def _pull(view: Shown[SpanAt]) -> float | None:
    span = _span(view)
    return span.tension_n[view.lane] if span is not None and span.tension_n else None


def _deflects(view: Shown[SpanAt]) -> str:
    span = _span(view)
    return (
        ""
        if span is None
        else f"for {format_length(span.length_mm / 64, view.build.display_units)}"
    )


_FIGURES: tuple[Row[SpanAt], ...] = (
    Figure(
        "Length",
        LENGTH,
        lambda v: s.length_mm if (s := _span(v)) else None,
        aside=lambda _v: "free, at rest",
    ),
    Figure("Pull", FORCE, _pull, aside=Shown.at, spoken="Total tension of the span while running"),
    Figure(
        "Push",
        FORCE,
        lambda v: s.push_n if (s := _span(v)) else None,
        digits=1,
        aside=_deflects,
        spoken="Force that pushes the middle of the span aside at rest",
    ),
    Figure(
        "Tone",
        TONE,
        lambda v: s.tone_hz if (s := _span(v)) else None,
        aside=lambda _v: "plucked, at rest",
    ),
    Figure(
        "Angle",
        ANGLE,
        lambda v: s.misalignment_deg if (s := _span(v)) else None,
        digits=2,
        aside=lambda _v: "out of line",
        absent=lambda _v: "not determined",
        spoken="Angle between belt and groove, the worse end",
    ),
)


def _acts(view: Shown[SpanAt]) -> tuple[Act, ...]:
    """The ways this span can be laid over a shaft that is not on the belt, the nearest ones first."""
    drive, after = view.drive, view.target.leaves
    on = {pulley.shaft for pulley in drive.pulleys}
    ends = [
        complex(*view.build.shaft(drive.pulley(n).shaft).center_mm) for n in (after, _after(view))
    ]
    middle = sum(ends) / 2

    def away(shaft: Shaft) -> float:
        return abs(complex(*shaft.center_mm) - middle)

    others = sorted((s for s in view.build.shafts if s.id not in on), key=away)[:_MOST_OFFERED]
    return tuple(
        Act(
            f"{shaft.label}: {side} on it",
            lambda b, s=shaft, w=side: lay_on(b, drive.id, after, s.id, w, view.catalogue),  # type: ignore[misc]
            f"lay {drive.label} on {shaft.label}",
            lambda b: PulleyAt(drive.id, b.drive(drive.id).pulleys[-1].id),
        )
        for shaft in others
        for side in ("ribs", "back")
    )


SPAN = Sheet(
    title=lambda v: f"{v.name_of(v.target.leaves)} to {v.name_of(_after(v))}",
    subtitle=lambda v: (
        f"Free span of {v.drive.label}, in belt travel. Pull it over a shaft in the picture to lay the"
        " belt on it."
    ),
    figures=lambda _view: _FIGURES,
    caution=lambda _v: "Push and listen with the engine off and the key out only.",
    findings=lambda v: tuple(
        f
        for name in (v.target.leaves, _after(v))
        for f in findings_at(v, name)
        if f.kind in (MISALIGNED, SPAN_RESONANCE)
    ),
    is_there=has_pulley,
    related=lambda v: (
        ("From", PulleyAt(v.target.drive, v.target.leaves)),
        ("To", PulleyAt(v.target.drive, _after(v))),
        ("Belt", BeltAt(v.target.drive)),
    ),
    acts=_acts,
)
