"""The rev plan, boost and pulleys as text tables."""

from __future__ import annotations

from collections.abc import Sequence

from jovial_tack.build.ratios import PlannedShaft, PulleyPair
from jovial_tack.core.air.blower import Charge


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
        lines.append(f"{shaft.name[:23]:24}" + "".join(figures))
    return "\n".join(lines)


def boost_table(charge: Charge) -> str:
    """A line an engine speed."""
    lines = [
        f"{'rpm':>7}{'blower':>9}{'boost':>11}{'ratio':>8}{'air out':>10}{'power':>10}{'flow':>11}"
    ]
    rows = zip(
        charge.engine_rpm, charge.blower_rpm, charge.boost_kpa, charge.ratio, charge.discharge_c,
        charge.power_kw, charge.mass_flow_kg_s, strict=True,
    )  # fmt: skip
    for rpm, blower, boost, ratio, out, power, flow in rows:
        made = f"{rpm:7.0f}{blower:9.0f}{boost:7.1f} kPa{ratio:8.3f}"
        lines.append(f"{made}{out:7.0f} °C{power:7.1f} kW{flow:6.3f} kg/s")
    return "\n".join(lines)


def pulleys_table(pairs: Sequence[PulleyPair]) -> str:
    """A line a pair of pulleys; those of a stepped series are not marked exact."""
    lines = [f"{'blower':>9}{'crank':>10}{'boost':>12}{'blower at redline':>20}  "]
    for pair in pairs:
        marks = ["exact"] if pair.exact else []
        marks += [pair.problem] if pair.problem else []
        lines.append(
            f"{pair.blower_mm:6.1f} mm{pair.crank_mm:7.1f} mm{pair.boost_kpa:8.1f} kPa"
            f"{pair.redline_blower_rpm:16.0f} rpm  {'; '.join(marks)}".rstrip()
        )
    return "\n".join(lines)


def _cell(value: float | None, width: int, form: str, unit: str = "") -> str:
    text = "–" if value is None else f"{value:{form}}{unit}"
    return f"{text:>{width}}"
