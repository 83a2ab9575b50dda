"""What is read of a spring arm or slide for a card: at rest and at the engine speed shown."""

from __future__ import annotations

from typing import Any, TypeVar

from jovial_tack.answers.results import ArmResult
from jovial_tack.document.targets import ArmAt, BeltAt
from jovial_tack.sheets.sheet import Shown

Held = TypeVar("Held", ArmAt, BeltAt)


def held(view: Shown[Held]) -> ArmResult | None:
    """The result of what a spring keeps tight; None while there is none."""
    tensioner = view.result.tensioner
    return tensioner if isinstance(tensioner, ArmResult) else None


def at_rest(name: str) -> Any:
    """Reads a figure of it at rest."""
    return lambda view: getattr(held(view), name) if held(view) else None


def running(name: str) -> Any:
    """Reads a figure of it at the engine speed shown."""
    return lambda view: getattr(held(view), name)[view.lane] if held(view) else None


def in_window(view: Shown[Held]) -> float | None:
    """How far it rests into its window, per cent."""
    found = held(view)
    return None if found is None or found.window_fraction is None else 100 * found.window_fraction


def window_sd(view: Shown[Held]) -> float | None:
    """One standard deviation of that, per cent."""
    found = held(view)
    return None if found is None or found.window_sd is None else 100 * found.window_sd
