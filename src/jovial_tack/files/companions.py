"""Files a build names beside it: a compressor map is read in and carried along from then on."""

from __future__ import annotations

import errno
from pathlib import Path

from jovial_tack.core.errors import GeometryError
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.curves import read_map
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.document.model import Build, SuperchargerLoad
from jovial_tack.files.reading import beside, read_regular
from jovial_tack.files.whole import mark_read_in, reason

MOST_BYTES = 2_000_000


def read_text(path: Path) -> str:
    """The text of a small CSV file. Raises GeometryError in one sentence."""
    mark_read_in(path)
    try:
        raw = read_regular(path, MOST_BYTES)
    except (OSError, ValueError) as error:
        raise GeometryError(f"{path.name} cannot be read ({reason(error)})") from None
    if b"\0" in raw:
        raise GeometryError(f"{path.name} is not text")
    return raw.decode("utf-8-sig", "replace")


def map_beside(folder: Path, named: str) -> Path:
    """The map a build names beside it. Raises OSError for a name that leads elsewhere, is hidden, or is
    not that of a table.
    """
    if Path(named).suffix.lower() != ".csv":
        raise OSError(errno.EPERM, "a map's name ends in .csv")
    return beside(folder, named)


def with_companions(build: Build, folder: Path) -> tuple[Build, list[str]]:
    """The build with the maps it names by a relative path read in, and remarks on those not found."""
    remarks = []
    for shaft in build.shafts:
        load = shaft.load
        if not isinstance(load, SuperchargerLoad) or not load.map_csv or "\n" in load.map_csv:
            continue
        try:
            text = read_text(map_beside(folder, load.map_csv))
            read_map(text)  # nothing but a map is taken in, and saved with the build
        except (GeometryError, OSError, ValueError) as error:
            why = str(error) if isinstance(error, GeometryError) else reason(error)
            remarks.append(f"the map of {shaft.label} was not read in: {why}")
            continue
        build = set_shaft(build, shaft.id, load=changed(load, map_csv=text))
    return build, remarks
