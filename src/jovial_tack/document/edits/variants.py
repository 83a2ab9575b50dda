"""Rival states of one build, kept inside it and compared on the same verdicts."""

from __future__ import annotations

from jovial_tack.core.errors import BuildFileError
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.names import free_name
from jovial_tack.document.model import Build, Variant, make
from jovial_tack.document.model.build import MOST_VARIANTS

PRESENT = "as it stands"


def bare(build: Build) -> Build:
    """A build without its variants and its logbook, which are those of all of them."""
    return changed(build, variants=None, logbook=None)


def of_all(made: Build, build: Build) -> Build:
    """A build made of another's bare state, with what is of all of that one's variants again."""
    logbook = build.logbook if "logbook" in build.given else None
    return changed(made, variants=build.variants or None, logbook=logbook)


def keep_variant(build: Build, name: str = "variant") -> Build:
    """Keep the present state as a variant, under a name of its own.

    Raises BuildFileError where as many are kept already as a build can hold.
    """
    if len(build.variants) >= MOST_VARIANTS:
        room = f"room for one more variant: a build holds {MOST_VARIANTS}, drop one first"
        raise BuildFileError("variants", room)
    own = free_name(name.strip() or "variant", [PRESENT, *(v.name for v in build.variants)])
    new = make(Variant, {"name": own, "build": bare(build)})
    return changed(build, variants=(*build.variants, new))


def take_variant(build: Build, name: str) -> Build:
    """Go on from a variant. The present state is kept as one too, unless it is one already."""
    chosen = next(variant for variant in build.variants if variant.name == name)
    if all(variant.build != bare(build) for variant in build.variants):
        build = keep_variant(build, f"before {name}")
    return of_all(chosen.build, build)


def drop_variant(build: Build, name: str) -> Build:
    """Let go of a variant."""
    kept = tuple(variant for variant in build.variants if variant.name != name)
    return changed(build, variants=kept or None)
