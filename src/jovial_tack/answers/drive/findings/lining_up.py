"""Pulleys out of line, and what mends it (docs/METHOD.md, section 12)."""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.lining_up import LinedUp
from jovial_tack.answers.drive.spread import SURELY
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.kinds import MISALIGNED
from jovial_tack.answers.results import BodyMove, Finding
from jovial_tack.core.arrays import Float
from jovial_tack.core.drive.path import Path
from jovial_tack.core.line_up.alignment import align, span_sd
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build


class _Looked(Value, frozen=True, eq=False):
    """One drive as it is looked at: its path at rest, angle of each span, degrees."""

    build: Build
    case: SolvableCase
    path: Path
    lined: LinedUp
    speech: Speech
    angles: Float


def lining_up_findings(
    build: Build, case: SolvableCase, path: Path, lined: LinedUp
) -> list[Finding]:
    """One finding for each pulley that is out of line and moved, or for the worst one if nothing mends
    it.
    """
    speech = Speech(case, build.display_units)
    angles = np.degrees(np.abs(align(path, case.seats()).span))
    good = case.belt.profile.good_angle_deg
    spread = _spread_deg(case, path)
    # what the readings leave open is neither out of line nor in it
    open_ = np.abs(angles - good) <= SURELY * spread
    look = _Looked(build, case, path, lined, speech, np.where(open_, 0.0, angles))
    found = [_not_known(look, int(k), angles, spread) for k in np.flatnonzero(open_)[:1]]
    return found + _out_of_line(look)


def _spread_deg(case: SolvableCase, path: Path) -> Float:
    """One standard deviation of the angle of each span (N,), degrees; 0 where no survey tells."""
    if case.plane_spread is None:
        return np.zeros(len(case.pulleys))
    found = span_sd(path, case.seats(), np.array(case.plane_spread))
    return np.degrees(np.nan_to_num(found))


def _known_to(look: _Looked, place: int) -> str:
    """How well a spacer under a pulley is known by the planes surveyed; "" without a survey."""
    spread = look.case.plane_spread
    if spread is None:
        return ""
    beside = [k for k in _spans_reaching(look.case, place) if k != place]
    squares = [
        spread[place][place] + spread[k][k] - 2.0 * spread[place][k]
        for k in beside
        if not look.case.seats().flat[k]
    ]
    known = [square for square in squares if np.isfinite(square)]
    if not known:
        return ""
    digits = 2 if look.speech.unit == "mm" else 3
    return f" (± {look.speech.length(max(*known, 0.0) ** 0.5, digits)})"


def _not_known(look: _Looked, span: int, angles: Float, spread: Float) -> Finding:
    """A span whose angle the readings do not tell well enough."""
    profile, route, speech = look.case.belt.profile, look.case.model.route, look.speech
    after = (span + 1) % len(route)
    return Finding(
        MISALIGNED,
        "unknown",
        route[span],
        f"{speech.at(span)}: {angles[span]:.2f}° ± {spread[span]:.2f}° out of line (good"
        f" {profile.good_angle_deg:.2f}°) cannot be told yet; read the step from it to"
        f" {speech.at(after)} with straightedge and feeler",
        value=float(angles[span]),
        limit=profile.good_angle_deg,
    )


def _out_of_line(look: _Looked) -> list[Finding]:
    good, drive = look.case.belt.profile.good_angle_deg, look.case.model.id
    angles = look.angles
    if not (angles > good).any():
        return []
    worst = int(np.nanargmax(angles))
    found = []
    for move in look.lined.moves if drive not in look.lined.unmended else ():
        own = [name for of, name in move.pulleys if of == drive]
        places = [look.case.model.route.index(name) for name in own]
        reached = {span for place in places for span in _spans_reaching(look.case, place)}
        # spans whose planes are not known have no angle, and count for nothing
        most = float(np.nanmax([0.0, *angles[sorted(reached)]]))
        if most > good:
            out = max(places, key=lambda k: np.nanmax(angles[_spans_reaching(look.case, k)]))
            found.append(_finding(look, out, most, move))
    return found or [_finding(look, worst, float(angles[worst]), None)]


def _spans_reaching(case: SolvableCase, place: int) -> list[int]:
    """The spans between a grooved pulley and its grooved neighbours, over flat ones."""
    flat, count = case.seats().flat, len(case.pulleys)
    reached = [place]
    while flat[(reached[-1] + 1) % count] and (reached[-1] + 1) % count != place:
        reached.append((reached[-1] + 1) % count)
    back = (place - 1) % count
    reached.append(back)
    while flat[back] and back != place:
        back = (back - 1) % count
        reached.append(back)
    return reached


def _finding(look: _Looked, place: int, angle: float, move: BodyMove | None) -> Finding:
    profile, name = look.case.belt.profile, look.speech.at(place)
    over = angle > profile.limit_angle_deg
    limit = profile.limit_angle_deg if over else profile.good_angle_deg
    if move is None:
        mend = "no move along its shaft mends it: straighten what is tilted first"
    else:
        mend = _mend(look, place, move)
    return Finding(
        MISALIGNED,
        "stop" if over else "watch",
        look.case.model.route[place],
        f"{name} is {angle:.2f}° out of line (good {profile.good_angle_deg:.2f}°); {mend}",
        value=angle,
        limit=limit,
    )


def _mend(look: _Looked, place: int, move: BodyMove) -> str:
    """What puts a pulley in line: by how its body is fixed, and with what is moved beside it."""
    unit = look.speech.unit
    size = look.speech.length(abs(move.by_mm), 2 if unit == "mm" else 3)
    size += _known_to(look, place)
    it = "it" if move.of == "shaft" else move.label
    if move.pressed:
        mend = f"drawing {it} {size} off" if move.by_mm > 0 else f"pressing {it} {size} further on"
        mend += _from_flush(look, place, move)
    elif move.by_mm > 0:
        mend = f"a {size} spacer under {it}"
    else:
        mend = f"taking {size} from under {it}"
    others = [other.label for other in look.lined.moves if other != move and _meets(other, move)]
    if others:
        mend += f", with {' and '.join(others)} moved as told,"
    mend += " puts it in line"
    if move.pieces is not None:
        parts = [
            f"{count} x {look.build.part(part).label}" if count > 1 else look.build.part(part).label
            for part, count in move.pieces
        ]
        mend += f"; on the shelf: {' and '.join(parts)}"
    return mend


def _from_flush(look: _Looked, place: int, move: BodyMove) -> str:
    """How deep a pressed pulley then sits from flush with its shaft; "" where flush is not measured."""
    pulley = look.case.pulleys[place]
    if pulley.flush_plane_mm is None or pulley.plane_mm is None:
        return ""
    off = pulley.plane_mm + move.by_mm - pulley.flush_plane_mm
    digits = 2 if look.speech.unit == "mm" else 3
    side = "before" if off > 0 else "behind"
    return f" ({look.speech.length(abs(off), digits)} {side} flush)"


def _meets(one: BodyMove, other: BodyMove) -> bool:
    """Whether two bodies carry pulleys of one drive, so that one counts on the other."""
    return bool({drive for drive, _ in one.pulleys} & {drive for drive, _ in other.pulleys})
