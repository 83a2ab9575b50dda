"""What is missing on a machine is named, and the rest works: libraries, displays, outputs."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from jovial_tack.answers.doubts import doubts_of
from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.verdicts import verdicts
from jovial_tack.catalogue import load_catalogue
from jovial_tack.catalogue.own import OWN_TABLES
from jovial_tack.cli import main
from jovial_tack.document.edits.engine import set_engine
from jovial_tack.document.loading import build_from_json
from jovial_tack.files.needed import NEEDED
from jovial_tack.files.own_data import own_catalogue
from jovial_tack.files.settings import Settings, load_settings, save_settings
from jovial_tack.ui.display import why_no_window
from support import DEMO, built

COMMAND = Path(sys.executable).with_name("jovial-tack")
DEMO_DATA = json.loads(DEMO.read_text())
#: A verb that needs it, and one that does not where there is one.
WITHOUT = {
    "reportlab": ["sheet", str(DEMO), "--pdf", "OUT.pdf"],
    "PIL": ["belt", str(DEMO), "--card", "OUT.png"],
    "ezdxf": ["bracket", str(DEMO), "--dxf", "OUT.dxf"],
    "shapely": ["bracket", str(DEMO)],
    "polars": ["log", str(DEMO.with_name("tessary-fen-mended.csv"))],
    "msgspec": ["solve", str(DEMO)],
    "numpy": ["solve", str(DEMO)],
}


def run_without(name: str, code: str, **environment: str) -> subprocess.CompletedProcess[str]:
    blocked = f"import sys; sys.modules[{name!r}] = None\n"
    return subprocess.run(
        [sys.executable, "-c", blocked + code], capture_output=True, text=True, timeout=60,
        env={**os.environ, **environment},
    )  # fmt: skip


@pytest.mark.parametrize("name", WITHOUT)
def test_a_verb_without_a_library_says_what_is_out_of_use(name: str, tmp_path: Path) -> None:
    words = [str(tmp_path / w) if w.startswith("OUT") else w for w in WITHOUT[name]]
    ended = run_without(name, f"from jovial_tack.cli import main\nsys.exit(main({words!r}))")
    assert ended.returncode == 2 and ended.stderr.count("\n") == 1
    assert "out of use" in ended.stderr and NEEDED[name][1] in ended.stderr


@pytest.mark.parametrize("name", ["pyqtgraph", "shapely"])
def test_the_window_without_a_library_starts_and_says_so(name: str) -> None:
    code = """
from PyQt6.QtCore import QTimer
import jovial_tack.ui.app as app
from jovial_tack.cli import main
made = app.make_window
def make():
    window = made()
    def look():
        for key in ("survey", "ratios", "belt", "grip", "line_up", "run_check", "logbook"):
            window.desk.stand_at(key)
        QTimer.singleShot(400, lambda: (print(window.notice.all_said), window.leave()))
    QTimer.singleShot(300, look)
    return window
app.make_window = make
sys.exit(main(["--demo"]))
"""
    ended = run_without(name, code, QT_QPA_PLATFORM="offscreen")
    assert ended.returncode == 0 and "Traceback" not in ended.stderr, ended.stderr
    (told,) = ended.stdout.splitlines()
    assert told.count("out of use") == 1 and "The rest works" in told


def test_a_display_that_does_not_answer_ends_in_a_sentence(
    capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    for name in ("WAYLAND_DISPLAY", "QT_QPA_PLATFORM"):
        monkeypatch.delenv(name, raising=False)
    monkeypatch.setenv("DISPLAY", ":77")
    assert main([]) == 2
    said = capsys.readouterr().err
    assert said.count("\n") == 1 and "does not answer" in said
    assert why_no_window({"QT_QPA_PLATFORM": "offscreen"}) == ""


@pytest.mark.parametrize("out", ["closed", "/dev/full"])
@pytest.mark.parametrize("words", [["solve", str(DEMO), "--bare"], ["--help"], ["belt", "--help"]])
def test_an_output_that_takes_nothing_is_status_2(words: list[str], out: str) -> None:
    where = ">&-" if out == "closed" else f"> {out}"
    line = f'"{COMMAND}" {" ".join(words)} {where}'
    ended = subprocess.run(["sh", "-c", line], stderr=subprocess.PIPE, text=True, check=False)
    assert ended.returncode == 2 and ended.stderr.count("\n") == 1, ended.stderr


def test_an_early_interrupt_is_a_sentence_and_never_status_1() -> None:
    """As soon as anything of the program is there, and while a verb works: told by no clock."""
    begins = (
        "import os, signal, sys; sys.argv = ['jovial-tack', 'solve', 'x']; import jovial_tack\n"
    )
    hit = "os.kill(os.getpid(), signal.SIGINT); signal.pause()\n"
    at_work = f"""
