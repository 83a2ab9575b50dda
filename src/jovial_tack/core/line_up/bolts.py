"""Bolts through a stack: threads, engagement, length, clamp, and what bedding in takes of it.

ISO 898-1, ISO 888, ISO 4014, ASME B18.2.1, FED-STD-H28, VDI 2230. docs/METHOD.md, section 12. Lengths
mm, forces N, torques N·m.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from math import pi

from jovial_tack.core.errors import GeometryError
from jovial_tack.core.units import MM_PER_INCH
from jovial_tack.core.value import Value

_METRIC = re.compile(r"M\s*(\d+(?:[.,]\d+)?)(?:\s*[x×-]\s*(\d+(?:[.,]\d+)?))?", re.I)
_INCH = re.compile(r"(?:(\d+)[\s-])?(\d+)/(\d+)\s*(?:\"|in)?\s*-\s*(\d+)", re.I)
_COARSE = {3: 0.5, 4: 0.7, 5: 0.8, 6: 1.0, 8: 1.25, 10: 1.5, 12: 1.75, 14: 2.0, 16: 2.0, 20: 2.5}
#: Height of the thread's triangle over its pitch, and shares of it; ISO 68-1.
_HEIGHT = 0.8660254


class Thread(Value, frozen=True):
    """A thread: diameter and pitch, mm; inch: whether its bolts come in inches."""

    diameter_mm: float
    pitch_mm: float
    inch: bool = False

    @property
    def stress_area_mm2(self) -> float:
        """Area that carries pull, mm²; ISO 898-1."""
        return pi / 4 * (self.diameter_mm - 0.9382 * self.pitch_mm) ** 2

    def threaded_mm(self, length_mm: float) -> float:
        """How much of a bolt of some length is threaded, mm; ISO 888, ASME B18.2.1."""
        if self.inch:
            more = 0.25 if length_mm <= 6 * MM_PER_INCH else 0.5
            return min(2 * self.diameter_mm + more * MM_PER_INCH, length_mm)
        more = 6.0 if length_mm <= 125 else 12.0 if length_mm <= 200 else 25.0
        return min(2 * self.diameter_mm + more, length_mm)

    def strips_at_mm(self, tensile_mpa: float, shear_mpa: float) -> float:
        """Engagement at which the hole's threads are as strong as the bolt, mm; FED-STD-H28."""
        ratio = self.diameter_mm / self.pitch_mm
        per_mm = pi * ratio * (self.pitch_mm / 2 + 0.57735 * 0.6495 * self.pitch_mm)
        return self.stress_area_mm2 * tensile_mpa / (per_mm * shear_mpa)


def thread_of(text: str) -> Thread:
    """A thread from its name. Raises GeometryError for one that cannot be read.

    >>> thread_of("M10x1.5")
    Thread(diameter_mm=10.0, pitch_mm=1.5, inch=False)
    >>> round(thread_of("3/8-16").diameter_mm, 3)
    9.525
    """
    metric = _METRIC.fullmatch(text.strip())
    if metric is not None:
        size = float(metric[1].replace(",", "."))
        pitch = metric[2]
        if pitch is None and size not in _COARSE:
            raise GeometryError(f"“{text}” needs its pitch, as in M10x1.5")
        step = _COARSE[int(size)] if pitch is None else float(pitch.replace(",", "."))
        if 0 < step < size / 2:
            return Thread(size, step)
    inch = _INCH.fullmatch(text.strip())
    if inch is not None and int(inch[3]) and int(inch[4]):
        size = (int(inch[1] or 0) + int(inch[2]) / int(inch[3])) * MM_PER_INCH
        step = MM_PER_INCH / int(inch[4])
        if 0 < step < size / 2:
            return Thread(size, step, inch=True)
    raise GeometryError(f"“{text}” is no thread; write M10x1.5, M10 or 3/8-16")


