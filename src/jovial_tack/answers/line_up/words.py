"""How a build lines up, in words: for the terminal and for the window alike."""

from __future__ import annotations

from math import isfinite

from jovial_tack.answers.drive.bolts import EarBolt, standard_words
from jovial_tack.answers.drive.pull import PlatePulled, Pulled, Stood
from jovial_tack.answers.drive.stacks import EarStack, UnitStack
from jovial_tack.answers.line_up.read import PlaneRead
from jovial_tack.core.units import FORCE, TORQUE, format_length, written_in
from jovial_tack.document.model import Build, Piece

#: An ear that is off the others by less cocks nothing to speak of.
_COCKS_MM = 0.1


def length(build: Build, mm: float) -> str:
    """A depth in the build's unit, as fine as it is shimmed."""
    return format_length(mm, build.display_units, digits=2 if build.display_units == "mm" else 3)


def both(build: Build, mm: float) -> str:
    """A length to be made, in both units."""
    other = "in" if build.display_units == "mm" else "mm"
    return f"{length(build, mm)} ({format_length(mm, other, digits=3 if other == 'in' else 2)})"


def window_words(build: Build, window: tuple[float, float] | None) -> str:
    """Where a pulley may stand."""
    if window is None:
        return "nowhere, with all else as it is"
    low, high = window
    if not isfinite(low) or not isfinite(high):
        return "anywhere"
    return f"{length(build, low)} to {length(build, high)}"


def pieces_words(build: Build, pieces: tuple[Piece, ...]) -> str:
    """Pieces by name."""
    if not pieces:
        return "nothing"
    named = []
    for piece in pieces:
        part = build.find_part(piece.part)
        label = f"“{piece.part}”, gone from the shelf" if part is None else part.label
        named.append(f"{piece.count} x {label}" if piece.count > 1 else label)
    return " + ".join(named)


def ear_words(build: Build, ear: EarStack) -> str:
    """What an ear needs, and what makes it."""
    if ear.need_mm < -1e-9 and not ear.pieces:
        return f"{ear.boss.label}: no room, {length(build, -ear.need_mm)} too far forward"
    needs = f"{ear.boss.label}: needs {both(build, ear.need_mm)}"
    if ear.turn_mm is not None:
        source = "" if ear.from_part is None else f", from {ear.from_part.label}"
        return f"{needs}; turn one{source}"
    has = pieces_words(build, ear.pieces or ())
    off = length(build, abs(ear.error_mm))
    way = (
        ""
        if abs(ear.error_mm) < 0.005
        else f", {off} too far " + ("forward" if ear.error_mm > 0 else "back")
    )
    said = f"{needs}; {'take' if ear.proposed else 'has'} {has}{way}"
    if abs(ear.proud_mm) < _COCKS_MM:
        return said
    # what all ears are off by together cocks nothing
    side = "proud of" if ear.proud_mm > 0 else "short of"
    return f"{said}, {length(build, abs(ear.proud_mm))} {side} the others"


def unit_words(build: Build, unit: UnitStack) -> str:
    """Where a unit stands on its pieces."""
    label = next((s.label for s in build.shafts if s.id == unit.stack.shaft), unit.stack.shaft)
    if unit.problem or unit.plane_mm is None or unit.wanted_mm is None:
        return f"{label}: {unit.problem}"
    stands = f"{label} stands at {length(build, unit.plane_mm)} ± {length(build, unit.rss_mm)}"
    tilt = max(abs(t) for t in unit.tilt_deg)
    leans = f", leaning {tilt:.2f}°" if tilt >= 0.005 else ""
    wanted = "wanted" if unit.stack.wanted_plane_mm is not None else "straightest"
    said = f"{stands}{leans}; {wanted} {length(build, unit.wanted_mm)}"
    if unit.now_mm is not None and unit.is_elsewhere and not any(e.proposed for e in unit.ears):
        said += f"; the build has it at {length(build, unit.now_mm)}"
    return said


def stood_words(found: Stood) -> str:
    """How the belts of a unit run by its pieces, and within their tolerances."""
    return (
        f"belts {found.rest_deg:.2f}° by its pieces, at most {found.edge_deg:.2f}° within their ±"
    )


