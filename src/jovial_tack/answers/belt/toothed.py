"""What is told of a toothed drive of two pulleys (docs/METHOD.md, 14)."""

from __future__ import annotations

from typing import Any

from jovial_tack.catalogue import Catalogue, Limits
from jovial_tack.core.belt.toothed import GROWTH_PER_K, ToothedDrive, belts_for
from jovial_tack.core.value import Value

#: Guidance that goes with every toothed drive.
FLANGES = (
    "flanges on both sides of one pulley, or on opposite sides of both; on both where the shafts are"
    " upright or more than eight times the smaller pulley's diameter apart"
)


TIMING = "set timing by degree wheel, never by counting teeth alone"


class Allowed(Value, frozen=True):
    """What the user allows and has measured: play at the driven pulley, degrees, with the clearance of
    the teeth, mm; end play, mm.
    """

    play_deg: float
    tooth_clearance_mm: float
    end_play_mm: float
    most_end_play_mm: float


def judged(drive: ToothedDrive, off_mm: float, allowed: Allowed) -> tuple[str, ...]:
    """Play and end play against what is allowed, in words."""
    play = drive.cam_play_deg(off_mm) + drive.clearance_play_deg(allowed.tooth_clearance_mm)
    return tuple(
        f"{word} {value:.2f}{unit} is {'within' if value <= limit else 'over'} your {limit:.2f}{unit}"
        for word, value, limit, unit in (
            ("play", play, allowed.play_deg, "°"),
            ("end play", allowed.end_play_mm, allowed.most_end_play_mm, " mm"),
        )
    )


def usual_play(limits: Limits) -> str:
    """The play at a camshaft that drives of the trade are set up with, and how side play is judged."""
    low, high = limits.cam_play_low_deg, limits.cam_play_high_deg
    return (
        f"{low:g}° to {high:g}° of play at the cam is usual (rep.; own data changes it); side play of"
        " the belt between its flanges is felt by hand: it must move freely, and not much more"
    )


def other_belts(drive: ToothedDrive) -> tuple[str, ...]:
    """The over- and undersize belts whose centre distance is within a tooth, in words."""
    near = belts_for(
        drive.pitch_mm,
        drive.driver_teeth,
        drive.driven_teeth,
        drive.center_distance_mm,
        drive.pitch_mm,
    )
    return tuple(
        f"{other.belt_teeth} teeth at {other.center_distance_mm:.2f} mm"
        for other in near
        if other != drive
    )


def stiffness_of(catalogue: Catalogue, pitch_mm: float, width_mm: float) -> float | None:
    """EA of a standard toothed belt of a pitch and width, N; None for a pitch not in the data."""
    for profile in catalogue.profiles.values():
        if profile.tooth_pitch_mm == pitch_mm:
            built = catalogue.construction(profile.name, "standard")
            return built.stiffness_n_per_rib * width_mm
    return None


def toothed_json(
    drive: ToothedDrive,
    off_mm: float,
    torque_nm: float | None,
    rise_k: float,
    stiffness_n: float | None = None,
) -> dict[str, Any]:
    """Everything of a drive; off_mm: by how much the centres are closer than the belt asks for;
    stiffness_n: EA of the whole belt, with which the warm strain becomes a change of its tension.
    """
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
        "warm_tension_change_n": None
        if stiffness_n is None
        else {block: stiffness_n * drive.strain_when_warm(rise_k, block) for block in GROWTH_PER_K},
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


def toothed_table(values: dict[str, Any]) -> str:
    """A line a figure."""
    driver, driven = values["teeth_in_mesh"]
    strain = values["warm_strain"]
    lines = [
        f"centre distance {values['center_distance_mm']:.3f} mm, ratio {values['ratio']:.4f}",
        f"teeth in mesh {driver:.1f} and {driven:.1f}; one tooth is {values['one_tooth_deg']:.2f}° at"
        " the driven pulley",
        f"play at the driven pulley {values['cam_play_deg_per_mm']:.3f}° for each mm between centres",
    ]
    if values["belt_slack_mm"]:
        lines.append(
            f"centres as given: {values['belt_slack_mm']:.2f} mm slack, {values['cam_play_deg']:.3f}°"
            f" play; a tooth may jump from about {values['jump_slack_mm']:.1f} mm"
        )
    lines.append(
        f"warm: {1e6 * strain['aluminium']:+.0f} µm/m of belt in an aluminium block,"
        f" {1e6 * strain['iron']:+.0f} in an iron one"
    )
    change = values["warm_tension_change_n"]
    if change is not None:
        lines.append(
            f"that is {change['aluminium']:+.0f} N of tension in an aluminium block,"
            f" {change['iron']:+.0f} N in an iron one"
        )
    if values["pull_per_tooth_n"] is not None:
        at = values["pull_per_tooth_n"]
        lines.append(
            f"pull on a tooth {at[0]:.0f} N at the driver, {at[1]:.0f} N at the driven pulley"
        )
    return "\n".join([*lines, *values["cautions"], *values["guidance"]])
