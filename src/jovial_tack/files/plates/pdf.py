"""A bracket plate on paper, 1:1 over as many sheets as it takes (docs/METHOD.md, section 16).

Scales across and upright tell whether the printer kept the size; crosses lay the sheets over one
another. Written by reportlab; the same plate makes the same bytes.
"""

from __future__ import annotations

import io
from functools import cache
from pathlib import Path
from typing import Any

from jovial_tack.core.errors import SaveError
from jovial_tack.core.line_up.plate_cuts import Ring
from jovial_tack.core.line_up.tiles import MARGIN, STRIP, Tiles, tile
from jovial_tack.files.needed import NO_TYPEFACE
from jovial_tack.files.plates.drawing import CROSS_MM, SCALE_MM, PlateDrawing, cubics, hole_ring

__all__ = ["Tiles", "plate_pdf", "sheets_of"]

_PT = 72.0 / 25.4
_FONTS = Path(__file__).parents[2] / "data/fonts"
WORDS_FONT, BOLD_FONT = "B612", "B612-Bold"
_INCHES_MM = 4 * 25.4
_TEXT_PT, _NAME_PT = 7.0, 9.0


def sheets_of(
    drawing: PlateDrawing, paper: str, printed: tuple[float, float] = (SCALE_MM, SCALE_MM)
) -> Tiles:
    """The sheets a plate takes. printed: what the two scales of 100 mm read on an earlier print."""
    left, foot, right, top = drawing.bounds
    scale = SCALE_MM / printed[0], SCALE_MM / printed[1]
    return tile(complex(left, foot), complex(right, top), paper, scale)


def plate_pdf(drawing: PlateDrawing, tiles: Tiles, saved: str = "") -> bytes:
    """The bytes of the file. saved: when the build was last saved, as is written on the sheets."""
    from reportlab.pdfgen.canvas import Canvas

    load_fonts()
    stream = io.BytesIO()
    size = tiles.size[0] * _PT, tiles.size[1] * _PT
    canvas = Canvas(stream, pagesize=size, invariant=1, pageCompression=0)
    canvas.setTitle(drawing.name)
    canvas.setCreator("Jovial Tack")
    for sheet in range(tiles.count):
        _Sheet(canvas, drawing, tiles, sheet).draw(saved)
        canvas.showPage()
    canvas.save()
    return stream.getvalue()


