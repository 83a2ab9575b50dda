"""The stations in order of work: the rail that leads to them, and what each lays around the desk."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Station:
    """A stage of the work. number: its place in the order of work; what: said in its tip."""

    key: str
    number: int
    name: str
    what: str


STATIONS = (
    Station("lay_out", 2, "Lay out", "Place shafts and see the belt follow"),
    Station("ratios", 3, "Ratios", "Speeds of every shaft, and the boost they make"),
    Station("belt", 4, "Belt", "Its length, and which one to order"),
    Station("grip", 5, "Grip", "Arc used, tension and arm over the revs"),
    Station("line_up", 6, "Line up", "Look down on groove planes and spacers"),
    Station("run_check", 8, "Run check", "Find slip in a log, or rule it out"),
)


_TO_COME = "Not built yet: survey, fit up, logbook."