class Hole(Value, frozen=True):
    """What a bolt goes into: thread depth mm, None for a hole right through (with a nut its height);
    needed_mm: engagement that holds.
    """

    thread: Thread
    depth_mm: float | None
    needed_mm: float


class BoltFit(Value, frozen=True):
    """A bolt in its hole, mm. free_mm: from its end to the bottom, None through; shank_free_mm: how far
    its shank stays before the hole, less than nothing where it bottoms and nothing is clamped.
    """

    length_mm: float
    engagement_mm: float
    free_mm: float | None
    shank_free_mm: float


def fit(hole: Hole, grip_mm: float, length_mm: float, threaded_mm: float | None = None) -> BoltFit:
    """How a bolt of some length sits behind a grip.

    Parameters: threaded_mm of the bolt, absent as its standard has it.

    >>> hole = Hole(thread_of("M10"), 25.0, 20.0)
    >>> found = fit(hole, 30.0, 50.0)
    >>> found.engagement_mm, found.free_mm
    (20.0, 5.0)
    """
    thread = hole.thread
    own = thread.threaded_mm(length_mm) if threaded_mm is None else min(threaded_mm, length_mm)
    into = length_mm - grip_mm
    engaged = min(into, own) if hole.depth_mm is None else min(into, hole.depth_mm, own)
    free = None if hole.depth_mm is None else hole.depth_mm - into
    shank = length_mm - own
    # a bolt threaded all along has no shank; else its last thread may not be reached
    reach = grip_mm - thread.pitch_mm / 2 - shank if shank > 0 else grip_mm
    return BoltFit(length_mm, max(engaged, 0.0), free, reach)


def lengths(hole: Hole, grip_mm: float, end_room_mm: float) -> tuple[float, float | None]:
    """The least length that holds, and the most that does not bottom, mm; None right through."""
    most = None if hole.depth_mm is None else grip_mm + hole.depth_mm - end_room_mm
    return grip_mm + hole.needed_mm, most


def standard_length(
    hole: Hole, grip_mm: float, series_mm: Sequence[float], end_room_mm: float
) -> float | None:
    """The shortest of a series of lengths, mm, that holds, does not bottom, and whose shank is free;
    None where there is none.
    """
    least, most = lengths(hole, grip_mm, end_room_mm)
    for length in sorted(series_mm):
        ends = length >= least - 1e-9 and (most is None or length <= most + 1e-9)
        if ends and fit(hole, grip_mm, length).shank_free_mm >= 0:
            return length
    return None


def clamp_n(thread: Thread, torque_nm: float, factors: Sequence[float]) -> tuple[float, ...]:
    """The clamp of a torque at each of some torque factors, the lowest clamp first: F = T/(K·d).

    >>> [round(force) for force in clamp_n(thread_of("M10"), 45.0, [0.14, 0.20, 0.26])]
    [17308, 22500, 32143]
    """
    forces = [1000.0 * torque_nm / (factor * thread.diameter_mm) for factor in factors]
    return tuple(sorted(forces))


def bedded_n(
    thread: Thread, grip_mm: float, faces: int, *, bedding_um: float, elastic_mpa: float
) -> float:
    """Clamp that is lost as faces bed in, N: what they give over how far bolt and parts stretch. The
    shorter the bolt and the more washers, the more; VDI 2230.
    """
    gives = (grip_mm + 0.8 * thread.diameter_mm) / (elastic_mpa * thread.stress_area_mm2)
    return faces * bedding_um / 1000.0 / (1.2 * gives)


def slot_pull_n(
    hub_load: complex, center: complex, bolt: complex, pivot: complex, dynamic: float
) -> float:
    """What a bolt in a slot must hold by friction, N: the hub load's moment about the pivot, over the
    bolt's distance from it.
    """
    lever = bolt - pivot
    if abs(lever) < 1e-9:
        return 0.0
    moment = ((center - pivot).conjugate() * hub_load).imag
    return dynamic * abs(moment) / abs(lever)
