"""From the solved state of a drive to its results."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from jovial_tack.answers.drive.clearance import clear_travel
from jovial_tack.answers.drive.findings import clearance_findings, findings_of
from jovial_tack.answers.drive.lengths import called_for_length
from jovial_tack.answers.drive.reserve import grip_of, least_scale, slip_onset
from jovial_tack.answers.drive.state import SolvedDrive
from jovial_tack.answers.drive.words import Speech
from jovial_tack.answers.results import (
    ArmResult,
    ClearanceResult,
    DriveResult,
    FixedResult,
    Numbers,
    PulleyResult,
    SpanResult,
    Told,
    TravelResult,
    columns,
    number,
    numbers,
)
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import RAD_S_PER_RPM, Float
from jovial_tack.core.belt.lines import back_length, effective_length
from jovial_tack.core.drive.adjuster import INSIDE, NO_PATH
from jovial_tack.core.drive.inverse import belt_for_angle
from jovial_tack.core.drive.sliding import Slide, Track
from jovial_tack.core.grip.span_readings import deflection_force, span_tone
from jovial_tack.document.model import (
    Build,
    LockedTensioner,
    Obstacle,
    SlotMount,
    SpringArmTensioner,
    SwingMount,
)


@dataclass(frozen=True)
class _Asked:
    """What is asked of every drive: see `solve_again`."""

    build: Build
    obstacles: tuple[Obstacle, ...]
    rpm: tuple[float, ...]
    catalogue: Catalogue
    live: bool
    heed: Callable[[], None]


def _result_of(asked: _Asked, state: SolvedDrive, near: tuple[ClearanceResult, ...]) -> DriveResult:
    case, live, catalogue, heed = state.case, asked.live, asked.catalogue, asked.heed
    speech = Speech(case, asked.build.display_units)
    blank = DriveResult(case.model.id, asked.rpm)
    least = onset = None
    if not live:
        heed()
        least = least_scale(state)
        heed()
        onset = slip_onset(state, exact=True)
        heed()
        if asked.obstacles:
            free = clear_travel(case, asked.obstacles, catalogue, _at_rest(state))
            state = replace(state, usable=free)
        heed()
    by_angle = case.arm is not None and state.usable is not None

    def tell() -> Told:
        slips_from = slip_onset(state, exact=False) if live else onset
        found = findings_of(state, catalogue, speech, slips_from, least, mends=not live)
        found += clearance_findings(asked.build, state, near, speech)
        if state.rest is None:
            return Told(found)
        return Told(found, _spans(state), _pulleys(state), _spacers(state), _growth_left(state))

    if state.rest is None:
        return replace(blank, tell=tell)
    profile = case.belt.profile
    total = float(state.rest.total)
    return DriveResult(
        id=case.model.id,
        rpm=asked.rpm,
        tell=tell,
        cord_length_mm=total,
        path_effective_length_mm=effective_length(total, profile.effective_to_cord_mm),
        back_length_mm=back_length(total, profile.cord_to_back_mm),
        belt_speed_mps=numbers(state.drive.speed(state.rpm[: state.listed])),
        tensioner=_tensioner(state),
        grip=None if live else grip_of(state, onset, least),
        clearances=near,
        usable_travel_deg=_degrees(state.usable) if by_angle else None,
        usable_travel_fraction=None if by_angle else state.usable,
        driver=case.model.route[case.driver],
        rest_path=state.rest,
        arcs_used=_arcs_used(state),
    )


def _at_rest(state: SolvedDrive) -> float | None:
    """The value of the adjuster's freedom at rest; None where it is not known."""
    slide = state.case.slide
    if slide is not None:
        return slide.share
    return state.rest_angle if np.isfinite(state.rest_angle) else None


def _degrees(ends: tuple[float, float] | None) -> tuple[float, float] | None:
    return None if ends is None else (float(np.degrees(ends[0])), float(np.degrees(ends[1])))


def _tensioner(state: SolvedDrive) -> ArmResult | FixedResult | None:
    model = state.case.model.tensioner
    if state.running is None or model is None or state.rest is None:
        return None
    if isinstance(model, SpringArmTensioner):
        return _arm(state, model)
    called_for = travel = None
    if isinstance(model, LockedTensioner):
        called_for = called_for_length(state.case, state.usable)
        travel = _travel(state)
    return FixedResult(called_for, state.rest_traction_n, travel)


def _travel(state: SolvedDrive) -> TravelResult | None:
    slide = state.case.slide
    if slide is None or slide.share is None:
        return None
    here, *others = (_point(slide.track, share) for share in (slide.share, *slide.others))
    whole = slide.track.length_mm
    left = slide.share * whole, (1 - slide.share) * whole
    return TravelResult(here, slide.share, left, tuple(others), _turns_to_go(state, slide))


