"""The user's own entries laid over the shipped data, which they never change."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cache
from typing import Any

from msgspec.structs import fields

from jovial_tack.catalogue.catalogue import (
    Catalogue,
    Cause,
    Construction,
    Doubtful,
    Limits,
    Profile,
)
from jovial_tack.catalogue.own_faults import with_own_faults
from jovial_tack.catalogue.shipped import load_catalogue, stocked_lengths
from jovial_tack.core.errors import CatalogueError
from jovial_tack.core.value import replace

#: The files that may hold own entries, by the table they add to.
OWN_TABLES = ("profiles", "constructions", "lengths", "limits", "causes", "faults", "doubtful")
#: Figures of profiles that were limits of all belts before.
_OF_PROFILES = ("belt_speed_watch_mps", "belt_speed_stop_mps")
_CONSTRUCTIONS = frozenset({"standard", "soft_grip", "low_stretch", "stretch"})

#: Figures of which nothing works at zero: loads and lengths are divided by them.
_ABOVE_ZERO = {
    "stiffness_n_per_rib",
    "mass_kg_per_m_per_rib",
    "friction_ribs",
    "friction_back",
    "most_tension_n_per_rib",
    "pitch_mm",
}


def with_own(shipped: Catalogue, tables: Mapping[str, Mapping[str, Any]]) -> Catalogue:
    """The catalogue with own tables laid over it: new entries, or figures of shipped ones replaced.

    The version says so, since a build computed with it may differ. Raises CatalogueError that names the
    table, the entry and what is wrong.
    """
    if not any(tables.values()):
        return shipped
    given = tables.get("limits", {})
    speeds = {key: given[key] for key in _OF_PROFILES if key in given}
    profiles = _own_profiles(shipped, tables.get("profiles", {}), speeds)
    constructions = _own_constructions(shipped, tables.get("constructions", {}), profiles)
    limits = shipped.limits
    if rest := {key: value for key, value in given.items() if key not in speeds}:
        limits = _laid_over("limits", "limits", Limits, limits, rest, None)
    mark = hashlib.sha256(json.dumps(tables, sort_keys=True, default=str).encode()).hexdigest()[:6]
    return replace(
        shipped,
        version=f"{shipped.version}+own-{mark}",
        profiles=profiles,
        lengths={**shipped.lengths, **_own_lengths(tables.get("lengths", {}))},
        constructions=constructions,
        limits=limits,
        causes=_own_causes(shipped.causes, tables.get("causes", {})),
        faults=with_own_faults(shipped.faults, tables.get("faults", {})),
        doubtful=_own_doubtful(shipped.doubtful, tables.get("doubtful", {})),
    )


def what_can_be_used(
    shipped: Catalogue, tables: Mapping[str, Mapping[str, Any]]
) -> tuple[Catalogue, tuple[str, ...]]:
    """The catalogue with those own entries over it that can be used, and why the others are not.

    What belongs together stands or falls together: a profile with its constructions and lengths. For
    all others the shipped figure is used.
    """
    try:
        return with_own(shipped, tables), ()
    except CatalogueError:
        pass
    taken: dict[str, dict[str, Any]] = {}
    problems = []
    for part in _parts(tables):
        tried = {name: dict(rows) for name, rows in taken.items()}
        for table, key, row in part:
            _put(tried, table, key, row)
        try:
            with_own(shipped, tried)
        except CatalogueError as error:
            problems.append(str(error))
        else:
            taken = tried
    return with_own(shipped, taken), tuple(problems)


#: Tables whose entries of one name belong together.
_TOGETHER = ("profiles", "constructions", "lengths")
_Entry = tuple[str, tuple[str, ...], Any]


def _parts(tables: Mapping[str, Mapping[str, Any]]) -> Iterator[Sequence[_Entry]]:
    """The entries of all tables, those together that belong together: table, keys, entry."""
    names = dict.fromkeys(name for table in _TOGETHER for name in tables.get(table, {}))
    for name in names:
        yield [(t, (name,), tables[t][name]) for t in _TOGETHER if name in tables.get(t, {})]
    for table, rows in tables.items():
        if table in _TOGETHER:
            continue
        for key, row in rows.items():
            if table in ("faults", "doubtful") and isinstance(row, Mapping):
                yield from ([(table, (key, name), each)] for name, each in row.items())
            else:
                yield [(table, (key,), row)]


def _put(tables: dict[str, dict[str, Any]], table: str, keys: tuple[str, ...], row: Any) -> None:
    """Put an entry into tables, where its keys lead."""
    place: dict[str, Any] = tables.setdefault(table, {})
    for key in keys[:-1]:
        place[key] = place = dict(place.get(key, {}))
    place[keys[-1]] = row


@cache
def _may_be_negative(kind: Any, key: str) -> bool:
    """Whether a figure of the shipped data is: then an own one may be too."""
    shipped = load_catalogue()
    rows: dict[Any, list[Any]] = {
        Profile: list(shipped.profiles.values()),
        Construction: [row for rows in shipped.constructions.values() for row in rows.values()],
        Limits: [shipped.limits],
        Cause: list(shipped.causes.values()),
    }
    values = [getattr(row, key) for row in rows.get(kind, [])]
    return any(isinstance(value, int | float) and value < 0 for value in values)


def _own_profiles(
    shipped: Catalogue, rows: Mapping[str, Any], speeds: Mapping[str, Any]
) -> dict[str, Profile]:
    """Profiles with own ones over them. speeds: figures that hold for all, as they were once given."""
    profiles = {
        name: _laid_over("limits", "limits", Profile, profile, speeds)
        for name, profile in shipped.profiles.items()
    }
    for name, row in rows.items():
        profiles[name] = _laid_over("profiles", name, Profile, profiles.get(name), row)
    return profiles


def _own_constructions(
    shipped: Catalogue, tables: Mapping[str, Any], profiles: Iterable[str]
) -> dict[str, dict[str, Construction]]:
    """Constructions by profile with own ones over them; every profile has all four."""
    found = {profile: dict(rows) for profile, rows in shipped.constructions.items()}
    for profile, rows in tables.items():
        own = found.setdefault(profile, {})
        for called, row in _rows("constructions", profile, rows).items():
            name = "stretch" if called == "stretch_fit" else called  # as it was called before
            where = f"{profile}.{name}"
            own[name] = _laid_over("constructions", where, Construction, own.get(name), row, name)
    for name in profiles:
        missing = _CONSTRUCTIONS - set(found.get(name, {}))
        if missing:
            needed = ", ".join(sorted(missing))
            raise CatalogueError(f"constructions: {name} needs {needed}, as every profile has them")
    return found


def _own_lengths(rows: Mapping[str, Any]) -> dict[str, tuple[float, ...]]:
    found = {}
    for name, row in rows.items():
        try:
            found[name] = stocked_lengths(row["steps"])
        except (KeyError, TypeError, ValueError, OverflowError):
            raise CatalogueError(f"lengths: {name} needs steps = [[from, to, step], …]") from None
    return found


def _own_causes(shipped: Mapping[str, Cause], rows: Mapping[str, Any]) -> dict[str, Cause]:
    """Causes with own weights; there are no others than those that can be worked out."""
    causes = dict(shipped)
    for name, row in rows.items():
        if name not in causes:
            raise CatalogueError(f"causes: there is no “{name}”; there are {', '.join(causes)}")
        causes[name] = _laid_over("causes", name, Cause, causes[name], row)
    return causes


def _own_doubtful(
    shipped: Mapping[str, Mapping[str, Doubtful]], rows: Mapping[str, Any]
) -> dict[str, dict[str, Doubtful]]:
    """Within what figures of a build lie, with own limits: of larger or smaller engines."""
    found = {part: dict(known) for part, known in shipped.items()}
    for part, figures in rows.items():
        for key, row in _rows("doubtful", part, figures).items():
            if key not in found.get(part, {}):
                raise CatalogueError(f"doubtful: nothing is asked of {part}.{key}")
            try:
                low, high = (float(end) for end in row["within"])
            except (KeyError, TypeError, ValueError):
                raise CatalogueError(f"doubtful: {part}.{key} needs within = [from, to]") from None
            if not -1e9 < low < high < 1e9:
                raise CatalogueError(f"doubtful: {part}.{key} needs within = [from, to], rising")
            found[part][key] = replace(found[part][key], within=(low, high))
    return found


def _rows(table: str, name: str, rows: Any) -> Mapping[str, Any]:
    if not isinstance(rows, Mapping) or not all(isinstance(row, Mapping) for row in rows.values()):
        raise CatalogueError(f"{table}: {name} is no table of entries")
    return rows


def _laid_over(
    table: str, where: str, kind: Any, shipped: Any, row: Any, name: str | None = ""
) -> Any:
    """An entry with own figures over those shipped; a new one must be whole."""
    if not isinstance(row, Mapping):
        raise CatalogueError(f"{table}: {where} is no entry")
    known = {field.name: field for field in fields(kind)}
    for key, value in row.items():
        if key not in known or key == "name":
            raise CatalogueError(f"{table}: {where} has no figure “{key}”")
        wanted = str(known[key].type)
        number = isinstance(value, int | float) and not isinstance(value, bool)
        if ("float" in wanted) != number or (number and not -1e9 < value < 1e9):
            raise CatalogueError(
                f"{table}: {where}.{key} needs {'a number' if not number else 'words'}"
            )
        if key in _ABOVE_ZERO and value <= 0:
            raise CatalogueError(f"{table}: {where}.{key} needs a figure above zero")
        if number and value < 0 and not _may_be_negative(kind, key):
            raise CatalogueError(f"{table}: {where}.{key} needs a figure of 0 or more")
    if shipped is not None:
        return replace(shipped, **row)
    try:
        return kind(**({} if name is None else {"name": name or where}), **row)
    except TypeError:
        lacking = [
            key
            for key, field in known.items()
            if key not in row and key != "name" and field.required
        ]
        raise CatalogueError(f"{table}: {where} lacks {', '.join(lacking)}") from None
