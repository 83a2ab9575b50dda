"""Bracket plates as files: read back by other readers than their writers, the same bytes twice."""

from __future__ import annotations

import copy
import io
import json
import os
import re
import subprocess
import sys
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import numpy as np
import pypdf
import pytest

from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.line_up.plate_told import told_plates
from jovial_tack.catalogue import load_catalogue
from jovial_tack.core.line_up.rings import arc_of, flat
from jovial_tack.document.model import Build, Plate
from jovial_tack.files.plates.drawing import PlateDrawing, plate_drawing
from jovial_tack.files.plates.dxf import plate_dxf
from jovial_tack.files.plates.pdf import plate_pdf, sheets_of
from jovial_tack.files.plates.svg import plate_svg
from support import DEMO, built

DATA: dict[str, Any] = json.loads(DEMO.read_text("utf-8"))
#: A plate that takes several sheets, with all that can be cut.
LARGE: dict[str, Any] = {
    "id": "large", "thickness_mm": 8.0, "z_mm": -60.0, "name": "Large “plate” <1> é",
    "features": [
        {"type": "hole", "id": "a", "at_mm": [-130.25, -40.5], "diameter_mm": 9.0},
        {"type": "hole", "id": "b", "at_mm": [140.0, -33.0], "diameter_mm": 11.0},
        {"type": "hole", "id": "c", "at_mm": [120.0, 190.125], "diameter_mm": 13.5},
        {"type": "slot", "id": "s", "from_mm": [-100.0, 120.0], "to_mm": [-60.0, 150.0],
         "width_mm": 11.0},
        {"type": "arc", "id": "r", "center_mm": [-130.25, -40.5], "radius_mm": 200.0,
         "from_deg": 20.0, "to_deg": 55.0, "width_mm": 11.0},
    ],
    "webs": [["a", "b"], ["b", "c"], ["c", "s"], ["s", "a"], ["r", "c"], ["r", "a"]],
    "web_mm": 26.0,
}  # fmt: skip
Pairs = list[tuple[int, str]]


def large(unit: str = "mm") -> tuple[Build, Plate, PlateDrawing]:
    data = copy.deepcopy(DATA) | {"plates": [LARGE], "display_units": unit}
    build, catalogue = built(data), load_catalogue()
    told = told_plates(build, solve(build, None, catalogue), catalogue)
    drawing = plate_drawing(build, build.plates[0], told[0])
    assert drawing is not None
    return build, build.plates[0], drawing


def entities(text: str) -> list[tuple[str, str, Pairs]]:
    """Kind, layer and all groups of every entity of a DXF file, read line by line."""
    lines = [line.strip() for line in text.splitlines()]
    pairs = [(int(lines[k]), lines[k + 1]) for k in range(0, len(lines) - 1, 2)]
    start = next(k for k, pair in enumerate(pairs) if pair == (2, "ENTITIES"))
    found: list[tuple[str, str, Pairs]] = []
    for code, value in pairs[start + 1 :]:
        if (code, value) == (0, "ENDSEC"):
            break
        if code == 0:
            found.append((value, "", []))
        elif found:
            kind, layer, groups = found[-1]
            found[-1] = kind, value if code == 8 else layer, [*groups, (code, value)]
    return found


def _extents(text: str) -> tuple[float, ...]:
    """How far the header says the drawing reaches."""
    lines = [line.strip() for line in text.splitlines()]
    found: list[float] = []
    for name in ("$EXTMIN", "$EXTMAX"):
        at = lines.index(name)
        found += [float(lines[at + 2]), float(lines[at + 4])]
    return tuple(found)


def polyline(groups: Pairs) -> list[tuple[float, float, float]]:
    """Vertices of a polyline; the bulge of one stands behind it, where it has one."""
    vertices: list[list[float]] = []
    for code, value in groups:
        if code == 10:
            vertices.append([float(value), 0.0, 0.0])
        elif code in (20, 42) and vertices:
            vertices[-1][1 if code == 20 else 2] = float(value)
    return [(x, y, bulge) for x, y, bulge in vertices]


