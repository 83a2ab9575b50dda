"""States of drives that are solved together: loads, speed and belt (METHOD 7)."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.value import Value, replace


class BeltState(Value, frozen=True):
    """The belt as a spring: cord length at T_ref mm, EA N, T_ref N (whole belt); broadcast to (S,)."""

    cord_length_mm: Float
    stiffness_n: Float
    reference_tension_n: Float

    def length_at(self, tension_n: Float) -> Float:
        """Cord length at a mean tension, mm."""
        return self.cord_length_mm * (1 + (tension_n - self.reference_tension_n) / self.stiffness_n)

    def tension_at(self, path_mm: Float) -> Float:
        """Mean tension when pulled out to a path, N."""
        return self.reference_tension_n + self.stiffness_n * (path_mm / self.cord_length_mm - 1)


class Lanes(Value, frozen=True):
    """S states of one drive that are solved together.

    offsets_n (S, N): traction of each span above that of the span leaving the driver; friction
    (S, N); centrifugal_n (S,) m·v²; spring_scale (S,) factor on the spring's torque (damping band,
    weakened spring); belt with (S,) members.
    """

    offsets_n: Float
    friction: Float
    centrifugal_n: Float
    spring_scale: Float
    belt: BeltState

    @staticmethod
    def at_rest(pulley_count: int, belt: BeltState, states: int = 1) -> Lanes:
        """Belt on, engine off: no loads, no speed."""
        full = np.ones(states)
        return Lanes(
            np.zeros((states, pulley_count)),
            np.ones((states, pulley_count)),
            np.zeros(states),
            full,
            BeltState(
                full * belt.cord_length_mm,
                full * belt.stiffness_n,
                full * belt.reference_tension_n,
            ),
        )

    @staticmethod
    def joined(*parts: Lanes) -> Lanes:
        """All states of several sets, as one batch."""

        def of(name: str) -> Float:
            return np.concatenate([getattr(part, name) for part in parts])

        def of_belt(name: str) -> Float:
            return np.concatenate([getattr(part.belt, name) for part in parts])

        belt = BeltState(
            of_belt("cord_length_mm"), of_belt("stiffness_n"), of_belt("reference_tension_n")
        )
        return Lanes(of("offsets_n"), of("friction"), of("centrifugal_n"), of("spring_scale"), belt)

    @staticmethod
    def beside(*each: Lanes) -> Lanes:
        """The states of several drives, as many of each, side by side."""

        def stacked(figures: Sequence[Float]) -> Float:
            return np.stack(figures, axis=-1)

        belts = [states.belt for states in each]
        return Lanes(
            np.concatenate([states.offsets_n for states in each], axis=-1),
            np.concatenate([states.friction for states in each], axis=-1),
            stacked([states.centrifugal_n for states in each]),
            stacked([states.spring_scale for states in each]),
            BeltState(
                stacked([belt.cord_length_mm for belt in belts]),
                stacked([belt.stiffness_n for belt in belts]),
                stacked([belt.reference_tension_n for belt in belts]),
            ),
        )

    def chosen(self, which: Any) -> Lanes:
        """The chosen states."""
        belt = self.belt
        return Lanes(
            self.offsets_n[which],
            self.friction[which],
            self.centrifugal_n[which],
            self.spring_scale[which],
            BeltState(
                belt.cord_length_mm[which],
                belt.stiffness_n[which],
                belt.reference_tension_n[which],
            ),
        )

    def scaled(self, factor: Float) -> Lanes:
        """The same states with all loads times a factor (S,)."""
        return replace(self, offsets_n=self.offsets_n * np.asarray(factor)[..., None])
