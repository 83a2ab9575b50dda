"""The user's own data files: belts, constructions, lengths and limits beside the shipped ones."""

from __future__ import annotations

import tomllib
from difflib import get_close_matches
from pathlib import Path
from typing import Any

from jovial_tack.catalogue import Catalogue, load_catalogue
from jovial_tack.catalogue.own import OWN_TABLES, what_can_be_used, with_own
from jovial_tack.core.errors import CatalogueError
from jovial_tack.core.value import replace
from jovial_tack.files.places import data_folder
from jovial_tack.files.reading import read_regular
from jovial_tack.files.whole import reason

_MOST_BYTES = 2_000_000


def own_catalogue(folder: Path | None = None, *, strict: bool = False) -> Catalogue:
    """The shipped catalogue with the user's own entries laid over it; what of them cannot be used is
    told in its `problems`, and the shipped figure is used.

    folder: where own files lie, by default `catalogue` in the data folder; nothing is written there.
    strict: raise CatalogueError, which names the file and what is wrong in it, in place of telling.
    """
    place = data_folder() / "catalogue" if folder is None else folder
    tables: dict[str, dict[str, Any]] = {}
    problems = _strangers(place)
    for name in OWN_TABLES:
        try:
            table = _table(place / f"{name}.toml")
        except CatalogueError as error:
            if strict:
                raise
            problems.append(str(error))
            continue
        if table is not None:
            tables[name] = table
    if strict:
        try:
            return with_own(load_catalogue(), tables)
        except CatalogueError as error:
            raise CatalogueError(f"{place}: {error}") from None
    catalogue, refused = what_can_be_used(load_catalogue(), tables)
    problems += [f"{place}: {why}" for why in refused]
    return replace(catalogue, problems=tuple(problems)) if problems else catalogue


def _table(path: Path) -> dict[str, Any] | None:
    """An own table, None where there is none. Raises CatalogueError."""
    try:
        return tomllib.loads(read_regular(path, _MOST_BYTES).decode("utf-8"))
    except FileNotFoundError:
        return None
    except RecursionError:
        raise CatalogueError(f"{path}: nested too deeply") from None
    except (tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
        raise CatalogueError(f"{path}: no TOML: {error}") from None
    except OSError as error:
        raise CatalogueError(f"{path}: cannot be read ({reason(error)})") from None


def _strangers(place: Path) -> list[str]:
    """Files that look like own data and are none: they would be passed over in silence."""
    try:
        names = sorted(path.name for path in place.iterdir())
    except OSError:
        return []
    own = [f"{name}.toml" for name in OWN_TABLES]
    said = []
    for name in names:
        if name in own or name.startswith(".") or name.endswith("~"):
            continue
        near = get_close_matches(name.lower(), own, n=1, cutoff=0.6)
        meant = f"is {near[0]} meant?" if near else f"own data stands in {', '.join(own)}"
        said.append(f"{place / name}: not read; {meant}")
    return said