def test_a_dxf_read_line_by_line_has_holes_slots_and_closed_outlines_with_arcs() -> None:
    _, plate, drawing = large()
    text = plate_dxf(drawing)
    found = entities(text)
    assert "$INSUNITS" in text and "AC1024" in text
    left, foot, right, top = _extents(text)
    assert left == drawing.bounds[0] and foot < drawing.bounds[1]
    assert (right, top) == drawing.bounds[2:]
    circles = [
        dict(groups) for kind, layer, groups in found if (kind, layer) == ("CIRCLE", "HOLES")
    ]
    read = {(float(c[10]), float(c[20]), 2 * float(c[40])) for c in circles}
    assert read == {(-130.25, -40.5, 9.0), (140.0, -33.0, 11.0), (120.0, 190.125, 13.5)}
    for layer, rings in (("OUTLINE", drawing.outlines), ("SLOTS", drawing.slots)):
        drawn = [groups for kind, at, groups in found if at == layer]
        assert {kind for kind, at, _ in found if at == layer} == {"LWPOLYLINE"}
        assert len(drawn) == len(rings) and all(dict(groups)[70] == "1" for groups in drawn)
        for groups, ring in zip(drawn, rings, strict=True):
            away = np.array(polyline(groups)) - np.array(ring)
            assert np.abs(away).max() < 1e-9
    # a slot is two sides and two half circles, an arc four arcs: by their figures
    slots = [polyline(g) for _, layer, g in found if layer == "SLOTS"]
    assert [bulge for _, _, bulge in slots[0]] == [0.0, 1.0, 0.0, 1.0]
    center, radius, _, turn = arc_of(slots[1][0], slots[1][1])
    assert abs(center - complex(-130.25, -40.5)) < 0.01 and radius == pytest.approx(205.5)
    assert np.degrees(turn) == pytest.approx(35.0)
    arcs = sum(
        bulge != 0 for _, layer, g in found if layer == "OUTLINE" for *_, bulge in polyline(g)
    )
    assert arcs >= 10 and len(plate.features) == 5


def test_a_dxf_stands_up_to_an_audit() -> None:
    from ezdxf.filemanagement import read

    doc = read(io.StringIO(plate_dxf(large()[2])))
    audit = doc.audit()
    assert not audit.errors and not audit.fixes
    assert doc.header["$INSUNITS"] == 4 and doc.header["$MEASUREMENT"] == 1


def test_a_cut_with_a_width_grows_outlines_and_shrinks_holes() -> None:
    build, plate, drawing = large()
    catalogue = load_catalogue()
    told = told_plates(build, solve(build, None, catalogue), catalogue)[0]
    cut = plate_drawing(build, plate, told, 0.4)
    assert cut is not None and "0.4 mm wide" in " ".join(cut.words)
    assert [hole[2] for hole in cut.holes] == pytest.approx([h[2] - 0.4 for h in drawing.holes])
    for one, other in zip(drawing.outlines, cut.outlines, strict=True):
        away = _outermost(flat(other)) - _outermost(flat(one))
        sign = 1 if one == drawing.outlines[0] else -1
        assert away == pytest.approx([sign * 0.2] * 4, abs=0.02)


def _outermost(points: Any) -> Any:
    x, y = points.real, points.imag
    return np.array([-x.min(), -y.min(), x.max(), y.max()])


def test_an_svg_is_in_millimetres_and_holds_what_is_cut() -> None:
    _, _, drawing = large()
    root = ElementTree.fromstring(plate_svg(drawing))
    width, view = root.attrib["width"], [float(v) for v in root.attrib["viewBox"].split()]
    assert width.endswith("mm") and float(width[:-2]) == pytest.approx(view[2])
    space = "{http://www.w3.org/2000/svg}"
    groups = {g.attrib["id"]: g for g in root.iter(f"{space}g") if "id" in g.attrib}
    outlines = groups["outline"].findall(f"{space}path")
    assert len(outlines) == len(drawing.outlines)
    assert all(path.attrib["d"].endswith("Z") for path in outlines)
    holes = groups["holes"].findall(f"{space}path")
    middles = []
    for path in holes:
        numbers = [float(n) for n in re.findall(r"-?\d+\.\d+", path.attrib["d"])]
        x, y = np.array(numbers[0::2]), np.array(numbers[1::2])
        middles.append(((x.min() + x.max()) / 2, -(y.min() + y.max()) / 2))
    assert np.allclose(middles, [hole[:2] for hole in drawing.holes], atol=0.01)


