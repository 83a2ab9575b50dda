"""The sheet shown when nothing is selected: the engine's speeds, and all findings."""

from __future__ import annotations

from jovial_tack.build.edits import set_engine
from jovial_tack.build.figures.figure import Figure, Sheet, View
from jovial_tack.core.units import SPEED

_CAUTION = (
    "Engine off, key out, hot parts cold before hands go in. Makers' limits, local rules and"
    " qualified people come first; the figures are estimates from the data entered."
)
_FIGURES = (
    Figure("Idle", SPEED, lambda v: v.build.engine.idle_rpm,
           change=lambda b, _t, n: set_engine(b, idle_rpm=n), label=lambda _v: "idle speed",
           spoken="Idle speed of the engine"),
    Figure("Cruise", SPEED, lambda v: v.build.engine.cruise_rpm,
           change=lambda b, _t, n: set_engine(b, cruise_rpm=n), label=lambda _v: "cruise speed",
           spoken="Cruise speed of the engine"),
    Figure("Redline", SPEED, lambda v: v.build.engine.redline_rpm,
           change=lambda b, _t, n: set_engine(b, redline_rpm=n), label=lambda _v: "redline",
           spoken="Redline of the engine"),
)  # fmt: skip


def _said(view: View) -> str:
    if not view.build.drives:
        return (
            "Nothing on the engine yet but the crank. Drawing an engine from scratch is not built"
            " yet: open a build file, or look at the demo."
        )
    return (
        "Point at a pulley, an arm or a belt to see its figures; drag a shaft to move it. Framed"
        " figures can be typed over."
    )


ENGINE = Sheet(
    title=lambda v: v.build.title or "Untitled build",
    subtitle=_said,
    figures=lambda _view: _FIGURES,
    caution=lambda _v: _CAUTION,
    findings=lambda v: v.results.findings,
    is_there=lambda _build, _target: True,
    related=lambda v: tuple((drive.label, ("belt", drive.id)) for drive in v.build.drives),
)
