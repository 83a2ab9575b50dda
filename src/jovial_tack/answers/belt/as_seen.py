"""Back from what is seen on the engine to the belt, or the survey, it means (docs/METHOD.md, 13)."""

from __future__ import annotations

from typing import Any, Literal

import numpy as np

from jovial_tack.answers.belt.buying import length_sigma_mm
from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.case import Case
from jovial_tack.answers.results import number
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.belt.lines import belt_to_order, effective_length
from jovial_tack.core.drive.inverse import belt_for_angle
from jovial_tack.core.drive.sliding import slide_paths
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.units import format_length
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, LockedTensioner, SpringArmTensioner, Tensioner
from jovial_tack.document.travel import notch_offset_deg


class AsFitted(Value, frozen=True):
    """The belt that would put the adjuster where it is seen, effective mm; how far it is from the one
    on the label (longer: above zero); one standard deviation of what is not known, mm; and what may
    explain it, the likeliest first.
    """

    implied_mm: float
    label_mm: float
    sigma_mm: float
    causes: tuple[str, ...]

    @property
    def off_mm(self) -> float:
        """Implied less label, mm."""
        return self.implied_mm - self.label_mm

    def to_json(self) -> dict[str, Any]:
        """As `belt --arm-at … --json` tells it."""
        return {
            "implied_mm": number(self.implied_mm), "label_mm": number(self.label_mm),
            "off_mm": number(self.off_mm), "sigma_mm": number(self.sigma_mm),
            "causes": list(self.causes),
        }  # fmt: skip


def as_fitted(
    build: Build,
    drive_id: str,
    catalogue: Catalogue,
    *,
    arm_deg: float | None = None,
    share: float | None = None,
) -> AsFitted:
    """The belt an arm's angle (degrees) or a place on slot or swing (0 to 1) seen at rest implies.

    Raises GeometryError where the drive has no such adjuster, no belt, or no path there.
    """
    case = next(c for c in assemble(build, catalogue) if c.model.id == drive_id)
    label = case.model.belt.effective_length_mm
    if case.drive is None or label is None:
        raise GeometryError("a belt must be on the drive before its place can be explained")
    if arm_deg is not None:
        if case.arm is None:
            raise GeometryError("the drive has no spring arm whose angle could be seen")
        angle = np.array(np.radians(arm_deg))
        cord = float(belt_for_angle(case.drive.layout, case.arm, case.drive.belt, angle))
        implied = float(effective_length(cord, case.belt.profile.effective_to_cord_mm))
    else:
        implied = _on_travel(case, share)
    if not np.isfinite(implied):
        raise GeometryError("there is no belt path, or no lever, with the adjuster there")
    sigma = length_sigma_mm(case, catalogue)
    return AsFitted(
        implied, label, sigma, _causes(case, implied - label, sigma, build.display_units)
    )


def _on_travel(case: Case, share: float | None) -> float:
    tensioner = case.model.tensioner
    if share is None or case.track is None or not isinstance(tensioner, LockedTensioner):
        raise GeometryError("the drive has no slot or swing on which a place could be seen")
    assert case.drive is not None
    path, exists = slide_paths(case.drive.layout, case.moving, case.track, np.array(share))
    if not exists:
        return float("nan")
    belt = case.belt
    return float(
        belt_to_order(
            path, np.asarray(tensioner.installed_tension_n), np.asarray(belt.reference_tension_n),
            np.asarray(belt.stiffness_n), belt.profile.effective_to_cord_mm,
        )
    )  # fmt: skip


def _causes(case: Case, off_mm: float, sigma: float, unit: str) -> tuple[str, ...]:
    """What may explain a belt that seems longer (above zero) or shorter than its label."""
    if abs(off_mm) <= 2 * sigma:
        return ("within what survey and belts as sold leave open",)
    found: list[tuple[float, str]] = []
    profile = case.belt.profile
    if off_mm < 0 and profile.section == "ribbed":
        # a belt that rides on the crests of a pulley goes round it higher
        lift = max(profile.below_effective_mm, 0.0)
        for pulley, shaft in zip(case.pulleys, case.shafts, strict=True):
            if pulley.side == "ribs" and lift > 0:
                more = lift * np.pi
                about = format_length(more, unit)
                words = f"ribs not seated on {shaft.label}: about {about} of belt on half a turn"
                found.append((abs(more + off_mm), words))
    found.append(
        (abs(abs(off_mm) - 5.0), "another belt than its label says, by one step of a stock list")
    )
    about = format_length(abs(off_mm) / 2, unit)
    words = f"a shaft centre off by about {about} along its spans: measure it again"
    found.append((abs(off_mm) / 2, words))
    if abs(off_mm) > 40:
        found.append((0.0, "the belt runs another way round than it is drawn: compare the routing"))
    return tuple(words for _, words in sorted(found)[:3])


def seen_verdict(
    tensioner: Tensioner, arm_deg: float | None
) -> Literal["fits", "long", "short"] | None:
    """Whether a belt fits by where its arm came to stand: inside the window, beyond its unwound end
    (too long) or its wound end (too short). A bolted shaft stands on its travel.
    """
    if not isinstance(tensioner, SpringArmTensioner):
        return "fits"
    if arm_deg is None:
        return None
    window = tensioner.window_deg or tensioner.stops_deg
    turned = notch_offset_deg(tensioner)
    low, high = window[0] + turned, window[1] + turned
    if low <= arm_deg <= high:
        return "fits"
    unwound = arm_deg > high if tensioner.pushes == "ccw" else arm_deg < low
    return "long" if unwound else "short"