@pytest.mark.parametrize("paper", ["a4", "letter"])
@pytest.mark.parametrize("printed", [(100.0, 100.0), (98.9, 99.6)])
def test_paper_has_every_hole_where_it_belongs_and_scales_of_their_length(
    paper: str, printed: tuple[float, float]
) -> None:
    """Crosses and scales as lines of the pages' content, in points."""
    _, _, drawing = large()
    tiles = sheets_of(drawing, paper, printed)
    assert tiles.count > 1
    reader = pypdf.PdfReader(io.BytesIO(plate_pdf(drawing, tiles)))
    assert len(reader.pages) == tiles.count
    scale = 100.0 / printed[0], 100.0 / printed[1]
    seen: set[int] = set()
    for sheet, page in enumerate(reader.pages):
        box = page.mediabox
        size = float(box.width) * 25.4 / 72, float(box.height) * 25.4 / 72
        assert size == pytest.approx(tiles.size, abs=0.01)
        lines = _lines(page)
        lengths = [abs(complex(*b) - complex(*a)) for a, b in lines]
        for wanted in (100.0 * scale[0], 101.6 * scale[0], 100.0 * scale[1]):
            assert min(abs(length - wanted) for length in lengths) < 0.001
        left, foot = tiles.origins[sheet]
        for k, (x, y, _) in enumerate(drawing.holes):
            if not (0 <= x - left <= tiles.area[0] and 0 <= y - foot <= tiles.area[1]):
                continue
            on = 12.0 + (x - left) * scale[0], 38.0 + (y - foot) * scale[1]
            middles = [((a[0] + b[0]) / 2, (a[1] + b[1]) / 2) for a, b in lines]
            assert min(abs(complex(m[0] - on[0], m[1] - on[1])) for m in middles) < 0.1
            seen.add(k)
        text = page.extract_text()
        assert f"sheet {sheet + 1} of {tiles.count}" in text and "Large" in text
        assert ("Corrected" in text) == (printed != (100.0, 100.0))
        fonts = _fonts(page)
        own = [f.get_object() for f in fonts if "B612" in str(f.get_object()["/BaseFont"])]
        assert own and all("/FontFile2" in f["/FontDescriptor"].get_object() for f in own)
    assert len(seen) == len(drawing.holes)


def _fonts(page: pypdf.PageObject) -> list[Any]:
    resources: Any = page["/Resources"]
    return list(resources["/Font"].get_object().values())


def _lines(page: pypdf.PageObject) -> list[tuple[tuple[float, float], tuple[float, float]]]:
    """Straight strokes of a page, mm, from its content read operator by operator."""
    content = page.get_contents()
    assert content is not None
    here, found = (0.0, 0.0), []
    turned = 0
    for operands, operator in pypdf.generic.ContentStream(content, page.pdf).operations:
        name = bytes(operator).decode()
        if name == "cm" and float(operands[1]) != 0:
            turned += 1  # words set upright; no stroke lies in there
        if name in ("m", "l"):
            place = float(operands[0]) * 25.4 / 72, float(operands[1]) * 25.4 / 72
            if name == "l":
                found.append((here, place))
            here = place
    assert turned == 1
    return found


def test_two_processes_write_the_same_bytes(tmp_path: Path) -> None:
    build = tmp_path / "b.jtack"
    build.write_text(json.dumps(copy.deepcopy(DATA) | {"plates": [LARGE]}), "utf-8")
    written = []
    for seed in ("1", "2"):
        out = {kind: tmp_path / f"{seed}.{kind}" for kind in ("dxf", "svg", "pdf")}
        files = [part for kind, path in out.items() for part in (f"--{kind}", str(path))]
        run = subprocess.run(
            [sys.executable, "-m", "jovial_tack", "bracket", str(build), *files, "--json"],
            env={**os.environ, "PYTHONHASHSEED": seed}, capture_output=True, text=True, check=True,
        )  # fmt: skip
        answer = json.loads(run.stdout)["plates"][0]
        assert [hole["at_mm"] for hole in answer["holes"]] == [
            cut["at_mm"] for cut in LARGE["features"] if cut["type"] == "hole"
        ]  # fmt: skip
        written.append([path.read_bytes() for path in out.values()])
    assert written[0] == written[1]
