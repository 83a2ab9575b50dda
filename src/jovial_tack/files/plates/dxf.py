"""A bracket plate as DXF (AutoCAD R2010, mm, 1:1) for a cutter (docs/METHOD.md, section 16).

Layers: OUTLINE, HOLES and SLOTS hold what is cut and nothing else, CENTRES the middles, NOT_CUT words
and a scale. Written by ezdxf; the same plate makes the same bytes.
"""

from __future__ import annotations

import io
from typing import TYPE_CHECKING

from jovial_tack.files.plates.drawing import CROSS_MM, SCALE_MM, PlateDrawing

if TYPE_CHECKING:
    from ezdxf.layouts.layout import Modelspace

_LAYERS = {"OUTLINE": 7, "HOLES": 1, "SLOTS": 5, "CENTRES": 3, "NOT_CUT": 8}
_WORDS_MM, _LINE_MM = 4.0, 7.0


def plate_dxf(drawing: PlateDrawing) -> str:
    """The text of the file."""
    from ezdxf._options import options

    fixed = options.write_fixed_meta_data_for_testing
    # no date, no random id: two writes of one plate must not differ
    options.write_fixed_meta_data_for_testing = True
    try:
        return _written(drawing)
    finally:
        options.write_fixed_meta_data_for_testing = fixed


def _written(drawing: PlateDrawing) -> str:
    from ezdxf.filemanagement import new

    doc = new("R2010")
    doc.header["$INSUNITS"], doc.header["$MEASUREMENT"] = 4, 1
    space = doc.modelspace()
    for name, color in _LAYERS.items():
        doc.layers.add(name, color=color)
    for layer, rings in (("OUTLINE", drawing.outlines), ("SLOTS", drawing.slots)):
        for ring in rings:
            space.add_lwpolyline(ring, format="xyb", close=True, dxfattribs={"layer": layer})
    for x, y, diameter in drawing.holes:
        space.add_circle((x, y), diameter / 2, dxfattribs={"layer": "HOLES"})
    marks = {"layer": "CENTRES"}
    for x, y in drawing.crosses:
        space.add_line((x - CROSS_MM, y), (x + CROSS_MM, y), dxfattribs=marks)
        space.add_line((x, y - CROSS_MM), (x, y + CROSS_MM), dxfattribs=marks)
    foot = _words(space, drawing)
    left, _, right, top = drawing.bounds
    # readers that ask how far a drawing reaches show nothing without it
    low, high = (left, foot), (max(right, left + SCALE_MM), top)
    space.reset_extents((*low, 0), (*high, 0))
    space.reset_limits(low, high)
    # else the order of this part follows the hash seed of the process
    for kind in sorted(doc.entitydb.dxf_types_in_use()):
        doc.classes.add_class(kind)
    stream = io.StringIO()
    doc.write(stream)
    return stream.getvalue()


def _words(space: Modelspace, drawing: PlateDrawing) -> float:
    """Below the plate: its name, what it is made of, and a line of 100 mm to check the scale by.
    Returns how far down they reach.
    """
    left, foot, _, _ = drawing.bounds
    not_cut = {"layer": "NOT_CUT"}
    y = foot - 2 * _LINE_MM
    for text in (*drawing.words, f"plate {drawing.checksum}, 1:1, mm"):
        space.add_text(text, height=_WORDS_MM, dxfattribs=not_cut).set_placement((left, y))
        y -= _LINE_MM
    space.add_line((left, y), (left + SCALE_MM, y), dxfattribs=not_cut)
    for x in (left, left + SCALE_MM):
        space.add_line((x, y - CROSS_MM), (x, y + CROSS_MM), dxfattribs=not_cut)
    said = space.add_text("this line is 100 mm", height=_WORDS_MM, dxfattribs=not_cut)
    said.set_placement((left, y - _LINE_MM))
    return y - _LINE_MM
