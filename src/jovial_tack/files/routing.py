"""The picture of the routing as SVG and as a sticker in PDF, full size; of one build the same bytes."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any
from xml.sax.saxutils import escape

from jovial_tack.core.errors import SaveError
from jovial_tack.drawing.routing import Disc, Mark, Picture, Stroke
from jovial_tack.files.whole import replace_file

KINDS = ("svg", "pdf")
_PT = 72.0 / 25.4
_DASH = (1.8, 0.9)
#: How high its capitals are over the size of the typeface.
_CAPITALS = 0.72


def write_routing(picture: Picture, path: Path) -> None:
    """Write a picture, by the ending of its name. Raises SaveError, for another ending too."""
    kind = path.suffix.lower().removeprefix(".")
    if kind not in KINDS:
        raise SaveError(f"{path.name}: a picture of the routing ends in .svg or .pdf")
    content = routing_svg(picture).encode() if kind == "svg" else routing_pdf(picture)
    replace_file(path, content)


def routing_svg(picture: Picture) -> str:
    """The text of the file, in millimetres; y runs downward there."""
    size = picture.wide, picture.tall
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{size[0]:g}mm" height="{size[1]:g}mm"'
        f' viewBox="0 0 {size[0]:g} {size[1]:g}">',
        f"<title>{escape(picture.title)}</title>",
        f'<rect width="{size[0]:g}" height="{size[1]:g}" fill="#ffffff"/>',
        *(_svg_of(mark, picture.tall) for mark in picture.marks),
        "</svg>",
    ]
    return "\n".join(lines) + "\n"


def _svg_of(mark: Mark, tall: float) -> str:
    if isinstance(mark, Stroke):
        points = " ".join(f"{p.real:.3f},{tall - p.imag:.3f}" for p in mark.points)
        kind = "polygon" if mark.closed else "polyline"
        if mark.filled:
            return f'<{kind} points="{points}" fill="#000000"/>'
        dash = f' stroke-dasharray="{_DASH[0]} {_DASH[1]}"' if mark.dashed else ""
        return (
            f'<{kind} points="{points}" fill="none" stroke="#000000" stroke-width="{mark.wide:g}"'
            f' stroke-linejoin="round"{dash}/>'
        )
    if isinstance(mark, Disc):
        fill = "#000000" if mark.black else "#ffffff"
        stroke = f' stroke="#000000" stroke-width="{mark.wide:g}"' if mark.wide else ""
        at = f'cx="{mark.center.real:.3f}" cy="{tall - mark.center.imag:.3f}"'
        return f'<circle {at} r="{mark.radius:.3f}" fill="{fill}"{stroke}/>'
    anchor = "middle" if mark.where == "middle" else "start"
    at = f'x="{mark.at.real:.3f}" y="{tall - mark.at.imag:.3f}"'
    return (
        f'<text {at} font-family="B612, sans-serif" font-size="{mark.high / _CAPITALS:.3f}"'
        f' text-anchor="{anchor}">{escape(mark.text)}</text>'
    )


def routing_pdf(picture: Picture) -> bytes:
    """The bytes of the file: one page of the sticker's size."""
    from reportlab.pdfgen.canvas import Canvas

    stream = io.BytesIO()
    size = picture.wide * _PT, picture.tall * _PT
    canvas = Canvas(stream, pagesize=size, invariant=1, pageCompression=0)
    canvas.setTitle(picture.title)
    canvas.setCreator("Jovial Tack")
    canvas.scale(_PT, _PT)
    paint_picture(canvas, picture)
    canvas.showPage()
    canvas.save()
    return stream.getvalue()


def paint_picture(canvas: Any, picture: Picture) -> None:
    """Paint a picture on a canvas whose unit is its millimetre."""
    from jovial_tack.files.plates.pdf import WORDS_FONT, load_fonts

    load_fonts()
    canvas.setLineJoin(1)
    for mark in picture.marks:
        _paint(canvas, mark, WORDS_FONT)


def _paint(canvas: Any, mark: Mark, font: str) -> None:
    if isinstance(mark, Stroke):
        path = canvas.beginPath()
        path.moveTo(mark.points[0].real, mark.points[0].imag)
        for point in mark.points[1:]:
            path.lineTo(point.real, point.imag)
        if mark.closed:
            path.close()
        canvas.setDash(list(_DASH) if mark.dashed else [], 0)
        canvas.setLineWidth(mark.wide)
        canvas.drawPath(path, stroke=int(not mark.filled), fill=int(mark.filled))
    elif isinstance(mark, Disc):
        canvas.setDash([], 0)
        canvas.setFillGray(0.0 if mark.black else 1.0)
        canvas.setLineWidth(mark.wide)
        at = mark.center.real, mark.center.imag, mark.radius
        canvas.circle(*at, stroke=int(mark.wide > 0), fill=1)
        canvas.setFillGray(0.0)
    else:
        canvas.setFont(font, mark.high / _CAPITALS)
        draw = canvas.drawCentredString if mark.where == "middle" else canvas.drawString
        draw(mark.at.real, mark.at.imag, mark.text)
