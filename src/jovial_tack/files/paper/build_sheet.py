"""The build sheet: one page for the file, or the whole of a build (docs/METHOD.md, section 19).

Figures that are not known are printed as not determined; in a build in inches both units stand.
"""

from __future__ import annotations

import io
from collections.abc import Sequence
from contextlib import suppress
from datetime import date
from pathlib import Path
from typing import Any

from jovial_tack.answers.advice import advised
from jovial_tack.answers.drive.solve import solve_again
from jovial_tack.answers.fit_up.compare import compared
from jovial_tack.answers.fit_up.steps import steps_of
from jovial_tack.answers.line_up.told import ToldLineUp, tell_line_up
from jovial_tack.answers.line_up.words import bolt_words, ear_words, pull_words, unit_words
from jovial_tack.answers.logbook.told import LogbookTold, logbook_told
from jovial_tack.answers.logbook.words import (
    cost_words,
    due_words,
    event_words,
    life_words,
    offer_lines,
    wear_words,
)
from jovial_tack.answers.results import DriveResult, Results
from jovial_tack.answers.verdicts import Verdict
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.units import LENGTH, TONE, written, written_in
from jovial_tack.core.value import Value
from jovial_tack.core.words import capital, sentence
from jovial_tack.document.model import Attachment, Build
from jovial_tack.drawing.routing import Picture, routing_picture
from jovial_tack.files.attachments import MOST_BYTES, place_of
from jovial_tack.files.paper.fitup_sheet import step_rows
from jovial_tack.files.paper.page import (
    HEAD_PT,
    PT,
    SMALL_PT,
    drawn,
    gap,
    heading,
    mark_of,
    pdf,
    table,
    width_mm,
    words,
)
from jovial_tack.files.reading import read_regular
from jovial_tack.files.whole import replace_file

UNKNOWN = "not determined"
SIGNATURE = (
    "Figures are estimates from the data entered. Makers' limits, local rules and a qualified"
    " engineer's word come first."
)
_MARKS = {"good": "good", "watch": "watch", "stop": "stop", "unknown": "not known"}
_PICTURE_MM, _MOST_PIXELS, _PHOTO_MM = 150.0, 1600, 84.0


class SheetOf(Value, frozen=True, eq=False):
    """All that a sheet says of a build."""

    build: Build
    results: Results
    verdicts: tuple[Verdict, ...]
    logbook: LogbookTold
    lined_up: ToldLineUp
    picture: Picture | None
    catalogue: Catalogue


def sheet_of(build: Build, catalogue: Catalogue, today: date | None) -> SheetOf:
    """Work out all that a sheet says."""
    solution = solve_again(build, None, catalogue, None)
    results, verdicts = advised(build, solution, catalogue)
    picture = None
    with suppress(GeometryError):  # a drive that does not rest has no picture
        picture = routing_picture(build, results, catalogue)
    return SheetOf(
        build,
        results,
        tuple(verdicts),
        logbook_told(build, catalogue, today),
        tell_line_up(build, results, catalogue, set()),
        picture,
        catalogue,
    )


def write_sheet(
    told: SheetOf, path: Path, saved_as: Path | None, paper: str = "a4", *, whole: bool = False
) -> None:
    """Write the sheet to a file. saved_as: the build's own file. Raises SaveError."""
    replace_file(path, sheet_pdf(told, saved_as, paper, whole=whole))


def sheet_pdf(told: SheetOf, saved_as: Path | None, paper: str, *, whole: bool) -> bytes:
    """The bytes of the file."""
    name = told.build.title or told.build.engine.name or "Build without a title"
    story = _first_page(told, name, paper)
    if whole:
        story += _whole(told, paper, saved_as)
    return pdf(name, mark_of(saved_as), paper, story)


def _both(build: Build, mm: float | None) -> str:
    """A length; in a build in inches in both units."""
    if mm is None:
        return UNKNOWN
    other = written_in(mm, LENGTH, "mm")
    if build.display_units != "in":
        return other
    return f"{written_in(mm, LENGTH, 'in')} ({other})"


