"""What a catalogue holds. Every entry names its source; representative values are marked (rep.)."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

from jovial_tack.core.errors import CatalogueError
from jovial_tack.core.value import Value


class Profile(Value, frozen=True):
    """Cross-section of a belt: the distances between its lines, mm, and its limits.

    section: ribbed; v for V-belts, which are counted as belts and whose cord lies below the line their
    diameters are given on (effective_to_cord_mm negative); toothed, whose ribs are mm of width.
    number_line: the line a belt number tells, number_offset_mm its length over the effective one.
    groove_apex_mm: where the flanks of a groove would meet, below the effective line. rib_depth_mm: of
    a new belt, where that is known.
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
    section: Literal["ribbed", "v", "toothed"] = "ribbed"
    number_line: Literal["effective", "outside", "inside", "pitch"] = "effective"
    number_offset_mm: float = 0.0
    number_offset_tolerance_mm: float = 0.0
    groove_apex_mm: float | None = None
    groove_angle_deg: float | None = None
    tooth_pitch_mm: float | None = None
    rib_depth_mm: float | None = None
    belt_speed_watch_mps: float = 65.0
    belt_speed_stop_mps: float = 80.0

    @property
    def below_effective_mm(self) -> float:
        """How far a belt's inner side lies below the line the diameters are given on, mm."""
        return self.thickness_mm - self.cord_to_back_mm - self.effective_to_cord_mm

    def counted(self, ribs: int) -> str:
        """How wide a belt of this profile is, in words: “7 ribs”, “2 x SAE 0.380”, “30 mm wide”."""
        if self.section == "v":
            return self.name if ribs == 1 else f"{ribs} x {self.name}"
        if self.section == "toothed":
            return f"{ribs} mm wide"
        return "1 rib" if ribs == 1 else f"{ribs} ribs"

    def number(self, ribs: int, effective_mm: float, unit: str = "mm") -> str:
        """The usual number of a belt of this profile, in the scheme of a unit of length."""
        from jovial_tack.core.belt.numbers import number_of

        return number_of(self.name, ribs, effective_mm + self.number_offset_mm, unit)


class Construction(Value, frozen=True):
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


class Kind(Value, frozen=True):
    """What a shaft's kind alone tells: label, pulley size, least wrap and, if driven, a load; output:
    the current of an alternator over its speed, with its volts and efficiency; usual_max_rpm: what
    shafts of the kind commonly bear, of which no limit follows.
    """

    name: str
    label: str
    typical_diameter_mm: float
    least_wrap_deg: float
    source: str
    load: Mapping[str, Any] | None = None
    load_tolerance: float | None = None
    output: Mapping[str, Any] | None = None
    usual_max_rpm: float | None = None


class UsualLoads(Value, frozen=True):
    """A situation: factors on the loads of shafts by their kind, on friction and on springs."""

    name: str
    label: str
    loads: Mapping[str, float]
    source: str
    friction_factor: float = 1.0
    spring_factor: float = 1.0


class ObstacleKind(Value, frozen=True):
    """What may be in the way, and the gap to keep from it."""

    name: str
    label: str
    needed_mm: float
    source: str


class Limits(Value, frozen=True):
    """What findings are judged by."""

    low_reserve_arc_used: float
    near_toggle_deg: float
    near_toggle_mm: float
    window_edge_fraction: float
    weak_spring: float
    damping_fraction_low: float
    damping_fraction_high: float
    resonance_band: float
    flutter_share: float
    friction_wet: float
    friction_dry: float
    friction_oily: float
    friction_glazed: float
    belt_run_in: float
    speeding_rpm_per_s: float
    shifting_rpm_per_s: float
    survey_sigma_mm: float
    diameter_sigma_mm: float
    belt_length_tolerance: float
    spring_tolerance: float
    hot_rise_k: float
    block_growth_per_k: float
    pulley_growth_per_k: float
    most_fitting_strain: float
    slack_arm_allowance_mm: float
    v_seat_mm: float
    cam_play_low_deg: float
    cam_play_high_deg: float
    arm_mark_sd_deg: float
    travel_mark_sd: float
    source: str


