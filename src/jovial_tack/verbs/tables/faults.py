"""Likely causes as lines."""

from __future__ import annotations

from collections.abc import Sequence

from jovial_tack.answers.fit_up.faults import Diagnosis
from jovial_tack.answers.fit_up.faults_words import (
    cause_words,
    look_words,
    named_causes,
    unknown_words,
    why_words,
)
from jovial_tack.answers.fit_up.squeal import WhoSqueals, squeal_words
from jovial_tack.catalogue import Catalogue
from jovial_tack.document.model import Build


def faults_table(
    build: Build,
    catalogue: Catalogue,
    told: Sequence[Diagnosis],
    heard: Sequence[WhoSqueals] = (),
) -> str:
    """Each drive with its likely causes, why, and what to look at next; before it what was heard."""
    lines = []
    for recording in heard:
        lines.append(f"The recording, for {build.drive(recording.drive).label}:")
        lines += [f"  {words}" for words in squeal_words(build, recording)]
    for one in told:
        lines.append(f"{build.drive(one.drive).label}:")
        causes = named_causes(one)
        for cause in causes:
            lines.append(f"  {cause_words(build, one, cause)}")
            lines += [f"    {why}" for why in why_words(catalogue, cause)]
            lines.append(f"    {'solved: ' if cause.solved else ''}{cause.remedy}")
        if not causes:
            lines.append("  nothing stands out yet")
        lines.append(f"  something else: {100 * one.something_else:.0f} %")
        lines += [f"  look next: {look_words(catalogue, look)}" for look in one.look_next[:3]]
        lines += [f"  {words}" for words in unknown_words(one, catalogue)]
    return "\n".join(lines) if lines else "no belt drive yet"
