"""What all sheets of paper share: typeface, a head and a foot on every page, tables, boxes, pictures.

Set by reportlab. Black on white, no word under 7 points, nothing nearer the edge than a printer needs.
"""

from __future__ import annotations

import hashlib
import io
from collections.abc import Sequence
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, Literal
from xml.sax.saxutils import escape

from jovial_tack.core.line_up.tiles import PAPERS
from jovial_tack.drawing.routing import Picture
from jovial_tack.files.plates.pdf import BOLD_FONT, WORDS_FONT, load_fonts
from jovial_tack.files.reading import read_regular
from jovial_tack.files.routing import paint_picture

PT = 72.0 / 25.4
#: The edge that stays white, and the least and the usual size of words, points.
EDGE_MM = 14.0
SMALL_PT, TEXT_PT, HEAD_PT = 7.0, 8.5, 13.0
_MOST_BYTES = 50_000_000
Box = Literal["open", "done", "again"]
Cell = str | Any
#: What reportlab cannot set is said in letters it can.
_SIGNS = str.maketrans({"≤": "<=", "≥": ">=", "→": "to", "−": "-", "⁻": "-"})


def words(text: str, *, size: float = TEXT_PT, bold: bool = False, gray: bool = False) -> Any:
    """A paragraph."""
    from reportlab.lib.colors import gray as gray_ink
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import Paragraph

    load_fonts()
    style = ParagraphStyle(
        "words",
        fontName=BOLD_FONT if bold else WORDS_FONT,
        bulletFontName=WORDS_FONT,
        fontSize=size,
        leading=1.25 * size,
        splitLongWords=1,
        spaceAfter=0.35 * size,
    )
    if gray:
        style.textColor = gray_ink
    return Paragraph(escape(text.translate(_SIGNS)), style)


def heading(text: str) -> Any:
    """The heading of a part; it stays with what follows."""
    made = words(text, size=10.5, bold=True)
    made.style.keepWithNext = 1
    made.style.spaceBefore = 8.0
    return made


def gap(mm: float) -> Any:
    """Room between two parts."""
    from reportlab.platypus import Spacer

    return Spacer(1, mm * PT)


def table(rows: Sequence[Sequence[Cell]], widths_mm: Sequence[float], *, head: bool = True) -> Any:
    """Rows of cells; words wrap in theirs. head: the first row is one, again on every page."""
    from reportlab.lib.colors import black, lightgrey
    from reportlab.platypus import Table, TableStyle

    laid = [
        [words(cell, bold=head and k == 0) if isinstance(cell, str) else cell for cell in row]
        for k, row in enumerate(rows)
    ]
    made = Table(laid, colWidths=[wide * PT for wide in widths_mm], repeatRows=int(head))
    rules: list[Any] = [
        ("FONT", (0, 0), (-1, -1), WORDS_FONT, TEXT_PT),
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LINEBELOW", (0, 0), (-1, -1), 0.25, lightgrey),
        ("LEFTPADDING", (0, 0), (-1, -1), 2),
        ("RIGHTPADDING", (0, 0), (-1, -1), 2),
        ("TOPPADDING", (0, 0), (-1, -1), 1.5),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 1),
    ]
    if head:
        rules.append(("LINEBELOW", (0, 0), (-1, 0), 0.6, black))
    made.setStyle(TableStyle(rules))
    return made


def tick_box(state: Box) -> Any:
    """A box to tick on paper, as the window shows it."""
    from reportlab.platypus import Flowable

    class _TickBox(Flowable):
        side = 4.2 * PT

        def wrap(self, *_room: float) -> tuple[float, float]:
            return self.side, self.side

        def draw(self) -> None:
            canvas, side = self.canv, self.side
            canvas.setLineWidth(0.8)
            canvas.rect(0, 0, side, side)
            canvas.setLineWidth(1.4)
            if state == "done":
                canvas.lines(
                    [
                        (0.2 * side, 0.5 * side, 0.42 * side, 0.25 * side),
                        (0.42 * side, 0.25 * side, 0.82 * side, 0.8 * side),
                    ]
                )
            elif state == "again":
                canvas.lines(
                    [
                        (0.15 * side, 0.15 * side, 0.5 * side, 0.85 * side),
                        (0.5 * side, 0.85 * side, 0.85 * side, 0.15 * side),
                        (0.85 * side, 0.15 * side, 0.15 * side, 0.15 * side),
                    ]
                )

    return _TickBox()


