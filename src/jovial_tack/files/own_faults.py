"""Own figures of the noise finder's table, kept in the user's own data; other lines stay."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import CatalogueError, SaveError
from jovial_tack.files.own_data import own_catalogue
from jovial_tack.files.places import data_folder
from jovial_tack.files.reading import read_regular
from jovial_tack.files.whole import reason, replace_file

_MOST_BYTES = 2_000_000
_BEGINNING = "# Own figures of the noise finder, over the shipped ones.\n"


def keep_own_figure(
    finding: str, cause: str, value: float | None, folder: Path | None = None
) -> Catalogue:
    """Keep a figure of the table, None to have the shipped one again, and give the catalogue with it.

    finding and cause: ("", cause) a prior, (finding, "") a leak. What else stands in the file, remarks
    too, is kept. Raises CatalogueError for what is no figure, SaveError where it cannot be written; the
    file is then as it was.
    """
    import tomlkit  # only who changes the table needs it
    from tomlkit.exceptions import TOMLKitError

    place = data_folder() / "catalogue" if folder is None else folder
    path = place / "faults.toml"
    before = _text(path)
    try:
        document = tomlkit.parse(before or _BEGINNING)
        _set(document, _way(finding, cause), value)
        written = tomlkit.dumps(document)
    except TOMLKitError as error:
        raise CatalogueError(f"{path}: no TOML: {error}") from None
    try:
        place.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise SaveError(f"{place} cannot be made: {reason(error)}") from None
    replace_file(path, written.encode())
    try:
        return own_catalogue(folder, strict=True)
    except CatalogueError:
        _restore(path, before)
        raise


def _text(path: Path) -> str | None:
    try:
        return read_regular(path, _MOST_BYTES).decode("utf-8")
    except FileNotFoundError:
        return None
    except (OSError, UnicodeDecodeError) as error:
        said = reason(error) if isinstance(error, OSError) else "no UTF-8"
        raise CatalogueError(f"{path}: cannot be read ({said})") from None


def _restore(path: Path, before: str | None) -> None:
    if before is None:
        path.unlink(missing_ok=True)
    else:
        replace_file(path, before.encode())


def _way(finding: str, cause: str) -> tuple[str, ...]:
    """The keys that lead to a figure."""
    if not finding:
        return "causes", cause, "prior"
    return ("findings", finding, "seen_with", cause) if cause else ("findings", finding, "leak")


def _set(document: Any, way: tuple[str, ...], value: float | None) -> None:
    """Set or take out a figure; tables on its way are made, and taken out once they are empty."""
    import tomlkit

    key, *rest = way
    if not rest:
        if value is None:
            document.pop(key, None)
        else:
            document[key] = value
        return
    if key not in document:
        if value is None:
            return
        document[key] = tomlkit.table()
    _set(document[key], tuple(rest), value)
    if not document[key]:
        document.pop(key)
