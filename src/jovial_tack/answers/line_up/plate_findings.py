"""What is wrong with a bracket plate, a sentence each (docs/METHOD.md, section 16)."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from math import degrees

import shapely

from jovial_tack.answers.kinds import (
    EDGE_DISTANCE,
    HOLE_OFF,
    HOLES_CLOSE,
    NEAR_BEND,
    NO_ROOM_FOR_TOOL,
    PLATE_COLLIDES,
    PLATE_IN_PIECES,
    SLOT_SHORT,
    WEB_BLOCKED,
    WEB_WIDTH,
    Kind,
)
from jovial_tack.answers.line_up.plate_parts import bolt_mm_of, cuts_of
from jovial_tack.answers.line_up.tool_room import NoRoom
from jovial_tack.answers.results import CutEdge, Finding, Level
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.line_up.plate_checks import Met, Web, gaps_between
from jovial_tack.core.line_up.plate_cuts import Cut, KeptOut
from jovial_tack.core.line_up.plate_shape import Shape, spine_of
from jovial_tack.core.units import format_length
from jovial_tack.document import model as doc
from jovial_tack.document.meant import boss_of, cut_name, place_wanted, shaft_of_cut

__all__ = ["KeptOut", "Speaker"]

#: A hole this far off its boss still takes the bolt whatever its play, mm.
_ON_PLACE_MM = 0.02


class Speaker:
    """Findings of one plate, in the build's unit, each said of the cut it is about."""

    def __init__(self, build: doc.Build, plate: doc.Plate) -> None:
        self.build, self.plate = build, plate

    def say(
        self,
        kind: Kind,
        level: Level,
        words: str,
        value: float | None = None,
        limit: float | None = None,
        where: str = "",
    ) -> Finding:
        """One finding. where: the cut it is of, the plate itself if none."""
        said = f"{self.plate.label}: {words}"
        return Finding(kind, level, where or self.plate.id, said, value=value, limit=limit)

    def length(self, mm: float) -> str:
        """A length in words."""
        return format_length(mm, self.build.display_units)

    def name(self, cut_id: str) -> str:
        """What a cut is called: by what goes through it."""
        return cut_name(self.build, self.plate.feature(cut_id))


def of_pieces(say: Speaker, shape: Shape, cuts: Sequence[Cut]) -> Iterator[Finding]:
    """A plate that does not hang together."""
    if not cuts or len(shape.pieces) <= 1:
        return
    loose = [
        cut.id for piece in shape.pieces[1:] for cut in cuts if piece.intersects(spine_of(cut))
    ]
    names = " and ".join(say.name(name) for name in loose[:2]) or "a piece without a hole"
    count = len(shape.pieces)
    words = f"it is in {count} pieces, {names} by itself; join them with a web that goes round"
    yield say.say(PLATE_IN_PIECES, "stop", words, count, 1, loose[0] if loose else "")


def of_what_it_meets(
    say: Speaker, away: Sequence[KeptOut], met: Sequence[Met]
) -> Iterator[Finding]:
    """What a plate runs into, once for each thing."""
    worst: dict[str, tuple[Met, KeptOut]] = {}
    for one in met:
        thing = away[one.which]
        if thing.tells not in worst or one.gap_mm < worst[thing.tells][0].gap_mm:
            worst[thing.tells] = one, thing
    for one, thing in worst.values():
        wanted = f"{say.length(thing.clear_mm)} wanted"
        if one.gap_mm <= 0:
            words = f"it stands {say.length(-one.gap_mm)} deep in {thing.tells} ({wanted})"
        else:
            words = f"it comes within {say.length(one.gap_mm)} of {thing.tells} ({wanted})"
        yield say.say(PLATE_COLLIDES, "stop", words, one.gap_mm, thing.clear_mm)


