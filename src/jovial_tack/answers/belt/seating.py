"""How a belt sits in a pulley: V-belts and ribs in their grooves, against the rims (METHOD 13)."""

from __future__ import annotations

from math import radians, tan
from typing import Literal

from jovial_tack.catalogue import Profile, UsualParts
from jovial_tack.core.belt.grooves import v_seat
from jovial_tack.core.units import format_length
from jovial_tack.core.value import Value
from jovial_tack.document.model import Pulley

Point = tuple[float, float]
Role = Literal["pulley", "belt"]

_NEAR_MM = 0.8
_RIM_MM, _EDGE_MM = 7.0, 2.5


class Seat(Value, frozen=True):
    """How a belt sits, in a cross-section of mm: x along the shaft from the groove centre, y outward
    from the line the diameter is given on.

    top_mm: how far its back stands over that line; words: what to think of it, the gravest first; good:
    nothing is amiss; given: groove figures are the pulley's own.
    """

    outlines: tuple[tuple[Role, tuple[Point, ...]], ...]
    top_mm: float
    words: tuple[str, ...]
    good: bool
    given: bool = True


def seat_of(profile: Profile, ribs: int, pulley: Pulley, usual: UsualParts, unit: str) -> Seat:
    """How a belt of a profile sits on a pulley."""
    if pulley.side == "back":
        return _on_its_back(profile, ribs, pulley, unit)
    if profile.section == "v":
        return _v_groove(profile, pulley, usual, unit)
    if profile.section == "toothed":
        return _toothed(profile, ribs, pulley)
    return _ribbed(profile, ribs, pulley, usual, unit)


def _v_groove(profile: Profile, pulley: Pulley, usual: UsualParts, unit: str) -> Seat:
    """The flanks carry: a belt wider than the groove's top rides proud, a narrower one sits deep."""
    degrees = pulley.groove_angle_deg or profile.groove_angle_deg or usual.v_groove_angle_deg
    angle = radians(degrees) / 2
    width = pulley.groove_width_mm or profile.pitch_mm
    depth = pulley.groove_depth_mm or usual.v_groove_depth_share * profile.thickness_mm
    top, shallow = v_seat(profile.pitch_mm, profile.thickness_mm, width, depth, degrees)
    bottom = top - profile.thickness_mm
    given = pulley.groove_width_mm is not None and pulley.groove_depth_mm is not None
    words = _amiss_in_v(top, shallow, unit)
    good = not words
    if good:
        side = "over" if top >= 0 else "under"
        words = [f"its top lies {_mm(abs(top), unit)} {side} the rim"]
    low = profile.pitch_mm / 2 - profile.thickness_mm * tan(angle)
    half = profile.pitch_mm / 2
    belt = ((-half, top), (half, top), (low, bottom), (-low, bottom))
    foot = width / 2 - depth * tan(angle)
    outer = width / 2 + 5.0
    rim = (
        (-outer, 0.0), (-width / 2, 0.0), (-foot, -depth), (foot, -depth), (width / 2, 0.0),
        (outer, 0.0), (outer, -depth - _RIM_MM), (-outer, -depth - _RIM_MM),
    )  # fmt: skip
    return Seat((("pulley", rim), ("belt", belt)), top, tuple(words), good, given)


def _amiss_in_v(top_mm: float, shallow_mm: float, unit: str) -> list[str]:
    """What is wrong with a V-belt in its groove; nothing where it sits as it should."""
    words = []
    if shallow_mm > 0:
        words.append(f"it bottoms: the groove is {_mm(shallow_mm, unit)} too shallow")
    if top_mm > _NEAR_MM:
        proud = _mm(top_mm, unit)
        words.append(f"it rides {proud} proud of the groove: the groove is too narrow for it")
    elif top_mm < -_NEAR_MM:
        words.append(f"it sits {_mm(-top_mm, unit)} deep: the groove is too wide, or worn")
    return words


