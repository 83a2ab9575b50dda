"""From the solved state of a drive to its results."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from jovial_tack.answers.drive.clearance import clear_travel
from jovial_tack.answers.drive.findings import clearance_findings, findings_of
from jovial_tack.answers.drive.lengths import called_for_length
from jovial_tack.answers.drive.reserve import grip_of, least_scale
from jovial_tack.answers.drive.solved import Solved, Turning
from jovial_tack.answers.drive.spread import Spread, share_sigma
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.places import Place, in_its_unit
from jovial_tack.answers.results import (
    PULL_SPEEDS,
    ArmResult,
    ClearanceResult,
    DriveResult,
    FixedResult,
    Numbers,
    PulleyResult,
    Readings,
    SpanResult,
    TravelResult,
    columns,
    number,
    numbers,
)
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import MM_PER_M, RAD_S_PER_RPM, Float
from jovial_tack.core.belt.lines import back_length, effective_length
from jovial_tack.core.drive.adjuster import INSIDE, NO_PATH
from jovial_tack.core.drive.inverse import belt_for_angle
from jovial_tack.core.drive.sliding import Slide, Track
from jovial_tack.core.grip.reserve import beyond_arc
from jovial_tack.core.grip.revs import ranges_beyond
from jovial_tack.core.grip.span_readings import deflection_force, span_tone
from jovial_tack.core.value import Value, replace
from jovial_tack.document.model import (
    Build,
    LockedTensioner,
    Obstacle,
    SlotMount,
    Sprung,
    SwingMount,
)


class _Asked(Value, frozen=True):
    """What is asked of every drive: see `solve_again`."""

    build: Build
    obstacles: tuple[Obstacle, ...]
    rpm: tuple[float, ...]
    catalogue: Catalogue
    live: bool
    reserve: bool
    check_cancelled: Callable[[], None]
    spread: Spread | None


def _result_of(asked: _Asked, solved: Solved, near: tuple[ClearanceResult, ...]) -> DriveResult:
    case, live, catalogue, check_cancelled = (
        solved.case,
        asked.live,
        asked.catalogue,
        asked.check_cancelled,
    )
    speech = Speech(case, asked.build.display_units)
    blank = DriveResult(case.model.id, asked.rpm)
    least = None
    if not live:
        check_cancelled()
        least = least_scale(solved) if asked.reserve else None
        check_cancelled()
        if asked.obstacles:
            free = clear_travel(case, asked.obstacles, catalogue, _at_rest(solved))
            solved = replace(solved, usable=free)
        check_cancelled()
    by_angle = case.arm is not None and not case.arm.slides and solved.usable is not None

    def read() -> Readings:
        found = findings_of(solved, catalogue, speech)
        found += clearance_findings(asked.build, solved, near, speech)
        if solved.rest is None:
            return Readings(found)
        return Readings(
            found,
            _spans(solved),
            _pulleys(solved),
            pulls_n=_pulls(solved),
            growth_left_mm=_growth_left(solved),
        )

    if solved.rest is None:
        return replace(blank, read=read)
    profile = case.belt.profile
    total = float(solved.rest.total)
    return DriveResult(
        id=case.model.id,
        rpm=asked.rpm,
        read=read,
        cord_length_mm=total,
        path_effective_length_mm=effective_length(total, profile.effective_to_cord_mm),
        back_length_mm=back_length(total, profile.cord_to_back_mm),
        belt_speed_mps=numbers(solved.drive.speed(solved.rpm[: solved.listed])),
        tensioner=_tensioner(solved, asked.spread),
        grip=grip_of(solved, least) if asked.reserve and not live else None,
        clearances=near,
        usable_travel_deg=_degrees(solved.usable) if by_angle else None,
        usable_travel_fraction=None if by_angle else solved.usable,
        driver=case.model.route[case.driver],
        rest_path=solved.rest,
        arcs_used=_arcs_used(solved),
        guessed=case.guessed,
        situation=case.situation,
    )


def _at_rest(solved: Solved) -> float | None:
    """The value of the adjuster's freedom at rest; None where it is not known."""
    slide = solved.case.slide
    if slide is not None:
        return slide.share
    return solved.rest_angle if np.isfinite(solved.rest_angle) else None


def _degrees(ends: tuple[float, float] | None) -> tuple[float, float] | None:
    return None if ends is None else (float(np.degrees(ends[0])), float(np.degrees(ends[1])))