def of_edges(say: Speaker, edges: Sequence[CutEdge]) -> Iterator[Finding]:
    """Holes too near to the edge."""
    for edge in edges:
        if edge.level is None:
            continue
        words = (
            f"{say.name(edge.id)} is {say.length(edge.away_mm)} from the edge to its middle"
            f" ({say.length(edge.wanted_mm)} wanted)"
        )
        yield say.say(EDGE_DISTANCE, edge.level, words, edge.away_mm, edge.wanted_mm, edge.id)


def of_gaps(say: Speaker, cuts: Sequence[Cut]) -> Iterator[Finding]:
    """Cuts with too little metal between them."""
    if len(cuts) < 2:
        return
    gaps = gaps_between(cuts)
    for k, one in enumerate(cuts):
        for j, other in enumerate(cuts[k + 1 :], k + 1):
            gap, wanted = float(gaps[k, j]), max(one.width_mm, other.width_mm) / 2
            if gap >= wanted - 1e-6:
                continue
            names = f"{say.name(one.id)} and {say.name(other.id)}"
            between = (
                f"run into one another by {say.length(-gap)}"
                if gap <= 0
                else f"have {say.length(gap)} of metal between them"
            )
            words = f"{names} {between} ({say.length(wanted)} wanted)"
            yield say.say(HOLES_CLOSE, "watch", words, gap, wanted, one.id)


def of_webs(
    say: Speaker, web: Web | None, wanted: float, blocked: Sequence[tuple[str, str, str]]
) -> Iterator[Finding]:
    """Webs that are left out or thin."""
    for a, b, tells in blocked:
        words = f"the web from {say.name(a)} to {say.name(b)} is left out: {tells} is in its way"
        yield say.say(WEB_BLOCKED, "watch", words, where=a)
    if web is not None and 0 < web.width_mm < wanted - 0.02:
        words = f"its least web is {say.length(web.width_mm)} wide ({say.length(wanted)} wanted)"
        yield say.say(WEB_WIDTH, "watch", words, web.width_mm, wanted)


def of_tools(say: Speaker, blocked: Sequence[NoRoom], needed_deg: float) -> Iterator[Finding]:
    """Bolts a socket does not get onto. needed_deg: the swing a spanner wants."""
    for one in blocked:
        words = (
            f"no room for a socket of {say.length(one.socket_mm)} over {say.name(one.cut)}:"
            f" {one.by} stands before it; tighten it before that goes on"
        )
        if one.spanner_deg >= needed_deg:
            words += f", or with a spanner, which has {one.spanner_deg:.0f}° of swing"
        limit = one.socket_mm / 2
        yield say.say(NO_ROOM_FOR_TOOL, "watch", words, one.gap_mm, limit, one.cut)


def of_slots(
    say: Speaker, plate: doc.Plate, shape: Shape, catalogue: Catalogue
) -> Iterator[Finding]:
    """Slots shorter than the travel of their unit, and ends at which a bolt's head leaves the plate."""
    build, rules = say.build, catalogue.plates
    for cut, core in zip(plate.features, cuts_of(plate), strict=True):
        if isinstance(cut, doc.HoleCut):
            continue
        missing = _travel_missing(build, cut)
        if missing > 0.05:
            words = f"{say.name(cut.id)} is {say.length(missing)} shorter than its travel"
            yield say.say(SLOT_SHORT, "watch", words, -missing, 0.0, cut.id)
        bolt = bolt_mm_of(build, cut) or rules.bolt_through_mm(cut.width)
        needed = rules.head_times * bolt / 2 + rules.head_room_mm
        outside = min(
            float(shapely.Point(end.real, end.imag).distance(piece.exterior))
            for piece in shape.pieces
            for end in core.ends
        )
        if outside < needed - 0.02:
            words = (
                f"at the end of {say.name(cut.id)} the head of its bolt is {say.length(outside)}"
                f" from the edge ({say.length(needed)} wanted)"
            )
            yield say.say(SLOT_SHORT, "watch", words, outside, needed, cut.id)


