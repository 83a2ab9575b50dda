"""A belt with every figure known."""

from __future__ import annotations

import numpy as np

from jovial_tack.catalogue import Catalogue, Construction, Profile
from jovial_tack.core.belt.lines import cord_length
from jovial_tack.core.drive.lanes import BeltState
from jovial_tack.core.value import Value
from jovial_tack.document import model as doc


class BeltFigures(Value, frozen=True):
    """A belt with every figure known; representative: those taken from the catalogue."""

    profile: Profile
    construction: Construction
    ribs: int
    stiffness_n: float
    mass_kg_per_m: float
    reference_tension_n: float
    friction_ribs: float
    friction_back: float
    representative: tuple[str, ...]

    @property
    def belts(self) -> int:
        """How many run side by side: V-belts are counted, all others are one."""
        return self.ribs if self.profile.section == "v" else 1

    def stretching(self, effective_length_mm: float) -> BeltState:
        """The belt as a spring, for a nominal effective length."""
        return BeltState(
            np.asarray(cord_length(effective_length_mm, self.profile.effective_to_cord_mm)),
            np.asarray(self.stiffness_n),
            np.asarray(self.reference_tension_n),
        )


def belt_figures(belt: doc.Belt, catalogue: Catalogue) -> BeltFigures:
    """A belt with the gaps filled from its profile and construction.

    Raises CatalogueError for an unknown profile or construction.
    """
    profile = catalogue.profile(belt.profile)
    built = catalogue.construction(belt.profile, belt.construction)
    taken: list[str] = []

    def given_or(name: str, representative: float) -> float:
        value: float | None = getattr(belt, name)
        if value is None:
            taken.append(name)
            return representative
        return value

    stiffness = given_or("stiffness_n_per_rib", built.stiffness_n_per_rib)
    mass = given_or("mass_kg_per_m_per_rib", built.mass_kg_per_m_per_rib)
    reference = given_or("reference_tension_n_per_rib", profile.reference_tension_n_per_rib)
    ribs, back = (
        given_or("friction_ribs", built.friction_ribs),
        given_or("friction_back", built.friction_back),
    )
    return BeltFigures(
        profile,
        built,
        belt.ribs,
        stiffness * belt.ribs,
        mass * belt.ribs,
        reference * belt.ribs,
        ribs,
        back,
        tuple(taken),
    )
