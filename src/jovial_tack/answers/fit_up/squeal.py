"""Who squeals in a recording of a drive, in words, and what that is evidence of (METHOD 18)."""

from __future__ import annotations

from collections.abc import Mapping

from jovial_tack.answers.results import DriveResult
from jovial_tack.core.arrays import Float
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.run_check.squeal import ALIKE, Squeal, who_squeals
from jovial_tack.core.value import Value
from jovial_tack.document.edits.symptoms import set_finding, set_turning
from jovial_tack.document.model import Build

#: The belt among what turns; and the engine's own beats, which are none of the drive.
BELT, _CYCLE, _FIRING = "belt", "the engine's cycle", "the engine's firing"
_OF_PULLEY, _OF_BELT = "once_a_turn", "once_a_belt"


class WhoSqueals(Value, frozen=True, eq=False):
    """What the noise of a drive beats with. named: pulleys, or the belt, that cannot be told apart;
    engine_too: the engine itself beats so, and may be all that is heard.
    """

    drive: str
    heard: Squeal
    named: tuple[str, ...]
    engine_too: bool

    @property
    def is_evidence(self) -> bool:
        """Whether one thing of the drive stands out, and not the engine."""
        return len(self.named) == 1 and not self.engine_too


def squeal_of(
    build: Build, result: DriveResult, samples: Float, rate_hz: float, crank_rpm: float
) -> WhoSqueals:
    """Listen to a recording (N,) taken at steady revs. Raises SoundError for what cannot be judged,
    GeometryError where the drive does not turn.
    """
    turns = turns_of(result)
    firings = (build.engine.cylinders or 8) / 2.0
    own = {_CYCLE: 0.5, _FIRING: firings}
    heard = who_squeals(samples, rate_hz, crank_rpm, {**turns, **own}, firings)
    named = tuple(name for name in heard.named if name in turns)
    beats_so = any(_beats_with_engine(turns[name]) for name in named)
    return WhoSqueals(result.id, heard, named, beats_so or any(n in own for n in heard.named))


def turns_of(result: DriveResult) -> dict[str, float]:
    """Turns of each pulley, and of the belt, for one of the crank. Raises GeometryError."""
    if not result.rpm or result.cord_length_mm is None or not result.belt_speed_mps:
        raise GeometryError("the drive does not run yet: see its findings")
    crank_hz = result.rpm[-1] / 60.0
    speed = result.belt_speed_mps[-1]
    if speed is None:
        raise GeometryError("the drive does not run yet: see its findings")
    belt = 1000.0 * speed / result.cord_length_mm / crank_hz
    return {**{pulley.id: pulley.speed_ratio for pulley in result.pulleys}, BELT: belt}


def _beats_with_engine(turns: float) -> bool:
    """Whether it turns with the engine's half turns, which valves and firing beat with."""
    nearest = max(round(2.0 * turns), 1) / 2.0
    return abs(turns / nearest - 1.0) < ALIKE


def squeal_words(build: Build, told: WhoSqueals) -> tuple[str, ...]:
    """What was heard, a sentence a line without its full stop."""
    heard = told.heard
    how = "by its firing" if heard.firing_heard else "as told, its firing is not heard"
    revs = f"the engine ran at {heard.crank_rpm:.0f} rpm, {how}"
    if not told.named:
        if told.engine_too:
            return ("it beats as the engine itself does, not as the belt or a pulley", revs)
        return (
            "no beat stands out: not one pulley or one place of the belt; a squeal without a beat is"
            " slip rather",
            revs,
        )
    names = _names(build, told)
    beats = f"it swells {heard.beats_hz:.1f} times a second"
    said = [
        f"{beats}, as {names[0]} turns" if len(names) == 1 else f"{beats}: {' or '.join(names)}"
    ]
    if told.engine_too:
        said.append("the engine itself beats so too: it may be all that is heard")
    elif told.named == (BELT,):
        said.append("a place of the belt: its splice, a torn rib, a glazed spot")
    elif len(told.named) == 1:
        said.append("that pulley: bent, dirty in a groove or out of line")
    else:
        said.append("they turn too nearly alike here: record it at other revs, or look at each")
    return (*said, revs)


def _names(build: Build, told: WhoSqueals) -> list[str]:
    drive = build.drive(told.drive)
    return [
        "the belt"
        if name == BELT
        else f"the pulley of {build.shaft(drive.pulley(name).shaft).label}"
        for name in told.named
    ]


def taken_as_evidence(build: Build, told: WhoSqueals) -> Build:
    """The build with what was heard among the drive's symptoms; as it was where nothing stands out."""
    if not told.is_evidence:
        return build
    thing = told.named[0]
    if thing == BELT:
        return set_finding(build, told.drive, _OF_BELT, True)
    return set_turning(set_finding(build, told.drive, _OF_PULLEY, True), told.drive, thing)


def scores_of(told: WhoSqueals) -> Mapping[str, float]:
    """How far each stands over chance, the engine's own left out."""
    own = (_CYCLE, _FIRING)
    return {name: score for name, score in told.heard.scores.items() if name not in own}
