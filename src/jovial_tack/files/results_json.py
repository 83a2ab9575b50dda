"""The results file: what a solve returns as JSON values, key by key."""

from __future__ import annotations

from typing import Any

from jovial_tack.answers.places import Place
from jovial_tack.answers.results import (
    ArmResult,
    ClearanceResult,
    DriveResult,
    Edit,
    Finding,
    FixedResult,
    GripResult,
    Mend,
    PulleyResult,
    Results,
    SpanResult,
    TravelResult,
    number,
)
from jovial_tack.answers.verdicts import Verdict


def edit_json(edit: Edit) -> dict[str, Any]:
    """As in the results file; op is told where it is not to replace."""
    told: dict[str, Any] = {"path": edit.path, "value": edit.value}
    return told if edit.op == "replace" else told | {"op": edit.op}


def mend_json(mend: Mend) -> dict[str, Any]:
    """As in the results file."""
    return {
        "words": mend.words,
        "left": mend.left,
        "edits": [edit_json(edit) for edit in mend.edits],
        "worse": list(mend.worse),
    }


def finding_json(finding: Finding) -> dict[str, Any]:
    """The finding as JSON values."""
    return {
        "code": finding.code,
        "level": finding.level,
        "where": finding.where,
        "message": finding.message,
        "value": number(finding.value),
        "limit": number(finding.limit),
        **({"mends": [mend_json(mend) for mend in finding.mends]} if finding.mends else {}),
    }


def place_json(place: Place | None) -> dict[str, Any]:
    """Where a sprung tensioner stands: the angle of an arm, null where it is not known, or the place of
    a slide.
    """
    if place is not None and place.slide_mm is not None:
        return {"slide_mm": number(place.slide_mm)}
    return {"arm_angle_deg": None if place is None else number(place.arm_angle_deg)}


def arm_json(arm: ArmResult) -> dict[str, Any]:
    """As in the results file."""
    slides = arm.slide_mm is not None
    stands = {"slide_mm": number(arm.slide_mm), "force_n": number(arm.force_n)}
    if not slides:
        stands = {"arm_angle_deg": number(arm.arm_angle_deg), "torque_nm": number(arm.torque_nm)}
    toggle = (
        {"toggle_mm": number(arm.toggle_mm)} if slides else {"toggle_deg": number(arm.toggle_deg)}
    )
    return {
        **stands,
        "tension_n": number(arm.tension_n),
        "window_fraction": number(arm.window_fraction),
        "window_sd": number(arm.window_sd),
        **toggle,
        "running": {
            "slide_mm" if slides else "arm_angle_deg": list(arm.running),
            "tension_n": list(arm.running_tension_n),
            "at_stop": list(arm.at_stop),
        },
    }


def travel_json(travel: TravelResult) -> dict[str, Any]:
    """As in the results file."""
    return {
        "center_mm": list(travel.center_mm),
        "travel_fraction": travel.travel_fraction,
        "travel_left_mm": list(travel.travel_left_mm),
        "other_positions_mm": [list(point) for point in travel.other_positions_mm],
        "turns_to_go": number(travel.turns_to_go),
    }


def fixed_json(fixed: FixedResult) -> dict[str, Any]:
    """As in the results file."""
    return {
        "called_for_effective_length_mm": number(fixed.called_for_effective_length_mm),
        "tension_n": number(fixed.tension_n),
        **({} if fixed.travel is None else travel_json(fixed.travel)),
    }


def span_json(span: SpanResult) -> dict[str, Any]:
    """As in the results file."""
    return {
        "from": span.from_id,
        "to": span.to_id,
        "length_mm": number(span.length_mm),
        "start_mm": [number(v) for v in span.start_mm],
        "end_mm": [number(v) for v in span.end_mm],
        "tension_n": list(span.tension_n),
        "tone_hz": number(span.tone_hz),
        "push_n": number(span.push_n),
        "misalignment_deg": number(span.misalignment_deg),
    }


def pulley_json(pulley: PulleyResult) -> dict[str, Any]:
    """As in the results file."""
    return {
        "id": pulley.id,
        "wrap_deg": number(pulley.wrap_deg),
        "turns": pulley.turns,
        "speed_ratio": number(pulley.speed_ratio),
        "rpm": list(pulley.rpm),
        "torque_nm": list(pulley.torque_nm),
        "power_kw": list(pulley.power_kw),
        "hub_load_n": list(pulley.hub_load_n),
        "hub_direction_deg": list(pulley.hub_direction_deg),
        "arc_used_fraction": list(pulley.arc_used_fraction),
        "worst_arc_used": number(pulley.worst_arc_used),
    }


def grip_json(grip: GripResult) -> dict[str, Any]:
    """As in the results file."""
    wet, design, dry = grip.slip_from_rpm
    return {
        "capacity_factor": number(grip.capacity_factor),
        "slip_from_rpm": {"wet": number(wet), "design": number(design), "dry": number(dry)},
        "least_tension_n": number(grip.least_tension_n),
        "most_tension_n": number(grip.most_tension_n),
        "creep_percent": number(grip.creep_percent),
    }


def clearance_json(clearance: ClearanceResult) -> dict[str, Any]:
    """As in the results file."""
    return {
        "obstacle": clearance.obstacle,
        "pulley": clearance.pulley,
        "of": clearance.of,
        "body": clearance.body,
        "gap_mm": number(clearance.gap_mm),
        "gap_sd_mm": number(clearance.gap_sd_mm),
        "needed_mm": number(clearance.needed_mm),
        **place_json(clearance.place),
    }


def drive_json(drive: DriveResult) -> dict[str, Any]:
    """As in the results file."""
    return {
        "id": drive.id,
        "rpm": list(drive.rpm),
        "cord_length_mm": number(drive.cord_length_mm),
        "path_effective_length_mm": number(drive.path_effective_length_mm),
        "back_length_mm": number(drive.back_length_mm),
        "belt_speed_mps": list(drive.belt_speed_mps),
        "tensioner": _tensioner_json(drive),
        "spans": [span_json(span) for span in drive.spans],
        "pulleys": [
            pulley_json(pulley) | {"spacer_mm": drive.spacer_mm(pulley.id)}
            for pulley in drive.pulleys
        ],
        "grip": None if drive.grip is None else grip_json(drive.grip),
        "clearances": [clearance_json(clearance) for clearance in drive.clearances],
        "usable_travel_deg": _pair(drive.usable_travel_deg),
        "usable_travel_fraction": _pair(drive.usable_travel_fraction),
        "findings": [finding_json(finding) for finding in drive.findings],
        **({"guessed_loads": list(drive.guessed)} if drive.guessed else {}),
    }


def _tensioner_json(drive: DriveResult) -> dict[str, Any] | None:
    if isinstance(drive.tensioner, ArmResult):
        return arm_json(drive.tensioner) | {"growth_left_mm": number(drive.growth_left_mm)}
    return None if drive.tensioner is None else fixed_json(drive.tensioner)


def results_json(results: Results) -> dict[str, Any]:
    """The results file."""
    return {
        "format": "jovial-tack/results",
        "version": 1,
        "drives": [drive_json(drive) for drive in results.drives],
    }


def verdict_json(verdict: Verdict) -> dict[str, Any]:
    """As in the results file."""
    return {
        "name": verdict.title,
        "level": verdict.mark,
        "words": verdict.sentence,
        "mend": verdict.mends[0].words if verdict.mends else None,
        "belts": dict(verdict.belts),
    }


def _pair(ends: tuple[float, float] | None) -> list[float] | None:
    return None if ends is None else list(ends)
