"""Spacers and washers from the shelf that make up the lengths wanted, exactly (docs/METHOD.md, 12)."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Container, Sequence

from jovial_tack.core.value import Value, replace

#: Thicknesses are compared in whole micrometres, so that sums are exact.
_MICRON = 1000.0
_MOST_NODES = 40_000


class Line(Value, frozen=True):
    """One line of the shelf: pieces of a thickness, mm, and how many there are."""

    thickness_mm: float
    count: int


class Rule(Value, frozen=True):
    """What a stack may be: how far it may miss, mm; at most so many pieces, and so many thin ones."""

    tolerance_mm: float
    most: int
    most_thin: int
    thin_mm: float


class Option(Value, frozen=True):
    """One way to make up a length: (line, how many), thickest first; total_mm; pieces: how many."""

    pieces: tuple[tuple[int, int], ...]
    total_mm: float

    @property
    def count(self) -> int:
        """How many pieces it takes."""
        return sum(number for _, number in self.pieces)


def options(need_mm: float, lines: Sequence[Line], rule: Rule) -> list[Option]:
    """Every way to make up a length from the shelf, the fewest pieces first, then the nearest.

    >>> shelf = [Line(2.0, 4), Line(1.6, 1), Line(0.5, 2)]
    >>> [found.pieces for found in options(3.6, shelf, Rule(0.15, 4, 3, 1.0))]
    [((0, 1), (1, 1))]
    """
    microns = [(round(line.thickness_mm * _MICRON), k) for k, line in enumerate(lines)]
    order = sorted((thick, k) for thick, k in microns if thick > 0 and lines[k].count > 0)[::-1]
    rising = [thick for thick, _ in order][::-1]
    need, off = round(need_mm * _MICRON), round(rule.tolerance_mm * _MICRON)
    thin = round(rule.thin_mm * _MICRON)
    found: list[Option] = []
    taken: list[int] = []

    def add() -> None:
        total = sum(order[place][0] for place in taken)
        numbers: dict[int, int] = {}
        for place in taken:
            numbers[order[place][1]] = numbers.get(order[place][1], 0) + 1
        found.append(Option(tuple(numbers.items()), total / _MICRON))

    def may_take(place: int) -> bool:
        thick, line = order[place]
        if taken.count(place) >= lines[line].count:
            return False
        return thick >= thin or sum(order[p][0] < thin for p in taken) < rule.most_thin

    def last(begin: int, left: int) -> None:
        # the last piece fills what is left: found by its thickness rather than tried
        count = len(rising)
        low, high = bisect_left(rising, left - off), bisect_right(rising, left + off)
        for place in range(max(begin, count - high), count - low):
            if may_take(place):
                taken.append(place)
                add()
                taken.pop()

    def deeper(begin: int, left: int) -> None:
        room = rule.most - len(taken)
        if room <= 0:
            return
        last(begin, left)
        if room == 1:
            return
        for place in range(begin, len(order)):
            thick = order[place][0]
            if room * thick < left - off:
                break  # thinner ones come nowhere near
            if left - thick > off - 1 and may_take(place):
                taken.append(place)
                deeper(place, left - thick)
                taken.pop()

    if abs(need) <= off:
        found.append(Option((), 0.0))
    if need + off > 0:
        deeper(0, need)
    distinct = {option.pieces: option for option in found}
    return sorted(distinct.values(), key=lambda o: (o.count, abs(o.total_mm - need_mm), o.pieces))


class Chosen(Value, frozen=True):
    """What was chosen for each of several lengths, None for one that must be turned; sure: whether it
    is certain that nothing better can be made of the shelf.
    """

    options: tuple[Option | None, ...]
    sure: bool = True


def choose(
    needs_mm: Sequence[float],
    lines: Sequence[Line],
    rules: Sequence[Rule],
    may_use: Sequence[Container[int]],
) -> Chosen:
    """One way for each of several lengths, of one shelf: the fewest that must be turned, then the
    fewest pieces, then the nearest.

    Parameters: lengths, mm; the shelf; what the stack of each length may be, and which lines it may use
    (those whose bore fits its bolt).
    Exact by branch and bound: those with the fewest ways first, and no branch that cannot beat the best
    by the pieces its remaining lengths need at least.
    """
    ways = []
    for need, rule, may in zip(needs_mm, rules, may_use, strict=True):
        own = [line if k in may else replace(line, count=0) for k, line in enumerate(lines)]
        ways.append(options(need, own, rule))
    order = sorted(range(len(ways)), key=lambda k: len(ways[k]))
    # what the lengths from each depth on take at least: turned, pieces, and squares with that few
    # pieces
    least = [(0, 0, 0.0)] * (len(order) + 1)
    for depth in range(len(order) - 1, -1, -1):
        turned, count, squares = least[depth + 1]
        found, need = ways[order[depth]], needs_mm[order[depth]]
        if found:
            off = found[0].total_mm - need
            least[depth] = turned, count + found[0].count, squares + off**2
        else:
            least[depth] = turned + 1, count, squares
    left = [line.count for line in lines]
    best: list[tuple[int, int, float]] = [(len(ways) + 1, 0, 0.0)]
    best_ways: list[Option | None] = [None] * len(ways)
    now: list[Option | None] = [None] * len(ways)
    nodes = 0

    def may_win(depth: int, turned: int, count: int, squares: float) -> bool:
        # one more turned than must be saves its pieces, but is worse than any number of them
        more = least[depth]
        if turned + more[0] != best[0][0]:
            return turned + more[0] < best[0][0]
        if count + more[1] != best[0][1]:
            return count + more[1] < best[0][1]
        return squares + more[2] < best[0][2]

    def deeper(depth: int, turned: int, count: int, squares: float) -> None:
        nonlocal nodes, best_ways
        nodes += 1
        if nodes > _MOST_NODES or not may_win(depth, turned, count, squares):
            return
        if depth == len(order):
            best[0], best_ways = (turned, count, squares), list(now)
            return
        k = order[depth]
        for way in ways[k]:
            if any(left[line] < number for line, number in way.pieces):
                continue
            for line, number in way.pieces:
                left[line] -= number
            now[k] = way
            off = way.total_mm - needs_mm[k]
            if may_win(depth + 1, turned, count + way.count, squares + off * off):
                deeper(depth + 1, turned, count + way.count, squares + off * off)
            now[k] = None
            for line, number in way.pieces:
                left[line] += number
        deeper(depth + 1, turned + 1, count, squares)

    deeper(0, 0, 0, 0.0)
    return Chosen(tuple(best_ways), nodes <= _MOST_NODES)
