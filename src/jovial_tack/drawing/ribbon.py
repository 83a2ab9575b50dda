"""The belt ribbon: a belt unrolled to scale from its driver, without Qt.

Places along the belt are mm from where it leaves the driver; the driver's own arc closes the ribbon.
"""

from __future__ import annotations

import numpy as np

from jovial_tack.answers.results import DriveResult
from jovial_tack.core.value import Value
from jovial_tack.document.model import Drive
from jovial_tack.document.targets import BeltAt, PulleyAt, SpanAt, Target
from jovial_tack.drawing.front import arc_role
from jovial_tack.drawing.shapes import Role

_CREEP_POINTS = 8


class Block(Value, frozen=True):
    """The arc of one pulley: from start to end, mm; the used part ends at the run-off side."""

    pulley: str
    start: float
    end: float
    used_from: float
    role: Role


class Ribbon(Value, frozen=True):
    """A belt unrolled. tension and plane are traces of (place mm, N) and (place mm, z mm)."""

    drive: str
    length: float
    blocks: tuple[Block, ...]
    tension: tuple[tuple[float, float], ...]
    plane: tuple[tuple[float, float], ...]

    @property
    def leaves(self) -> tuple[str, ...]:
        """The pulley each span before a block leaves."""
        names = tuple(block.pulley for block in self.blocks)
        return (names[-1], *names[:-1])

    @property
    def targets(self) -> tuple[Target, ...]:
        """Spans and pulleys in the order of belt travel."""
        found: list[Target] = []
        for leaves, block in zip(self.leaves, self.blocks, strict=True):
            found += [SpanAt(self.drive, leaves), PulleyAt(self.drive, block.pulley)]
        return tuple(found)

    def target_at(self, place: float) -> Target:
        """The pulley or span a place lies on."""
        for leaves, block in zip(self.leaves, self.blocks, strict=True):
            if place < block.start:
                return SpanAt(self.drive, leaves)
            if place <= block.end:
                return PulleyAt(self.drive, block.pulley)
        return BeltAt(self.drive)


def ribbon(drive: Drive, result: DriveResult, rpm: float, watch: float) -> Ribbon | None:
    """Unroll a belt at an engine speed; None if it has no path.

    Tension is that of the running state: constant along spans, kept at the entry of every arc and
    changing over its creeping part (METHOD 7).
    """
    path = result.rest_path
    if path is None or not result.pulleys:
        return None
    lane, count = result.lane(rpm), len(drive.route)
    first = drive.route.index(result.driver)
    order = [(first + k) % count for k in range(count)]
    place = 0.0
    blocks: list[Block] = []
    tension: list[tuple[float, float]] = []
    planes: list[tuple[float, float]] = []
    for k in order:
        after = (k + 1) % count
        pulley = result.pulleys[after]
        pull, leaving = (result.spans[i].tension_n[lane] for i in (k, after))
        length, arc = float(path.length[k]), float(path.arc[after])
        if pull is not None:
            tension += [(place, pull), (place + length, pull)]
        place += length
        share = pulley.arc_used_fraction[lane] if pulley.arc_used_fraction else None
        low = pulley.low_arc_used[lane] if pulley.low_arc_used else None
        used = arc * min(share or 0.0, 1.0)
        worst = max(share or 0.0, low or 0.0)
        role = arc_role(worst, watch, guessed=bool(result.guessed))
        blocks.append(Block(pulley.id, place, place + arc, place + arc - used, role))
        if pull is not None and leaving is not None:
            tension += _along_arc(place, arc, used, pull, leaving)
        plane = drive.pulley(pulley.id).plane_mm
        if plane is not None and drive.pulley(pulley.id).side == "ribs":
            planes += [(place, plane), (place + arc, plane)]
        place += arc
    return Ribbon(drive.id, place, tuple(blocks), tuple(tension), tuple(planes))


def _along_arc(
    start: float, arc: float, used: float, entry: float, leaving: float
) -> list[tuple[float, float]]:
    points = [(start, entry), (start + arc - used, entry)]
    if used > 0 and entry > 0 and leaving > 0:
        shares = np.linspace(0.0, 1.0, _CREEP_POINTS + 1)[1:]
        points += [
            (start + arc - used * (1 - s), entry * (leaving / entry) ** s)
            for s in map(float, shares)
        ]
    else:
        points.append((start + arc, leaving))
    return points
