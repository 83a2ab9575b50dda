"""Plans and maps as CSV."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence

from jovial_tack.answers.ratios.rev_plan import PlannedShaft
from jovial_tack.core.cells import as_text
from jovial_tack.core.ratios.compressor_map import Operating


def plan_csv(plan: Sequence[PlannedShaft]) -> str:
    """The plan as CSV: a line a shaft, empty where there is no value."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    keys = ("ratio", "idle_rpm", "cruise_rpm", "redline_rpm", "min_rpm", "max_rpm", "over_former")
    table.writerow(["shaft", *keys, "idle_a", "cruise_a"])
    for shaft in plan:
        values = [getattr(shaft, key) for key in keys] + list(shaft.output_a or (None, None))
        table.writerow([as_text(shaft.name), *("" if v is None else f"{v:.6g}" for v in values)])
    return out.getvalue()


def map_csv(engine_rpm: Sequence[float], line: Operating) -> str:
    """A working line on a map as CSV: a line an engine speed, empty where there is no value."""
    out = io.StringIO()
    table = csv.writer(out, lineterminator="\n")
    table.writerow(
        [
            "engine speed [rpm]",
            "corrected flow [kg/s]",
            "pressure ratio",
            "corrected impeller speed [rpm]",
            "map efficiency",
            "surge margin",
            "choke margin",
        ]
    )
    columns = (
        engine_rpm,
        line.flow,
        line.ratio,
        line.rpm,
        line.efficiency,
        line.surge_margin,
        line.choke_margin,
    )
    for row in zip(*columns, strict=True):
        table.writerow(["" if v != v else f"{v:.6g}" for v in row])
    return out.getvalue()