def _tensioner(solved: Solved, spread: Spread | None) -> ArmResult | FixedResult | None:
    model = solved.case.model.tensioner
    turning = solved.turning
    if turning is None or model is None or solved.rest is None:
        return None
    if isinstance(model, Sprung):
        return _arm(solved, model, turning, spread)
    called_for = travel = None
    if isinstance(model, LockedTensioner):
        called_for = called_for_length(solved.case, solved.usable)
        travel = _travel(solved, spread)
    return FixedResult(called_for, turning.rest_traction_n, travel)


def _travel(solved: Solved, spread: Spread | None) -> TravelResult | None:
    slide = solved.case.slide
    if slide is None or slide.share is None:
        return None
    here, *others = (_point(slide.track, share) for share in (slide.share, *slide.others))
    whole = slide.track.length_mm
    left = slide.share * whole, (1 - slide.share) * whole
    known = None
    if spread is not None:
        known = share_sigma(solved.case, slide.share, spread)
    surveyed = spread is not None and spread.surveyed
    turns = _turns_to_go(solved, slide)
    return TravelResult(here, slide.share, left, tuple(others), turns, known, surveyed)


def _turns_to_go(solved: Solved, slide: Slide) -> float | None:
    """Turns of the screw from where the shaft is drawn to where the belt wants it."""
    shaft = solved.case.shafts[solved.case.moving[0]]
    mount, way = shaft.mount, slide.track.length_mm
    if not isinstance(mount, SlotMount | SwingMount) or mount.screw_pitch_mm is None:
        return None
    if isinstance(mount, SwingMount) and mount.screw_radius_mm is not None:
        way *= mount.screw_radius_mm / mount.radius_mm
    assert slide.share is not None
    drawn = slide.track.share(complex(*shaft.center_mm))
    return (slide.share - drawn) * way / mount.screw_pitch_mm


def _point(track: Track, share: float) -> tuple[float, float]:
    center = complex(track.center(np.asarray(share)))
    return center.real, center.imag


def _arm(solved: Solved, model: Sprung, turning: Turning, spread: Spread | None) -> ArmResult:
    arm, running, listed = solved.case.arm, turning.nominal, solved.listed
    assert arm is not None
    rest = np.asarray(solved.rest_angle)
    before = (arm.index - 1) % solved.drive.pulley_count
    traction = (running.tractions[:listed, before] + running.tractions[:listed, arm.index]) / 2
    at_stop = tuple(
        None if outcome == NO_PATH else bool(outcome != INSIDE)
        for outcome in running.outcome[:listed]
    )
    window_sd = None
    torque = float(arm.spring_torque(rest))
    toggle = float(in_its_unit(arm, np.asarray(solved.toggle)))
    has_window = model.told_window is not None
    if spread is not None and has_window:
        window_sd = share_sigma(solved.case, solved.rest_angle, spread)
    return ArmResult(
        place=Place.of(arm, solved.rest_angle),
        torque_nm=None if arm.slides else torque,
        tension_n=turning.rest_traction_n,
        window_fraction=float(arm.window_fraction(rest)) if has_window else None,
        toggle_deg=None if arm.slides else number(toggle),
        running=numbers(in_its_unit(arm, running.angle[:listed])),
        running_tension_n=numbers(traction),
        at_stop=at_stop,
        window_sd=window_sd,
        surveyed=spread is not None and spread.surveyed,
        force_n=torque * MM_PER_M / arm.arm_mm if arm.slides else None,
        travel_share=solved.rest_angle if arm.slides else None,
        toggle_mm=number(toggle) if arm.slides else None,
    )


def _columns(values: Float | None, solved: Solved) -> tuple[Numbers, ...]:
    """Of a table (R, N) the listed speeds, as one list for each of the N pulleys."""
    if values is None:
        return ((None,) * solved.listed,) * solved.drive.pulley_count
    return columns(values[: solved.listed])