class UsualParts(Value, frozen=True):
    """Figures of parts where a build gives none: lengths mm, angles degrees, torques N·m.

    v_groove_depth_share: of the belt's thickness; rib_groove_depth_share: of the depth at which the
    flanks would meet; tape_thick_mm: of a tape laid round a pulley; pulley_step_…: of pulleys of a
    series, in builds in mm and in inches; arm_…: a spring arm to begin with, its series of springs, and
    stops and window to either side; slide_…: the same of a sprung slide, its slot's length, and the
    share of it that is its window; wrench_half_width_mm: of the bar that winds an arm back;
    wind_bar_mm, one_person_n: the bar it is wound with where none is told, and what one person pulls on
    it; coating_friction: of a coated rim over a plain one; crank_steps: by which shares a larger crank
    pulley is tried.
    """

    v_groove_angle_deg: float
    v_groove_depth_share: float
    rib_groove_depth_share: float
    tape_thick_mm: float
    pulley_step_mm: float
    pulley_step_inch_mm: float
    arm_mm: float
    arm_rate_nm_per_deg: float
    arm_damping_fraction: float
    arm_torques_nm: list[float]
    arm_stops_deg: float
    arm_window_deg: float
    slide_mm: float
    slide_rate_n_per_mm: float
    slide_damping_fraction: float
    slide_forces_n: list[float]
    slide_window_share: float
    wrench_half_width_mm: float
    wind_bar_mm: float
    one_person_n: float
    coating_friction: float
    crank_steps: list[float]
    source: str

    def pulley_step(self, unit: str) -> float:
        """The step of a series of pulleys in a system of units, mm."""
        return self.pulley_step_inch_mm if unit == "in" else self.pulley_step_mm


class FaultCause(Value, frozen=True):
    """Why a belt drive is noisy or wears. prior: how often it is so on a drive that is looked at."""

    name: str
    prior: float
    words: str
    remedy: str


class FaultFinding(Value, frozen=True):
    """Something that is seen, heard or measured of a drive, or is not.

    group: findings of one tell partly the same; leak: how often it is seen with none of the causes;
    seen_with: how often each cause alone shows it; running: seen only with the engine running; codes:
    the engine's own that say so.
    """

    name: str
    words: str
    group: str
    minutes: float
    leak: float
    running: bool
    seen_with: Mapping[str, float]
    codes: tuple[str, ...] = ()


class Faults(Value, frozen=True):
    """The table of causes and findings; old_rubber: what replaces seen_with of findings on a belt of
    the older rubber; own: which figures are the user's, as (finding, cause): ("", cause) a prior,
    (finding, "") a leak.
    """

    causes: Mapping[str, FaultCause]
    findings: Mapping[str, FaultFinding]
    old_rubber: Mapping[str, Mapping[str, float]]
    own: frozenset[tuple[str, str]] = frozenset()

    def figure(self, finding: str, cause: str) -> float:
        """A figure of the table by finding and cause: ("", cause) a prior, (finding, "") a leak."""
        if not finding:
            return self.causes[cause].prior
        told = self.findings[finding]
        return told.seen_with.get(cause, 0.0) if cause else told.leak


class Cause(Value, frozen=True):
    """What may be the matter when an adjuster stands elsewhere than it should.

    prior: how often it is so before anything is seen; blur_…: how far what it would do to the belt
    length is blurred, mm or as a share of it.
    """

    name: str
    prior: float
    source: str
    blur_mm: float = 0.0
    blur_share: float = 0.0


class ReadingKind(Value, frozen=True):
    """A way of reading where shafts stand: what it is, how it is taken, and one standard deviation of
    it, mm or degrees; tools: of other tools.
    """

    name: str
    label: str
    how: str
    source: str
    sd_mm: float = 0.0
    sd_deg: float = 0.0
    tools: Mapping[str, float] = {}

    def sd_with(self, tool: str | None) -> float:
        """One standard deviation with a tool, mm or degrees."""
        return self.tools.get(tool or "", self.sd_mm or self.sd_deg)


class StackRules(Value, frozen=True):
    """What stacks of spacers and washers are judged by; the words stand with the data."""

    tolerance_mm: float
    most_pieces: int
    most_thin: int
    thin_mm: float
    bore_room_mm: float
    measured_sd_mm: float
    gap_watch_mm: float
    gap_stop_mm: float
    one_bolt_mm: float
    steer_mm: float
    source: str


class BoltRules(Value, frozen=True):
    """What bolts are judged by; the words stand with the data. engagement_…: in diameters."""

    engagement_steel: float
    engagement_iron: float
    engagement_aluminium: float
    shear_steel_mpa: float
    shear_iron_mpa: float
    shear_aluminium_mpa: float
    tensile_mpa: float
    end_room_mm: float
    torque_factors: list[float]
    elastic_mpa: float
    elastic_iron_mpa: float
    elastic_aluminium_mpa: float
    bedding_um: float
    slot_dynamic: float
    slot_friction: float
    lengths_mm: list[float]
    lengths_in: list[float]
    source: str

    def engagement(self, material: str) -> float:
        """Threads that hold, in diameters of the bolt, in a material."""
        return float(getattr(self, f"engagement_{material}"))

    def modulus_mpa(self, material: str) -> float:
        """Elastic modulus of a material, MPa; elastic_mpa is that of steel."""
        if material == "steel":
            return self.elastic_mpa
        return float(getattr(self, f"elastic_{material}_mpa"))

    def shear_mpa(self, material: str) -> float:
        """Shear strength of a material's threads, MPa."""
        return float(getattr(self, f"shear_{material}_mpa"))


