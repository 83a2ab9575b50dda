"""Edits of notes that are pinned to places of the front view."""

from __future__ import annotations

from typing import Any

from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.names import free_name
from jovial_tack.document.edits.shafts import free_place
from jovial_tack.document.model import Build, PinnedNote, Point, make


def add_note(build: Build, place: Point | None = None, text: str = "Note") -> tuple[Build, str]:
    """Pin a note to a place, or to a free one; returns its id too."""
    name = free_name("note", (note.id for note in build.pinned_notes))
    new = make(PinnedNote, {"id": name, "text": text, "at_mm": place or free_place(build)})
    return changed(build, pinned_notes=(*build.pinned_notes, new)), name


def set_note(build: Build, note_id: str, **changes: Any) -> Build:
    """Change a note's words or its place."""
    new = changed(build.note(note_id), **changes)
    return changed(
        build, pinned_notes=tuple(new if n.id == note_id else n for n in build.pinned_notes)
    )


def move_note(build: Build, note_id: str, dx_mm: float, dy_mm: float) -> Build:
    """Pin a note elsewhere."""
    x, y = build.note(note_id).at_mm
    return set_note(build, note_id, at_mm=(round(x + dx_mm, 2), round(y + dy_mm, 2)))


def remove_note(build: Build, note_id: str) -> Build:
    """Take a note off."""
    kept = tuple(note for note in build.pinned_notes if note.id != note_id)
    return changed(build, pinned_notes=kept or None)
