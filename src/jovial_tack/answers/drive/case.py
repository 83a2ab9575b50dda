"""One drive as it is solved."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from jovial_tack.answers.drive.belt_figures import BeltFigures
from jovial_tack.answers.drive.duties import Currents
from jovial_tack.core.belt.lines import ribbed_seat_offset
from jovial_tack.core.drive.arm import SpringArm
from jovial_tack.core.drive.sliding import Slide, Track
from jovial_tack.core.drive.solve import BeltDrive
from jovial_tack.core.line_up.alignment import Seats
from jovial_tack.core.value import Value
from jovial_tack.document import model as doc
from jovial_tack.document.travel import slot_of, track_on

_SIGN = {"ccw": 1, "cw": -1}


class Case(Value, frozen=True, eq=False):
    """One drive of a build, every figure filled, and what its results depend on: cases with equal keys
    have equal results. It is a `SolvableCase` or an `UnsolvableCase`.

    pulleys: in the order of the route; shafts: the shaft of each.
    """

    model: doc.Drive
    engine: doc.Engine
    pulleys: tuple[doc.Pulley, ...]
    shafts: tuple[doc.Shaft, ...]
    belt: BeltFigures
    key: tuple[Any, ...]

    @property
    def locked_shaft(self) -> str | None:
        """The shaft a locked drive is tensioned by; None for other drives."""
        tensioner = self.model.tensioner
        return tensioner.shaft if isinstance(tensioner, doc.LockedTensioner) else None

    @property
    def track(self) -> Track | None:
        """The travel of the shaft a locked drive is tensioned by; None if it has none."""
        held = self.locked_shaft
        return track_on(next((s.mount for s in self.shafts if s.id == held), None))

    @property
    def moving(self) -> tuple[int, ...]:
        """The places on the route of the shaft a locked drive is tensioned by."""
        return tuple(k for k, shaft in enumerate(self.shafts) if shaft.id == self.locked_shaft)

    @property
    def travelling_shaft(self) -> str | None:
        """The shaft that moves along its mount: a locked drive's, or a sprung slide's."""
        tensioner = self.model.tensioner
        if isinstance(tensioner, doc.SpringSlideTensioner):
            return self.model.pulley(tensioner.pulley).shaft
        return self.locked_shaft

    @property
    def decided(self) -> bool:
        """Whether tension can be computed: a tensioner is chosen and it has what it needs."""
        tensioner = self.model.tensioner
        if tensioner is None or self.lacks_slot:
            return False
        needs_length = not isinstance(tensioner, doc.LockedTensioner)
        return not needs_length or self.model.belt.effective_length_mm is not None

    @property
    def lacks_slot(self) -> bool:
        """Whether a sprung slide has no slot to slide along."""
        tensioner = self.model.tensioner
        if not isinstance(tensioner, doc.SpringSlideTensioner):
            return False
        place = self.model.route.index(tensioner.pulley)
        return slot_of(self.model, self.shafts[place]) is None

    def label(self, pulley_id: str) -> str:
        """What a pulley is called on screen: the name of its shaft."""
        place = self.model.route.index(pulley_id)
        return self.shafts[place].label

    def seats(self) -> Seats:
        """Where the belt sits along z on each pulley."""
        pitch = self.belt.profile.pitch_mm
        planes = [
            np.nan
            if pulley.plane_mm is None
            else pulley.plane_mm + seat_offset(pulley, self.belt.ribs, pitch)
            for pulley in self.pulleys
        ]
        tilt = np.radians(np.array([pulley.tilt_deg for pulley in self.pulleys], dtype=float))
        return Seats(np.array(planes), tilt, np.array([p.side == "back" for p in self.pulleys]))


class UnsolvableCase(Case, frozen=True, eq=False):
    """A drive that cannot be handed to the mechanics. problem: "idle", nothing drives it, or "looped",
    it closes a loop.
    """

    problem: str


class SolvableCase(Case, frozen=True, eq=False):
    """A drive as the mechanics take it.

    driver: the place of the pulley that drives it; signs: the way each pulley turns (+1 ccw); slide:
    where the belt puts the shaft of a locked drive that can be moved; currents: of all alternators of
    the build, by their shafts. situation: the load case, "" without one. guessed: shafts whose load,
    here or on belts beyond, is only the usual one of its kind; known: the drive without what was
    guessed, None where nothing was. plane_spread: covariance of the planes along the route (N, N),
    mm², where they were surveyed; NaN for those that were not.
    """

    driver: int
    signs: tuple[int, ...]
    drive: BeltDrive
    slide: Slide | None = None
    currents: Mapping[str, Currents] = {}
    situation: str = ""
    guessed: tuple[str, ...] = ()
    known: BeltDrive | None = None
    plane_spread: tuple[tuple[float, ...], ...] | None = None

    @property
    def arm(self) -> SpringArm | None:
        """The spring arm, if the drive has one."""
        adjuster = self.drive.adjuster
        return adjuster if isinstance(adjuster, SpringArm) else None


def seat_offset(pulley: doc.Pulley, ribs: int, pitch_mm: float) -> float:
    """How far the belt's centre sits before the groove centre of a pulley, mm."""
    if pulley.grooves is None or pulley.first_groove is None or pulley.side == "back":
        return 0.0
    return ribbed_seat_offset(pulley.first_groove, ribs, pulley.grooves, pitch_mm)


def runs_free(pulley: doc.Pulley, sign: int) -> bool:
    """Whether a one-way pulley turns against its way, so that its shaft stands still."""
    return pulley.one_way is not None and _SIGN[pulley.one_way] != sign
