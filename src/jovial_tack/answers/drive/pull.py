"""What the pull of its belts does to a unit on stand-offs, beside how it stands at rest (METHOD 12).

Never used to pass what fails at rest.
"""

from __future__ import annotations

from collections.abc import Callable, Container, Sequence
from math import degrees

import numpy as np

from jovial_tack.answers.drive.bolts import bolt_of
from jovial_tack.answers.drive.case import Case, SolvableCase
from jovial_tack.answers.drive.stacks import EarStack, UnitStack
from jovial_tack.answers.results import PULL_SPEEDS, Results
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import Complex
from jovial_tack.core.line_up.alignment import Seats, align
from jovial_tack.core.line_up.bolts import slot_pull_n
from jovial_tack.core.line_up.plates import Plate, turned_by
from jovial_tack.core.line_up.standoffs import POISSON, Bent, Post, bend
from jovial_tack.core.value import Value, replace
from jovial_tack.document.model import Build, PlateOf, SwingMount


class SlotHold(Value, frozen=True):
    """The bolt that keeps a unit from swinging by friction: what it must hold and what it does with the
    least clamp of its torque, N; boss: where it is.
    """

    boss: str
    needed_n: float
    held_n: float


class Pulled(Value, frozen=True, eq=False):
    """A unit at the speed of its greatest hub load.

    tilt_deg about x and y by the pull alone, with its stacks closed; low_deg, high_deg: the worst angle
    of its belts then, high with the stacks open where the least clamp lets them; rest_deg: at rest.
    moment_nm: the greatest at the foot of a post; opens_nm: at which it opens with the likely clamp,
    None without a torque; bolt_mpa: bending of a bolt that is alone, None while the stacks hold.
    """

    shaft: str
    rpm: float
    hub_load_n: float
    shift_mm: float
    tilt_deg: tuple[float, float]
    rest_deg: float | None
    low_deg: float | None
    high_deg: float | None
    moment_nm: float
    opens_nm: float | None
    opens: bool
    bolt_mpa: float | None
    slot: SlotHold | None = None


def pulled(
    build: Build, cases: Sequence[Case], results: Results, unit: UnitStack, catalogue: Catalogue
) -> Pulled | str:
    """What the pull does to a unit; or in words why that is not told."""
    if unit.problem or unit.plane_mm is None:
        return unit.problem or "nowhere to stand yet"
    posts: list[Post] = []
    for ear in unit.ears:
        post = _post(build, ear, catalogue)
        if isinstance(post, str):
            return post
        posts.append(post)
    found = _greatest(build, results, {unit.stack.shaft})
    if found is None:
        return "its belts have no pull yet"
    rpm, load, _ = found
    center = complex(*build.shaft(unit.stack.shaft).center_mm)
    elastic = catalogue.bolts.elastic_mpa
    closed = bend(posts, load, center, unit.plane_mm, elastic_mpa=elastic)
    bands = [_clamps(build, ear, catalogue) for ear in unit.ears]
    foot = int(closed.moments.argmax())
    opens_low = opens_likely = None
    band = bands[foot]
    if band is not None:
        opens_low, opens_likely = (posts[foot].opens_at(force) for force in band[:2])
    may_open = opens_low is not None and float(closed.moments[foot]) > opens_low
    opens = opens_likely is not None and float(closed.moments[foot]) > opens_likely
    angles = [
        _angle(build, cases, results, unit, None),
        _angle(build, cases, results, unit, closed),
    ]
    worst = angles[1]
    bent = closed
    if may_open:
        bent = bend(posts, load, center, unit.plane_mm, elastic_mpa=elastic, opened=True)
        worst = _angle(build, cases, results, unit, bent)
    return Pulled(
        shaft=unit.stack.shaft,
        rpm=rpm,
        hub_load_n=abs(load),
        shift_mm=float(closed.shift[2]),
        tilt_deg=(degrees(float(closed.tilt[0])), degrees(float(closed.tilt[1]))),
        rest_deg=angles[0],
        low_deg=angles[1],
        high_deg=worst,
        moment_nm=float(closed.moments[foot]) / 1000.0,
        opens_nm=None if opens_likely is None else opens_likely / 1000.0,
        opens=opens,
        bolt_mpa=float(bent.bolt_mpa.max()) if may_open else None,
        slot=_slot(build, unit, load, catalogue),
    )


