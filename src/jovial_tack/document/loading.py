"""From parsed JSON to a Build: every refusal names the key and what was expected there."""

from __future__ import annotations

import difflib
from collections.abc import Iterator
from typing import Any

from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import BuildFileError, CatalogueError
from jovial_tack.document.model import FORMAT, VERSION, Build, Part, make


def _version_of(data: Any) -> int:
    """The version of a build file, once it is known to be one."""
    if not isinstance(data, dict):
        raise BuildFileError("", "a Jovial Tack build is a JSON object in braces")
    if data.get("format") != FORMAT:
        raise BuildFileError("format", f"“{FORMAT}” (this is not a Jovial Tack build)")
    version = data.get("version")
    if isinstance(version, bool) or not isinstance(version, int) or version < 1:
        raise BuildFileError("version", f"a whole number from 1 to {VERSION}")
    return version


def build_from_json(data: Any, catalogue: Catalogue) -> tuple[Build, list[str]]:
    """A checked Build from parsed JSON, with remarks the user should see.

    Raises BuildFileError with the key path and what was expected there.
    """
    version = _version_of(data)
    try:
        build = make(Build, _up_to_date(data))
    except BuildFileError:
        if version <= VERSION:
            raise
        raise BuildFileError(
            "version",
            f"written by a newer Jovial Tack (file version {version}, this one reads {VERSION})",
        ) from None
    if version > VERSION:
        return build, []
    check_names(build, catalogue)
    remarks = [*_misspelled(build, "")]
    remarks += _since(build, catalogue)
    return build, remarks


def _since(build: Build, catalogue: Catalogue) -> list[str]:
    """Which figures a build hangs on are otherwise than in the data it was made with, and why."""
    made_with = build.catalogue_version
    if made_with is None or made_with == catalogue.version:
        return []
    then, _, own_then = made_with.partition("+own-")
    now, _, own_now = catalogue.version.partition("+own-")
    remarks = []
    used = {drive.belt.profile for drive in build.drives}
    for change in catalogue.changes:
        if not _is_before(then, change.version):
            continue
        for name in sorted(used & set(change.profiles or used)):
            figure = getattr(catalogue.profile(name), change.of.partition(".")[2])
            if figure != change.was:
                remarks.append(
                    f"{change.words} of {name}: {change.was:g} in the data this build was made with"
                    f" ({then}), {figure:g} now ({change.why})"
                )
    if own_then and own_then != own_now:
        others = "other own data are used now" if own_now else "the shipped figures are used here"
        remarks.append(f"made with own data over the shipped figures; {others}")
    if _is_before(now, then):
        remarks.append(f"made with newer shipped data ({then}); computed with {now}")
    return remarks


def _is_before(version: str, other: str) -> bool:
    """Whether a version of the data, as 2026.11, is before another; one that is none is before all."""
    return _number(version) < _number(other)


def _number(version: str) -> tuple[int, ...]:
    parts = version.split(".")
    return tuple(int(part) for part in parts) if all(part.isdigit() for part in parts) else ()


def _up_to_date(build: Any) -> Any:
    """Words of older files in today's: a stretch belt was called stretch_fit."""
    if not isinstance(build, dict):
        return build
    renewed = dict(build)
    if isinstance(build.get("drives"), list):
        renewed["drives"] = [_drive_up_to_date(drive) for drive in build["drives"]]
    if isinstance(build.get("variants"), list):
        renewed["variants"] = [
            {**variant, "build": _up_to_date(variant.get("build"))}
            if isinstance(variant, dict) and "build" in variant
            else variant
            for variant in build["variants"]
        ]
    return renewed


def _drive_up_to_date(drive: Any) -> Any:
    belt = drive.get("belt") if isinstance(drive, dict) else None
    if not isinstance(belt, dict) or belt.get("construction") != "stretch_fit":
        return drive
    return {**drive, "belt": {**belt, "construction": "stretch"}}


def is_newer(build: Build) -> bool:
    """Whether the build was written by a newer version: to be looked at, not computed."""
    return build.version > VERSION


def check_names(build: Build, catalogue: Catalogue) -> None:
    """Raise BuildFileError for a profile, construction or load case the catalogue does not know."""
    own = {case.id for case in build.load_cases}
    if build.load_case is not None and build.load_case not in own | catalogue.load_cases.keys():
        known = ", ".join(sorted(own | catalogue.load_cases.keys()))
        raise BuildFileError("load_case", f"one of {known}, not “{build.load_case}”")
    for place, drive in enumerate(build.drives):
        where = f"drives[{place}].belt"
        try:
            catalogue.profile(drive.belt.profile)
        except CatalogueError as error:
            raise BuildFileError(
                f"{where}.profile", f"{error}, not “{drive.belt.profile}”"
            ) from None
        try:
            catalogue.construction(drive.belt.profile, drive.belt.construction)
        except CatalogueError as error:
            raise BuildFileError(f"{where}.construction", str(error)) from None


def _misspelled(part: Part, where: str) -> list[str]:
    """Unknown keys that look like known ones, as remarks."""
    remarks = []
    fields = part.__struct_fields__
    for key in part.unknown:
        near = difflib.get_close_matches(
            key, [part.key_of(name) for name in fields if name not in part.given], n=1, cutoff=0.8
        )
        if near:
            path = f"{where}.{key}" if where else key
            remarks.append(f"{path} is not a known key and is kept as it is; was {near[0]} meant?")
    for inner, value in _parts_in(part, where):
        remarks += _misspelled(value, inner)
    return remarks


def _parts_in(part: Part, where: str) -> Iterator[tuple[str, Part]]:
    """The parts a part is made of, each with its key path."""
    for name in sorted(part.given):
        value = getattr(part, name)
        key = part.key_of(name)
        inner = f"{where}.{key}" if where else key
        each = enumerate(value) if isinstance(value, tuple) else ()
        if isinstance(value, Part):
            yield inner, value
        yield from ((f"{inner}[{k}]", item) for k, item in each if isinstance(item, Part))
