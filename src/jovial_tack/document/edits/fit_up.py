"""Edits of fitting up: ticks, what was seen, the builder's own steps and torque notes."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.names import free_name
from jovial_tack.document.model import Build, DoneStep, OwnStep, SeenThen, TorqueNote, make


def tick(build: Build, step_id: str, stamp: str, at: str) -> Build:
    """Tick a step as done on a day (such as 2026-11-27), on what the build is now."""
    before = build.fit_up.done.get(step_id)
    data = {"stamp": stamp, "at": at}
    if before is not None and before.note:
        data["note"] = before.note
    return _with(build, done={**build.fit_up.done, step_id: make(DoneStep, data)})


def set_note(build: Build, step_id: str, note: str) -> Build:
    """Write a note on a step that is done; it goes with its tick."""
    now = build.fit_up.done[step_id]
    return _with(
        build, done={**build.fit_up.done, step_id: changed(now, note=note.strip() or None)}
    )


def untick(build: Build, step_id: str) -> Build:
    """Take a tick back."""
    left = {name: done for name, done in build.fit_up.done.items() if name != step_id}
    return _with(build, done=left)


def untick_all(build: Build) -> Build:
    """Begin anew: no step is done; what was seen goes too, steps of one's own stay."""
    return _with(build, done={}, read={})


def set_seen(build: Build, step_id: str, **figures: Any) -> Build:
    """Keep what was seen at a step; a figure None is taken away."""
    before = build.fit_up.read.get(step_id)
    seen = make(SeenThen, {}) if before is None else before
    new = changed(seen, **figures)
    left = {name: read for name, read in build.fit_up.read.items() if name != step_id}
    return _with(build, read=left | ({step_id: new} if new.given or new.unknown else {}))


def set_torque(build: Build, step_id: str, **figures: Any) -> Build:
    """Change the builder's own note on the fasteners of a step; one without figures goes."""
    old = next((note for note in build.notes_torque if note.step == step_id), None)
    note = changed(old or make(TorqueNote, {"for": step_id}), **figures)
    others = [one for one in build.notes_torque if one.step != step_id]
    says = note.nm or note.lubricant or note.lock or note.left_hand or note.note or note.unknown
    notes = (*others, note) if says else tuple(others)
    return changed(build, notes_torque=notes or None)


def add_own_step(
    build: Build, words: str, after: tuple[str, ...] = (), before: tuple[str, ...] = ()
) -> tuple[Build, str]:
    """Put a step of the builder's own in, after and before others by their ids; returns its id as a
    step too.
    """
    name = free_name("step", (step.id for step in build.fit_up.own))
    data: dict[str, Any] = {"id": name, "words": words}
    data |= {"after": after} if after else {}
    data |= {"before": before} if before else {}
    own = (*build.fit_up.own, make(OwnStep, data))
    return _with(build, own=own), f"own:{name}"


def remove_own_step(build: Build, own_id: str) -> Build:
    """Take a step of the builder's own out."""
    return _with(build, own=tuple(step for step in build.fit_up.own if step.id != own_id))


def _with(build: Build, **keys: Mapping[str, Any] | tuple[OwnStep, ...]) -> Build:
    now = build.fit_up
    every = {"done": now.done, "read": now.read, "own": now.own, **keys}
    changes = {key: value or None for key, value in every.items()}
    made = changed(now, **changes)
    return changed(build, fit_up=made if made.given or made.unknown else None)