def _first_page(told: SheetOf, name: str, paper: str) -> list[Any]:
    build, wide = told.build, width_mm(paper)
    engine = build.engine
    about = ", ".join(
        part
        for part in (
            engine.name if engine.name != name else "",
            f"idle {engine.idle_rpm:.0f}, redline {engine.redline_rpm:.0f} rpm",
            f"crank turns {'clockwise' if engine.crank_rotation == 'cw' else 'anticlockwise'}",
        )
        if part
    )
    story: list[Any] = [words(name, size=HEAD_PT, bold=True), words(capital(about)), gap(2)]
    if told.picture is not None:
        # half the page at most, and no wider than it
        tall = 0.42 * (297.0 if paper == "a4" else 279.4)
        picture = told.picture
        story += [
            drawn(picture, min(_PICTURE_MM, wide, tall * picture.wide / picture.tall)),
            gap(3),
        ]
    rows = [
        [verdict.title, _MARKS[verdict.mark], sentence(verdict.sentence) or UNKNOWN]
        for verdict in told.verdicts
    ]
    story += [table(rows, (24.0, 20.0, wide - 44.0), head=False), gap(3)]
    heads = ("Drive", "Belt", "Effective", "At rest", "Tone", "Most used", "Out of line")
    widths = _shared((0.19, 0.13, 0.15, 0.18, 0.09, 0.15, 0.11), wide)
    drives = [_drive_row(told, result) for result in told.results.drives]
    if drives:
        story.append(table([heads, *drives], widths))
    due = [thing for thing in told.logbook.due if not thing.done]
    for thing in due[:5]:
        story.append(words(sentence(due_words(thing, build.display_units))))
    worn = [each.message for each in told.logbook.findings if each.code == "wear_limit"]
    story += [words(sentence(each)) for each in worn]
    story += [gap(2), words(SIGNATURE, size=SMALL_PT, gray=True)]
    return story


def _shared(shares: Sequence[float], wide: float) -> list[float]:
    return [share * wide for share in shares]


def _drive_row(told: SheetOf, result: DriveResult) -> list[str]:
    """What is looked up of a drive: its belt, its mark, its tone, where it is nearest to slip."""
    build = told.build
    drive = build.drive(result.id)
    belt, profile = drive.belt, told.catalogue.profiles[drive.belt.profile]
    number = UNKNOWN
    if belt.effective_length_mm is not None:
        number = profile.number(belt.ribs, belt.effective_length_mm, build.display_units)
    read = compared(build, result)
    at, tone = UNKNOWN, UNKNOWN
    if read is not None:
        inside = "" if read.window_share is None else f", {100 * read.window_share:.0f} % of window"
        if read.arm_angle_deg is not None:
            at = f"arm {read.arm_angle_deg:.1f}°{inside}"
        elif read.slide_mm is not None:
            at = f"slide {_both(build, read.slide_mm)}{inside}"
        elif read.travel_share is not None:
            at = f"{100 * read.travel_share:.0f} % of its travel"
        if read.tone_hz is not None:
            tone = written(read.tone_hz, TONE)
    used = [(p.worst_arc_used, p.id) for p in result.pulleys if p.worst_arc_used is not None]
    worst = UNKNOWN
    if used:
        share, name = max(used)
        label = build.shaft(drive.pulley(name).shaft).label
        worst = f"{100 * share:.0f} % at {label}"
    angles = [abs(s.misalignment_deg) for s in result.spans if s.misalignment_deg is not None]
    return [
        f"{drive.label}, {profile.name} {profile.counted(belt.ribs)}",
        number,
        _both(build, belt.effective_length_mm),
        at,
        tone,
        worst,
        f"{max(angles):.2f}°" if angles else UNKNOWN,
    ]


def _whole(told: SheetOf, paper: str, saved_as: Path | None) -> list[Any]:
    """All that follows the first page."""
    from reportlab.platypus import PageBreak

    build = told.build
    steps = steps_of(build, told.results, told.catalogue)
    story: list[Any] = [PageBreak(), *_pulleys(told, paper), *_stacks(told)]
    story += [PageBreak(), heading("Fitting up"), *step_rows(build, steps, paper)]
    story += _findings(told, paper)
    story += _parts(build, paper)
    story += _logbook(told)
    story += _photos(build, saved_as)
    return story


def _pulleys(told: SheetOf, paper: str) -> list[Any]:
    build, story = told.build, [heading("Pulleys")]
    heads = ("Drive", "Pulley", "Diameter", "Grooves", "Plane", "Tilt", "Ratio")
    rows: list[Sequence[str]] = [heads]
    for result in told.results.drives:
        drive = build.drive(result.id)
        ratios = {pulley.id: pulley.speed_ratio for pulley in result.pulleys}
        for pulley in drive.pulleys:
            tilts = pulley.tilt_deg or ()
            tilted = ", ".join(f"{tilt:.2f}°" for tilt in tilts if tilt)
            ratio = ratios.get(pulley.id)
            rows.append(
                (
                    drive.label,
                    build.shaft(pulley.shaft).label,
                    _both(build, pulley.diameter_mm),
                    UNKNOWN if pulley.grooves is None else str(pulley.grooves),
                    _both(build, pulley.plane_mm),
                    tilted or "none",
                    UNKNOWN if ratio is None else f"{ratio:.3f}",
                )
            )
    if len(rows) == 1:
        return [*story, words("None yet.")]
    widths = _shared((0.18, 0.2, 0.17, 0.1, 0.17, 0.08, 0.1), width_mm(paper))
    return [*story, table(rows, widths)]


