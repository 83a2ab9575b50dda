"""Measure speed where it is felt, each figure beside a plain alternative in the same run.

Absolute times swing by a factor of two between runs of one machine: read the ratios and medians.
"""

from __future__ import annotations

import cmath
import json
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Mapping, Sequence
from functools import partial
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT / "tests"), str(ROOT / "tools")]

import numpy as np

from jovial_tack.catalogue import load_catalogue
from jovial_tack.core.drive.lanes import Lanes
from jovial_tack.core.drive.solve import BeltDrive, run, states_at
from jovial_tack.core.drive.travel import survey_travel
from jovial_tack.document.model import Build
from plain import plain_of
from staged import COMMAND, start_to_first_paint
from support import DEMO, built, read_case, solvable


def timed(work: Callable[[], object], runs: int) -> list[float]:
    work()
    times = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        times.append(1000 * (time.perf_counter() - start))
    return times


def line(name: str, times: list[float], aim: str, other: float | None = None) -> None:
    middle = statistics.median(times)
    p95 = sorted(times)[int(0.95 * (len(times) - 1))]
    beside = "" if other is None else f"  plain {other:8.1f} ms, {other / middle:5.1f}x"
    print(f"{name:56} median {middle:7.2f} ms  p95 {p95:7.2f} ms  aim {aim:18}{beside}")


def eight_pulleys() -> BeltDrive:
    """The accessory case with a fan and an idler more."""
    data = read_case("accessory_spring_arm")["build"]
    data["shafts"] += [
        {"id": "i1", "kind": "idler", "center_mm": [250, 150]},
        {"id": "i2", "kind": "idler", "center_mm": [128, -46]},
    ]
    drive = data["drives"][0]
    drive["pulleys"] += [
        {"id": "i1", "shaft": "i1", "diameter_mm": 70, "side": "ribs"},
        {"id": "i2", "shaft": "i2", "diameter_mm": 70, "side": "ribs"},
    ]
    drive["route"] = ["crank", "tens", "ps", "wp", "alt", "i1", "ac", "i2"]
    drive["belt"]["effective_length_mm"] = 1694
    return solvable(built(data)).drive


def bench_solve() -> None:
    drive, rpm = eight_pulleys(), np.linspace(850, 6800, 60)
    arm = drive.adjuster

    def ours() -> object:
        travel = survey_travel(drive.layout, arm)  # type: ignore[arg-type]
        resting = Lanes.at_rest(drive.pulley_count, drive.belt)
        return run(drive, Lanes.joined(resting, states_at(drive, rpm)), travel)

    plain = plain_of(drive)
    torques = drive.torques(rpm)

    def loop() -> list[float]:
        angles = [plain.solve([0.0] * 8, 0.0)[0]]
        for torque, speed in zip(torques, drive.speed(rpm), strict=True):
            angles.append(plain.solve(plain.offsets(list(torque)), float(speed))[0])
        return angles

    found = ours()
    assert np.allclose(found.angle, loop(), atol=1e-8)  # type: ignore[attr-defined]
    other = statistics.median(timed(loop, 3))
    line("8 pulleys, rest and 60 speeds, coupled", timed(ours, 60), "<= 2 ms, >= 2x", other)


def four_drives() -> Build:
    """The demo and the same turned by half a turn about the crank: 20 pulleys; and 15 outlines."""
    data = json.loads(DEMO.read_text("utf-8"))
    shafts, drives = data["shafts"], data["drives"]
    for shaft in [s for s in shafts if s["kind"] != "crank"]:
        x, y = shaft["center_mm"]
        shafts.append(shaft | {"id": f"{shaft['id']}2", "name": "", "center_mm": [-x, -y]})
    for drive in list(drives):
        other = json.loads(json.dumps(drive))
        other |= {"id": f"{drive['id']}2", "name": f"{drive['id']} 2"}
        for pulley in other["pulleys"]:
            if pulley["shaft"] != "crank":
                pulley["shaft"] += "2"
        arm = other["tensioner"]
        arm["pivot_mm"] = [-v for v in arm["pivot_mm"]]
        arm["angle_deg"] += 180
        for key in ("stops_deg", "window_deg"):
            arm[key] = [v + 180 for v in arm[key]]
        drives.append(other)
    data["obstacles"] = []
    for k in range(15):
        at = cmath.rect(330 + 25 * (k % 3), 2 * np.pi * k / 15)
        corners = [at + 18 * cmath.rect(1, 2 * np.pi * j / 5) for j in range(5)]
        outline = [[c.real, c.imag] for c in corners]
        data["obstacles"].append({"id": f"o{k}", "kind": "other", "outline_mm": outline})
    return built(data)


