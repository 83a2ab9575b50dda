"""What `plan` and `boost` print with --json, key by key."""

from __future__ import annotations

from typing import Any

from jovial_tack.answers.ratios.pulleys import PulleyPair
from jovial_tack.answers.ratios.rev_plan import PlannedShaft
from jovial_tack.answers.ratios.underdrive import Underdrive
from jovial_tack.answers.results import number
from jovial_tack.files.results_json import place_json

Json = dict[str, Any]


def planned_shaft_json(shaft: PlannedShaft) -> Json:
    """As `plan --json` tells it."""
    gives = shaft.output_a
    return {
        "id": shaft.id,
        "ratio": number(shaft.ratio),
        "idle_rpm": number(shaft.idle_rpm),
        "cruise_rpm": number(shaft.cruise_rpm),
        "redline_rpm": number(shaft.redline_rpm),
        "max_rpm": number(shaft.max_rpm),
        "margin": number(shaft.margin),
        "min_rpm": number(shaft.min_rpm),
        "over_former": number(shaft.over_former),
        "output_a": None if gives is None else [number(amps) for amps in gives],
        "asked_a": None if gives is None else [number(amps) for amps in shaft.asked_a],
        "short": list(shaft.short),
    }


def underdrive_json(step: Underdrive) -> Json:
    """As `plan --underdrive --json` tells it."""
    return {
        "driver_mm": number(step.driver_mm),
        "slower": number(step.slower),
        "saved_cruise_kw": number(step.saved_cruise_kw),
        "saved_redline_kw": number(step.saved_redline_kw),
        "too_slow": list(step.too_slow),
    }


def pulley_pair_json(pair: PulleyPair) -> Json:
    """As `boost --target-kpa … --json` tells it."""
    return {
        "blower_mm": number(pair.blower_mm),
        "crank_mm": number(pair.crank_mm),
        "changed": pair.changed,
        "exact": pair.exact,
        "ratio": number(pair.ratio),
        "boost_kpa": number(pair.boost_kpa),
        "redline_boost_kpa": number(pair.redline_boost_kpa),
        "redline_blower_rpm": number(pair.redline_blower_rpm),
        "rim_speed_mps": number(pair.rim_speed_mps),
        "belt_speed_mps": number(pair.belt_speed_mps),
        "blower_wrap_deg": number(pair.blower_wrap_deg),
        "wrap_change_deg": number(pair.wrap_change_deg),
        "contact_mm": number(pair.contact_mm),
        "worst_arc_used": number(pair.worst_arc_used),
        "arc_used_change": number(pair.arc_used_change),
        "path_effective_length_mm": number(pair.path_effective_length_mm),
        "length_change_mm": number(pair.length_change_mm),
        **place_json(pair.place),
        "next_belt_mm": number(pair.next_belt_mm),
        "part": pair.part,
        "problem": pair.problem,
    }