def _spans(solved: Solved) -> tuple[SpanResult, ...]:
    rest, route = solved.rest, solved.case.model.route
    assert rest is not None
    total, traction = None, np.asarray(np.nan)
    if solved.turning is not None:
        total = solved.turning.nominal.total_tension
        traction = np.asarray(solved.turning.rest_traction_n)
    tones = span_tone(traction, rest.length, solved.drive.mass_kg_per_m)
    # the pulleys turn freely at rest, so the whole belt gives (METHOD 9); of V-belts side by side one
    # is pushed, which has its share of tension and stiffness
    one = 1.0 / solved.case.belt.belts
    give = np.asarray(one * solved.drive.belt.stiffness_n / rest.total)
    pull = np.asarray(one * traction)
    push = deflection_force(pull, rest.length, rest.length / 64, give)
    start, end = rest.start, rest.end
    angles = None if solved.alignment is None else np.degrees(solved.alignment.span)
    tension = _columns(total, solved)
    return tuple(
        SpanResult(
            from_id=name,
            to_id=route[(place + 1) % len(route)],
            length_mm=float(rest.length[place]),
            start_mm=(float(start[place].real), float(start[place].imag)),
            end_mm=(float(end[place].real), float(end[place].imag)),
            tension_n=tension[place],
            tone_hz=number(float(tones[place])),
            push_n=number(float(push[place])),
            misalignment_deg=None if angles is None else number(float(angles[place])),
        )
        for place, name in enumerate(route)
    )


_OF_TURNING = ("hub_load_n", "hub_direction_deg", "arc_used_fraction", "low_arc_used")


def _turning_table(turning: Turning) -> dict[str, Float | None]:
    """What needs tension, as tables (R, N) by the names of `PulleyResult`."""
    hub = turning.nominal.hub_load
    return {
        "hub_load_n": np.abs(hub),
        "hub_direction_deg": np.degrees(np.angle(hub)),
        "arc_used_fraction": turning.nominal.arc_used_fraction,
        "low_arc_used": turning.low.arc_used_fraction,
    }


def _pulleys(solved: Solved) -> tuple[PulleyResult, ...]:
    rest, drive, turning = solved.rest, solved.drive, solved.turning
    assert rest is not None
    speeds = solved.rpm[:, None] * drive.ratios
    power = solved.torque * speeds * RAD_S_PER_RPM / 1000.0
    over = solved.over_revs
    used = None if over is None else over.low.arc_used_fraction
    table: dict[str, Float | None] = {
        "rpm": speeds,
        "torque_nm": solved.torque,
        "power_kw": power,
        **(dict.fromkeys(_OF_TURNING) if turning is None else _turning_table(turning)),
    }
    lists = {name: _columns(values, solved) for name, values in table.items()}
    return tuple(
        PulleyResult(
            id=pulley.id,
            wrap_deg=float(np.degrees(rest.wrap[place])),
            turns="ccw" if solved.case.signs[place] > 0 else "cw",
            speed_ratio=float(drive.ratios[place]),
            **{name: of_all[place] for name, of_all in lists.items()},
            worst_arc_used=None if used is None else number(float(used[:, place].max())),
            slips_rpm=()
            if over is None or used is None
            else ranges_beyond(over.rpm, beyond_arc(used[:, place])),
        )
        for place, pulley in enumerate(solved.case.pulleys)
    )


def _arcs_used(solved: Solved) -> tuple[Float, Float] | None:
    if solved.turning is None:
        return None
    nominal, low = solved.turning.nominal, solved.turning.low
    listed = solved.listed
    return nominal.arc_used_fraction[:listed], low.arc_used_fraction[:listed]


def _growth_left(solved: Solved) -> float | None:
    """Stretch left until the arm is at the end of its window, mm; None without an arm."""
    arm, drive = solved.case.arm, solved.drive
    if arm is None or solved.turning is None:
        return None
    ends = np.array([solved.rest_angle, arm.window[1]])
    here, at_end = belt_for_angle(drive.layout, arm, drive.belt, ends)
    return number(float(at_end - here))


def _pulls(solved: Solved) -> tuple[tuple[complex, ...], ...]:
    """What the belt pulls on each pulley at even steps from idle to redline, complex N; () where it has
    no tension.
    """
    over = solved.over_revs
    if over is None:
        return ()
    engine, hub = solved.case.engine, over.high.hub_load
    rpm = np.linspace(engine.idle_rpm, engine.redline_rpm, PULL_SPEEDS)
    rows = [np.interp(rpm, over.rpm, hub[:, k]) for k in range(hub.shape[1])]
    return tuple(tuple(map(complex, row)) for row in rows) if np.isfinite(hub).all() else ()