import importlib, jovial_tack.cli as cli
def interrupted(_name):
    {hit}
importlib.import_module = interrupted
sys.exit(cli.main(["solve", "x"]))
"""
    for code in (hit, at_work):
        ended = subprocess.run(
            [sys.executable, "-c", begins + code], capture_output=True, text=True, timeout=60
        )
        assert (ended.returncode, ended.stderr) == (2, "jovial-tack: interrupted\n")


# settings and own data


def test_one_odd_setting_resets_that_one_and_unknown_ones_stay() -> None:
    save_settings(Settings(night=True, unit="in", recent=("/a.jtack",)))
    file = Path(os.environ["XDG_CONFIG_HOME"]) / "jovial-tack/settings.json"
    kept = json.loads(file.read_text())
    file.write_text(json.dumps({**kept, "size": "wide", "both_units": "x", "of_tomorrow": [1]}))
    found = load_settings()
    assert found == Settings(night=True, unit="in", recent=("/a.jtack",))
    save_settings(found)
    assert json.loads(file.read_text())["of_tomorrow"] == [1]


def test_own_data_is_used_entry_by_entry(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    folder = tmp_path / "jovial-tack/catalogue"
    folder.mkdir(parents=True)
    (folder / "limits.toml").write_text("survey_sigma_mm = 0.2\nwindow_edge_fraction = -1.0\n")
    (folder / "profile.toml").write_text("")
    (folder / "doubtful.toml").write_text("[Engine]\ndisplacement_l = { within = [0.01, 40.0] }\n")
    found, shipped = own_catalogue(folder), load_catalogue()
    assert found.limits.survey_sigma_mm == 0.2
    assert found.limits.window_edge_fraction == shipped.limits.window_edge_fraction
    assert found.doubtful["Engine"]["displacement_l"].within == (0.01, 40.0)
    assert sum("profiles.toml meant" in problem for problem in found.problems) == 1
    assert sum("window_edge_fraction" in problem for problem in found.problems) == 1
    assert "doubtful" in OWN_TABLES and len(found.problems) == 2
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    assert main(["plan", str(DEMO), "--json"]) in (0, 1)
    assert len(json.loads(capsys.readouterr().out)["remarks"]) == 2


def test_an_older_build_is_told_which_figures_are_otherwise() -> None:
    catalogue = load_catalogue()
    _, remarks = build_from_json({**DEMO_DATA, "catalogue_version": "2026.3"}, catalogue)
    assert any("most belt speed of PK: 60 in the data" in r and "80 now" in r for r in remarks)
    _, remarks = build_from_json({**DEMO_DATA, "catalogue_version": "2026.10"}, catalogue)
    assert remarks == []


# doubts


@pytest.mark.parametrize(
    ("typed", "asked"),
    [
        ({"displacement_l": 5 * 0.016387064}, "5 cubic inches: litres?"),
        ({"displacement_l": 350.0}, "350 litres: cubic inches?"),
        ({"redline_rpm": 65000.0}, "65000 rpm: is that so?"),
    ],
)
def test_what_is_beyond_this_trade_is_asked_about_and_nothing_is_good_on_it(
    typed: dict[str, float], asked: str
) -> None:
    catalogue = load_catalogue()
    calm = built(DEMO_DATA)
    assert doubts_of(calm, catalogue) == ()
    build = set_engine(calm, **typed)
    (doubt,) = doubts_of(build, catalogue)
    assert doubt.asked == asked
    for verdict in verdicts(build, solve(build, None, catalogue), {}, catalogue):
        assert verdict.mark != "good" or verdict.title not in doubt.judges