def _slot(build: Build, unit: UnitStack, load: complex, catalogue: Catalogue) -> SlotHold | None:
    """Whether the bolt in the slot of a unit that swings holds the pull of its belts by friction; None
    for a unit that does not swing, and without a torque.
    """
    shaft = build.shaft(unit.stack.shaft)
    if not isinstance(shaft.mount, SwingMount):
        return None
    pivot = complex(*shaft.mount.pivot_mm)
    far = max(unit.ears, key=lambda ear: abs(complex(*ear.boss.at_mm) - pivot))
    clamps = _clamps(build, far, catalogue)
    if clamps is None:
        return None
    rules, center = catalogue.bolts, complex(*shaft.center_mm)
    needed = slot_pull_n(load, center, complex(*far.boss.at_mm), pivot, rules.slot_dynamic)
    # it is clamped between two faces
    return SlotHold(far.boss.label, needed, 2 * rules.slot_friction * clamps[0])


def _post(build: Build, ear: EarStack, catalogue: Catalogue) -> Post | str:
    bolt = bolt_of(build, ear, catalogue)
    if bolt is None:
        return f"the thread at {ear.boss.label} is not told"
    if ear.pieces is None:
        return f"the piece at {ear.boss.label} is not made yet"
    thread = bolt.thread
    parts = [build.find_part(piece.part) for piece in ear.pieces]
    outers = [part.outer_mm for part in parts if part is not None and part.outer_mm is not None]
    if len(outers) < len(parts):
        return f"of a piece at {ear.boss.label} no outer diameter is told"
    bores = [part.bore_mm for part in parts if part is not None and part.bore_mm is not None]
    base = ear.boss.z_mm + sum(stay.thickness_mm for stay in ear.ear.stays)
    return Post(
        at=complex(*ear.boss.at_mm),
        base_mm=base,
        length_mm=ear.there_mm,
        outer_mm=min(outers, default=2.0 * thread.diameter_mm),
        bore_mm=max(bores, default=thread.diameter_mm),
        bolt_mm=thread.diameter_mm - 0.9382 * thread.pitch_mm,
    )


def _clamps(build: Build, ear: EarStack, catalogue: Catalogue) -> tuple[float, ...] | None:
    """Clamp, N, low and likely first, less what the faces take as they bed in; None without a
    torque.
    """
    bolt = bolt_of(build, ear, catalogue)
    if bolt is None or bolt.clamp_n is None:
        return None
    return tuple(max(force - bolt.bedded_n, 0.0) for force in bolt.clamp_n)


def _greatest(
    build: Build, results: Results, shafts: Container[str]
) -> tuple[float, complex, float] | None:
    """The speed at which all belts of some shafts pull most together, that pull, complex N, and
    the plane it acts in, mm; None without a pull.
    """
    pulls: list[Complex] = []
    planes: list[float] = []
    rpm = np.linspace(build.engine.idle_rpm, build.engine.redline_rpm, PULL_SPEEDS)
    for drive in build.drives:
        each = results.drive(drive.id).readings.pulls_n
        for name, pull in zip(drive.route, each, strict=False):
            pulley = drive.pulley(name)
            if pulley.shaft in shafts:
                pulls.append(np.array(pull))
                planes.append(np.nan if pulley.plane_mm is None else pulley.plane_mm)
    if not pulls:
        return None
    total = np.sum(pulls, axis=0)
    lane = int(np.abs(total).argmax())
    sizes = np.array([abs(pull[lane]) for pull in pulls])
    plane = float((sizes * planes).sum() / sizes.sum()) if sizes.sum() else np.nan
    return float(rpm[lane]), complex(total[lane]), plane


class PlatePulled(Value, frozen=True):
    """A bracket's plate at the speed of the greatest pull of what it carries.

    low_deg, high_deg: how far it turns, the least and the most; angles: the worst angle of its belts at
    rest, and with that; good_deg: that is good for them; is_bound: a plate so short that it is stiffer
    than told.
    """

    bracket: str
    rpm: float
    pull_n: float
    low_deg: float
    high_deg: float
    angles_deg: tuple[float | None, float | None, float | None]
    good_deg: float
    is_bound: bool


def plates_pulled(
    build: Build, cases: Sequence[Case], results: Results, catalogue: Catalogue
) -> tuple[PlatePulled, ...]:
    """What the pull does to every bracket whose plate is told."""
    told = []
    for bracket in build.brackets:
        if bracket.plate is None:
            continue
        found = plate_pulled(build, cases, results, catalogue, bracket.plate, set(bracket.shafts))
        if found is not None:
            told.append(replace(found, bracket=bracket.id))
    return tuple(told)


