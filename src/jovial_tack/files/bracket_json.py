"""What `bracket` prints with --json, key by key."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from jovial_tack.answers.results import PlateResult, number
from jovial_tack.core.line_up.tiles import MARGIN, STRIP, Tiles
from jovial_tack.document.model import Build, HoleCut, Plate
from jovial_tack.files.results_json import finding_json

Json = dict[str, Any]


def bracket_json(build: Build, told: Sequence[tuple[Plate, PlateResult, Tiles | None]]) -> Json:
    """Plates, as `bracket --json` tells them."""
    return {
        "format": "jovial-tack/bracket",
        "version": 1,
        "plates": [_plate(plate, result, tiles) for plate, result, tiles in told],
    }


def _plate(plate: Plate, told: PlateResult, tiles: Tiles | None) -> Json:
    bent = told.bent
    return {
        "id": plate.id,
        "area_mm2": number(told.area_mm2),
        "cut_mm2": number(told.cut_mm2),
        "mass_kg": number(told.mass_kg),
        "bounds_mm": None if told.bounds_mm is None else list(told.bounds_mm),
        "pieces": told.pieces,
        "least_web_mm": number(told.web_mm),
        "least_web_at_mm": None if told.web_at_mm is None else list(told.web_at_mm),
        "wanted_web_mm": number(told.wanted_web_mm),
        "holes": [
            {
                "id": cut.id,
                "at_mm": list(cut.at_mm),
                "diameter_mm": cut.diameter_mm,
                "edge_mm": None if (edge := told.edge(cut.id)) is None else number(edge.away_mm),
            }
            for cut in plate.features
            if isinstance(cut, HoleCut)
        ],
        "spacers": [
            {"id": spacer.id, "length_mm": number(spacer.length_mm), "behind": spacer.behind}
            for spacer in told.spacers
        ],
        "bend": None
        if bent is None
        else {
            "rpm": number(bent.rpm),
            "pull_n": number(bent.pull_n),
            "length_mm": number(bent.length_mm),
            "width_mm": number(bent.width_mm),
            "turn_deg": [number(turn) for turn in bent.turned_deg],
            "rest_deg": number(bent.angles_deg[0]),
            "low_deg": number(bent.angles_deg[1]),
            "high_deg": number(bent.angles_deg[2]),
            "bound": bent.is_bound,
        },
        "loose": list(told.loose),
        "sheets": None
        if tiles is None
        else {
            "paper": tiles.paper,
            "turned": tiles.turned,
            "rows": tiles.rows,
            "columns": tiles.columns,
            "margin_mm": MARGIN,
            "strip_mm": STRIP,
            "origins_mm": [list(origin) for origin in tiles.origins],
        },
        "findings": [finding_json(finding) for finding in told.findings],
    }
