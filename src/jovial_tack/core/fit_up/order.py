"""An order in which steps can be done: each after all it waits for, else by its rank (METHOD 17)."""

from __future__ import annotations

import heapq
from collections.abc import Collection, Mapping

from jovial_tack.core.value import Value


class Ordered(Value, frozen=True):
    """The names of all steps in an order, and those of every loop of steps that wait for one another;
    of a loop the order holds the lowest first.
    """

    names: tuple[str, ...]
    loops: tuple[tuple[str, ...], ...]


def in_order(after: Mapping[str, Collection[str]], rank: Mapping[str, tuple[int, str]]) -> Ordered:
    """Order steps by what each comes after; what is not among them is nothing to wait for.

    rank: which of several that could be done is done first; the order of the mappings changes nothing.
    Source: Kahn's algorithm with a heap.

    >>> in_order({"b": ["a"], "a": []}, {"a": (1, "a"), "b": (0, "b")}).names
    ('a', 'b')
    """
    waits = {name: {other for other in after[name] if other in after} for name in after}
    followers: dict[str, list[str]] = {name: [] for name in after}
    for name, others in waits.items():
        for other in others:
            followers[other].append(name)
    ready = [(rank[name], name) for name, others in waits.items() if not others]
    heapq.heapify(ready)
    names: list[str] = []
    loops: list[tuple[str, ...]] = []
    done: set[str] = set()
    while len(names) < len(waits):
        if not ready:
            # only loops are left to begin with: the first one is told, and begun with its lowest step
            loop = _first_loop({n: waits[n] - done for n in waits if n not in done}, rank)
            loops.append(loop)
            heapq.heappush(ready, (rank[loop[0]], loop[0]))
        _, name = heapq.heappop(ready)
        if name in done:
            continue
        done.add(name)
        names.append(name)
        for follower in followers[name]:
            if follower not in done and waits[follower] <= done:
                heapq.heappush(ready, (rank[follower], follower))
    return Ordered(tuple(names), tuple(loops))


def _first_loop(
    waits: Mapping[str, Collection[str]], rank: Mapping[str, tuple[int, str]]
) -> tuple[str, ...]:
    """The steps of a loop that waits for nothing outside itself, by rank."""
    reach = {name: _reached(name, waits) for name in waits}
    groups: list[list[str]] = [
        sorted((o for o in reach[name] if name in reach[o]), key=lambda n: rank[n])
        for name in waits
        if name in reach[name]
    ]
    closed = [g for g in groups if all(reach[name] <= set(g) for name in g)]
    first: list[str] = min(closed, key=lambda g: rank[g[0]])
    return tuple(first)


def _reached(name: str, waits: Mapping[str, Collection[str]]) -> set[str]:
    """All that a step waits for, by way of others too; itself, if it is in a loop."""
    found: set[str] = set()
    left: list[str] = list(waits[name])
    while left:
        other = left.pop()
        if other not in found:
            found.add(other)
            left += waits[other]
    return found
