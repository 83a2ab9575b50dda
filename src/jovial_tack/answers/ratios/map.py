"""Where the blower works on its compressor map."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from jovial_tack.answers.drive.air import air_of
from jovial_tack.answers.ratios.charge import Charged
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.ratios.blower import charge_at
from jovial_tack.core.ratios.compressor_map import CompressorMap, Operating
from jovial_tack.core.units import PRESSURE, written_in
from jovial_tack.document.edits.curves import read_map
from jovial_tack.document.model import Build, SuperchargerLoad


def map_of(build: Build, found: Charged) -> CompressorMap | None:
    """The map of the blower; None if it has none. Raises GeometryError for a text that is no map."""
    load = found.case.shafts[found.place].load
    text = load.map_csv if isinstance(load, SuperchargerLoad) else None
    if text is None:
        return None
    if "\n" not in text:
        raise GeometryError(f"the map “{text}” is not at hand; read it in again from its CSV file")
    return read_map(text)


def operating_line(
    build: Build, found: Charged, engine_rpm: Sequence[float], ratio: float | None = None
) -> Operating | None:
    """Where the blower works on its map at engine speeds; None without a map that can be read. ratio:
    of its input over the crank, if not as fitted.
    """
    try:
        chart = map_of(build, found)
    except GeometryError:
        chart = None  # what is wrong with it is told where the map is shown
    if chart is None:
        return None
    load, air = found.case.shafts[found.place].load, air_of(build.air)
    assert isinstance(load, SuperchargerLoad)
    speeds = np.array(engine_rpm, dtype=float)
    charge = charge_at(found.blower, found.engine, air, speeds, ratio or found.ratio)
    return chart.operating(charge, air, load.step_up)


def off_the_map(build: Build, found: Charged, at_rpm: float) -> str | None:
    """Whether the blower leaves its map at an engine speed or at redline, and the most boost at that
    speed with which it stays on it; None if it stays on it or has no map.
    """
    speeds = (at_rpm, build.engine.redline_rpm)
    here = operating_line(build, found, speeds)
    if here is None or bool(here.inside.all()):
        return None
    lane = int(np.flatnonzero(~here.inside)[0])
    if np.isnan(here.choke_margin[lane]):
        why = "above its map's top"
    else:
        why = "left of its surge line" if here.surge_margin[lane] < 0 else "right of its choke line"
    words = f"the blower would work {why} at {speeds[lane]:.0f} rpm"
    # every ratio from none to twice this one, by one percent of it
    air, nearest = air_of(build.air), None
    for share in sorted(np.arange(0.01, 2.0, 0.01), key=lambda s: abs(s - 1.0)):
        tried = operating_line(build, found, speeds, float(share) * found.ratio)
        if tried is not None and bool(tried.inside.all()):
            nearest = float(share) * found.ratio
            break
    if nearest is None:
        return f"{words}; no ratio keeps it on the map"
    charge = charge_at(found.blower, found.engine, air, np.array([at_rpm]), nearest)
    most = written_in(float(charge.boost_kpa[0]), PRESSURE, build.display_units)
    return f"{words}; {most} is the nearest on the map"


def map_words(on_map: Operating, lane: int) -> str:
    """Where one point lies on a map: “18 % from surge, 30 % from choke”."""
    surge, choke = float(on_map.surge_margin[lane]), float(on_map.choke_margin[lane])
    if surge != surge or choke != choke:
        return "above the map"
    if surge < 0 or choke < 0:
        return "in surge" if surge < 0 else "beyond choke"
    return f"{100 * surge:.0f} % from surge, {100 * choke:.0f} % from choke"
