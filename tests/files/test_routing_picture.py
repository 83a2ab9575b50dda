"""The picture of the routing: what is in it, how large, and the same bytes every time."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from xml.etree import ElementTree

import numpy as np
import pytest

from jovial_tack.answers.drive.solve import solve_again
from jovial_tack.catalogue import load_catalogue
from jovial_tack.core.errors import GeometryError, SaveError
from jovial_tack.document.model import Build
from jovial_tack.drawing.routing import TALL, WIDE, Disc, Picture, Stroke, Words, routing_picture
from jovial_tack.files.routing import routing_pdf, routing_svg, write_routing
from support import DEMO, built, read_case

CATALOGUE = load_catalogue()
_SVG = "{http://www.w3.org/2000/svg}"


def picture(build: Build) -> Picture:
    results = solve_again(build, None, CATALOGUE, None, live=True).results
    return routing_picture(build, results, CATALOGUE)


def demo() -> Build:
    return built(json.loads(DEMO.read_text("utf-8")))


def test_every_pulley_stands_there_with_its_number_and_all_within_the_sticker() -> None:
    build = demo()
    shown = picture(build)
    words = [mark.text for mark in shown.marks if isinstance(mark, Words)]
    pulleys = sum(len(drive.pulleys) for drive in build.drives)
    numbers = {f"{letter}{k}" for letter, n in (("A", 6), ("B", 4)) for k in range(1, n + 1)}
    assert len(numbers) == pulleys and numbers <= set(words)
    # every number is explained, the last pulley of each belt as the last, with a second ring
    explained = {text.split(" ")[0] for text in words if " " in text} - {"Tessary"}
    assert explained == numbers
    assert sum(text.endswith("(last)") for text in words) == 2
    for mark in shown.marks:
        points = mark.points if isinstance(mark, Stroke) else ()
        points += (mark.center, mark.center + mark.radius) if isinstance(mark, Disc) else ()
        assert all(0 <= p.real <= WIDE and 0 <= p.imag <= TALL for p in points)
    loops = [m for m in shown.marks if isinstance(m, Stroke) and m.closed and not m.filled]
    assert [loop.dashed for loop in loops] == [True, False]


@pytest.mark.parametrize("turns", ["cw", "ccw"])
def test_the_arrow_at_the_crank_and_those_on_the_belt_go_its_way(turns: str) -> None:
    data = read_case("two_pulleys_locked")["build"]
    data["engine"]["crank_rotation"] = turns
    if turns == "ccw":
        data["drives"][0]["route"] = list(reversed(data["drives"][0]["route"]))
    marks = picture(built(data)).marks
    arc = next(m for m in marks if isinstance(m, Stroke) and m.wide == 0.4)
    middle = next(
        m.center
        for m in marks
        if isinstance(m, Disc)
        and abs(m.center - arc.points[0]) < 20
        and abs(abs(arc.points[0] - m.center) - abs(arc.points[-1] - m.center)) < 1e-6
    )
    swept = np.angle((arc.points[3] - middle) / (arc.points[0] - middle))
    assert (swept > 0) == (turns == "ccw")
    # the belt's heads run round the same way as its loop is walked
    loop = next(m for m in marks if isinstance(m, Stroke) and m.closed and not m.filled)
    ring = np.array(loop.points)
    area = float((ring * np.roll(ring, -1).conj()).imag.sum())
    assert (area < 0) == (turns == "ccw")
    for head in (m for m in marks if isinstance(m, Stroke) and m.filled):
        tip, *back = head.points
        middle_of = sum(head.points) / 3
        near = int(np.argmin(np.abs(ring - middle_of)))
        onward = np.roll(ring, -1)[near] - np.roll(ring, 1)[near]
        if abs(abs(arc.points[-1] - middle_of)) > 3:
            assert ((tip - sum(back) / 2) * np.conj(onward)).real > 0


def test_files_are_full_size_readable_and_the_same_in_any_process(tmp_path: Path) -> None:
    build = demo()
    shown = picture(build)
    root = ElementTree.fromstring(routing_svg(shown))
    assert (root.get("width"), root.get("height")) == ("90mm", "70mm")
    circles = root.findall(f"{_SVG}circle")
    assert len(circles) >= 10 and root.find(f"{_SVG}title").text == build.title  # type: ignore[union-attr]
    pdf = routing_pdf(shown)
    assert b"/MediaBox [ 0 0 255.11" in pdf and b"/Count 1" in pdf
    ran = [
        subprocess.run(
            [sys.executable, "-m", "jovial_tack", "fitup", str(DEMO), "--picture", str(path)],
            check=True, capture_output=True, env={"PYTHONHASHSEED": seed, "HOME": str(tmp_path)},
        )
        for seed, path in (("1", tmp_path / "a.pdf"), ("2", tmp_path / "b.pdf"))
    ]  # fmt: skip
    assert ran and (tmp_path / "a.pdf").read_bytes() == (tmp_path / "b.pdf").read_bytes() == pdf
    with pytest.raises(SaveError, match=r"\.svg or \.pdf"):
        write_routing(shown, tmp_path / "routing.png")
    bare = built({**json.loads(DEMO.read_text("utf-8")), "drives": []})
    with pytest.raises(GeometryError, match="no routing"):
        picture(bare)