@cache
def load_fonts() -> None:
    """Make the typeface of words and figures known to the library. Raises SaveError without it."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFError, TTFont

    try:
        for name, file in ((WORDS_FONT, "B612-Regular.ttf"), (BOLD_FONT, "B612-Bold.ttf")):
            pdfmetrics.registerFont(TTFont(name, str(_FONTS / file)))
    except (TTFError, OSError):
        raise SaveError(NO_TYPEFACE) from None


class _Sheet:
    """One sheet."""

    def __init__(self, canvas: Any, drawing: PlateDrawing, tiles: Tiles, sheet: int) -> None:
        self._canvas, self._drawing = canvas, drawing
        self._tiles, self._sheet = tiles, sheet

    def draw(self, saved: str) -> None:
        """Everything on it."""
        canvas, tiles = self._canvas, self._tiles
        room = (
            MARGIN * _PT,
            (MARGIN + STRIP) * _PT,
            (tiles.size[0] - 2 * MARGIN) * _PT,
            (tiles.size[1] - 2 * MARGIN - STRIP) * _PT,
        )
        canvas.saveState()
        frame = canvas.beginPath()
        frame.rect(*room)
        canvas.clipPath(frame, stroke=0, fill=0)
        canvas.setLineWidth(0.3 * _PT)
        for ring in self._drawing.outlines:
            self._ring(ring)
        canvas.setLineWidth(0.2 * _PT)
        for ring in (*self._drawing.slots, *(hole_ring(*hole) for hole in self._drawing.holes)):
            self._ring(ring)
        for x, y in self._drawing.crosses:
            self._cross(*self._at(x, y), CROSS_MM)
        canvas.setFont(WORDS_FONT, _TEXT_PT)
        for x, y, text in self._drawing.named:
            place = self._at(x, y)
            canvas.drawCentredString(place[0], place[1] - 4.0 * _PT, text)
        self._registration()
        canvas.restoreState()
        canvas.setLineWidth(0.1 * _PT)
        canvas.setStrokeGray(0.6)
        canvas.rect(*room, stroke=1, fill=0)
        canvas.setStrokeGray(0.0)
        self._scales()
        self._words(saved)

    def _at(self, x: float, y: float) -> tuple[float, float]:
        """Where a place of the plate is on this sheet, points."""
        on = self._tiles.on_paper(self._sheet, x, y)
        return on[0] * _PT, on[1] * _PT

    def _ring(self, ring: Ring) -> None:
        path = self._canvas.beginPath()
        here = complex(*ring[0][:2])
        path.moveTo(*self._at(here.real, here.imag))
        for first, second, end in cubics(ring):
            places = [self._at(place.real, place.imag) for place in (first, second, end)]
            if first == here and second == end:
                path.lineTo(*places[2])
            else:
                path.curveTo(*places[0], *places[1], *places[2])
            here = end
        path.close()
        self._canvas.drawPath(path, stroke=1, fill=0)

    def _cross(self, x: float, y: float, half_mm: float) -> None:
        half = half_mm * _PT
        self._canvas.line(x - half, y, x + half, y)
        self._canvas.line(x, y - half, x, y + half)

    def _registration(self) -> None:
        canvas, tiles = self._canvas, self._tiles
        canvas.setLineWidth(0.15 * _PT)
        canvas.setFont(WORDS_FONT, _TEXT_PT)
        left, foot = tiles.origins[self._sheet]
        for name, x, y in tiles.crosses:
            if not (0 <= x - left <= tiles.area[0] and 0 <= y - foot <= tiles.area[1]):
                continue
            on = self._at(x, y)
            self._cross(*on, 2 * CROSS_MM)
            canvas.circle(*on, 2.0 * _PT, stroke=1, fill=0)
            canvas.drawString(on[0] + 2.6 * _PT, on[1] + 1.0 * _PT, name)

    def _scales(self) -> None:
        """100 mm and 4 in across in the strip, 100 mm upright in the left margin."""
        across, upright = self._tiles.scale
        canvas = self._canvas
        canvas.setLineWidth(0.2 * _PT)
        canvas.setFont(WORDS_FONT, _TEXT_PT)
        # the strip's own zero is the edge of the margin, as that of the drawing is
        x, y = MARGIN, MARGIN + 4.0
        self._scale(x, y, x + SCALE_MM * across, y)
        canvas.drawString(x * _PT, (y - 3.6) * _PT, "100 mm across")
        y += 9.0
        self._scale(x, y, x + _INCHES_MM * across, y)
        canvas.drawString(x * _PT, (y - 3.6) * _PT, "4 in across")
        x, y = MARGIN / 2, MARGIN + STRIP
        self._scale(x, y, x, y + SCALE_MM * upright)
        canvas.saveState()
        canvas.translate((x - 1.6) * _PT, y * _PT)
        canvas.rotate(90)
        canvas.drawString(0, 0, "100 mm upright")
        canvas.restoreState()

    def _scale(self, x: float, y: float, to_x: float, to_y: float) -> None:
        canvas, tick = self._canvas, 1.5
        canvas.line(x * _PT, y * _PT, to_x * _PT, to_y * _PT)
        for at_x, at_y in ((x, y), (to_x, to_y)):
            if x == to_x:
                canvas.line((at_x - tick) * _PT, at_y * _PT, (at_x + tick) * _PT, at_y * _PT)
            else:
                canvas.line(at_x * _PT, (at_y - tick) * _PT, at_x * _PT, (at_y + tick) * _PT)

    def _words(self, saved: str) -> None:
        tiles, drawing, canvas = self._tiles, self._drawing, self._canvas
        row, column = divmod(self._sheet, tiles.columns)
        place = f"sheet {self._sheet + 1} of {tiles.count} (row {row + 1}, column {column + 1})"
        across, upright = (SCALE_MM / share for share in tiles.scale)
        check = "Measure both scales before you punch."
        if tiles.scale != (1.0, 1.0):
            check = (
                f"Corrected for a printer that read {across:.2f} across, {upright:.2f} upright."
                " Measure both scales again."
            )
        # upright sheets have no room beside the scales for long words
        x = MARGIN + _INCHES_MM * max(tiles.scale[0], 1.0) + 4.0
        width = (tiles.size[0] - MARGIN - x) * _PT
        lines = [drawing.words[0], *drawing.words[1:], place, f"plate {drawing.checksum}{saved}"]
        y = MARGIN + STRIP - 5.0
        for k, line in enumerate(lines):
            font, size = (BOLD_FONT, _NAME_PT) if k == 0 else (WORDS_FONT, _TEXT_PT)
            canvas.setFont(font, size)
            canvas.drawString(x * _PT, y * _PT, _fitting(canvas, line, font, size, width))
            y -= 3.7
        canvas.setFont(WORDS_FONT, _TEXT_PT)
        canvas.drawString(MARGIN * _PT, (MARGIN - 5.0) * _PT, check)


def _fitting(canvas: Any, text: str, font: str, size: float, width: float) -> str:
    """Words cut to a width, an ellipsis at their end."""
    if canvas.stringWidth(text, font, size) <= width:
        return text
    while text and canvas.stringWidth(text + "…", font, size) > width:
        text = text[:-1]
    return text.rstrip() + "…"
