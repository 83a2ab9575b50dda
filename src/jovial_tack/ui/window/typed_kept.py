"""What is typed in a window and in no build, as it is kept aside, and back into the lines again."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, get_args

from PyQt6.QtWidgets import QWidget

from jovial_tack.core.value import Value, fields_of
from jovial_tack.document import targets
from jovial_tack.files.recovery import KeptText
from jovial_tack.ui.widgets import typed
from jovial_tack.ui.widgets.typed import Typed, all_waiting

_TARGETS: dict[str, Any] = {kind.__name__: kind for kind in get_args(targets.Target)}


def kept_texts(window: QWidget) -> list[KeptText]:
    """All that waits in a window."""
    return [
        KeptText(each.field, each.name, _as_json(each.of), each.text, each.why)
        for each in all_waiting(window)
    ]


def type_again(window: QWidget, kept: Iterable[KeptText]) -> list[KeptText]:
    """Have texts stand where they were typed. Returns those whose line is not there."""
    fields = dict(typed.fields_of(window))
    left = []
    for each in kept:
        field = fields.get(each.field)
        if field is None:
            left.append(each)
        else:
            field.type_again(from_json(each.of), each.text, each.why)
    return left


def waiting_words(waiting: Iterable[Typed]) -> str:
    """What waits, in words: “270.5 mm” (What was read), “P05” (A code of the engine)."""
    every = list(waiting)
    texts = [f"“{each.text.strip()[:40]}” ({each.name})" for each in every[:_MOST]]
    more = len(every) - _MOST
    return ", ".join(texts) + (f" and {more} more" if more > 0 else "")


_MOST = 3


def _as_json(of: object) -> Any:
    """What a text belongs to, as JSON."""
    if isinstance(of, tuple):
        return [_as_json(each) for each in of]
    if isinstance(of, Value) and type(of).__name__ in _TARGETS:
        return {"target": type(of).__name__, **fields_of(of)}
    return of if isinstance(of, str | int | float | None) else str(of)


def from_json(of: Any) -> object:
    """What a text belongs to, from JSON; None for what is none."""
    if isinstance(of, list):
        return tuple(from_json(each) for each in of)
    if not isinstance(of, dict):
        return of
    kind = _TARGETS.get(str(of.get("target")))
    try:
        return None if kind is None else kind(**{k: v for k, v in of.items() if k != "target"})
    except TypeError:
        return None
