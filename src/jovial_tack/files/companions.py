"""Files a build names beside it: a compressor map is read in and carried along from then on."""

from __future__ import annotations

from pathlib import Path

from jovial_tack.core.errors import GeometryError
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.shafts import set_shaft
from jovial_tack.document.model import Build, SuperchargerLoad
from jovial_tack.files.whole import reason

MOST_BYTES = 2_000_000


def read_text(path: Path) -> str:
    """The text of a small CSV file. Raises GeometryError in one sentence."""
    try:
        if path.stat().st_size > MOST_BYTES:
            raise GeometryError(f"{path.name} is larger than a curve may be (2 MB)")
        raw = path.read_bytes()
    except OSError as error:
        raise GeometryError(f"{path.name} cannot be read ({reason(error)})") from None
    if b"\0" in raw:
        raise GeometryError(f"{path.name} is not text")
    return raw.decode("utf-8-sig", "replace")


def with_companions(build: Build, folder: Path) -> tuple[Build, list[str]]:
    """The build with the maps it names by a relative path read in, and remarks on those not found."""
    remarks = []
    for shaft in build.shafts:
        load = shaft.load
        if not isinstance(load, SuperchargerLoad) or not load.map_csv or "\n" in load.map_csv:
            continue
        named = Path(load.map_csv)
        try:
            if named.is_absolute() or ".." in named.parts:
                raise GeometryError(f"{named.name} is not beside the build")
            text = read_text(folder / named)
        except GeometryError as error:
            remarks.append(f"the map of {shaft.label} was not read in: {error}")
            continue
        build = set_shaft(build, shaft.id, load=changed(load, map_csv=text))
    return build, remarks
