"""The card of a belt: its length to type over, its arm, and what the drive has in hand."""

from __future__ import annotations

from jovial_tack.build.edits import set_belt_length
from jovial_tack.build.results import ArmResult, DriveResult, FixedResult
from jovial_tack.core.units import format_length
from jovial_tack.ui.cards.base import Card, listed
from jovial_tack.ui.session import Session
from jovial_tack.ui.theme import Theme

_CAUTION = (
    "Belt off: engine cold, key out. The figures are estimates from the data entered; makers'"
    " limits and a qualified engineer's word come first."
)
_CONSTRUCTIONS = {
    "standard": "plain",
    "soft_grip": "soft grip",
    "low_stretch": "low stretch",
    "stretch_fit": "stretch fit",
}


class BeltCard(Card):
    """Shows the belt of a drive."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self._drive = ""
        rows = self.figures
        self.length = rows.add_field("Belt length", "Effective length of the belt")
        for name in (
            "Path, effective",
            "Over the back",
            "Tension at rest",
            "Arm",
            "In its window",
            "Stretch left",
            "Belt speed",
            "Reserve",
            "Slips wet from",
            "Least tension",
            "Most tension",
        ):
            rows.add_row(name)
        self.length.committed.connect(self._set_length)
        self.caution.setText(_CAUTION)

    def show_belt(self, drive_id: str) -> None:
        """Show another belt."""
        self._drive = drive_id
        self.figures.show_reason("Belt length", "")
        self.refresh()

    def _set_length(self, mm: float) -> None:
        drive = self._drive
        label = f"belt of {self._session.build.drive(drive).label}"
        self.edit("Belt length", label, lambda b: set_belt_length(b, drive, mm))

    def refresh(self) -> None:
        """Show the belt as it now is."""
        try:
            drive = self._session.build.drive(self._drive)
        except KeyError:
            return
        belt, unit = drive.belt, self._session.build.display_units
        self.title.setText(drive.label)
        kind = _CONSTRUCTIONS[belt.construction]
        self.subtitle.setText(f"{belt.profile} belt, {belt.ribs} ribs, {kind}")
        self.length.show_length(belt.effective_length_mm, unit)
        self.length.setReadOnly(self._session.is_read_only)
        self.figures.show_other("Belt length", self.other_unit(belt.effective_length_mm))
        if self._session.is_read_only:
            return
        result = self._session.results.drive(self._drive)
        self._show_path(result, unit)
        self._show_grip(result)
        self.findings.show_findings(
            [f for f in self._session.results.findings if f in result.findings]
        )

    def _show_path(self, result: DriveResult, unit: str) -> None:
        rows = self.figures

        def length(mm: float | None) -> str:
            return "–" if mm is None else format_length(mm, unit)

        rows.show_row("Path, effective", length(result.path_effective_length_mm), "at rest")
        rows.show_row("Over the back", length(result.back_length_mm), "by tape")
        lane = result.lane(self._session.rpm)
        speed = result.belt_speed_mps[lane] if result.belt_speed_mps else None
        at = f"at {result.rpm[lane]:.0f}" if result.rpm else ""
        rows.show_row("Belt speed", listed(speed, ".1f", "m/s"), at)
        tensioner = result.tensioner
        rest = tensioner.tension_n if tensioner is not None else None
        rows.show_row("Tension at rest", listed(rest, ".0f", "N"))
        arm = tensioner if isinstance(tensioner, ArmResult) else None
        rows.show_row("Arm", "–" if arm is None else f"{arm.arm_angle_deg:.1f}°", "at rest")
        inside = None if arm is None or arm.window_fraction is None else 100 * arm.window_fraction
        rows.show_row("In its window", listed(inside, ".0f", "%"), "0 wound" if arm else "")
        rows.show_row("Stretch left", length(arm.growth_left_mm if arm else None))
        if isinstance(tensioner, FixedResult):
            called = length(tensioner.called_for_effective_length_mm)
            rows.show_row("Arm", "none", f"calls for {called}")

    def _show_grip(self, result: DriveResult) -> None:
        rows, grip = self.figures, result.grip
        if grip is None:
            if not result.exists:
                for name in ("Reserve", "Slips wet from", "Least tension", "Most tension"):
                    rows.show_row(name, "–")
            return
        factor = grip.capacity_factor
        reserve = None if factor is None else 100 * (factor - 1)
        rows.show_row("Reserve", listed(reserve, "+.0f", "%"), "of all loads")
        wet = grip.slip_from_rpm[0]
        rows.show_row("Slips wet from", "never" if wet is None else f"{wet:.0f} rpm")
        rows.show_row("Least tension", listed(grip.least_tension_n, ".0f", "N"), "that holds")
        rows.show_row("Most tension", listed(grip.most_tension_n, ".0f", "N"), "allowed")
