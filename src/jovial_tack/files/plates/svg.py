"""A bracket plate as SVG, 1:1 in millimetres (docs/METHOD.md, section 16)."""

from __future__ import annotations

from xml.sax.saxutils import escape

from jovial_tack.core.line_up.plate_cuts import Ring
from jovial_tack.files.plates.drawing import CROSS_MM, PlateDrawing, cubics, hole_ring

_EDGE_MM, _STROKE_MM = 5.0, 0.1


def plate_svg(drawing: PlateDrawing) -> str:
    """The text of the file: y runs downward there, one path a ring."""
    left, foot, right, top = drawing.bounds
    left, foot, right, top = left - _EDGE_MM, foot - _EDGE_MM, right + _EDGE_MM, top + _EDGE_MM
    size = right - left, top - foot
    lines = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{size[0]:.3f}mm" height="{size[1]:.3f}mm"'
        f' viewBox="{left:.3f} {-top:.3f} {size[0]:.3f} {size[1]:.3f}">',
        f"<title>{escape('; '.join(drawing.words))}</title>",
        f'<g fill="none" stroke="#000000" stroke-width="{_STROKE_MM}">',
    ]
    holes = [hole_ring(*hole) for hole in drawing.holes]
    for name, rings in (("outline", drawing.outlines), ("slots", drawing.slots), ("holes", holes)):
        lines.append(f'<g id="{name}">')
        lines += [f'<path d="{_path(ring)}"/>' for ring in rings]
        lines.append("</g>")
    lines.append('<g id="centres">')
    for x, y in drawing.crosses:
        across = f"M{x - CROSS_MM:.4f} {-y:.4f}H{x + CROSS_MM:.4f}"
        up = f"M{x:.4f} {-y - CROSS_MM:.4f}V{-y + CROSS_MM:.4f}"
        lines.append(f'<path d="{across}{up}"/>')
    lines += ["</g>", "</g>", "</svg>"]
    return "\n".join(lines) + "\n"


def _path(ring: Ring) -> str:
    start = complex(*ring[0][:2])
    parts = [f"M{_at(start)}"]
    here = start
    for first, second, end in cubics(ring):
        straight = first == here and second == end
        parts.append(f"L{_at(end)}" if straight else f"C{_at(first)} {_at(second)} {_at(end)}")
        here = end
    return "".join(parts) + "Z"


def _at(place: complex) -> str:
    return f"{place.real:.4f} {-place.imag + 0.0:.4f}"