def _travel_missing(build: doc.Build, cut: doc.SlotCut | doc.ArcCut) -> float:
    """By how much a slot is shorter than the travel of the shaft it is for, mm."""
    name = shaft_of_cut(build, cut)
    mount = None if name is None else build.shaft(name).mount
    if isinstance(cut, doc.ArcCut) and isinstance(mount, doc.SwingMount):
        short = abs(mount.to_deg - mount.from_deg) - (cut.to_deg - cut.from_deg)
        return short / degrees(1.0) * cut.radius_mm
    if isinstance(cut, doc.SlotCut) and isinstance(mount, doc.SlotMount):
        travel = abs(complex(*mount.to_mm) - complex(*mount.from_mm))
        return travel - abs(complex(*cut.to_mm) - complex(*cut.from_mm))
    return 0.0


def of_places(say: Speaker, plate: doc.Plate, catalogue: Catalogue) -> Iterator[Finding]:
    """Holes so far off their bosses that the bolt does not go in."""
    for cut in plate.features:
        wanted = place_wanted(say.build, cut)
        if wanted is None or not isinstance(cut, doc.HoleCut) or plate.stands_on is not None:
            continue
        off = abs(complex(*cut.at_mm) - wanted)
        bolt = bolt_mm_of(say.build, cut) or catalogue.plates.bolt_through_mm(cut.width)
        play = max((cut.width - bolt) / 2, _ON_PLACE_MM)
        if off > play:
            words = (
                f"{say.name(cut.id)} stands {say.length(off)} off it, its bolt has"
                f" {say.length(play)} of play"
            )
            yield say.say(HOLE_OFF, "watch", words, off, play, cut.id)


def of_bends(say: Speaker, plate: doc.Plate, cuts: Sequence[Cut]) -> Iterator[Finding]:
    """Holes within a thickness of the line another plate stands on, or of the foot of a leg."""
    lines: list[tuple[complex, complex, float]] = []
    for other in say.build.plates:
        on = other.stands_on
        if on is not None and on.plate == plate.id:
            lines.append((complex(*on.from_mm), complex(*on.to_mm), other.thickness_mm))
    if plate.stands_on is not None:
        on = plate.stands_on
        length = abs(complex(*on.to_mm) - complex(*on.from_mm))
        lines.append((0j, length + 0j, _thickness_of(say.build, on.plate)))
    for a, b, thick in lines:
        line = shapely.LineString([(a.real, a.imag), (b.real, b.imag)])
        for cut in cuts:
            away = float(spine_of(cut).distance(line)) - cut.width_mm / 2
            if away < thick - 1e-6:
                words = (
                    f"{say.name(cut.id)} is {say.length(away)} from the line the two plates meet at"
                    f" ({say.length(thick)} wanted)"
                )
                yield say.say(NEAR_BEND, "watch", words, away, thick, cut.id)


def _thickness_of(build: doc.Build, plate_id: str) -> float:
    return next((plate.thickness_mm for plate in build.plates if plate.id == plate_id), 0.0)


def of_play(say: Speaker, plate: doc.Plate, catalogue: Catalogue) -> Iterator[str]:
    """Holes whose bosses are not known well enough for their play, in words; no alarm, since they are
    as likely in place as not.
    """
    rules = catalogue.plates
    surveyed = [
        (cut, boss)
        for cut in plate.features
        if isinstance(cut, doc.HoleCut)
        and (boss := boss_of(say.build, cut)) is not None
        and boss.sd_mm is not None
    ]
    for cut, boss in surveyed:
        others = [other.sd_mm or 0.0 for _, other in surveyed if other.id != boss.id]
        if not others or boss.sd_mm is None or boss.sd_mm <= rules.surveyed_sd_mm:
            continue
        between = (boss.sd_mm**2 + min(others) ** 2) ** 0.5
        bolt = bolt_mm_of(say.build, cut) or rules.bolt_through_mm(cut.width)
        play, needed = (cut.width - bolt) / 2, rules.play_sigmas * between
        if play < needed:
            yield (
                f"{say.name(cut.id)}: {say.length(play)} of play, ± {say.length(needed)} by its"
                " survey; slot this hole or measure again"
            )
