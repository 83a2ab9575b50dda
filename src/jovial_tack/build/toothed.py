"""What is told of a toothed drive of two pulleys (docs/METHOD.md, 14)."""

from __future__ import annotations

from typing import Any

from jovial_tack.core.belt.toothed import GROWTH_PER_K, ToothedDrive

#: Guidance that goes with every toothed drive.
FLANGES = (
    "flanges on both sides of one pulley, or on opposite sides of both; on both where the shafts are"
    " upright or more than eight times the smaller pulley's diameter apart"
)
TIMING = "set timing by degree wheel, never by counting teeth alone"


def toothed_json(
    drive: ToothedDrive, off_mm: float, torque_nm: float | None, rise_k: float
) -> dict[str, Any]:
    """Everything of a drive; off_mm: by how much the centres are closer than the belt asks for."""
    driver, driven = drive.teeth_in_mesh
    pull = None if torque_nm is None else drive.pull_per_tooth_n(torque_nm)
    jump = min(driver, driven)
    return {
        "center_distance_mm": drive.center_distance_mm,
        "teeth_in_mesh": [driver, driven],
        "ratio": drive.ratio,
        "cam_play_deg_per_mm": drive.cam_play_deg(1.0),
        "belt_mm": drive.belt_mm,
        "pitch_radii_mm": list(drive.radii_mm),
        "belt_slack_mm": drive.slack_mm(off_mm),
        "cam_play_deg": drive.cam_play_deg(off_mm),
        "one_tooth_deg": 360.0 / drive.driven_teeth,
        "warm_strain": {block: drive.strain_when_warm(rise_k, block) for block in GROWTH_PER_K},
        "warm_center_mm": {
            block: drive.center_distance_mm * (1 + growth * rise_k)
            for block, growth in GROWTH_PER_K.items()
        },
        "pull_per_tooth_n": None if pull is None else list(pull),
        "jump_slack_mm": drive.pitch_mm / 2,
        "least_mesh": jump,
        "cautions": [*drive.cautions()],
        "guidance": [FLANGES, TIMING],
    }
