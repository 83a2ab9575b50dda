"""Where a bracket plate must not be: belts and pulleys over their travel, bodies, what is in the way.

docs/METHOD.md, section 16.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from jovial_tack.answers.drive.case import Case, SolvableCase, seat_offset
from jovial_tack.answers.drive.freedom import freedom_of, hung_outline
from jovial_tack.answers.drive.scene import scene_of
from jovial_tack.answers.results import ArmResult, Results
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.arrays import Complex, Float
from jovial_tack.core.drive.path import Path
from jovial_tack.core.lay_out.clearance import Room
from jovial_tack.core.line_up.plate_checks import bands, barrier, swept
from jovial_tack.core.line_up.plate_cuts import KeptOut
from jovial_tack.document import model as doc
from jovial_tack.document.meant import carried_by
from jovial_tack.document.travel import track_on

#: Places of a travel that are looked at; what lies between is covered by hulls.
_PLACES = 9
#: Pieces of a span, whose swing is a parabola; corners of a disc drawn round it.
_SPAN_PIECES, _DISC_CORNERS = 6, 48
_LINE_HALF_MM = 0.1
Depth = tuple[float, float]


def kept_out(
    build: doc.Build,
    cases: Sequence[Case],
    results: Results,
    catalogue: Catalogue,
    plate: doc.Plate,
) -> tuple[KeptOut, ...]:
    """Where a plate must not be, at its depth. Belts whose planes are not told are left out."""
    if plate.stands_on is not None:
        return tuple(_own(plate))  # it stands square to the front view
    found = [*_own(plate), *_obstacles(build, results, catalogue, plate)]
    for case in cases:
        path = results.drive(case.model.id).rest_path
        if isinstance(case, SolvableCase) and path is not None:
            found += list(_belt(case, path, results, catalogue, plate))
    return tuple(found)


def _own(plate: doc.Plate) -> Iterator[KeptOut]:
    for k, one in enumerate(plate.keep_out):
        outline = np.array([complex(*point) for point in one.outline_mm])
        name = one.name or f"keep-out {k + 1}"
        yield from (KeptOut(name, part, one.clear_mm, "plate") for part in bands([outline]))


def _reaches(plate: doc.Plate, depth: Depth | None, clear_mm: float) -> bool:
    """Whether something at a depth comes as near to a plate as it may not; at any depth for None."""
    if depth is None:
        return True
    low, high = min(depth) - clear_mm, max(depth) + clear_mm
    return low < plate.front_mm and high > plate.z_mm


def _obstacles(
    build: doc.Build, results: Results, catalogue: Catalogue, plate: doc.Plate
) -> Iterator[KeptOut]:
    carried = carried_by(build, plate)
    for obstacle in build.obstacles:
        clear = obstacle.needed_mm
        if clear is None:
            clear = catalogue.obstacles[obstacle.kind].needed_mm
        if obstacle.moves_with in carried and obstacle.z_mm is None:
            continue  # what the plate carries stands on it somewhere
        if not _reaches(plate, obstacle.z_mm, clear):
            continue
        name = f"{obstacle.label}, over its swing" if obstacle.moves_with else obstacle.label
        if obstacle.closed and len(obstacle.outline_mm) > 2:
            parts = swept(_places(build, results, obstacle))
        else:
            line = np.array([complex(*point) for point in obstacle.outline_mm])
            parts = barrier(line, _LINE_HALF_MM)
        yield from (KeptOut(name, part, clear, obstacle.id) for part in bands(parts))


def _places(build: doc.Build, results: Results, obstacle: doc.Obstacle) -> list[Complex]:
    """The outline of an obstacle over the travel of the shaft it hangs on; one that stands has one."""
    still = np.array([complex(*point) for point in obstacle.outline_mm])
    if obstacle.moves_with is None:
        return [still]
    shaft = build.shaft(obstacle.moves_with)
    track = track_on(shaft.mount)
    if track is None:
        return [still]
    outlines = []
    for share in np.linspace(0.0, 1.0, _PLACES):
        at = complex(track.center(np.asarray(share)))
        moved = hung_outline(build, obstacle, {shaft.id: (at.real, at.imag)})
        outlines.append(np.array([complex(*point) for point in moved]))
    return outlines


def _belt(
    case: SolvableCase, path: Path, results: Results, catalogue: Catalogue, plate: doc.Plate
) -> Iterator[KeptOut]:
    """The band a belt and its pulleys take up, at rest and with the arm anywhere in its window."""
    depth = _depth(case)
    clear = catalogue.obstacles["body"].needed_mm
    if depth is None or not _reaches(plate, depth, clear):
        return
    scene = scene_of(case, (), catalogue)
    lanes = [path]
    freedom, arm = freedom_of(case), case.arm
    if isinstance(results.drive(case.model.id).tensioner, ArmResult) and arm and freedom:
        moved = freedom.paths(np.linspace(*arm.window, _PLACES))
        lanes = [moved.lanes(k) for k in range(_PLACES)]
        lanes = [lane for lane in lanes if np.isfinite(lane.total)] + [path]
    pieces: list[Complex] = []
    every = [_outlines(lane, scene.room, scene.rims) for lane in lanes]
    for part in zip(*every, strict=True):
        # at rest the arm is inside its window, but need not be: that place stands by itself
        pieces += list(swept(part[:-1])) if len(part) > 1 else []
        pieces += list(swept(part[-1:]))
    label = case.model.label
    yield from (
        KeptOut(f"the belt of {label} and its pulleys", part, clear, case.model.id)
        for part in bands(pieces)
    )


def _depth(case: SolvableCase) -> Depth | None:
    """The depths a belt takes up; None where the plane of a pulley is not told."""
    pitch = case.belt.profile.pitch_mm
    half = case.belt.ribs * pitch / 2
    planes = [
        pulley.plane_mm + seat_offset(pulley, case.belt.ribs, pitch)
        for pulley in case.pulleys
        if pulley.plane_mm is not None
    ]
    if len(planes) < sum(pulley.side == "ribs" for pulley in case.pulleys) or not planes:
        return None
    return min(planes) - half, max(planes) + half


def _outlines(path: Path, room: Room, rims_mm: Float) -> list[Complex]:
    """Every span with its swing, then every pulley, as outlines of as many corners in each lane."""
    shares = np.linspace(0.0, 1.0, _SPAN_PIECES + 1)
    found = []
    lengths = np.abs(path.end - path.start)
    for k in range(path.signed_radii.size):
        along = path.end[k] - path.start[k]
        aside = 1j * along / max(lengths[k], 1e-9)
        swing = 4.0 * float(np.broadcast_to(room.flutter, lengths.shape)[k]) * lengths[k]
        off = swing * shares * (1.0 - shares)
        line = path.start[k] + shares * along
        left = line + aside * (off + float(np.broadcast_to(room.left_mm, lengths.shape)[k]))
        right = line - aside * (off + float(np.broadcast_to(room.right_mm, lengths.shape)[k]))
        found.append(np.concatenate([left, right[::-1]]))
    most = np.broadcast_to(room.most_mm, lengths.shape)
    radii = np.maximum(rims_mm, np.abs(path.signed_radii) + most)
    turns = np.exp(2j * np.pi * np.arange(_DISC_CORNERS) / _DISC_CORNERS)
    round_it = 1.0 / np.cos(np.pi / _DISC_CORNERS)  # the corners stand outside of the disc
    found += [
        center + radius * round_it * turns
        for center, radius in zip(path.centers, radii, strict=True)
    ]
    return found