def plate_pulled(
    build: Build,
    cases: Sequence[Case],
    results: Results,
    catalogue: Catalogue,
    model: PlateOf,
    shafts: set[str],
    elastic_mpa: float | None = None,
) -> PlatePulled | None:
    """What the pull of the belts at some shafts does to the plate that carries them; None without a
    pull. elastic_mpa: of the plate, absent that of its material.
    """
    found = _greatest(build, results, shafts)
    if found is None or not np.isfinite(found[2]):
        return None
    rpm, load, plane = found
    elastic = catalogue.bolts.modulus_mpa(model.material) if elastic_mpa is None else elastic_mpa
    way = complex(np.exp(1j * np.radians(model.direction_deg)))
    plate = Plate(
        model.length_mm,
        model.width_mm,
        model.thickness_mm,
        way,
        elastic,
        elastic / (2 * (1 + POISSON)),
    )
    ends = turned_by(plate, load, plane - model.z_mm)
    angles = [_worst(cases, results, shafts, lambda _k: None, turn) for turn in (0j, *ends)]
    return PlatePulled(
        "",
        rpm,
        abs(load),
        degrees(abs(ends[0])),
        degrees(abs(ends[1])),
        (angles[0], angles[1], angles[2]),
        _good(cases, shafts),
        not plate.is_long,
    )


def _good(cases: Sequence[Case], shafts: Container[str]) -> float:
    """The angle that is good for all belts at some shafts, degrees."""
    return min(
        (
            case.belt.profile.good_angle_deg
            for case in cases
            if any(shaft.id in shafts for shaft in case.shafts)
        ),
        default=np.inf,
    )


def _worst(
    cases: Sequence[Case],
    results: Results,
    shafts: Container[str],
    plane: Callable[[int], float | None],
    turn: complex,
) -> float | None:
    """The worst angle of the belts at some shafts, degrees, with their pulleys turned, rad about x
    (real) and y (imag), and shifted by what `plane` tells of each place on the route.
    """
    worst: float | None = None
    for case in cases:
        path = results.drive(case.model.id).rest_path
        if not isinstance(case, SolvableCase) or path is None:
            continue
        own = [k for k, shaft in enumerate(case.shafts) if shaft.id in shafts]
        if not own:
            continue
        seats = case.seats()
        planes, tilts = seats.plane_mm.copy(), seats.tilt.copy()
        for k in own:
            planes[k] += plane(k) or 0.0
            tilts[k] += turn.real, turn.imag
        found = align(path, Seats(planes, tilts, seats.flat)).span
        reach = [span for k in own for span in (k, (k - 1) % len(case.pulleys))]
        angles = np.degrees(np.abs(found[reach]))
        if np.isfinite(angles).any():
            most = float(np.nanmax(angles))
            worst = most if worst is None else max(worst, most)
    return worst


class Stood(Value, frozen=True):
    """The worst angle of a unit's belts where its pieces put it, and with its plane at an end of what
    their tolerances leave open in 95 of 100; good_deg: what is good for them. Degrees.
    """

    rest_deg: float
    edge_deg: float
    good_deg: float


def stood(build: Build, cases: Sequence[Case], results: Results, unit: UnitStack) -> Stood | None:
    """How a unit's belts run at rest; None where that is not known."""
    if unit.problem or unit.plane_mm is None or unit.pulley is None:
        return None
    each = [
        _angle(build, cases, results, unit, None, off) for off in (0.0, unit.rss_mm, -unit.rss_mm)
    ]
    known = [angle for angle in each if angle is not None]
    if len(known) < len(each):
        return None
    return Stood(known[0], max(known), _good(cases, {unit.stack.shaft}))


def _angle(
    build: Build,
    cases: Sequence[Case],
    results: Results,
    unit: UnitStack,
    bent: Bent | None,
    off_mm: float = 0.0,
) -> float | None:
    """The worst angle of the belts of a unit, degrees, as its stacks put it (off_mm: and so far beside)
    and bent by the pull.
    """
    assert unit.plane_mm is not None and unit.pulley is not None
    model = build.drive(unit.pulley[0]).pulley(unit.pulley[1])
    shift = off_mm + (0.0 if model.plane_mm is None else unit.plane_mm - model.plane_mm)
    # the tilt of the stacks takes the place of the one that is drawn
    turn = complex(*(np.radians(np.array(unit.tilt_deg) - np.array(model.tilt_deg))))
    if bent is not None:
        turn += complex(*bent.tilt[:2])
        shift += float(bent.shift[2])
    return _worst(cases, results, {unit.stack.shaft}, lambda _k: shift, turn)