def _turns_to_go(state: SolvedDrive, slide: Slide) -> float | None:
    """Turns of the screw from where the shaft is drawn to where the belt wants it."""
    shaft = state.case.shafts[state.case.moving[0]]
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


def _arm(state: SolvedDrive, model: SpringArmTensioner) -> ArmResult:
    arm, running, listed = state.case.arm, state.running, state.listed
    assert arm is not None and running is not None
    rest = np.asarray(state.rest_angle)
    before = (arm.index - 1) % state.drive.pulley_count
    traction = (running.tractions[:listed, before] + running.tractions[:listed, arm.index]) / 2
    at_stop = tuple(
        None if outcome == NO_PATH else bool(outcome != INSIDE)
        for outcome in running.outcome[:listed]
    )
    return ArmResult(
        arm_angle_deg=float(np.degrees(rest)),
        torque_nm=float(arm.spring_torque(rest)),
        tension_n=state.rest_traction_n,
        window_fraction=float(arm.window_fraction(rest)) if model.window_deg else None,
        toggle_deg=number(state.toggle_deg),
        running_angle_deg=numbers(np.degrees(running.angle[:listed])),
        running_tension_n=numbers(traction),
        at_stop=at_stop,
    )


def _columns(values: Float | None, state: SolvedDrive) -> tuple[Numbers, ...]:
    """Of a table (R, N) the listed speeds, as one list for each of the N pulleys."""
    if values is None:
        return ((None,) * state.listed,) * state.drive.pulley_count
    return columns(values[: state.listed])


def _spans(state: SolvedDrive) -> tuple[SpanResult, ...]:
    rest, route = state.rest, state.case.model.route
    assert rest is not None
    total = None if state.running is None else state.running.total_tension
    tones = span_tone(np.asarray(state.rest_traction_n), rest.length, state.drive.mass_kg_per_m)
    # the pulleys turn freely at rest, so the whole belt gives (METHOD 9)
    give = state.drive.belt.stiffness_n / rest.total
    push = deflection_force(
        np.asarray(state.rest_traction_n), rest.length, rest.length / 64, np.asarray(give)
    )
    start, end = rest.start, rest.end
    angles = None if state.alignment is None else np.degrees(state.alignment.span)
    tension = _columns(total, state)
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


def _pulleys(state: SolvedDrive) -> tuple[PulleyResult, ...]:
    rest, drive, running = state.rest, state.drive, state.running
    assert rest is not None
    low = None if state.low is None else state.low.arc_used_fraction
    speeds = state.rpm[:, None] * drive.ratios
    power = state.torque * speeds * RAD_S_PER_RPM / 1000.0
    hub = None if running is None else running.hub_load
    worst = None if low is None else low.max(axis=0)
    table = {
        "rpm": speeds,
        "torque_nm": state.torque,
        "power_kw": power,
        "hub_load_n": None if hub is None else np.abs(hub),
        "hub_direction_deg": None if hub is None else np.degrees(np.angle(hub)),
        "arc_used_fraction": None if running is None else running.arc_used_fraction,
        "low_arc_used": low,
    }
    lists = {name: _columns(values, state) for name, values in table.items()}
    return tuple(
        PulleyResult(
            id=pulley.id,
            wrap_deg=float(np.degrees(rest.wrap[place])),
            turns="ccw" if state.case.signs[place] > 0 else "cw",
            speed_ratio=float(drive.ratios[place]),
            **{name: of_all[place] for name, of_all in lists.items()},
            worst_arc_used=None if worst is None else number(float(worst[place])),
        )
        for place, pulley in enumerate(state.case.pulleys)
    )


def _arcs_used(state: SolvedDrive) -> tuple[Float, Float] | None:
    if state.running is None or state.low is None:
        return None
    listed = state.listed
    return state.running.arc_used_fraction[:listed], state.low.arc_used_fraction[:listed]


def _spacers(state: SolvedDrive) -> Numbers:
    seats, moves = state.case.seats(), state.moves
    if moves is None:
        return (None,) * seats.flat.size
    return numbers(np.where(seats.flat | np.isnan(seats.plane_mm), np.nan, moves))


def _growth_left(state: SolvedDrive) -> float | None:
    """Stretch left until the arm is at the end of its window, mm; None without an arm."""
    arm, drive = state.case.arm, state.drive
    if arm is None or state.running is None:
        return None
    ends = np.array([state.rest_angle, arm.window[1]])
    here, at_end = belt_for_angle(drive.layout, arm, drive.belt, ends)
    return number(float(at_end - here))
