"""What a catalogue holds. Every entry names its source; representative values are marked (rep.)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal

from jovial_tack.core.errors import CatalogueError


@dataclass(frozen=True)
class Profile:
    """Cross-section of a belt: the distances between its lines, mm, and its limits.

    section: ribbed, or v for single V-belts, which are counted as belts and whose cord lies below the
    effective line (effective_to_cord_mm negative).
    """

    name: str
    pitch_mm: float
    effective_to_cord_mm: float
    effective_to_cord_tolerance_mm: float
    cord_to_back_mm: float
    thickness_mm: float
    reference_tension_n_per_rib: float
    least_grooved_mm: float
    least_back_mm: float
    good_angle_deg: float
    limit_angle_deg: float
    source: str
    section: Literal["ribbed", "v"] = "ribbed"

    def counted(self, ribs: int) -> str:
        """How wide a belt of this profile is, in words: “7 ribs”, “2 x SAE 0.380”."""
        if self.section == "v":
            return self.name if ribs == 1 else f"{ribs} x {self.name}"
        return "1 rib" if ribs == 1 else f"{ribs} ribs"


@dataclass(frozen=True)
class Construction:
    """How a belt of a profile is built; per rib. Tolerances are fractions."""

    name: str
    stiffness_n_per_rib: float
    stiffness_tolerance: float
    mass_kg_per_m_per_rib: float
    mass_tolerance: float
    friction_ribs: float
    friction_back: float
    most_tension_n_per_rib: float
    bending_stiffness_n_m2_per_rib: float
    source: str


@dataclass(frozen=True)
class Kind:
    """What a shaft's kind alone tells: label, pulley size, least wrap and, if driven, a load; output:
    the current of an alternator over its speed.
    """

    name: str
    label: str
    typical_diameter_mm: float
    least_wrap_deg: float
    source: str
    load: Mapping[str, Any] | None = None
    load_tolerance: float | None = None
    output: Mapping[str, Any] | None = None


@dataclass(frozen=True)
class ObstacleKind:
    """What may be in the way, and the gap to keep from it."""

    name: str
    label: str
    needed_mm: float
    source: str


@dataclass(frozen=True)
class Limits:
    """What findings are judged by."""

    low_reserve_arc_used: float
    belt_speed_watch_mps: float
    belt_speed_stop_mps: float
    near_toggle_deg: float
    window_edge_fraction: float
    weak_spring: float
    damping_fraction_low: float
    damping_fraction_high: float
    resonance_band: float
    flutter_share: float
    friction_wet: float
    friction_dry: float
    source: str


@dataclass(frozen=True)
class Catalogue:
    """All data a solve may look up. lengths: stocked effective lengths per profile, mm, rising."""

    version: str
    profiles: Mapping[str, Profile]
    constructions: Mapping[str, Mapping[str, Construction]]
    kinds: Mapping[str, Kind]
    limits: Limits
    obstacles: Mapping[str, ObstacleKind]
    lengths: Mapping[str, tuple[float, ...]]

    def profile(self, name: str) -> Profile:
        """A profile by name; raises CatalogueError naming those there are."""
        if name not in self.profiles:
            raise CatalogueError(f"a belt profile, one of {', '.join(self.profiles)}")
        return self.profiles[name]

    def construction(self, profile: str, name: str) -> Construction:
        """A construction of a profile; raises CatalogueError naming those there are."""
        of_profile = self.constructions.get(profile, {})
        if name not in of_profile:
            raise CatalogueError(f"a construction of {profile}, one of {', '.join(of_profile)}")
        return of_profile[name]
