"""Back from what is seen on the engine to the belt, or the survey, it means (docs/METHOD.md, 13).

An adjuster that stands elsewhere than the layout says has one of several causes. Each is tried on the
layout: were it so, which belt would be on the drive? The nearer that is to the belt on the label, the
likelier the cause.
"""

from __future__ import annotations

from collections.abc import Iterator
from math import exp, hypot, pi, sqrt
from typing import Any, Literal

import numpy as np

from jovial_tack.answers.belt.stock import stock_for
from jovial_tack.answers.drive.adjusters import adjuster_of
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.judging import case_of, solvable_case
from jovial_tack.answers.drive.spread import length_sigma, spread_of
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.belt.lines import belt_to_order, effective_length
from jovial_tack.core.drive.arm import SpringArm, place_arm
from jovial_tack.core.drive.inverse import belt_for_angle
from jovial_tack.core.drive.path import Path, trace
from jovial_tack.core.drive.sliding import slide_paths
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.units import FORCE, format_length, written_in
from jovial_tack.core.value import Value, replace
from jovial_tack.document.edits.pulleys import set_diameter
from jovial_tack.document.model import (
    Build,
    Drive,
    LockedTensioner,
    SpringArmTensioner,
    SpringSlideTensioner,
    Tensioner,
)
from jovial_tack.document.travel import notch_offset_deg, slot_of

#: How much of its torque a tired spring may have left; of its pull a bolted shaft may have.
_WEAK = (0.9, 0.8, 0.7, 0.6, 0.5)
_OTHER_PULLS = (0.5, 0.7, 1.4, 2.0)
#: Belts further from the label than this are not taken by mistake.
_FAR_MM = 120.0
#: Causes less likely than this are not told, unless none is likelier.
_WORTH_TELLING = 0.04


class Seen(Value, frozen=True):
    """Where an adjuster is seen: at an angle (arm_deg, of an arm), or at a share of the way between its
    marks (of an arm: from the wound to the unwound end of its window; of a shaft: of its travel).
    """

    arm_deg: float | None = None
    share: float | None = None


class Explained(Value, frozen=True):
    """One thing that may explain it, in words, and how likely it is (all sum to 1)."""

    cause: str
    words: str
    weight: float

    @property
    def sentence(self) -> str:
        """The cause, with how likely it is."""
        often = (
            "likely" if self.weight >= 0.5 else "possible" if self.weight >= 0.15 else "less likely"
        )
        return f"{often}: {self.words}"


class AsFitted(Value, frozen=True):
    """The belt that would put the adjuster where it is seen, effective mm; how far it is from the one
    on the label (longer: above zero); one standard deviation of what is not known, mm; what may explain
    it, the likeliest first; and the angle of an arm.
    """

    implied_mm: float
    label_mm: float
    sigma_mm: float
    causes: tuple[Explained, ...]
    arm_deg: float | None = None

    @property
    def off_mm(self) -> float:
        """Implied less label, mm."""
        return self.implied_mm - self.label_mm


def as_fitted(build: Build, drive_id: str, catalogue: Catalogue, seen: Seen) -> AsFitted:
    """The belt that an adjuster seen at rest implies, and what explains it.

    Raises GeometryError where the drive has no such adjuster, no belt, or no path there.
    """
    case = case_of(build, drive_id, catalogue)
    label = case.model.belt.effective_length_mm
    if not isinstance(case, SolvableCase) or label is None:
        raise GeometryError("a belt must be on the drive before its place can be explained")
    implied = _implied(case, seen)
    if not np.isfinite(implied):
        raise GeometryError("there is no belt path, or no lever, with the adjuster there")
    sigma = length_sigma(case, spread_of(build, catalogue))
    looked_at = _Looked(build, case, catalogue, seen, implied, label, sigma)
    angle = None
    if case.arm is not None and not case.arm.slides:
        angle = float(np.degrees(_arm_angle(case.arm, seen)))
    return AsFitted(implied, label, sigma, _weighed(looked_at), angle)


def _implied(case: SolvableCase, seen: Seen) -> float:
    """The belt with which the adjuster rests where it is seen, effective mm; NaN where none does."""
    offset = case.belt.profile.effective_to_cord_mm
    if case.arm is not None:
        angle = np.array(_arm_angle(case.arm, seen))
        cord = belt_for_angle(case.drive.layout, case.arm, case.drive.belt, angle)
        return float(effective_length(cord, offset))
    if seen.arm_deg is not None:
        raise GeometryError("the drive has no spring arm whose angle could be seen")
    tensioner = case.model.tensioner
    if seen.share is None or case.track is None or not isinstance(tensioner, LockedTensioner):
        raise GeometryError("the drive has no slot or swing on which a place could be seen")
    path, exists = slide_paths(case.drive.layout, case.moving, case.track, np.array(seen.share))
    if not exists:
        return float("nan")
    belt, pull = case.belt, tensioner.installed_tension_n
    return float(
        belt_to_order(
            path,
            np.asarray(pull),
            np.asarray(belt.reference_tension_n),
            np.asarray(belt.stiffness_n),
            offset,
        )
    )


