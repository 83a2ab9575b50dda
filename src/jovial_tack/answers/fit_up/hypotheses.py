"""What may be otherwise on the engine than in the layout, each solved: where the adjuster would then
stand at rest, and how the span that is listened to would sound (METHOD 17).
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

import numpy as np

from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.freedom import freedom_of, rest_pull
from jovial_tack.answers.drive.judging import case_of
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.drive.adjuster import INSIDE
from jovial_tack.core.drive.lanes import Lanes
from jovial_tack.core.drive.path import Path, faults, trace
from jovial_tack.core.drive.solve import run_from_rest
from jovial_tack.core.errors import GeometryError, JovialTackError
from jovial_tack.core.grip.span_readings import span_tone
from jovial_tack.core.units import format_length
from jovial_tack.core.value import Value
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.edits.pulleys import set_diameter
from jovial_tack.document.edits.routes import take_off
from jovial_tack.document.edits.shafts import move_shaft
from jovial_tack.document.edits.tensioners import set_arm, set_tensioner
from jovial_tack.document.model import (
    Build,
    Drive,
    SpringArmTensioner,
    SpringSlideTensioner,
    Sprung,
)

Kind = Literal["right", "belt", "seat", "spring", "notch", "former", "route", "centre"]
#: How likely each kind is before anything is read (rep.); notch and centre for each there is.
PRIORS: dict[Kind, float] = {
    "right": 0.30, "belt": 0.20, "seat": 0.12, "spring": 0.12, "notch": 0.05, "former": 0.06,
    "route": 0.05, "centre": 0.01,
}  # fmt: skip
_OFF_MM, _WEAK, _CENTRE_MM = (
    (-20.0, -15.0, -10.0, -5.0, 5.0, 10.0, 15.0, 20.0),
    (0.85, 0.75, 0.65),
    4.0,
)


class Reads(Value, frozen=True):
    """Where an adjuster stands at rest, degrees of an arm or a share of a travel, and the tone of a
    span, Hz; None where there is no such thing, or where the belt does not rest.
    """

    mark: float | None
    tone_hz: float | None


class Hypothesis(Value, frozen=True, eq=False):
    """One thing that may be so. item: what of its kind it is, by which a check tells it; prior: before
    anything is read; reads: what would then be read; build: the layout with it.
    """

    kind: Kind
    item: str
    words: str
    prior: float
    reads: Reads
    build: Build


def reads_of(build: Build, drive_id: str, span: str, catalogue: Catalogue) -> Reads | None:
    """What would be read of a drive at rest and cold; None where the belt has no place there.

    span: the pulley that the span leaves; the one before it on the route, where that is off.
    """
    case = case_of(build, drive_id, catalogue)
    if not isinstance(case, SolvableCase) or not case.decided:
        return None
    found = _at_rest(case)
    if found is None:
        return None
    mark, tension, path = found
    route = case.model.route
    place = route.index(span) if span in route else 0
    length = float(path.length[place])
    tone = float(span_tone(np.asarray(tension), np.asarray(length), case.belt.mass_kg_per_m))
    return Reads(mark, tone if tension > 0 else None)


def _at_rest(case: SolvableCase) -> tuple[float | None, float, Path] | None:
    """Where the adjuster stands, the belt's tension, N, and the path."""
    drive = case.drive
    if case.arm is not None:
        ran, _ = run_from_rest(drive, Lanes.at_rest(drive.pulley_count, drive.belt))
        if int(ran.outcome[0]) != INSIDE:
            return None
        angle = float(ran.angle[0])
        mark = angle if case.arm.slides else float(np.degrees(angle))
        return mark, float(ran.tractions[0, 0]), ran.path.lanes(0)
    if case.slide is not None:
        if case.slide.share is None:
            return None
        freedom = freedom_of(case)
        assert freedom is not None
        path = freedom.paths(np.array([case.slide.share])).lanes(0)
        return case.slide.share, rest_pull(case, case.slide.share), path
    path = trace(drive.layout.centers, drive.layout.signed_radii)
    if bool(faults(path, drive.layout.driver_sign).any):
        return None
    return None, float(drive.belt.tension_at(path.total)), path