def _ribbed(profile: Profile, ribs: int, pulley: Pulley, usual: UsualParts, unit: str) -> Seat:
    """Ribs in grooves: which groove carries rib 1, and how far the belt stands over the lips."""
    pitch, grooves = profile.pitch_mm, pulley.grooves or ribs
    first = pulley.first_groove or 1
    apex = profile.groove_apex_mm or 1.2 * pitch
    flank = tan(radians((profile.groove_angle_deg or 40.0) / 2))
    top = profile.effective_to_cord_mm + profile.cord_to_back_mm
    opening = apex * flank
    depth = usual.rib_groove_depth_share * apex
    start = -(grooves - 1) / 2 * pitch
    lip = pulley.flange_mm or 0.0
    left, right = start - pitch / 2, -start + pitch / 2
    rim: list[Point] = [(left - _EDGE_MM, lip), (left, lip), (left, 0.0)]
    for k in range(grooves):
        x, foot = start + k * pitch, (apex - depth) * flank
        rim += [(x - opening, 0.0), (x - foot, -depth), (x + foot, -depth), (x + opening, 0.0)]
    rim += [(right, 0.0), (right, lip), (right + _EDGE_MM, lip)]
    rim += [(right + _EDGE_MM, -depth - _RIM_MM), (left - _EDGE_MM, -depth - _RIM_MM)]
    tip = max(profile.below_effective_mm, 0.3)
    belt: list[Point] = []
    begin = start + (first - 1) * pitch
    belt.append((begin - pitch / 2, top))
    belt.append((begin - pitch / 2, 0.35 * top))
    for k in range(ribs):
        x, foot = begin + k * pitch, (apex - tip) * flank
        belt += [(x - opening, 0.0), (x - foot, -tip), (x + foot, -tip), (x + opening, 0.0)]
    end = begin + (ribs - 1) * pitch
    belt += [(end + pitch / 2, 0.35 * top), (end + pitch / 2, top)]
    words, good = [], True
    if first + ribs - 1 > grooves:
        words.append(
            f"{ribs} ribs from groove {first} need {first + ribs - 1} grooves, not {grooves}"
        )
        good = False
    elif pulley.grooves is None:
        words.append("how many grooves it has is not told; as many as ribs are drawn")
    elif grooves > ribs and pulley.first_groove is None:
        words.append(f"say which of its {grooves} grooves carries rib 1; the first is drawn")
        good = False
    else:
        words.append(
            f"rib 1 of {ribs} runs in groove {first} of {grooves}, counted from the engine"
        )
    proud = top - lip
    words.append(f"its back stands {_mm(proud, unit)} over the {'lip' if lip > 0 else 'rim'}")
    return Seat((("pulley", tuple(rim)), ("belt", tuple(belt))), top, tuple(words), good)


def _on_its_back(profile: Profile, ribs: int, pulley: Pulley, unit: str) -> Seat:
    """A belt on a smooth face: its back down, ribs outward."""
    wide = ribs * profile.pitch_mm
    lip = pulley.flange_mm or 0.0
    face = wide / 2 + 2.0
    rim = (
        (-face - _EDGE_MM, lip), (-face, lip), (-face, 0.0), (face, 0.0), (face, lip),
        (face + _EDGE_MM, lip), (face + _EDGE_MM, -_RIM_MM), (-face - _EDGE_MM, -_RIM_MM),
    )  # fmt: skip
    belt = (
        (-wide / 2, 0.0), (wide / 2, 0.0), (wide / 2, profile.thickness_mm),
        (-wide / 2, profile.thickness_mm),
    )  # fmt: skip
    words = "its back runs on the smooth face"
    if lip > 0:
        words += f" between lips of {_mm(lip, unit)}"
    return Seat((("pulley", rim), ("belt", belt)), profile.thickness_mm, (words,), good=True)


def _toothed(profile: Profile, ribs: int, pulley: Pulley) -> Seat:
    """A toothed belt over the tips, seen from the side: width and flanges."""
    top = profile.effective_to_cord_mm + profile.cord_to_back_mm
    wide, lip = float(ribs), pulley.flange_mm or 0.0
    face = wide / 2 + 1.0
    rim = (
        (-face - 1.5, lip), (-face, lip), (-face, 0.0), (face, 0.0), (face, lip), (face + 1.5, lip),
        (face + 1.5, -_RIM_MM), (-face - 1.5, -_RIM_MM),
    )  # fmt: skip
    belt = ((-wide / 2, 0.0), (wide / 2, 0.0), (wide / 2, top), (-wide / 2, top))
    words = ["leave it a little side play between the flanges"]
    if lip <= 0:
        words = ["no flange here: one pulley of the drive needs flanges on both sides"]
    return Seat((("pulley", rim), ("belt", belt)), top, tuple(words), good=lip > 0)


def _mm(mm: float, unit: str) -> str:
    return format_length(mm, unit, digits=1 if unit == "mm" else 3)
