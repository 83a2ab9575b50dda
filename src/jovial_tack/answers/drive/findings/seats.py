"""V-belts against the grooves they run in, where those were measured (docs/METHOD.md, section 13)."""

from __future__ import annotations

from jovial_tack.answers.drive.solved import Solved
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.kinds import V_SEAT
from jovial_tack.answers.results import Finding
from jovial_tack.core.belt.grooves import v_seat

#: A groove whose depth was not measured is taken as deep enough.
_DEEP_MM = 1000.0


def seat_findings(solved: Solved, speech: Speech) -> list[Finding]:
    """Belts that bottom, stand proud or sit deep. A groove that was not measured says nothing."""
    profile, found = solved.case.belt.profile, []
    near = solved.limits.v_seat_mm
    grooved = [pulley for pulley in solved.case.pulleys if pulley.side == "ribs"]
    for pulley in grooved if profile.section == "v" else ():
        if pulley.groove_width_mm is None:
            continue
        angle = pulley.groove_angle_deg or profile.groove_angle_deg or 36.0
        depth = pulley.groove_depth_mm or _DEEP_MM
        top, shallow = v_seat(
            profile.pitch_mm, profile.thickness_mm, pulley.groove_width_mm, depth, angle
        )
        name = speech.name(pulley.id)
        if shallow > 0:
            words = (
                f"the belt bottoms in the groove of {name}, which is {speech.length(shallow)} too"
                " shallow: its flanks do not carry, and it slips"
            )
            found.append(Finding(V_SEAT, "stop", pulley.id, words, value=shallow, limit=0.0))
        elif abs(top) > near:
            stands, why = ("stands proud of", "too narrow for it")
            if top < 0:
                stands, why = ("sits deep in", "too wide for it, or worn")
            by = speech.length(abs(top))
            words = f"the belt {stands} the groove of {name} by {by}: the groove is {why}"
            found.append(Finding(V_SEAT, "watch", pulley.id, words, value=top, limit=near))
    return found
