"""The sheet of a note pinned to the front view."""

from __future__ import annotations

from jovial_tack.core.units import LENGTH
from jovial_tack.document.edits.notes import remove_note, set_note
from jovial_tack.document.model import Build, PinnedNote
from jovial_tack.document.targets import Target
from jovial_tack.sheets.sheet import Act, Figure, Row, Sheet, Shown, Words


def _it(view: Shown) -> PinnedNote:
    return view.build.note(view.target[1])


def _set_place(axis: int, build: Build, target: Target, mm: float) -> Build:
    place = list(build.note(target[1]).at_mm)
    place[axis] = mm
    return set_note(build, target[1], at_mm=(place[0], place[1]))


_LINES: tuple[Row, ...] = (
    Words(
        "Words",
        lambda v: _it(v).text,
        lambda b, t, text: set_note(b, t[1], text=text),
        lambda _v: "note",
        "Words of the note",
    ),
    Figure(
        "Place x",
        LENGTH,
        lambda v: _it(v).at_mm[0],
        label=lambda _v: "move note",
        change=lambda b, t, mm: _set_place(0, b, t, mm),
        spoken="Place of the note, to the right",
    ),
    Figure(
        "Place y",
        LENGTH,
        lambda v: _it(v).at_mm[1],
        label=lambda _v: "move note",
        change=lambda b, t, mm: _set_place(1, b, t, mm),
        spoken="Place of the note, upward",
    ),
)


NOTE = Sheet(
    title=lambda _v: "Note",
    subtitle=lambda _v: "Pinned to this place; drag it elsewhere.",
    figures=lambda _view: _LINES,
    caution=lambda _v: "",
    findings=lambda _v: (),
    is_there=lambda build, target: build.note(target[1]).id == target[1],
    acts=lambda v: (
        Act(
            "Delete",
            lambda b: remove_note(b, v.target[1]),
            "delete note",
            lambda _b: (),
            removes=True,
        ),
    ),
)
