"""What is told of a toothed drive of two pulleys (docs/METHOD.md, 14)."""

from __future__ import annotations

from jovial_tack.catalogue import Catalogue, Limits
from jovial_tack.core.belt.toothed import GROWTH_PER_K, ToothedDrive, belts_for
from jovial_tack.core.value import Value

#: Guidance that goes with every toothed drive.
FLANGES = (
    "flanges on both sides of one pulley, or on opposite sides of both; on both where the shafts are"
    " upright or more than eight times the smaller pulley's diameter apart"
)


TIMING = "set timing by degree wheel, never by counting teeth alone"
GUIDANCE = (FLANGES, TIMING)


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


class ToothedAnswer(Value, frozen=True):
    """Everything of a toothed drive of two pulleys.

    off_mm: by how much its centres are closer than the belt asks for, with the slack and the play at
    the driven pulley that makes. warm_…: of an aluminium and an iron block by its name: strain of the
    belt, the change of its tension (None without its stiffness) and the centre distance. pull_n: on a
    tooth of driver and driven pulley, None without a torque.
    """

    drive: ToothedDrive
    off_mm: float
    slack_mm: float
    play_deg: float
    warm_strain: dict[str, float]
    warm_tension_change_n: dict[str, float] | None
    warm_center_mm: dict[str, float]
    pull_n: tuple[float, float] | None

    @property
    def one_tooth_deg(self) -> float:
        """What one tooth is at the driven pulley, degrees."""
        return 360.0 / self.drive.driven_teeth

    @property
    def jump_slack_mm(self) -> float:
        """The slack from which a tooth may jump, mm: half a pitch."""
        return self.drive.pitch_mm / 2


def toothed_answer(
    drive: ToothedDrive,
    off_mm: float,
    torque_nm: float | None,
    rise_k: float,
    stiffness_n: float | None = None,
) -> ToothedAnswer:
    """What is told of a drive; off_mm: by how much the centres are closer than the belt asks for;
    stiffness_n: EA of the whole belt, with which the warm strain becomes a change of its tension.
    """
    strain = {block: drive.strain_when_warm(rise_k, block) for block in GROWTH_PER_K}
    change = None
    if stiffness_n is not None:
        change = {block: stiffness_n * share for block, share in strain.items()}
    center = drive.center_distance_mm
    return ToothedAnswer(
        drive,
        off_mm,
        drive.slack_mm(off_mm),
        drive.cam_play_deg(off_mm),
        strain,
        change,
        {block: center * (1 + growth * rise_k) for block, growth in GROWTH_PER_K.items()},
        None if torque_nm is None else drive.pull_per_tooth_n(torque_nm),
    )


def toothed_table(answer: ToothedAnswer) -> str:
    """A line a figure."""
    drive, strain = answer.drive, answer.warm_strain
    driver, driven = drive.teeth_in_mesh
    lines = [
        f"centre distance {drive.center_distance_mm:.3f} mm, ratio {drive.ratio:.4f}",
        f"teeth in mesh {driver:.1f} and {driven:.1f}; one tooth is {answer.one_tooth_deg:.2f}° at"
        " the driven pulley",
        f"play at the driven pulley {drive.cam_play_deg(1.0):.3f}° for each mm between centres",
    ]
    if answer.slack_mm:
        lines.append(
            f"centres as given: {answer.slack_mm:.2f} mm slack, {answer.play_deg:.3f}°"
            f" play; a tooth may jump from about {answer.jump_slack_mm:.1f} mm"
        )
    lines.append(
        f"warm: {1e6 * strain['aluminium']:+.0f} µm/m of belt in an aluminium block,"
        f" {1e6 * strain['iron']:+.0f} in an iron one"
    )
    change = answer.warm_tension_change_n
    if change is not None:
        lines.append(
            f"that is {change['aluminium']:+.0f} N of tension in an aluminium block,"
            f" {change['iron']:+.0f} N in an iron one"
        )
    if answer.pull_n is not None:
        at_driver, at_driven = answer.pull_n
        lines.append(
            f"pull on a tooth {at_driver:.0f} N at the driver, {at_driven:.0f} N at the driven pulley"
        )
    return "\n".join([*lines, *drive.cautions(), *GUIDANCE])
