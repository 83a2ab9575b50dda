"""What a belt number means, in words."""

from __future__ import annotations

from collections.abc import Sequence

from jovial_tack.core.belt.numbers import Reading, elsewhere


def number_table(readings: Sequence[Reading]) -> str:
    """A few lines a reading."""
    lines = []
    for reading in readings:
        wide = f", {reading.width_mm:.1f} mm wide" if reading.width_mm is not None else ""
        ribs = f", {reading.ribs} ribs" if reading.ribs is not None else ""
        length = f"{reading.length_mm:.1f} mm ({reading.length_mm / 25.4:.2f} in)"
        lines.append(
            f"{reading.scheme}: {reading.profile or 'a profile not known here'}{ribs}{wide},"
            f" {reading.length_kind} length {length}"
        )
        for scheme, number in elsewhere(reading).items():
            lines.append(f"  {scheme}: {number}")
        letters = f"{reading.prefix} {reading.suffix}".strip()
        if letters:
            lines.append(f"  letters kept, not read: {letters}")
    return "\n".join(lines)
