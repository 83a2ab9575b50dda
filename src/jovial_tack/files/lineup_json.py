"""What `lineup` prints with --json, key by key."""

from __future__ import annotations

import math
from typing import Any

from jovial_tack.answers.drive.bolts import EarBolt
from jovial_tack.answers.drive.pull import Pulled, Stood
from jovial_tack.answers.drive.stacks import EarStack, UnitStack
from jovial_tack.answers.line_up.read import PlaneRead, called
from jovial_tack.answers.line_up.told import ToldLineUp
from jovial_tack.answers.results import number
from jovial_tack.document.model import Build, Piece
from jovial_tack.files.results_json import finding_json

Json = dict[str, Any]


def lineup_json(build: Build, told: ToldLineUp) -> Json:
    """How a build lines up, as `lineup --json` tells it."""
    lined = told.lined
    moves = None
    if not lined.unmended:
        moves = [
            {
                move.of: move.id,
                "by_mm": number(move.by_mm),
                "from_mm": _end(move.low_mm),
                "to_mm": _end(move.high_mm),
                "pieces": None
                if move.pieces is None
                else [{"part": part, "count": count} for part, count in move.pieces],
            }
            for move in lined.moves
        ]
    return {
        "format": "jovial-tack/lineup",
        "version": 1,
        "turned": told.turned,
        "pieces": told.pieces,
        "stacks": [_unit(unit, dict(told.stood).get(unit.stack.shaft)) for unit in told.stacks],
        "bolts": [_bolt(shaft, ear, bolt) for shaft, ear, bolt in told.bolts],
        "readings": None if told.read is None else [_read(build, one) for one in told.read.pulleys],
        "lines": None
        if told.read is None
        else [
            {
                "index": k,
                "standardised": number(line.standardised),
                "suspect": line.suspect,
                **({"problem": line.problem} if line.problem else {}),
            }
            for k, line in enumerate(told.read.lines)
        ],
        "windows": [
            {
                "drive": drive,
                "pulley": pulley,
                "from_mm": None if window is None else _end(window[0]),
                "to_mm": None if window is None else _end(window[1]),
            }
            for (drive, pulley), window in lined.windows.items()
        ],
        "moves": moves,
        "pull": [_pull(shaft, found) for shaft, found in told.pull],
        "plates": [
            {
                "bracket": plate.bracket,
                "rpm": number(plate.rpm),
                "pull_n": number(plate.pull_n),
                "turn_deg": [number(plate.low_deg), number(plate.high_deg)],
                "rest_deg": number(plate.angles_deg[0]),
                "low_deg": number(plate.angles_deg[1]),
                "high_deg": number(plate.angles_deg[2]),
                "bound": plate.is_bound,
            }
            for plate in told.plates
        ],
        "findings": [finding_json(finding) for finding in told.findings],
    }


def _end(value: float) -> float | None:
    return number(value) if math.isfinite(value) else None


def _pieces(pieces: tuple[Piece, ...] | None) -> list[Json] | None:
    if pieces is None:
        return None
    return [{"part": piece.part, "count": piece.count} for piece in pieces]


def _unit(unit: UnitStack, stands: Stood | None) -> Json:
    if unit.problem:
        return {"shaft": unit.stack.shaft, "problem": unit.problem}
    return {
        "shaft": unit.stack.shaft,
        "plane_mm": number(unit.plane_mm),
        "plane_worst_mm": number(unit.worst_mm),
        "plane_rss_mm": number(unit.rss_mm),
        "tilt_deg": [number(tilt) for tilt in unit.tilt_deg],
        "wanted_plane_mm": number(unit.wanted_mm),
        "proven": unit.sure,
        "angle_deg": None if stands is None else number(stands.rest_deg),
        "angle_edge_deg": None if stands is None else number(stands.edge_deg),
        "ears": [
            {
                "id": ear.ear.id,
                "need_mm": number(ear.need_mm),
                "pieces": _pieces(ear.pieces),
                "turn_mm": number(ear.turn_mm),
                "from_part": None if ear.from_part is None else ear.from_part.id,
                "there_mm": number(ear.there_mm),
                "error_mm": number(ear.error_mm),
                "gap_mm": number(ear.gap_mm),
                "proud_mm": number(ear.proud_mm),
                "proposed": ear.proposed,
            }
            for ear in unit.ears
        ],
    }


def _bolt(shaft: str, ear: EarStack, bolt: EarBolt) -> Json:
    sits = bolt.fit
    return {
        "shaft": shaft,
        "ear": ear.ear.id,
        "bolt": ear.ear.bolt,
        "grip_mm": number(bolt.grip_mm),
        "engagement_mm": None if sits is None else number(sits.engagement_mm),
        "needed_mm": number(bolt.needed_mm),
        "strips_at_mm": number(bolt.strips_at_mm),
        "free_mm": None if sits is None else number(sits.free_mm),
        "least_mm": number(bolt.least_mm),
        "most_mm": number(bolt.most_mm),
        "standard_mm": number(bolt.standard_mm),
        "from_shelf": None if bolt.from_shelf is None else bolt.from_shelf.id,
        "washers": _pieces(bolt.washers),
        "clamp_n": None if bolt.clamp_n is None else [number(force) for force in bolt.clamp_n],
        "bedded_n": number(bolt.bedded_n),
    }


def _read(build: Build, told: PlaneRead) -> Json:
    return {
        "pulley": called(build, told.name),
        "plane_mm": number(told.plane_mm),
        "plane_sd_mm": number(told.plane_sd_mm),
        "tilt_deg": [number(tilt) for tilt in told.tilt_deg],
        "tilt_sd_deg": [number(sd) for sd in told.tilt_sd_deg],
        "wobble_deg": number(told.wobble_deg),
        "settle": told.settle,
        "suspect": told.suspect,
    }


def _pull(shaft: str, found: Pulled | str) -> Json:
    if isinstance(found, str):
        return {"shaft": shaft, "problem": found}
    return {
        "shaft": shaft,
        "rpm": number(found.rpm),
        "hub_load_n": number(found.hub_load_n),
        "shift_mm": number(found.shift_mm),
        "tilt_deg": [number(tilt) for tilt in found.tilt_deg],
        "rest_deg": number(found.rest_deg),
        "low_deg": number(found.low_deg),
        "high_deg": number(found.high_deg),
        "end_moment_nm": number(found.moment_nm),
        "opens_nm": number(found.opens_nm),
        "bolt_bending_mpa": number(found.bolt_mpa),
        "slot": None
        if found.slot is None
        else {
            "boss": found.slot.boss,
            "needed_n": number(found.slot.needed_n),
            "held_n": number(found.slot.held_n),
        },
    }
