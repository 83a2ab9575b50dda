"""A survey as text for the terminal."""

from __future__ import annotations

from jovial_tack.answers.survey.told import ToldReading, ToldSurvey, next_words, survey_words
from jovial_tack.core.units import format_length
from jovial_tack.document.model import Build


def survey_table(build: Build, told: ToldSurvey) -> str:
    """Places, readings, what does not fit, and what to read next."""
    unit = build.display_units
    lines = [build.title or "survey", ""]
    for shaft in told.shafts:
        place = ", ".join(format_length(mm, unit) for mm in shaft.center_mm)
        if shaft.sd_mm is None:
            known = "not determined" if shaft.read else "no reading"
        else:
            known = f"± {' / '.join(format_length(sd, unit) for sd in shaft.sd_mm)}"
        also = "".join(
            f"; or at {', '.join(format_length(mm, unit) for mm in other)}" for other in shaft.also
        )
        lines.append(f"{shaft.label}: {place}  {known}{also}")
    lines.append("")
    lines += [_reading_line(reading) for reading in told.readings]
    said = survey_words(build, told)
    lines += ["", *said] if said else []
    for drive, sd in told.drives:
        label = build.drive(drive).label
        lines.append(f"{label}: belt length by these places known to ± {format_length(sd, unit)}")
    if ahead := next_words(build, told):
        lines.append(ahead)
    return "\n".join(lines)


def _reading_line(reading: ToldReading) -> str:
    mark = "!" if reading.doubt is not None else " " if reading.checked else "?"
    line = f"{mark} {reading.words}: {reading.read} ± {reading.sd}"
    if reading.problem:
        return f"- {reading.words}: not used: {reading.problem}"
    if reading.set_aside:
        return f"- {line[2:]}  set aside"
    if reading.residual is None:
        return line
    unit = "°" if reading.is_angle else " mm"
    return f"{line}  off by {reading.residual:+.2f}{unit}"
