"""The command line as a user meets it: status, one line for what is wrong, never a traceback."""

from __future__ import annotations

import json
import os
import resource
import subprocess
import sys
from pathlib import Path

import pytest

from jovial_tack import __version__
from jovial_tack.cli import main
from support import CASES, DEMO, read_case

COMMAND = Path(sys.executable).with_name("jovial-tack")


@pytest.mark.parametrize("name", CASES)
def test_solve_prints_the_results_file(
    name: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    path = tmp_path / "case.jtack"
    path.write_text(json.dumps(read_case(name)["build"]))
    status = main(["solve", str(path), "--json", "--rpm", "850,5000"])
    out, err = capsys.readouterr()
    results = json.loads(out)
    stops = [f for d in results["drives"] for f in d["findings"] if f["level"] == "stop"]
    assert status == (1 if stops else 0)
    assert err == ""
    assert results["format"] == "jovial-tack/results"
    assert results["drives"][0]["rpm"] == [850, 5000]


def test_the_table_tells_figures_and_findings(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["solve", str(DEMO)]) == 1
    out = capsys.readouterr().out
    assert "Blower drive" in out
    assert "STOP" in out
    assert "[slip]" in out


@pytest.mark.parametrize(
    "arguments",
    [
        ["solve"],
        ["solve", "no-such-file.jtack"],
        ["solve", str(DEMO), "--rpm", "fast"],
        ["solve", str(DEMO), "--rpm", "0,100"],
        ["solve", str(DEMO), "--rpm", "nan"],
        ["solve", str(DEMO), "--rpm"],
        ["solve", str(DEMO), "--frob"],
        ["solve", str(DEMO), "extra"],
        ["frobnicate"],
        ["--frob"],
        ["--demo", str(DEMO)],
        ["solve", "\0"],
    ],
)
def test_wrong_arguments_are_one_line_and_status_2(
    arguments: list[str], capsys: pytest.CaptureFixture[str]
) -> None:
    assert main(arguments) == 2
    out, err = capsys.readouterr()
    assert out == ""
    assert err.count("\n") == 1
    assert err.startswith("jovial-tack: ")


def test_a_newer_file_is_not_computed(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    data = read_case("two_pulleys_locked")["build"] | {"version": 2}
    path = tmp_path / "newer.jtack"
    path.write_text(json.dumps(data))
    assert main(["solve", str(path)]) == 2
    assert "newer" in capsys.readouterr().err


def test_version_and_help(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["--version"]) == 0
    assert __version__ in capsys.readouterr().out
    assert main(["--help"]) == 0
    assert "solve" in capsys.readouterr().out
    with pytest.raises(SystemExit) as done:
        main(["solve", "--help"])
    assert done.value.code == 0


def _python(code: str, **environment: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-c", code],
        capture_output=True,
        text=True,
        check=False,
        env={**os.environ, **environment},
    )


def test_solve_needs_no_qt_no_scipy_and_no_display() -> None:
    code = f"""
import sys
sys.modules["PyQt6"] = sys.modules["scipy"] = None
from jovial_tack.cli import main
status = main(["solve", {str(DEMO)!r}, "--json"])
import jovial_tack.drawing.front
sys.exit(status + 10)
"""
    done = _python(code, PYTHONIOENCODING="ascii")
    assert done.returncode == 11, done.stderr
    assert done.stderr == ""


def test_a_closed_pipe_and_a_missing_display_are_no_tracebacks() -> None:
    command = f"{sys.executable} -m jovial_tack solve {DEMO} | true"
    done = subprocess.run(["sh", "-c", command], capture_output=True, text=True, check=False)
    assert "Traceback" not in done.stderr
    code = "import sys; from jovial_tack.cli import main; sys.exit(main([]))"
    done = _python(code, DISPLAY="", WAYLAND_DISPLAY="", QT_QPA_PLATFORM="")
    assert done.returncode == 2
    assert "display" in done.stderr


@pytest.mark.slow
def test_twenty_thousand_shafts_pass_through_every_verb_in_a_gigabyte(tmp_path: Path) -> None:
    data = json.loads(DEMO.read_text("utf-8"))
    data["shafts"] += [
        {"id": f"x{k}", "kind": "idler", "center_mm": [k % 200 * 10.0, k // 200 * 10.0]}
        for k in range(20_000)
    ]
    path = tmp_path / "many.jtack"
    path.write_text(json.dumps(data))

    def limited() -> None:
        resource.setrlimit(resource.RLIMIT_AS, (1 << 30, 1 << 30))

    for verb in (["solve", "--bare"], ["plan"], ["belt"], ["boost"]):
        ended = subprocess.run(
            [COMMAND, verb[0], path, *verb[1:]], capture_output=True, timeout=60,
            preexec_fn=limited, env=os.environ | {"OPENBLAS_NUM_THREADS": "1"},
        )  # fmt: skip
        assert ended.returncode in (0, 1) and not ended.stderr, (verb, ended.stderr[-300:])
