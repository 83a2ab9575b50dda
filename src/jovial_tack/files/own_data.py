"""The user's own data files: belts, constructions, lengths and limits beside the shipped ones."""

from __future__ import annotations

import tomllib
from pathlib import Path

from jovial_tack.catalogue import Catalogue, load_catalogue
from jovial_tack.catalogue.own import OWN_TABLES, with_own
from jovial_tack.core.errors import CatalogueError
from jovial_tack.files.places import data_folder
from jovial_tack.files.reading import read_regular
from jovial_tack.files.whole import reason

_MOST_BYTES = 2_000_000


def own_catalogue(folder: Path | None = None) -> Catalogue:
    """The shipped catalogue with the user's own entries laid over it.

    folder: where own files lie, by default `catalogue` in the data folder. Raises CatalogueError that
    names the file and what is wrong in it; nothing is ever written there.
    """
    place = data_folder() / "catalogue" if folder is None else folder
    tables = {}
    for name in OWN_TABLES:
        path = place / f"{name}.toml"
        try:
            tables[name] = tomllib.loads(read_regular(path, _MOST_BYTES).decode("utf-8"))
        except FileNotFoundError:
            continue
        except RecursionError:
            raise CatalogueError(f"{path}: nested too deeply") from None
        except (tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
            raise CatalogueError(f"{path}: no TOML: {error}") from None
        except OSError as error:
            raise CatalogueError(f"{path}: cannot be read ({reason(error)})") from None
    try:
        return with_own(load_catalogue(), tables)
    except CatalogueError as error:
        raise CatalogueError(f"{place}: {error}") from None