class PlateRules(Value, frozen=True):
    """What bracket plates are made and judged by; the words stand with the data. bolts_mm, holes_mm and
    sockets_mm belong together; …_times: so many times a hole, a thickness or a bolt.
    """

    bolts_mm: list[float]
    holes_mm: list[float]
    inch_more_mm: float
    sockets_mm: list[float]
    spanner_deg: float
    thickness_mm: float
    fillet_mm: float
    least_web_mm: float
    least_web_times: float
    edge_times: float
    edge_stop_times: float
    head_times: float
    head_room_mm: float
    travel_more_deg: float
    play_sigmas: float
    surveyed_sd_mm: float
    density_aluminium_kg_m3: float
    density_steel_kg_m3: float
    density_iron_kg_m3: float
    source: str

    def hole_mm(self, bolt_mm: float, *, inch: bool) -> float:
        """The hole a bolt goes through with its usual play, mm."""
        if inch:
            return bolt_mm + self.inch_more_mm
        for bolt, hole in zip(self.bolts_mm, self.holes_mm, strict=True):
            if abs(bolt - bolt_mm) < 0.01:
                return hole
        return bolt_mm + (1.0 if bolt_mm > self.bolts_mm[0] else 0.5)

    def bolt_through_mm(self, hole_mm: float) -> float:
        """The largest usual bolt that goes through a hole, mm; nine tenths of it where none does."""
        pairs = zip(self.bolts_mm, self.holes_mm, strict=True)
        fits = [bolt for bolt, hole in pairs if hole <= hole_mm + 0.05]
        # a hole far wider than that of any bolt is for something else
        return max(0.9 * hole_mm if not fits or hole_mm > 1.3 * fits[-1] else fits[-1], 1.0)

    def socket_mm(self, bolt_mm: float) -> float:
        """How wide the socket of a bolt is outside, mm."""
        for bolt, socket in zip(self.bolts_mm, self.sockets_mm, strict=True):
            if bolt_mm <= bolt + 0.05:
                return socket
        return 2.1 * bolt_mm

    def density_kg_m3(self, material: str) -> float | None:
        """Density of a material by its name; None for one that is not known."""
        return getattr(self, f"density_{material.strip().casefold()}_kg_m3", None)


class AlignmentReadings(Value, frozen=True):
    """One standard deviation of readings of planes and tilts, mm and degrees."""

    laser_sd_mm: float
    laser_seat_deg: float
    straightedge_sd_mm: float
    depth_sd_mm: float
    square_sd_deg: float
    plumb_sd_deg: float
    rim_sd_mm: float
    source: str


class Doubtful(Value, frozen=True):
    """Within what a figure of a build lies in this trade. within: from and to, in the unit of its key;
    measures: its quantity; words: what it is called; judges: verdicts that rest on it, none: all.
    """

    within: tuple[float, float]
    measures: str
    words: str
    judges: tuple[str, ...] = ()


class Change(Value, frozen=True):
    """A shipped figure that is otherwise since a version of the data.

    of: its table and key; was: before; words: what it is; why: what it follows since; profiles: of
    which profiles of belts, all where none is named.
    """

    version: str
    of: str
    was: float
    words: str
    why: str
    profiles: tuple[str, ...] = ()


class Catalogue(Value, frozen=True):
    """All data a solve may look up. lengths: stocked effective lengths per profile, mm, rising.

    doubtful: within what figures lie, by kind of part and key; changes: shipped figures that were
    otherwise before; problems: own entries that were not taken, so
    that the shipped figure is used.
    """

    version: str
    profiles: Mapping[str, Profile]
    constructions: Mapping[str, Mapping[str, Construction]]
    kinds: Mapping[str, Kind]
    limits: Limits
    obstacles: Mapping[str, ObstacleKind]
    lengths: Mapping[str, tuple[float, ...]]
    parts: UsualParts
    stacks: StackRules
    bolts: BoltRules
    alignment: AlignmentReadings
    plates: PlateRules
    load_cases: Mapping[str, UsualLoads] = {}
    causes: Mapping[str, Cause] = {}
    faults: Faults = Faults({}, {}, {})
    readings: Mapping[str, ReadingKind] = {}
    doubtful: Mapping[str, Mapping[str, Doubtful]] = {}
    changes: tuple[Change, ...] = ()
    problems: tuple[str, ...] = ()

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
