"""An event begun with what the build knows of it: the belt that is on, the span to listen to."""

from __future__ import annotations

from typing import Any, cast

from jovial_tack.answers.fit_up.compare import compared
from jovial_tack.document.model import EventKind
from jovial_tack.ui.logbook.book import Book


def enter_by_kind(book: Book, kind: str) -> str | None:
    """Enter an event of today, with what the layout has of its drive; the id, None where that may not
    be.
    """
    session, drive = book.session, book.drive
    build, figures = session.build, dict[str, Any]()
    found = None if drive is None else build.find_drive(drive)
    if found is not None and kind in ("belt_tried", "fitted"):
        belt = found.belt
        figures["construction"] = belt.construction
        if belt.effective_length_mm is not None:
            profile = session.catalogue.profiles[belt.profile]
            length = belt.effective_length_mm
            figures["number"] = profile.number(belt.ribs, length, build.display_units)
            figures["effective_length_mm"] = length
    if found is not None and kind == "tension_check":
        read = compared(build, session.results.drive(found.id))
        if read is not None:
            figures["span"] = read.span  # the one that is listened to
    last = next((e.currency for e in book.listed if e.currency), None)
    if kind in ("cost", "fitted", "belt_tried", "bearing", "tensioner") and last:
        figures["currency"] = last
    return book.enter(cast(EventKind, kind), **figures)