def bolt_words(build: Build, bolt: EarBolt) -> str:
    """The bolt of an ear: what it may be, and how the one that is there sits."""
    most = "" if bolt.most_mm is None else f" to {length(build, bolt.most_mm)}"
    said = f"grip {length(build, bolt.grip_mm)}, bolt {length(build, bolt.least_mm)}{most}"
    if bolt.fit is not None and bolt.chosen is not None:
        free = ""
        if bolt.fit.free_mm is not None:
            free = f", {length(build, bolt.fit.free_mm)} free at its end"
        said += f"; {bolt.chosen.label} has {length(build, bolt.fit.engagement_mm)} in{free}"
    elif bolt.from_shelf is not None:
        under = f" on {pieces_words(build, bolt.washers)}" if bolt.washers else ""
        said += f"; take {bolt.from_shelf.label}{under}"
    elif bolt.standard_mm is not None:
        said += f"; {standard_words(bolt)} is a standard length"
    else:
        said += "; no standard length does"
    if bolt.clamp_n is not None:
        unit = build.display_units
        low, _, high = (written_in(force, FORCE, unit) for force in bolt.clamp_n)
        lost = written_in(bolt.bedded_n, FORCE, unit)
        said += f"; clamps {low} to {high}, {lost} of it lost as {bolt.faces} faces bed in"
    return said


def plane_words(build: Build, told: PlaneRead) -> str:
    """What was read of one pulley."""
    if told.plane_mm is None or told.plane_sd_mm is None:
        plane = "plane not determined"
    else:
        plane = f"{length(build, told.plane_mm)} ± {length(build, told.plane_sd_mm)}"
    leans = []
    for axis, tilt, sd in zip("xy", told.tilt_deg, told.tilt_sd_deg, strict=True):
        known = (
            "not determined"
            if tilt is None or sd is None
            else f"{round(tilt, 2) + 0.0:+.2f}° ± {sd:.2f}°"
        )
        leans.append(f"about {axis} {known}")
    said = f"{told.label}: {plane}; tilt {', '.join(leans)}"
    if told.wobble_deg is not None:
        said += f"; wobbles ± {told.wobble_deg:.2f}°"
    return f"{said}; to settle it: {told.settle}" if told.settle else said


def plate_words(build: Build, found: PlatePulled) -> str:
    """What the pull does to a bracket's plate, beside how its belts stand at rest."""
    pull = written_in(found.pull_n, FORCE, build.display_units)
    turns = f"turns {found.low_deg:.2f} to {found.high_deg:.2f}°"
    rest, low, high = ("–" if a is None else f"{a:.2f}°" for a in found.angles_deg)
    label = build.bracket(found.bracket).label
    said = f"{label} under {pull} at {found.rpm:.0f} rpm {turns}"
    said += f": belts {rest} at rest, {low} to {high} pulled"
    at_rest, least, _ = found.angles_deg
    # what is out of line at rest is not the plate's doing
    if at_rest is not None and least is not None and at_rest <= found.good_deg < least:
        said += "; the bracket gives: thicker, or a brace behind it"
    return f"{said}; so short a plate is stiffer than that" if found.is_bound else said


def pull_words(build: Build, shaft_id: str, found: Pulled | str) -> str:
    """What the pull does to a unit, beside how it stands at rest."""
    label = next((s.label for s in build.shafts if s.id == shaft_id), shaft_id)
    if isinstance(found, str):
        return f"{label} under its pull: not told, since {found}"
    unit = build.display_units
    load = written_in(found.hub_load_n, FORCE, unit)
    at_rest = "–" if found.rest_deg is None else f"{found.rest_deg:.2f}°"
    running = "–" if found.low_deg is None else f"{found.low_deg:.2f}°"
    ends = found.low_deg, found.high_deg
    if ends[0] is not None and ends[1] is not None and ends[1] - ends[0] >= 0.005:
        running = f"{ends[0]:.2f} to {ends[1]:.2f}°"
    said = f"{label} under {load} at {found.rpm:.0f} rpm: belts {at_rest} at rest, {running} pulled"
    if found.slot is not None:
        needed, held = (
            written_in(force, FORCE, unit) for force in (found.slot.needed_n, found.slot.held_n)
        )
        verb = "holds" if found.slot.held_n >= found.slot.needed_n else "slips: it holds"
        said += f"; the slot's bolt at {found.slot.boss} {verb} {held} of the {needed} it must"
    moment = written_in(found.moment_nm, TORQUE, unit)
    if found.opens_nm is None:
        return f"{said}; {moment} at its foot (type the bolt's torque to see when it opens)"
    opens = written_in(found.opens_nm, TORQUE, unit)
    state = "it opens" if found.opens else "it holds"
    return f"{said}; {moment} at its foot, opens from {opens}: {state}"
