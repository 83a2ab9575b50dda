"""Every belt on every drive, at rest and at every speed, in one pass (METHOD 8, "Finder")."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import numpy as np

from jovial_tack.core.arrays import Bool, Float, Int
from jovial_tack.core.drive.travel import cells_across
from jovial_tack.core.grip.finder.between import found, settled
from jovial_tack.core.grip.finder.many import Loads, Many
from jovial_tack.core.grip.finder.near import still_of
from jovial_tack.core.grip.finder.settling import FITS, OPEN, UNFIT, Settled
from jovial_tack.core.grip.finder.taut import Loaded, pulled
from jovial_tack.core.grip.finder.travel import (
    ONE_DRIVE,
    ROWS,
    Known,
    Nodes,
    State,
    nodes_of,
    of_rows,
    parts_of,
    wanted_at_rest,
    wanted_running,
)
from jovial_tack.core.value import Value, replace

#: Drives whose travel is looked along side by side.
DRIVES = 16384
#: Belts to a drive from which on drives are looked at one by one.
BELTS = 500
#: Places along the travels of drives that are looked at side by side: as many as memory is to be spent.
NODES = 280_000
_KEPT_BYTES = 24 << 20


class Tried(Value, frozen=True, eq=False):
    """R belts on drives of a `Many`, and what came of them.

    drive (R,), cord_mm (R,): which; outcome (R,): UNFIT, FITS, OPEN, the last to be solved by
    `core.drive.adjuster`. Of those that fit, NaN or of no meaning for others: angle (R,) rad and
    tension_n at rest; arc_used the most arc used over wrap of any pulley in any state; hub_n the
    greatest pull on one; least_n the least traction of any span; running (2, R) the least and the
    greatest angle, rad; spare_mm how much longer the belt is, pulled by nothing, than the path with the
    arm at its wound stop.
    """

    drive: Int
    cord_mm: Float
    outcome: Int
    angle: Float
    tension_n: Float
    arc_used: Float
    hub_n: Float
    least_n: Float
    running: Float
    spare_mm: Float

    @staticmethod
    def blank(drive: Int, cord_mm: Float) -> Tried:
        """Nothing is known yet."""
        angle, tension, used, hub, least, spare = np.full((6, drive.size), np.nan)
        running = np.full((2, drive.size), np.nan)
        outcome = np.full(drive.shape, UNFIT)
        return Tried(drive, cord_mm, outcome, angle, tension, used, hub, least, running, spare)


def solve_many(
    many: Many,
    loads: Loads,
    drive: Int,
    cord_mm: Float,
    check: Callable[[int], None] = lambda _rows: None,
) -> Tried:
    """Try belts cord_mm (R,), mm at T_ref, on the drives (R,) they are meant for, rising.

    Those fit that rest in the arm's window, are on no stop in any state, and hold every span taut.
    check: called with how many rows are done; what it raises ends it. METHOD 8.
    """
    tried = Tried.blank(drive, cord_mm)
    if not drive.size:
        return tried
    _let_memory_be_kept()
    done = 0
    # one part after the other: threads would wait for one another at every small step
    for drives, rows in _parts(many, drive):
        _solve_part(many, loads, tried, drives, rows)
        done += rows.stop - rows.start
        check(done)
    return tried


def _let_memory_be_kept() -> None:
    """Let the C library keep the memory of short-lived arrays instead of giving it back every time.

    Its usual allocator gives back what is freed beyond a limit, and each step here would then be handed
    fresh pages: three times as slow. The limit follows the largest block that was freed so far; a block
    that is never touched costs nothing. Where the allocator is another one nothing happens.
    """
    np.empty(_KEPT_BYTES, dtype=np.uint8)


def _parts(many: Many, drive: Int) -> Iterator[tuple[slice, slice]]:
    """Drives in parts, with the rows that are meant for each."""
    cells = int(cells_across(*many.arms.stops).max())
    size = max(1, min(DRIVES, NODES // (cells + 1)))
    if drive.size >= BELTS * many.count:
        size = 1  # of a drive with many belts the belts are enough to fill the arrays
    for first in range(0, many.count, size):
        last = min(first + size, many.count)
        low, high = np.searchsorted(drive, (first, last))
        if high > low:
            yield slice(first, last), slice(int(low), int(high))


def _solve_part(every: Many, loads: Loads, tried: Tried, drives: slice, rows: slice) -> None:
    """Solve the rows that are meant for some drives, in place."""
    many, first = every.chosen(drives), drives.start
    still = still_of(many)
    nodes = nodes_of(many, still)
    resting = Loaded(many, still)
    state = State(resting, nodes, Known.of(many, still, nodes), wanted_at_rest(resting, nodes))
    reach = _in_window(many, nodes)
    drive = tried.drive[rows] - first
    size = ONE_DRIVE if many.count == 1 else ROWS
    for part in parts_of(drive.size, size):
        _rest(state, tried, np.arange(part.start, part.stop) + rows.start, drive[part], reach)
    left = np.flatnonzero(tried.outcome[rows] != UNFIT)
    of, kept = drive[left], left + rows.start
    unpulled = 1.0 - many.reference_n[of] / many.stiffness_n[of]
    tried.spare_mm[kept] = tried.cord_mm[kept] * unpulled - nodes.total[0, of]
    if not left.size:
        return
    # only the drives that some belt rests on as it should are looked at again
    names, of = np.unique(drive[left], return_inverse=True)
    some, known, loads = nodes.chosen(names), state.known.chosen(names), loads.chosen(names + first)
    own, standing, left = many.chosen(names), still.chosen(names), left + rows.start
    if loads.spring_scale != 1.0:
        own = replace(own, arms=own.arms.times(loads.spring_scale))
        some = replace(some, rest_n=some.rest_n * loads.spring_scale)
    for k in range(loads.states):
        stays = tried.outcome[left] != UNFIT
        left, of = left[stays], of[stays]
        if not left.size:
            return
        running = Loaded(own, standing, loads.offsets_n[k], loads.centrifugal_n[k])
        shortest, longest = _tried(names.size, of, tried.cord_mm[left])
        now = State(running, some, known, wanted_running(running, some, shortest, longest))
        for part in parts_of(left.size, size):
            _run(now, tried, left[part], of[part])


def _tried(count: int, of: Int, cord_mm: Float) -> tuple[Float, Float]:
    """The shortest and the longest belt (R,) on each of so many drives; none where it has none."""
    begins = np.flatnonzero(np.diff(of, prepend=-1))
    shortest, longest = np.full(count, np.inf), np.full(count, -np.inf)
    shortest[of[begins]] = np.minimum.reduceat(cord_mm, begins)
    longest[of[begins]] = np.maximum.reduceat(cord_mm, begins)
    return shortest, longest


def _in_window(many: Many, nodes: Nodes) -> Bool:
    """The cells that reach into the arm's window (C, J)."""
    first, last = np.sort(np.stack(many.arms.window), axis=0)
    low = np.minimum(nodes.angle[:-1], nodes.angle[1:])
    high = np.maximum(nodes.angle[:-1], nodes.angle[1:])
    return np.asarray((high >= first) & (low <= last))


