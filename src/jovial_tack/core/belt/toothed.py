"""Toothed drives of two pulleys: centre distance, mesh, tension with heat, cam backlash (METHOD 14)."""

from __future__ import annotations

from math import asin, cos, degrees, pi

from jovial_tack.core.errors import GeometryError
from jovial_tack.core.value import Value

#: Teeth in mesh below which teeth shear, and the least teeth of a pulley by pitch, mm (rep.).
LEAST_MESH = 6.0
LEAST_TEETH = {5.0: 14, 8.0: 22, 14.0: 28}
#: Growth of the centre distance of an aluminium and a cast iron block, and of glass cord, per K (rep.).
GROWTH_PER_K = {"aluminium": 23e-6, "iron": 11e-6}
CORD_GROWTH_PER_K = 1e-6


class ToothedDrive(Value, frozen=True):
    """Two pulleys on one toothed belt: pitch mm; teeth of driver, driven and belt."""

    pitch_mm: float
    driver_teeth: int
    driven_teeth: int
    belt_teeth: int

    def __post_init__(self) -> None:
        if self.pitch_mm <= 0 or min(self.driver_teeth, self.driven_teeth, self.belt_teeth) < 1:
            raise GeometryError("pitch and counts of teeth must be above zero")
        if self.driver_teeth + self.driven_teeth >= 2 * self.belt_teeth:
            raise GeometryError(
                f"a belt of {self.belt_teeth} teeth cannot go round {self.driver_teeth} and"
                f" {self.driven_teeth} teeth; more than half of both together are needed"
            )
        if self._length_at(abs(self.radii_mm[1] - self.radii_mm[0])) > self.belt_mm:
            raise GeometryError(
                "the belt is too short to go round the larger pulley and the smaller"
            )

    @property
    def radii_mm(self) -> tuple[float, float]:
        """Pitch radii of driver and driven pulley, mm."""
        return (
            self.driver_teeth * self.pitch_mm / (2 * pi),
            self.driven_teeth * self.pitch_mm / (2 * pi),
        )

    @property
    def belt_mm(self) -> float:
        """Pitch length of the belt, mm."""
        return self.belt_teeth * self.pitch_mm

    @property
    def ratio(self) -> float:
        """Driver teeth over driven teeth: speed of the driven pulley over that of the driver."""
        return self.driver_teeth / self.driven_teeth

    def _length_at(self, centre_mm: float) -> float:
        r, q = self.radii_mm
        alpha = asin(min(max((q - r) / centre_mm, -1.0), 1.0)) if centre_mm else 0.0
        return 2 * centre_mm * cos(alpha) + pi * (r + q) + 2 * alpha * (q - r)

    @property
    def center_distance_mm(self) -> float:
        """Centre distance at which the belt lies without slack, mm.

        >>> round(ToothedDrive(8.0, 30, 60, 120).center_distance_mm, 3)
        297.545
        """
        r, q = self.radii_mm
        low, high = abs(q - r), self.belt_mm
        for _ in range(200):
            middle = (low + high) / 2
            low, high = (middle, high) if self._length_at(middle) < self.belt_mm else (low, middle)
        return (low + high) / 2

    @property
    def span_angle_rad(self) -> float:
        """Angle α between a span and the line of centres, rad."""
        r, q = self.radii_mm
        return asin((q - r) / self.center_distance_mm)

    @property
    def teeth_in_mesh(self) -> tuple[float, float]:
        """Teeth in mesh on driver and driven pulley, not rounded."""
        alpha = self.span_angle_rad
        return (
            self.driver_teeth * (pi - 2 * alpha) / (2 * pi),
            self.driven_teeth * (pi + 2 * alpha) / (2 * pi),
        )

    def slack_mm(self, centre_change_mm: float) -> float:
        """Belt slack (one span drawn straight, the other loose) when the centres come closer, mm.

        2·cos α·|ΔC|: what both spans together give up. METHOD 14.
        """
        return 2 * cos(self.span_angle_rad) * abs(centre_change_mm)

    def cam_play_deg(self, centre_change_mm: float) -> float:
        """Play of a driven cam by a change of centre distance, degrees at the cam: slack over the cam's
        pitch radius. Tooth clearance comes on top.
        """
        return degrees(self.slack_mm(centre_change_mm) / self.radii_mm[1])

    def clearance_play_deg(self, clearance_mm: float) -> float:
        """Play of the driven pulley by the clearance of its teeth in the belt, degrees."""
        return degrees(abs(clearance_mm) / self.radii_mm[1])

    def strain_when_warm(
        self, rise_k: float, block: str = "aluminium", cord_growth_per_k: float = CORD_GROWTH_PER_K
    ) -> float:
        """Strain the belt gains by a rise in temperature, as a fraction (negative: it slackens).

        The block moves the centres apart; the belt grows with its own cord. METHOD 14.
        """
        apart = GROWTH_PER_K[block] * rise_k * self.center_distance_mm
        grown = cord_growth_per_k * rise_k * self.belt_mm
        return (2 * cos(self.span_angle_rad) * apart - grown) / self.belt_mm

    def pull_per_tooth_n(self, torque_nm: float) -> tuple[float, float]:
        """Pull on each tooth in mesh at the driver and at the driven pulley for a driver torque, N."""
        force = torque_nm * 1000.0 / self.radii_mm[0]
        driver, driven = self.teeth_in_mesh
        return force / driver, force / driven

    def cautions(self) -> tuple[str, ...]:
        """What is outside usual practice, in words."""
        found = []
        least = LEAST_TEETH.get(self.pitch_mm)
        for word, teeth, mesh in zip(
            ("driver", "driven pulley"),
            (self.driver_teeth, self.driven_teeth),
            self.teeth_in_mesh,
            strict=True,
        ):
            if mesh < LEAST_MESH:
                found.append(f"the {word} has {mesh:.1f} teeth in mesh, under {LEAST_MESH:.0f}")
            if least is not None and teeth < least:
                found.append(
                    f"the {word} has {teeth} teeth, under {least} for {self.pitch_mm:g} mm"
                )
        return tuple(found)


def belts_for(
    pitch_mm: float, driver_teeth: int, driven_teeth: int, center_mm: float, reach_mm: float
) -> tuple[ToothedDrive, ...]:
    """Belts of whole teeth whose centre distance lies within reach of a wished one, nearest first."""
    r, q = driver_teeth * pitch_mm / (2 * pi), driven_teeth * pitch_mm / (2 * pi)
    if center_mm <= abs(q - r):
        raise GeometryError(
            f"the centres must be more than {abs(q - r):.1f} mm apart for these pulleys"
        )
    alpha = asin((q - r) / center_mm)
    length = 2 * center_mm * cos(alpha) + pi * (r + q) + 2 * alpha * (q - r)
    middle = round(length / pitch_mm)
    found = []
    for teeth in range(middle - 6, middle + 7):
        try:
            drive = ToothedDrive(pitch_mm, driver_teeth, driven_teeth, teeth)
        except GeometryError:
            continue
        if abs(drive.center_distance_mm - center_mm) <= reach_mm:
            found.append(drive)
    return tuple(sorted(found, key=lambda d: abs(d.center_distance_mm - center_mm)))