def bench_drag() -> None:
    from PyQt6.QtCore import QEvent, QPointF, Qt
    from PyQt6.QtGui import QMouseEvent
    from PyQt6.QtTest import QTest
    from PyQt6.QtWidgets import QApplication, QGraphicsView

    from jovial_tack.answers.drive import solved
    from jovial_tack.core.drive.solve import run_from_rest, run_together
    from jovial_tack.ui.app import demo_file, make_application, make_window

    app = make_application(["bench"])
    window = make_window()
    window.load(demo_file(), demo=True)
    window.show()
    QTest.qWait(600)
    front, session = window.front, window.session
    viewport = front.viewport()
    assert viewport is not None
    none = Qt.KeyboardModifier.NoModifier
    mode = front.viewportUpdateMode()

    def send(kind: QEvent.Type, at: QPointF, button: Qt.MouseButton, held: Qt.MouseButton) -> None:
        glob = QPointF(viewport.mapToGlobal(at.toPoint()))
        QApplication.sendEvent(viewport, QMouseEvent(kind, at, glob, button, held, none))

    def one_by_one(drives: Sequence[BeltDrive], states: Sequence[Lanes]) -> list[Any]:
        return list(map(run_from_rest, drives, states))

    def drag(shaft: str, plain: bool) -> list[float]:
        start = QPointF(front.pixel_of_shaft(shaft))
        left, no = Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
        send(QEvent.Type.MouseButtonPress, start, left, left)
        times = []
        for step in range(120):
            at = start + QPointF(24 * np.sin(step / 9), 18 * np.cos(step / 7))
            if plain:
                session.solving.begin_anew()  # nothing to take over
                vars(solved)["run_together"] = one_by_one
                front.setViewportUpdateMode(QGraphicsView.ViewportUpdateMode.FullViewportUpdate)
            else:
                vars(solved)["run_together"] = run_together
            began = time.perf_counter()
            send(QEvent.Type.MouseMove, at, no, left)
            app.processEvents()
            times.append(1000 * (time.perf_counter() - began))
        send(QEvent.Type.MouseButtonRelease, start, left, no)
        front.setViewportUpdateMode(mode)
        session.undo()
        QTest.qWait(500)
        return times

    for station, shown in (("lay_out", "ribbon"), ("grip", "ribbon and plot"), ("line_up", "plan")):
        window.desk.stand_at(station)
        QTest.qWait(300)
        for shaft, said in (("blower", "one drive"), ("crank", "both drives")):
            other = statistics.median(drag(shaft, plain=True))
            times = drag(shaft, plain=False)
            name = f"drag step to painted frame, {said}, {shown}"
            line(name, times, "<= 16 ms, p95 <= 33", other)
    window.desk.stand_at("lay_out")
    session.new(four_drives())
    front.fit()
    QTest.qWait(1500)
    for shaft, said in (("alternator", "one drive"), ("crank", "four drives")):
        other = statistics.median(drag(shaft, plain=True))
        name = f"drag step, 20 pulleys, 4 drives, 15 outlines, {said}"
        line(name, drag(shaft, plain=False), "<= 16 ms, p95 <= 33", other)
    session.close()


def bench_stations() -> None:
    """From click to painted frame: stations, and day against night."""
    from PyQt6.QtTest import QTest

    from jovial_tack.ui.app import demo_file, make_application, make_window
    from jovial_tack.ui.widgets.theme import DAY, NIGHT

    app = make_application(["bench"])
    window = make_window()
    window.load(demo_file(), demo=True)
    window.show()
    QTest.qWait(900)

    def shown(change: Callable[[], object]) -> float:
        began = time.perf_counter()
        change()
        app.processEvents()
        window.grab()
        return 1000 * (time.perf_counter() - began)

    still = statistics.median(shown(lambda: None) for _ in range(7))
    for key in window.station_actions:
        times = []
        for _ in range(7):
            window.desk.stand_at("lay_out" if key != "lay_out" else "line_up")
            QTest.qWait(60)
            times.append(shown(partial(window.desk.stand_at, key)))
        line(f"to the station {key}, painted", times[1:], "<= 100 ms", still)
    themes = [NIGHT, DAY] * 5
    line("day or night, painted", [shown(partial(window.set_theme, t)) for t in themes],
         "<= 100 ms", still)  # fmt: skip
    window.leave()