def _arm_angle(arm: SpringArm, seen: Seen) -> float:
    """The angle an arm is seen at, rad; of a slide its share of the travel."""
    if arm.slides:
        if seen.share is None:
            raise GeometryError("where on its travel the slide stands must be seen")
        return seen.share
    if seen.arm_deg is not None:
        return float(np.radians(seen.arm_deg))
    if seen.share is None:
        raise GeometryError("an angle of the arm, or its place between the marks, must be seen")
    wound, unwound = arm.window
    return wound + seen.share * (unwound - wound)


class _Looked(Value, frozen=True, eq=False):
    """What is explained: the drive, where its adjuster is seen, that belt and the label's."""

    build: Build
    case: SolvableCase
    catalogue: Catalogue
    seen: Seen
    implied: float
    label: float
    sigma: float

    @property
    def off(self) -> float:
        """Implied less label, mm."""
        return self.implied - self.label

    def say(self, mm: float) -> str:
        """A length in the unit of the build."""
        return format_length(mm, self.build.display_units)


class _Tried(Value, frozen=True):
    """A cause that was tried: how far the belt on the drive would then be from what the cause says, mm;
    its blur beside that of survey and belt, mm; how much of the cause's prior it has.
    """

    cause: str
    words: str
    share: float
    left_mm: float
    blur_mm: float = 0.0


def _weighed(at: _Looked) -> tuple[Explained, ...]:
    """All causes by their posterior weight, the likeliest first.

    Of one kind only its likeliest is told, with the weight of all.
    """
    of_kind: dict[str, list[tuple[float, str]]] = {}
    for tried in _every(at):
        spread = hypot(at.sigma, tried.blur_mm)
        density = exp(-((tried.left_mm / spread) ** 2) / 2) / (spread * sqrt(2 * pi))
        weight = at.catalogue.causes[tried.cause].prior * tried.share * density
        of_kind.setdefault(tried.cause, []).append((weight, tried.words))
    total = sum(weight for tries in of_kind.values() for weight, _ in tries)
    if total <= 0:
        return (Explained("routing", _ROUTING, 1.0),)
    found = [
        Explained(cause, max(tries)[1], sum(weight for weight, _ in tries) / total)
        for cause, tries in of_kind.items()
    ]
    found.sort(key=lambda each: -each.weight)
    return tuple(each for k, each in enumerate(found) if k == 0 or each.weight >= _WORTH_TELLING)


_ROUTING = "the belt runs another way round than it is drawn: compare the routing"


def _every(at: _Looked) -> Iterator[_Tried]:
    causes = at.catalogue.causes
    nothing = "within what survey and belts as sold leave open"
    yield _Tried("nothing", nothing, 1.0, at.off)
    yield from _other_belts(at)
    yield from _not_seated(at)
    yield from _other_notches(at)
    yield from _weak_springs(at)
    yield from _former_pulleys(at)
    blunder = causes["centre"].blur_mm
    yield _Tried("centre", _of_centres(at), 1.0, at.off, blunder)
    yield _Tried("routing", _ROUTING, 1.0, at.off, causes["routing"].blur_mm)


def _other_belts(at: _Looked) -> Iterator[_Tried]:
    """A belt of the stock list that is taken for the one on the label, near ones sooner."""
    reach = at.catalogue.causes["belt"].blur_mm
    near = [
        (belt, exp(-abs(belt.effective_length_mm - at.label) / reach))
        for belt in stock_for(at.build, at.case.belt, at.catalogue)
        if 0.5 < abs(belt.effective_length_mm - at.label) < _FAR_MM
    ]
    total = sum(share for _, share in near)
    for belt, share in near:
        words = f"another belt than its label says: {belt.number} would stand there"
        yield _Tried("belt", words, share / total, at.implied - belt.effective_length_mm)


def _not_seated(at: _Looked) -> Iterator[_Tried]:
    """Ribs that ride on the crests of a pulley: the belt goes round it higher."""
    profile, path = at.case.belt.profile, _path(at)
    lift = max(profile.below_effective_mm, 0.0)
    grooved = [k for k, pulley in enumerate(at.case.pulleys) if pulley.side == "ribs"]
    if profile.section != "ribbed" or path is None or lift <= 0:
        return
    blur = at.catalogue.causes["seat"].blur_share
    for place in grooved:
        more = lift * float(path.wrap[place])
        words = f"ribs not seated on {at.case.shafts[place].label}: about {at.say(more)} of belt"
        yield _Tried("seat", words, 1 / len(grooved), at.off + more, blur * more)


def _path(at: _Looked) -> Path | None:
    """The path with the adjuster where it is seen; None where only its length is known."""
    drive, case = at.case.drive, at.case
    assert drive is not None
    if case.arm is not None:
        return place_arm(drive.layout, case.arm, np.array(_arm_angle(case.arm, at.seen))).path
    if at.seen.share is None or case.track is None:
        return None
    centers = drive.layout.centers.copy()
    centers[list(case.moving)] = case.track.center(np.array(at.seen.share))
    return trace(centers, drive.layout.signed_radii)


