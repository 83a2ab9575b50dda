"""The sheet of a note pinned to the front view."""

from __future__ import annotations

from jovial_tack.core.units import LENGTH
from jovial_tack.document.edits.notes import remove_note, set_note
from jovial_tack.document.model import PinnedNote
from jovial_tack.document.targets import NOTHING, NoteAt
from jovial_tack.sheets.fields import Fields, always
from jovial_tack.sheets.sheet import Act, Row, Sheet

_NOTE: Fields[PinnedNote, NoteAt] = Fields(
    PinnedNote,
    lambda build, target: build.note(target.note),
    lambda build, target, **keys: set_note(build, target.note, **keys),
    "note",
)
_MOVED = always("move note")
_LINES: tuple[Row[NoteAt], ...] = (
    _NOTE.words("text", "Words", "Words of the note"),
    _NOTE.figure(
        "at_mm", "Place x", LENGTH, "Place of the note, to the right", undo=_MOVED, axis=0
    ),
    _NOTE.figure("at_mm", "Place y", LENGTH, "Place of the note, upward", undo=_MOVED, axis=1),
)


NOTE = Sheet(
    title=lambda _v: "Note",
    subtitle=lambda _v: "Pinned to this place; drag it elsewhere.",
    figures=lambda _view: _LINES,
    caution=lambda _v: "",
    findings=lambda _v: (),
    is_there=lambda build, target: build.note(target.note).id == target.note,
    acts=lambda v: (
        Act(
            "Delete",
            lambda b: remove_note(b, v.target.note),
            "delete note",
            lambda _b: NOTHING,
            removes=True,
        ),
    ),
)