def bench_belts() -> None:
    """Every stocked belt around a window, beside as many whole solves."""
    from jovial_tack.answers.belt.buying import choose_belt
    from jovial_tack.answers.belt.order import belts_to_order
    from jovial_tack.answers.drive.solve import solve, solve_again
    from jovial_tack.answers.mending import mends_of
    from jovial_tack.answers.ratios.pulleys import pulleys_at_hand
    from jovial_tack.document.edits.belts import set_belt_length

    catalogue = load_catalogue()
    build = built(json.loads(DEMO.read_text("utf-8")))
    choice = choose_belt(build, "blower", catalogue)

    def plain() -> None:
        for belt in choice.candidates:
            solve(set_belt_length(build, "blower", belt.effective_length_mm), None, catalogue)

    other = statistics.median(timed(plain, 1))
    times = timed(lambda: choose_belt(build, "blower", catalogue), 9)
    line(f"belts for a drive, {len(choice.candidates)} looked at", times, "<= 100 ms", other)
    solution = solve_again(build, None, catalogue, None)
    orders = belts_to_order(build, catalogue)
    times = timed(lambda: solve_again(build, None, catalogue, None), 7)
    line("deep solve of the demo", times, "<= 150 ms")
    times = timed(lambda: mends_of(build, catalogue, solution, orders), 3)
    line("mends of the demo, each solved", times, "<= 1000 ms")
    times = timed(lambda: pulleys_at_hand(build, catalogue, 6600.0), 3)
    line("what pulleys at hand make, each solved", times, "<= 3000 ms")


def bench_plates() -> None:
    """A bracket plate beside a belt: its outline as it is dragged, and its checks."""
    from jovial_tack.answers.drive.solve import solve
    from jovial_tack.answers.line_up.plate_parts import cuts_of
    from jovial_tack.answers.line_up.plate_told import plate_shape, told_plates
    from jovial_tack.core.line_up.plate_checks import least_web
    from jovial_tack.core.line_up.plate_shape import spine_of

    data = json.loads(DEMO.read_text("utf-8"))
    data["plates"][0] |= {"z_mm": 36.0, "webs": "hull"}
    build, catalogue = built(data), load_catalogue()
    results = solve(build, None, catalogue)
    plate = build.plates[0]
    away = told_plates(build, results, catalogue)[0].kept_out
    cuts, shape = cuts_of(plate), plate_shape(plate, away)

    def web_by_steps() -> None:
        """The plain way: one tenth of a millimetre after another, until a hole is cut off."""
        spines = [spine_of(cut) for cut in cuts]
        for tenths in range(1, 2000):
            left = shape.metal.buffer(-tenths / 20)
            parts = getattr(left, "geoms", [left])
            if not any(all(part.intersects(spine) for spine in spines) for part in parts):
                return

    fine = statistics.median(timed(lambda: plate_shape(plate, away), 20))
    live = timed(lambda: plate_shape(plate, away, live=True).lines, 40)
    line("a plate's outline while a hole is dragged", live, "<= 33 ms", fine)
    plain = statistics.median(timed(web_by_steps, 3))
    line(
        "its least web, to 0.01 mm (plain: to 0.1)",
        timed(lambda: least_web(cuts, shape), 20),
        "",
        plain,
    )
    whole = timed(lambda: told_plates(build, results, catalogue), 10)
    line("all of it, on the worker", whole, "<= 300 ms")


def bench_finder() -> None:
    """All combinations of a drive: belts and notches, and geometry that differs in each; each beside
    solving some of the same one at a time.
    """
    import numpy as np

    from jovial_tack.answers.finder.figures import case_of
    from jovial_tack.answers.finder.space import Space, space_of
    from jovial_tack.answers.finder.sure import how_sure
    from jovial_tack.answers.finder.trying import find
    from jovial_tack.core.drive.lanes import Lanes
    from jovial_tack.core.drive.solve import run_from_rest, states_at
    from jovial_tack.document.model import Choices, make

    build, catalogue = built(json.loads(DEMO.read_text("utf-8"))), load_catalogue()
    speeds = np.array([850.0, 2600.0, 6600.0])

    def one_alone(space: Space, combination: int) -> None:
        drive = case_of(space.build_of(combination), space).drive
        rest = Lanes.at_rest(drive.pulley_count, drive.belt)
        run_from_rest(drive, Lanes.joined(rest, states_at(drive, speeds)))

    def told(what: str, choices: dict[str, object]) -> None:
        space = space_of(build, make(Choices, {"drive": "blower", **choices}), catalogue)
        some = [int(k) for k in np.linspace(0, space.count - 1, 120)]
        began = time.perf_counter()
        for combination in some:
            one_alone(space, combination)
        plain = 1000.0 * (time.perf_counter() - began) / len(some) * space.count
        times = timed(lambda: find(space, speeds.tolist()), 3)
        fit = find(space, speeds.tolist()).feasible
        rate = 1000.0 * space.count / statistics.median(times)
        words = f"{space.count} combinations, {what}: {rate:,.0f}/s, {fit} fit"
        line(words, times, ">= 100 times the plain", plain)

    lengths = tuple((1195.0 + np.linspace(-60.0, 60.0, 38880)).round(3).tolist())
    told("belts and notches", {"belt_lengths_mm": lengths[:19000], "notches": (0, 1, 2)})
    sizes = {
        "blower": tuple(np.linspace(70.0, 82.0, 18).round(2).tolist()),
        "blower_idler": tuple(np.linspace(70.0, 90.0, 18).round(2).tolist()),
        "crank": tuple(np.linspace(160.0, 170.0, 12).round(2).tolist()),
        "blower_arm": tuple(np.linspace(80.0, 95.0, 10).round(2).tolist()),
    }
    told("all geometry", {"diameters_mm": sizes, "notches": (0, 1, 2)})
    line(
        "2,000 engines drawn and solved",
        timed(lambda: how_sure(build, "blower", catalogue), 5),
        "<= 150 ms",
    )


