"""Bracket plates as text for the terminal."""

from __future__ import annotations

from collections.abc import Sequence

from jovial_tack.answers.line_up.plate_words import bent_words, size_words, spacer_words
from jovial_tack.answers.results import PlateResult
from jovial_tack.core.line_up.tiles import Tiles
from jovial_tack.core.units import format_length
from jovial_tack.document.meant import cut_name
from jovial_tack.document.model import Build, HoleCut, Plate

_MARKS = {"stop": "STOP ", "watch": "watch", "unknown": "open ", "note": "note "}


def bracket_table(build: Build, told: Sequence[tuple[Plate, PlateResult, Tiles | None]]) -> str:
    """Every plate: what is wrong with it, its size, its holes, what stands behind it, its sheets."""
    lines = [build.title or "bracket plates"]
    if not told:
        lines.append("no bracket plate in it yet")
    for plate, result, tiles in told:
        lines += ["", f"{plate.label}: {size_words(build, plate, result)}"]
        lines += [f"{_MARKS.get(f.level, f.level)} {f.message}" for f in result.findings]
        lines += [f"  {_hole(build, cut)}" for cut in plate.features if isinstance(cut, HoleCut)]
        lines += [f"  {spacer_words(build, plate, spacer)}" for spacer in result.spacers]
        lines += [f"  {words}" for words in result.loose]
        bent = bent_words(build, result)
        lines += [f"  {bent}"] if bent else []
        if tiles is not None:
            several = "s" if tiles.count > 1 else ""
            paper = {"a4": "A4", "letter": "Letter"}[tiles.paper]
            lines.append(f"  {tiles.count} sheet{several} of {paper}")
    return "\n".join(lines)


def _hole(build: Build, cut: HoleCut) -> str:
    unit = build.display_units
    fine = 2 if unit == "mm" else 3
    x, y, wide = (format_length(mm, unit, digits=fine) for mm in (*cut.at_mm, cut.diameter_mm))
    return f"{cut_name(build, cut)}: x {x}, y {y}, {wide}"