def _other_notches(at: _Looked) -> Iterator[_Tried]:
    """The tensioner at another of its notches, its marks turned with it."""
    model, case = at.case.model.tensioner, at.case
    if not isinstance(model, SpringArmTensioner) or not model.notches_deg:
        return
    others = [k for k in range(len(model.notches_deg)) if k != (model.notch or 0)]
    for notch in others:
        turned = replace(case.model, tensioner=replace(model, notch=notch))
        arm = adjuster_of(turned, case.shafts, case.drive.layout, case.belt)
        left = _with_adjuster(at, arm) - at.label
        if np.isfinite(left):
            words = f"the tensioner bolted at its notch of {model.notches_deg[notch]:g}°"
            yield _Tried("notch", words, 1 / len(others), left)


def _weak_springs(at: _Looked) -> Iterator[_Tried]:
    """A spring, or a bolted shaft, that pulls otherwise than it should."""
    arm, model = at.case.arm, at.case.model.tensioner
    if arm is not None:
        for left in _WEAK:
            weaker = replace(
                arm, torque_nm=arm.torque_nm * left, rate_nm_per_rad=arm.rate_nm_per_rad * left
            )
            words = f"a weak spring, at about {100 * left:.0f} % of its torque"
            yield _Tried("spring", words, 1 / len(_WEAK), _with_adjuster(at, weaker) - at.label)
    elif isinstance(model, LockedTensioner):
        for times in _OTHER_PULLS:
            pull = model.installed_tension_n * times
            other = replace(model, installed_tension_n=pull)
            case = replace(at.case, model=replace(at.case.model, tensioner=other))
            said = written_in(pull, FORCE, at.build.display_units)
            words = f"bolted at another pull, about {said}"
            left = _implied(case, at.seen) - at.label
            yield _Tried("spring", words, 1 / len(_OTHER_PULLS), left)


def _with_adjuster(at: _Looked, adjuster: Any) -> float:
    """The belt the reading implies with another adjuster on the same layout."""
    return _implied(replace(at.case, drive=replace(at.case.drive, adjuster=adjuster)), at.seen)


def _former_pulleys(at: _Looked) -> Iterator[_Tried]:
    """A pulley that the engine had before, and that may still be on."""
    former = [p for p in at.case.pulleys if p.former_mm not in (None, p.diameter_mm)]
    for pulley in former:
        assert pulley.former_mm is not None
        back = set_diameter(at.build, at.case.model.id, pulley.id, pulley.former_mm)
        left = _implied(solvable_case(back, at.case.model.id, at.catalogue), at.seen) - at.label
        if np.isfinite(left):
            shaft = at.case.label(pulley.id)
            words = f"the former pulley still on {shaft}, {at.say(pulley.former_mm)}"
            yield _Tried("former", words, 1 / len(former), left)


def _of_centres(at: _Looked) -> str:
    """Which centres would have to be off by how much."""
    path = _path(at)
    if path is None or abs(at.off) < at.sigma:
        return "a shaft centre or a diameter that was misread: measure again"
    # ∂L/∂c = d_in − d_out
    by_center = np.abs(np.roll(path.direction, 1) - path.direction)
    fixed = [k for k in range(by_center.size) if k not in at.case.moving and not _is_arm(at, k)]
    first = sorted(fixed, key=lambda k: -by_center[k])[:2]
    told = [
        f"{at.case.shafts[k].label} by {at.say(abs(at.off) / float(by_center[k]))}" for k in first
    ]
    return f"a centre misread ({' or '.join(told)} would do), or a diameter: measure again"


def _is_arm(at: _Looked, place: int) -> bool:
    return at.case.arm is not None and at.case.arm.index == place


def seen_verdict(
    tensioner: Tensioner, arm_deg: float | None, slide_mm: float | None = None
) -> Literal["fits", "long", "short"] | None:
    """Whether a belt fits by where its arm or slide came to stand: inside the window, beyond its
    unwound end (too long) or its wound end (too short). A bolted shaft stands on its travel.
    """
    if isinstance(tensioner, SpringSlideTensioner) and tensioner.window_mm is not None:
        if slide_mm is None:
            return None
        low, high = sorted(tensioner.window_mm)
        if low <= slide_mm <= high:
            return "fits"
        return "long" if (slide_mm > high) == (tensioner.pushes_to == "second") else "short"
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


def slid_to(build: Build, drive: Drive, share: float | None) -> float | None:
    """How far along its slot a sprung slide is seen, mm, at a share of it; None where there is none."""
    tensioner = drive.tensioner
    if not isinstance(tensioner, SpringSlideTensioner) or share is None:
        return None
    slot = slot_of(drive, build.shaft(drive.pulley(tensioner.pulley).shaft))
    return None if slot is None else share * slot.length_mm