def hypotheses_of(
    build: Build, drive_id: str, span: str, catalogue: Catalogue
) -> tuple[Hypothesis, ...]:
    """Everything that may be so of a drive, each solved; that with which the belt rests nowhere would
    be seen at once, and is left out. Raises GeometryError where the layout itself does not rest.
    """
    drive = build.drive(drive_id)
    now = reads_of(build, drive_id, span, catalogue)
    if now is None:
        raise GeometryError(f"{drive.label} does not come to rest as it is laid out")
    found = [Hypothesis("right", "", "all is as laid out", PRIORS["right"], now, build)]
    makers: tuple[tuple[Kind, _Made], ...] = (
        ("belt", _belts(build, drive)),
        ("seat", _seats(build, drive, catalogue)),
        ("spring", _springs(build, drive)),
        ("notch", _notches(build, drive)),
        ("former", _former(build, drive)),
        ("route", _routes(build, drive)),
        ("centre", _centres(build, drive)),
    )
    for kind, maker in makers:
        made = list(maker)
        each = PRIORS[kind] if kind in _EACH else PRIORS[kind] / max(len(made), 1)
        for item, words, other in made:
            reads = _tried(other, drive_id, span, catalogue)
            if reads is not None:
                found.append(Hypothesis(kind, item, words, each, reads, other))
    return tuple(found)


_EACH = ("notch", "centre")
_Made = Iterator[tuple[str, str, Build]]


def _tried(build: Build, drive_id: str, span: str, catalogue: Catalogue) -> Reads | None:
    try:
        return reads_of(build, drive_id, span, catalogue)
    except JovialTackError:
        return None


def _belts(build: Build, drive: Drive) -> _Made:
    length = drive.belt.effective_length_mm
    for off in _OFF_MM if length is not None else ():
        assert length is not None
        way = "longer" if off > 0 else "shorter"
        size = format_length(abs(off), build.display_units)
        words = f"another belt, {size} {way} than its number says"
        yield f"{off:+g}", words, set_belt_length(build, drive.id, length + off)


def _seats(build: Build, drive: Drive, catalogue: Catalogue) -> _Made:
    profile = catalogue.profile(drive.belt.profile)
    lift = max(profile.below_effective_mm, 0.0)
    if profile.section != "ribbed" or lift <= 0:
        return
    for pulley in drive.pulleys:
        if pulley.side == "ribs":
            name = build.shaft(pulley.shaft).label
            other = set_diameter(build, drive.id, pulley.id, pulley.diameter_mm + 2 * lift)
            yield pulley.id, f"the ribs ride on the crests of {name}", other


def _springs(build: Build, drive: Drive) -> _Made:
    held = drive.tensioner
    if not isinstance(held, Sprung):
        return
    for left in _WEAK:
        if isinstance(held, SpringSlideTensioner):
            figures = {"force_n": held.force_n * left, "rate_n_per_mm": held.rate_n_per_mm * left}
        else:
            figures = {
                "torque_nm": held.torque_nm * left,
                "rate_nm_per_deg": held.rate_nm_per_deg * left,
            }
        words = f"a weak spring, about {100 * left:.0f} % of its strength"
        yield f"{100 * left:.0f}", words, set_tensioner(build, drive.id, **figures)


def _notches(build: Build, drive: Drive) -> _Made:
    held = drive.tensioner
    if not isinstance(held, SpringArmTensioner):
        return
    for notch, degrees in enumerate(held.notches_deg or ()):
        if notch != (held.notch or 0):
            words = f"the tensioner bolted in its notch {notch + 1} ({degrees:g}°)"
            yield str(notch), words, set_arm(build, drive.id, notch=notch)


def _former(build: Build, drive: Drive) -> _Made:
    for pulley in drive.pulleys:
        if pulley.former_mm is not None and pulley.former_mm != pulley.diameter_mm:
            name, size = build.shaft(pulley.shaft).label, pulley.former_mm
            words = f"the former pulley still on {name}, {format_length(size, build.display_units)}"
            yield pulley.id, words, set_diameter(build, drive.id, pulley.id, size)


def _routes(build: Build, drive: Drive) -> _Made:
    held = drive.tensioner
    moving = held.pulley if isinstance(held, Sprung) else None
    for pulley in drive.pulleys:
        shaft = build.shaft(pulley.shaft)
        if shaft.kind == "idler" and pulley.id != moving and len(drive.route) > 2:
            words = f"the belt not round {shaft.label}"
            yield pulley.id, words, take_off(build, drive.id, pulley.id)


def _centres(build: Build, drive: Drive) -> _Made:
    held = drive.tensioner
    moving = held.pulley if isinstance(held, Sprung) else None
    adjuster = getattr(held, "shaft", None)
    size = format_length(_CENTRE_MM, build.display_units, digits=0)
    for pulley in drive.pulleys:
        shaft = build.shaft(pulley.shaft)
        if shaft.kind == "crank" or pulley.id == moving or shaft.id == adjuster:
            continue
        x, y = shaft.center_mm
        for word, dx, dy in (("right", 1, 0), ("left", -1, 0), ("up", 0, 1), ("down", 0, -1)):
            other = move_shaft(build, shaft.id, x + dx * _CENTRE_MM, y + dy * _CENTRE_MM)
            yield f"{pulley.id} {word}", f"{shaft.label} {size} further {word}", other
