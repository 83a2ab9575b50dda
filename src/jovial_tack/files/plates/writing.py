"""A plate written to a file of one of three kinds."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path

from jovial_tack.answers.results import PlateResult
from jovial_tack.core.errors import GeometryError
from jovial_tack.document.model import Build, Plate
from jovial_tack.files.plates.drawing import plate_drawing
from jovial_tack.files.whole import replace_file

KINDS = ("dxf", "svg", "pdf")


def write_plate(
    build: Build,
    plate: Plate,
    told: PlateResult,
    path: Path,
    kind: str,
    *,
    paper: str = "a4",
    printed: tuple[float, float] = (100.0, 100.0),
    kerf_mm: float = 0.0,
    saved_as: Path | None = None,
) -> None:
    """Write a plate. Raises SaveError, and GeometryError for one with nothing in it.

    Parameters: kind, one of KINDS; printed: what the two scales of 100 mm read on an earlier print;
    kerf_mm: width of the cut, for what is cut by a machine; saved_as: the build's own file, whose last
    save is told on paper.
    """
    drawing = plate_drawing(build, plate, told, 0.0 if kind == "pdf" else kerf_mm)
    if drawing is None:
        raise GeometryError(f"{plate.label}: nothing is cut in it yet; add a hole first")
    if kind == "dxf":
        from jovial_tack.files.plates.dxf import plate_dxf

        content = plate_dxf(drawing).encode("utf-8")
    elif kind == "svg":
        from jovial_tack.files.plates.svg import plate_svg

        content = plate_svg(drawing).encode("utf-8")
    else:
        from jovial_tack.files.plates.pdf import plate_pdf, sheets_of

        content = plate_pdf(drawing, sheets_of(drawing, paper, printed), _saved(saved_as))
    replace_file(path, content)


def _saved(path: Path | None) -> str:
    """When a build was last saved, in words; no clock, so that the same build makes the same sheets."""
    if path is None:
        return ", not saved yet"
    try:
        stamp = path.stat().st_mtime
    except OSError:
        return ""
    return f", saved {datetime.fromtimestamp(stamp, UTC):%Y-%m-%d}"
