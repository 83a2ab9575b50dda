"""The rev plan, boost and pulleys as text tables."""

from __future__ import annotations

from collections.abc import Sequence

from jovial_tack.answers.ratios.map import map_words
from jovial_tack.answers.ratios.pulleys import PulleyPair
from jovial_tack.answers.ratios.rev_plan import PlannedShaft
from jovial_tack.answers.ratios.underdrive import Underdrive
from jovial_tack.core.ratios.blower import Charge
from jovial_tack.core.ratios.compressor_map import Operating
from jovial_tack.core.units import (
    AIR_FLOW,
    POWER,
    PRESSURE,
    TEMPERATURE,
    format_length,
    written_in,
)


def plan_table(plan: Sequence[PlannedShaft]) -> str:
    """A line a shaft."""
    lines = [
        f"{'shaft':24}{'ratio':>8}{'idle':>9}{'cruise':>9}{'redline':>9}{'limit':>9}{'margin':>9}"
    ]
    for shaft in plan:
        figures = [
            _cell(shaft.ratio, 8, ".3f"),
            *(_cell(v, 9, ".0f") for v in (shaft.idle_rpm, shaft.cruise_rpm, shaft.redline_rpm)),
            _cell(shaft.max_rpm, 9, ".0f"),
            _cell(None if shaft.margin is None else 100 * shaft.margin, 8, "+.0f", "%"),
        ]
        notes = list(shaft.short)
        notes += [f"by the output usual for its kind: {words}" for words in shaft.maybe_short]
        if shaft.driven and shaft.max_rpm is None:
            notes.append("limit unknown")
        if shaft.over_former is not None:
            notes.append(f"{100 * shaft.over_former:+.0f}% on its former pulleys")
        if shaft.output_a is not None:
            notes.append(
                f"gives {shaft.output_a[0]:.0f} A at idle, {shaft.output_a[1]:.0f} A at cruise"
            )
        line = f"{shaft.name[:23]:24}" + "".join(figures)
        lines.append(line + ("  " + "; ".join(notes) if notes else ""))
    return "\n".join(lines)


def underdrive_table(steps: Sequence[Underdrive], unit: str) -> str:
    """A line a smaller driver."""
    lines = [f"{'driver':>9}{'slower':>9}{'saved, cruise':>15}{'saved, redline':>16}"]
    for step in steps:
        driver = format_length(step.driver_mm, unit)
        cruise, redline = (
            written_in(kw, POWER, unit, 2) for kw in (step.saved_cruise_kw, step.saved_redline_kw)
        )
        values = f"{driver:>9}{100 * step.slower:8.0f}%{cruise:>15}{redline:>16}"
        lines.append(f"{values}  {'; '.join(step.too_slow)}".rstrip())
    return "\n".join(lines)


def boost_table(charge: Charge, on_map: Operating | None, unit: str) -> str:
    """A line an engine speed, with the margins of a map if there is one."""
    lines = [
        f"{'rpm':>7}{'blower':>9}{'boost':>11}{'ratio':>8}{'air out':>10}{'power':>10}{'flow':>12}"
    ]
    rows = zip(
        charge.engine_rpm,
        charge.blower_rpm,
        charge.boost_kpa,
        charge.ratio,
        charge.discharge_c,
        charge.power_kw,
        charge.mass_flow_kg_s,
        strict=True,
    )
    for lane, (rpm, blower, boost, ratio, out, power, flow) in enumerate(rows):
        made = f"{rpm:7.0f}{blower:9.0f}{written_in(boost, PRESSURE, unit):>11}{ratio:8.3f}"
        warm, taken = written_in(out, TEMPERATURE, unit), written_in(power, POWER, unit)
        line = f"{made}{warm:>10}{taken:>10}{written_in(flow, AIR_FLOW, unit):>12}"
        if on_map is not None:
            line += f"  {map_words(on_map, lane)}"
        lines.append(line)
    return "\n".join(lines)


def pulleys_table(pairs: Sequence[PulleyPair], unit: str) -> str:
    """A line a pair of pulleys; those of a stepped series are not marked exact."""
    lines = [f"{'blower':>9}{'crank':>10}{'boost':>12}{'blower at redline':>20}{'belt':>12}  "]
    for pair in pairs:
        marks = ["exact"] if pair.exact else []
        marks += [f"{pair.part}, on the shelf"] if pair.part else []
        belt = (
            "–"
            if pair.next_belt_mm is None
            else format_length(pair.next_belt_mm, unit, digits=0 if unit == "mm" else 2)
        )
        marks += [pair.problem] if pair.problem else []
        lines.append(
            f"{format_length(pair.blower_mm, unit):>9}{format_length(pair.crank_mm, unit):>10}"
            f"{written_in(pair.boost_kpa, PRESSURE, unit):>12}"
            f"{pair.redline_blower_rpm:16.0f} rpm{belt:>12}  {'; '.join(marks)}".rstrip()
        )
    return "\n".join(lines)


def _cell(value: float | None, width: int, form: str, unit: str = "") -> str:
    text = "–" if value is None else f"{value:{form}}{unit}"
    return f"{text:>{width}}"
