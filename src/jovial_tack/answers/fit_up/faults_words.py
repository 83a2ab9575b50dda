"""What is likely wrong with a drive, in words."""

from __future__ import annotations

from difflib import get_close_matches

from jovial_tack.answers.fit_up.faults import Diagnosis, Likely, NextLook
from jovial_tack.catalogue import Catalogue
from jovial_tack.document.model import Build

#: How many causes are named, and from when on one is named at all.
_NAMED, _LEAST = 3, 0.2


def how_likely(probability: float) -> str:
    """A probability in a word or two."""
    if probability >= 0.8:
        return "very likely"
    return "likely" if probability >= 0.5 else "may be"


def named_causes(told: Diagnosis) -> tuple[Likely, ...]:
    """The causes that are named: the likeliest three, and none that is hardly likely."""
    return tuple(one for one in told.causes[:_NAMED] if one.probability >= _LEAST)


def cause_words(build: Build, told: Diagnosis, one: Likely) -> str:
    """A cause with how likely it is and where."""
    at = ""
    if one.where is not None:
        drive = build.drive(told.drive)
        at = f", at {build.shaft(drive.pulley(one.where).shaft).label}"
    return f"{how_likely(one.probability)} ({100 * one.probability:.0f} %): {one.words}{at}"


def why_words(catalogue: Catalogue, one: Likely) -> tuple[str, ...]:
    """What speaks for and against a cause, the strongest first."""
    findings = catalogue.faults.findings
    said = []
    for why in one.why:
        what = findings[why.finding].words
        way = "for" if why.tenth_bans > 0 else "against"
        there = "" if why.seen else ", which is not there"
        said.append(f"{way} it ({why.tenth_bans:+.1f}): {what}{there}")
    return tuple(said)


def look_words(catalogue: Catalogue, look: NextLook) -> str:
    """What to look at next, with its minutes and its caution."""
    words = catalogue.faults.findings[look.finding].words
    minutes = "at once" if look.minutes == 0 else f"{look.minutes:.0f} min"
    running = "; engine running: hands and hair clear" if look.running else ""
    return f"{words}? ({minutes}{running})"


def unknown_words(told: Diagnosis, catalogue: Catalogue) -> tuple[str, ...]:
    """Keys that are no finding, with what may be meant."""
    known = list(catalogue.faults.findings)
    said = []
    for key in told.unknown:
        meant = get_close_matches(key, known, 1)
        hint = f"; is “{meant[0]}” meant?" if meant else ""
        said.append(f"“{key}” is no finding and has no weight{hint}")
    return tuple(said)
