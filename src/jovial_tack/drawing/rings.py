"""Rings round pulleys: how much of each wrap is used from idle, at the lower left, to redline."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from jovial_tack.core.arrays import Float
from jovial_tack.document.model import Build
from jovial_tack.document.targets import NOTHING
from jovial_tack.drawing.front import arc_role
from jovial_tack.drawing.shapes import Arc, Role, Shape

_OFF_MM, _WIDTH_MM = 9.0, 7.0
_START_DEG, _SWEEP_DEG = 225.0, -270.0


def rings_of(
    build: Build,
    drive_id: str,
    used: Float,
    watch: float,
    centers: Mapping[str, tuple[float, float]],
) -> tuple[Shape, ...]:
    """A ring round each pulley that grips something; used (C, N): shares over evenly spaced revs,
    centers: where the shafts stand.
    """
    return tuple(_rings(build, drive_id, used, watch, centers))


def _rings(
    build: Build,
    drive_id: str,
    used: Float,
    watch: float,
    centers: Mapping[str, tuple[float, float]],
) -> Iterator[Shape]:
    drive, columns = build.drive(drive_id), used.shape[0]
    step = _SWEEP_DEG / columns
    for place, name in enumerate(drive.route):
        if not used[:, place].any():
            continue  # what only turns uses nothing
        pulley = drive.pulley(name)
        roles: list[Role] = [arc_role(float(share), watch) for share in used[:, place]]
        first = 0
        for column in range(1, columns + 1):
            if column < columns and roles[column] == roles[first]:
                continue
            yield Arc(
                f"ring/{drive_id}/{name}/{first}",
                roles[first],
                86.0,
                NOTHING,
                centers[pulley.shaft],
                pulley.diameter_mm / 2 + _OFF_MM,
                _START_DEG + first * step,
                (column - first) * step,
                _WIDTH_MM,
            )
            first = column