def drawn(picture: Picture, wide_mm: float) -> Any:
    """A picture, so wide."""
    from reportlab.platypus import Flowable

    scale = wide_mm / picture.wide

    class _Drawn(Flowable):
        def wrap(self, *_room: float) -> tuple[float, float]:
            return wide_mm * PT, picture.tall * scale * PT

        def draw(self) -> None:
            self.canv.saveState()
            self.canv.scale(scale * PT, scale * PT)
            paint_picture(self.canv, picture)
            self.canv.restoreState()

    return _Drawn()


def mark_of(saved_as: Path | None) -> str:
    """Which state of a build a sheet is of: its file, the day it was saved, a part of its checksum."""
    try:
        raw = b"" if saved_as is None else read_regular(saved_as, _MOST_BYTES)
        when = 0.0 if saved_as is None else saved_as.stat().st_mtime
    except OSError:
        raw = b""
    if not raw or saved_as is None:
        return "not saved"
    day = datetime.fromtimestamp(when, UTC).date().isoformat()
    return f"{saved_as.name}, {day}, {hashlib.sha256(raw).hexdigest()[:12]}"


def width_mm(paper: str) -> float:
    """How wide what is set may be."""
    return PAPERS[paper][0] - 2 * EDGE_MM


def pdf(title: str, mark: str, paper: str, story: Sequence[Any]) -> bytes:
    """The bytes of the sheets. title and mark: at the foot of every page, beside its number."""
    from reportlab.pdfgen.canvas import Canvas
    from reportlab.platypus import BaseDocTemplate, Frame, PageTemplate

    load_fonts()
    wide, tall = (side * PT for side in PAPERS[paper])
    edge = EDGE_MM * PT
    foot = f"{title} · {mark}".translate(_SIGNS) if mark else title.translate(_SIGNS)

    class _Numbered(Canvas):
        """A canvas that writes the foot of each page once it knows how many there are."""

        def __init__(self, *given: Any, **more: Any) -> None:
            # without a first typeface of ours one that is not embedded stands in the file
            super().__init__(*given, **{**more, "invariant": 1, "initialFontName": WORDS_FONT})
            self.kept: list[dict[str, Any]] = []

        def showPage(self) -> None:
            self.kept.append(dict(self.__dict__))
            self._startPage()  # type: ignore[attr-defined]

        def save(self) -> None:
            for number, page in enumerate(self.kept, 1):
                self.__dict__.update(page)
                self.setFont(WORDS_FONT, SMALL_PT)
                self.drawString(edge, 0.6 * edge, _fitted(foot, wide - 2 * edge - 60))
                self.drawRightString(wide - edge, 0.6 * edge, f"{number} of {len(self.kept)}")
                super().showPage()
            super().save()

    stream = io.BytesIO()
    frame = Frame(edge, edge, wide - 2 * edge, tall - 2 * edge, 0, 0, 0, 0)
    document = BaseDocTemplate(
        stream, pagesize=(wide, tall), title=title, creator="Jovial Tack", invariant=1
    )
    document.addPageTemplates(PageTemplate(frames=[frame]))
    document.build(list(story), canvasmaker=_Numbered)
    return stream.getvalue()


def _fitted(text: str, wide: float) -> str:
    """A line cut at a word so that it has room, with dots behind it."""
    from reportlab.pdfbase.pdfmetrics import stringWidth

    if stringWidth(text, WORDS_FONT, SMALL_PT) <= wide:
        return text
    while text and stringWidth(f"{text} …", WORDS_FONT, SMALL_PT) > wide:
        text = text[:-1].rstrip()
    return f"{text} …"
