"""The card of a pulley: its diameter and place to type over, and what it has to bear at redline."""

from __future__ import annotations

from jovial_tack.build.edits import move_shaft, set_diameter, set_plane
from jovial_tack.build.results import DriveResult
from jovial_tack.core.units import format_length
from jovial_tack.ui.cards.base import Card, listed
from jovial_tack.ui.session import Session
from jovial_tack.ui.theme import Theme

_CAUTIONS = {
    "supercharger": "Over-speeding a blower can burst it: its maker's limit rules.",
    "fan": "A fan can start by itself: key out and fan unplugged before hands go in.",
    "tensioner": "The arm's spring stores energy: a bar that slips breaks hands. Know which bolt"
    " holds it together before undoing either.",
    "crank": "A damper is not swapped for a plain pulley unexamined.",
    "alternator": "Battery off first. Never pry on its case; on the lug, or move the bracket.",
    "power_steering": "Never pry on a pump's case or hammer its shaft.",
    "water_pump": "Hot parts cold before hands go in; engine off, key out.",
}
_GENERAL = "Engine off, key out before hands go in. Keep clear of a running belt."


class PulleyCard(Card):
    """Shows the selected pulley, or the selected shaft by its first pulley."""

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__(session, theme)
        self._where: tuple[str, str] = ("", "")
        rows = self.figures
        self.diameter = rows.add_field("Diameter", "Diameter of the pulley")
        self.place_x = rows.add_field("Place x", "Place of the shaft, to the right")
        self.place_y = rows.add_field("Place y", "Place of the shaft, upward")
        self.plane = rows.add_field("Groove plane", "Groove plane, forward from the reference face")
        for name in (
            "Speed",
            "Wrap",
            "Arc used",
            "Torque",
            "Power",
            "Belt, slack",
            "Belt, tight",
            "Hub load",
            "Spacer",
        ):
            rows.add_row(name)
        self.diameter.committed.connect(self._set_diameter)
        self.place_x.committed.connect(lambda mm: self._move(mm, None))
        self.place_y.committed.connect(lambda mm: self._move(None, mm))
        self.plane.committed.connect(self._set_plane)

    def show_pulley(self, drive_id: str, pulley_id: str) -> None:
        """Show another pulley."""
        self._where = (drive_id, pulley_id)
        for name in ("Diameter", "Place x", "Place y", "Groove plane"):
            self.figures.show_reason(name, "")
        self.refresh()

    def _name(self) -> str:
        build = self._session.build
        return build.shaft(build.drive(self._where[0]).pulley(self._where[1]).shaft).label

    def _set_diameter(self, mm: float) -> None:
        where = self._where
        self.edit("Diameter", f"diameter of {self._name()}", lambda b: set_diameter(b, *where, mm))

    def _set_plane(self, mm: float) -> None:
        where = self._where
        self.edit("Groove plane", f"plane of {self._name()}", lambda b: set_plane(b, *where, mm))

    def _move(self, x: float | None, y: float | None) -> None:
        build = self._session.build
        shaft = build.shaft(build.drive(self._where[0]).pulley(self._where[1]).shaft)
        to_x = shaft.center_mm[0] if x is None else x
        to_y = shaft.center_mm[1] if y is None else y
        row = "Place x" if y is None else "Place y"
        self.edit(row, f"move {shaft.label}", lambda b: move_shaft(b, shaft.id, to_x, to_y))

    def refresh(self) -> None:
        """Show the pulley as it now is."""
        build, (drive_id, pulley_id) = self._session.build, self._where
        try:
            drive = build.drive(drive_id)
            pulley = drive.pulley(pulley_id)
        except KeyError:
            return
        shaft, unit = build.shaft(pulley.shaft), build.display_units
        side = "ribs" if pulley.side == "ribs" else "back"
        self.title.setText(shaft.label)
        self.subtitle.setText(f"{drive.label}, on the belt's {side}")
        fields = {
            "Diameter": (self.diameter, pulley.diameter_mm),
            "Place x": (self.place_x, shaft.center_mm[0]),
            "Place y": (self.place_y, shaft.center_mm[1]),
            "Groove plane": (self.plane, pulley.plane_mm),
        }
        for name, (field, mm) in fields.items():
            field.show_length(mm, unit)
            field.setReadOnly(self._session.is_read_only)
            self.figures.show_other(name, self.other_unit(mm) if mm is not None else "not measured")
        if not self._session.is_read_only:
            self._show_results(self._session.results.drive(drive_id), pulley_id)
        found = [f for f in self._session.results.findings if f.where == pulley_id]
        mine = self._session.results.drive(drive_id).findings
        self.findings.show_findings([f for f in found if f in mine])
        self.caution.setText(_CAUTIONS.get(shaft.kind, _GENERAL))

    def _show_results(self, result: DriveResult, pulley_id: str) -> None:
        build, rows = self._session.build, self.figures
        shaft = build.shaft(build.drive(result.id).pulley(pulley_id).shaft)
        found = result.pulley(pulley_id)
        if found is None:
            for name in ("Speed", "Wrap", "Arc used", "Torque", "Power", "Belt, slack",
                         "Belt, tight", "Hub load", "Spacer"):  # fmt: skip
                rows.show_row(name, "–")
            return
        lane = result.lane(self._session.rpm)
        at = f"at {result.rpm[lane]:.0f}"
        limit = f"limit {shaft.max_rpm:.0f}" if shaft.max_rpm else at
        rows.show_row("Speed", listed(found.rpm[lane], ".0f", "rpm"), limit)
        rows.show_row("Wrap", f"{found.wrap_deg:.1f}°", "at rest")
        used = found.arc_used_fraction[lane]
        worst = found.worst_arc_used
        aside = at if worst is None else f"worst {100 * worst:.0f} %"
        rows.show_row("Arc used", listed(used if used is None else 100 * used, ".0f", "%"), aside)
        rows.show_row("Torque", listed(found.torque_nm[lane], ".1f", "N·m"), at)
        rows.show_row("Power", listed(found.power_kw[lane], ".1f", "kW"), at)
        route = build.drive(result.id).route
        place = route.index(pulley_id)
        sides = [result.spans[place - 1].tension_n[lane], result.spans[place].tension_n[lane]]
        known = sorted(value for value in sides if value is not None)
        rows.show_row("Belt, slack", listed(known[0] if known else None, ".0f", "N"), at)
        rows.show_row("Belt, tight", listed(known[-1] if known else None, ".0f", "N"), at)
        most = f"limit {shaft.hub_load_limit_n:.0f}" if shaft.hub_load_limit_n else at
        rows.show_row("Hub load", listed(found.hub_load_n[lane], ".0f", "N"), most)
        spacer = found.spacer_mm
        if build.drive(result.id).pulley(pulley_id).side == "back":
            rows.show_row("Spacer", "–", "flat, fixes none")
        elif spacer is None:
            rows.show_row("Spacer", "–", "not determined")
        elif spacer == 0:
            rows.show_row("Spacer", "none", "")
        else:
            aside = "to add" if spacer > 0 else "to take off"
            unit = build.display_units
            digits = 2 if unit == "mm" else 3
            rows.show_row("Spacer", format_length(abs(spacer), unit, digits=digits), aside)
