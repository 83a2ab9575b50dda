"""The logbook as lines."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from jovial_tack.answers.logbook.told import LogbookTold
from jovial_tack.answers.logbook.words import cost_words, due_words, life_words, wear_words
from jovial_tack.answers.results import Finding
from jovial_tack.document.model import Build
from jovial_tack.files.logbook_csv import Imported

_MARKS = {"good": "  ", "watch": "! ", "stop": "!!", "not_determined": "? "}


def logbook_table(build: Build, told: LogbookTold, files: Sequence[Finding] = ()) -> str:
    """What is due, lives, wear, tension kept, costs, what is wrong; files: what is not as attached."""
    lines: list[str] = []
    unit = build.display_units

    def part(title: str, each: Iterable[str]) -> None:
        found = list(each)
        if found:
            lines.extend([title, *(f"  {line}" for line in found)])

    part(
        "due:",
        (f"{_MARKS['good' if t.done else t.due.state]} {due_words(t, unit)}" for t in told.due),
    )
    part("lives:", (life_words(each, unit) for each in told.lives))
    part("wear:", (wear_words(build, each, told.unit) for each in told.wear))
    part(
        "tension kept:",
        (f"{k.at} {k.drive}, span from {k.span}: {100 * k.share:.0f} %" for k in told.kept),
    )
    part("cost:", cost_words(told, unit))
    part("not as attached:", (each.message for each in files))
    part("not right in the logbook:", told.problems)
    return "\n".join(lines) if lines else "nothing in the logbook yet"


def imported_table(imported: Imported, name: str) -> str:
    """What was entered of a table."""
    lines = [f"{imported.added} events entered in {name}"]
    if imported.changed:
        lines.append(f"changed as the table has them: {', '.join(imported.changed)}")
    lines += [f"not taken, {bad}" for bad in imported.bad]
    return "\n".join(lines)