def bench_log() -> None:
    """A log of a million rows, 26 pulls in it, from file to answer; beside the csv module's reading."""
    import csv

    from jovial_tack.answers.run_check.judging import check_run
    from jovial_tack.files.logs import read_log, survey_log
    from pulls import Sim

    sim = Sim(hertz=100, slip=(6000, 0.06, 1.0)).run()
    idle = [(t, 2400.0 + (k % 30), -40.0) for k, (t, *_) in enumerate(sim.rows)]
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "million.csv"
        with path.open("w") as file:
            file.write("Time [s],Engine speed [rpm],Boost [kPa],A,B,C,D,E\n")
            rows, stretch = 0, 0
            while rows < 1_000_000:
                part = sim.rows if stretch % 38 == 0 else idle
                start = stretch * 10.0
                for t, rpm, boost, *_ in part:
                    file.write(f"{start + t:.2f},{rpm:.1f},{boost:.2f},1.5,2.5,3,4,5\n")
                rows, stretch = rows + len(part), stretch + 1
        pulls = 0

        def ours() -> None:
            nonlocal pulls
            pulls = len(check_run(read_log(survey_log(path)).log).pulls)

        def plain() -> None:
            with path.open() as file:
                table = csv.reader(file)
                next(table)
                np.array([[float(cell) for cell in row[:3]] for row in table])

        other = statistics.median(timed(plain, 1))
        times = timed(ours, 5)
        line(f"log of 1,000,000 rows to answer, {pulls} pulls", times, "<= 1500 ms", other)


def process(
    arguments: list[str],
    runs: int,
    *,
    cold: bool = False,
    environment: Mapping[str, str] | None = None,
) -> list[float]:
    """Whole processes, ms each, after one that is not counted."""
    every = os.environ | dict(environment or {})
    every.pop("PYTHONDONTWRITEBYTECODE", None)  # as on a user's machine: compiled once and kept
    subprocess.run(arguments, capture_output=True, check=False, env=every)
    times = []
    for _ in range(runs):
        if cold:
            forget_files()
        began = time.perf_counter()
        subprocess.run(arguments, capture_output=True, check=False, env=every)
        times.append(1000 * (time.perf_counter() - began))
    return times


def forget_files() -> None:
    """Ask the system to drop what it keeps of our files in memory."""
    for folder in (ROOT / ".venv/lib", ROOT / "src"):
        for path in folder.rglob("*"):
            if path.suffix in (".py", ".pyc", ".so", ".5", ".6", ".otf", ".toml", ".jtack"):
                handle = os.open(path, os.O_RDONLY)
                os.posix_fadvise(handle, 0, 0, os.POSIX_FADV_DONTNEED)
                os.close(handle)


def main() -> None:
    python = sys.executable
    bench_solve()
    bench_belts()
    bench_plates()
    bench_finder()
    bench_log()
    bench_drag()
    bench_stations()
    bare = statistics.median(
        process([python, "-c", "from PyQt6 import QtWidgets; import numpy"], 5)
    )
    start, directed = start_to_first_paint()
    times = process(start, 7, environment=directed)
    line("start to painted demo window, warm", times, "<= 900 ms", bare)
    times = process(start, 3, cold=True, environment=directed)
    line("start to painted demo window, cold", times, "<= 3000 ms")
    bare = statistics.median(process([python, "-c", "import numpy"], 7))
    solve = [str(COMMAND), "solve", str(DEMO), "--json"]
    line("solve --bare as a whole process, warm", process([*solve, "--bare"], 9), "<= 450 ms", bare)
    line("solve with orders and mends, warm", process(solve, 5), "<= 1500 ms", bare)
    print("plain: for the log its columns read by the standard library alone;")
    print("for solves a loop with a root finder of SciPy; for drags the whole view painted and")
    print(
        "every drive solved anew and by itself; for stations and themes the window as it is, painted;"
    )
    print("for processes an interpreter that only imports")
    print("the libraries.")


if __name__ == "__main__":
    for folder in ("XDG_CONFIG_HOME", "XDG_STATE_HOME"):
        os.environ[folder] = tempfile.mkdtemp()  # not the user's own settings
    main()
