"""What `survey` prints with --json, key by key."""

from __future__ import annotations

from math import degrees
from typing import Any

from jovial_tack.answers.results import number
from jovial_tack.answers.survey.told import ToldNext, ToldReading, ToldShaft, ToldSurvey

Json = dict[str, Any]


def survey_json(told: ToldSurvey) -> Json:
    """A survey as `survey --json` tells it."""
    return {
        "shafts": [_shaft(shaft) for shaft in told.shafts],
        "readings": [_reading(reading) for reading in told.readings],
        "next_reading": None if told.next is None else _next(told.next),
        "fit": {
            "chi2": number(told.chi2),
            "dof": told.dof,
            "p": number(told.chance),
            "turn_free": told.turn_free,
        },
        "belts": [{"drive": drive, "length_sd_mm": number(sd)} for drive, sd in told.drives],
        "planes": [
            {
                "drive": plane.drive,
                "pulley": plane.pulley,
                "plane_mm": number(plane.z_mm),
                "sd_mm": number(plane.sd_mm),
            }
            for plane in told.planes
        ],
    }


def _shaft(shaft: ToldShaft) -> Json:
    ellipse = shaft.ellipse
    return {
        "id": shaft.name,
        "center_mm": [number(v) for v in shaft.center_mm],
        "sd_mm": None if shaft.sd_mm is None else [number(v) for v in shaft.sd_mm],
        "ellipse95_mm": None
        if ellipse is None
        else [number(ellipse.major), number(ellipse.minor), number(degrees(ellipse.angle))],
        "determined": shaft.determined,
        "weak": shaft.weak,
        "also_at_mm": [[number(v) for v in place] for place in shaft.also],
    }


def _reading(reading: ToldReading) -> Json:
    unit = "deg" if reading.is_angle else "mm"
    said: Json = {
        "index": reading.place,
        f"residual_{unit}": number(reading.residual),
        "standardised": number(reading.standardised),
        "redundancy": number(reading.redundancy),
        "checked": reading.checked,
        f"least_blunder_seen_{unit}": number(reading.least_blunder_seen),
        "suspect": reading.doubt is not None,
    }
    if reading.doubt is not None:
        said |= {
            "would_read": None if reading.is_place else number(reading.doubt.would_read),
            "would_read_sd": number(reading.doubt.sd),
            "why": list(reading.doubt.reasons),
            "or": list(reading.alike),
        }
    if reading.problem:
        said["problem"] = reading.problem
    if reading.set_aside:
        said["set_aside"] = True
    return said


def _next(told: ToldNext) -> Json:
    said: Json = {"type": told.kind, "shafts": list(told.names), "sd_mm": number(told.sd)}
    if told.diameters_mm:
        said["diameters_mm"] = [number(v) for v in told.diameters_mm]
    said["belt_length_sd_mm"] = [[number(v) for v in each] for each in told.length_sd_mm]
    return said