def _rest(state: State, tried: Tried, rows: Int, drive: Int, reach: Bool) -> None:
    """Where belts rest; rows (R,) of what is tried, on drives (R,) of the state."""
    cord = tried.cord_mm[rows]
    outcome, at = found(state, drive, cord, reach)
    tried.outcome[rows] = outcome
    inside = np.flatnonzero(outcome == FITS)
    of = drive[inside]
    angle, slack_n = settled(
        state, of, at.chosen(inside), cord[inside], lambda s: np.stack([s.angle, s.slack_n])
    )
    wound, unwound = (of_rows(end, of) for end in state.loaded.many.arms.window)
    share = (angle - wound) / (unwound - wound)
    within = (share >= 0) & (share <= 1)
    kept = rows[inside]
    tried.outcome[kept[~within]] = UNFIT
    tried.angle[kept] = angle
    tried.tension_n[kept] = slack_n


def _run(state: State, tried: Tried, rows: Int, drive: Int) -> None:
    """How belts run in one state, the worst of all states so far kept."""
    cord, before = tried.cord_mm[rows], tried.outcome[rows]
    outcome, at = found(state, drive, cord, np.ones_like(state.nodes.whole))
    # what is open in one state stays open, unless another tells that it does not fit
    tried.outcome[rows] = np.where(outcome == FITS, before, outcome)
    inside = np.flatnonzero(outcome == FITS)
    kept = rows[inside]
    of, count = drive[inside], state.loaded.many.pulleys
    told_of = settled(state, of, at.chosen(inside), cord[inside], _loads_of)
    angle, slack_n = told_of[:2]
    used, hubs = told_of[2 : 2 + count].max(axis=0), told_of[2 + count :].max(axis=0)
    offsets_n = state.loaded.offsets_n
    assert offsets_n is not None
    least = slack_n + of_rows(offsets_n.min(axis=0), of)
    tried.outcome[kept[~(least > 0)]] = UNFIT
    tried.arc_used[kept] = np.fmax(tried.arc_used[kept], used)
    tried.hub_n[kept] = np.fmax(tried.hub_n[kept], hubs)
    tried.least_n[kept] = np.fmin(tried.least_n[kept], least)
    low, high = tried.running
    low[kept] = np.fmin(low[kept], angle)
    high[kept] = np.fmax(high[kept], angle)


def _loads_of(at: Settled) -> Float:
    """The angle, and what the belt does there, as of `pulled` (2 + 2N, R)."""
    return np.concatenate([at.angle[None], pulled(at.loaded, at.near, at.residual, at.step)])


__all__ = ["FITS", "OPEN", "UNFIT", "Tried", "solve_many"]