def _stacks(told: SheetOf) -> list[Any]:
    """Stacks and their bolts, and what stands off under the pull."""
    build, lined = told.build, told.lined_up
    if not lined.stacks:
        return []
    bolts = {(shaft, ear.ear.id): bolt for shaft, ear, bolt in lined.bolts}
    pull, story = dict(lined.pull), [heading("Stacks and bolts")]
    for unit in lined.stacks:
        story.append(words(unit_words(build, unit), bold=True))
        for ear in unit.ears:
            story.append(words(ear_words(build, ear)))
            bolt = bolts.get((unit.stack.shaft, ear.ear.id))
            if bolt is not None:
                story.append(words(bolt_words(build, bolt), size=SMALL_PT))
        if not unit.problem:
            said = pull_words(build, unit.stack.shaft, pull[unit.stack.shaft])
            story.append(words(said, size=SMALL_PT))
    return story


def _findings(told: SheetOf, paper: str) -> list[Any]:
    found = told.results.findings
    if not found:
        return []
    rows: list[Sequence[str]] = [("", "Finding", "Nearest remedy, solved")]
    rows += [
        (
            finding.level,
            sentence(finding.message),
            finding.mends[0].sentence if finding.mends else "",
        )
        for finding in found
    ]
    return [heading("Findings"), table(rows, _shared((0.09, 0.54, 0.37), width_mm(paper)))]


def _parts(build: Build, paper: str) -> list[Any]:
    """What is on the shelf, what is to buy, and what sellers ask."""
    story: list[Any] = []
    if build.shelf:
        rows: list[Sequence[str]] = [("Part", "Kind", "There are", "Price", "Note")]
        for part in build.shelf:
            price = "" if part.price is None else f"{part.price:,.2f}"
            count = "to buy" if part.count == 0 else str(part.count)
            rows.append((part.name or part.id, part.kind, count, price, part.note))
        widths = _shared((0.32, 0.14, 0.12, 0.12, 0.3), width_mm(paper))
        story += [heading("Parts"), table(rows, widths)]
    offers = offer_lines(build)
    if offers:
        story += [heading("Offers"), *(words(line) for line in offers)]
    return story


def _logbook(told: SheetOf) -> list[Any]:
    build, book = told.build, told.logbook
    system = build.display_units
    story: list[Any] = []
    for title, lines in (
        ("Due", [due_words(thing, system) for thing in book.due]),
        ("Lives", [life_words(each, system) for each in book.lives]),
        ("Wear", [wear_words(build, each, book.unit) for each in book.wear]),
        ("Cost", list(cost_words(book, system))),
        ("Logbook", [f"{event.at}: {event_words(build, event)}" for event in build.logbook.events]),
    ):
        if lines:
            story += [heading(title), *(words(sentence(line)) for line in lines)]
    return story


def _photos(build: Build, saved_as: Path | None) -> list[Any]:
    """Pictures that are attached, four a page; one that is missing or another is said."""
    if saved_as is None or not build.logbook.attachments:
        return []
    from reportlab.platypus import Table

    cells: list[list[Any]] = []
    said: list[Any] = []
    for each in build.logbook.attachments:
        picture = _photo(saved_as, each)
        caption = each.caption or each.path
        if picture is None:
            said.append(words(f"{caption}: no picture beside the build"))
        else:
            cells.append([picture, words(caption, size=SMALL_PT)])
    rows = [cells[k : k + 2] for k in range(0, len(cells), 2)]
    if rows and len(rows[-1]) == 1:
        rows[-1].append([words("")])
    made: list[Any] = [Table([row], colWidths=[(_PHOTO_MM + 6) * PT] * 2) for row in rows]
    return [heading("Pictures"), *made, *said]


def _photo(saved_as: Path, attachment: Attachment) -> Any:
    """A picture, scaled down; nothing but its pixels goes on paper. None where it is none."""
    from PIL import Image as Pixels
    from PIL import ImageOps
    from reportlab.platypus import Image

    place = place_of(saved_as, attachment)
    try:
        raw = b"" if place is None else read_regular(place, MOST_BYTES)
        with Pixels.open(io.BytesIO(raw)) as opened:
            pixels = ImageOps.exif_transpose(opened).convert("RGB")
            pixels.thumbnail((_MOST_PIXELS, _MOST_PIXELS))
            kept = io.BytesIO()
            pixels.save(kept, "JPEG", quality=85)
    except (OSError, ValueError, SyntaxError, Pixels.DecompressionBombError):
        return None
    side = _PHOTO_MM * PT
    scale = min(side / pixels.width, side / pixels.height)
    kept.seek(0)
    return Image(kept, pixels.width * scale, pixels.height * scale)
