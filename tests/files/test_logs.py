"""Logs as loggers write them: separators, decimal commas, heads, units; and broken ones."""

from __future__ import annotations

import json
import sys
from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path

import numpy as np
import polars
import pytest

import dresses
from jovial_tack.cli import main
from jovial_tack.core.errors import LogError
from jovial_tack.files.logs import LoadedLog, read_log, survey_log, with_named
from pulls import Sim, text
from support import DEMO

SLIPPING, MENDED = (DEMO.with_name(f"tessary-fen-{name}.csv") for name in ("slipping", "mended"))
SIM = Sim(seed=5, slip=(6000, 0.07, 1.0)).run()
ROWS = SIM.rows
GOOD = text([SIM])


def _table(head: str, line: Callable[[tuple[float, ...]], str]) -> str:
    return head + "\n" + "\n".join(line(row) for row in ROWS) + "\n"


WRITTEN = {
    "plain": GOOD.encode(),
    "decimal comma": GOOD.replace(",", ";").replace(".", ",").encode(),
    "tabs and milliseconds": _table(
        "Time (ms)\tEngine Speed\tBoost", lambda r: f"{1000 * r[0]:.0f}\t{r[1]:.1f}\t{r[2]:.3f}"
    ).encode(),
    "utf-16": GOOD.encode("utf-16"),
    "byte order mark, crlf": b"\xef\xbb\xbf" + GOOD.replace("\n", "\r\n").encode(),
    "preamble and row of units, absolute": _table(
        "Logger 5\nRun 3, hill\n\nTime,RPM,MAP,TPS\ns,rpm,kPa,%",
        lambda r: f"{r[0]:.3f},{r[1]:.1f},{r[2] + 101.325:.3f},{r[4]:.1f}",
    ).encode(),
    "psi in the name": _table(
        "time_s,engine_rpm,boost_psi,boost_target_psi",
        lambda r: f"{r[0]:.3f},{r[1]:.1f},{r[2] / 6.894757:.4f},12.0",
    ).encode(),
    "bar absolute and air logged": _table(
        "Elapsed time;Eng RPM;Manifold press (bar abs);Baro (mbar);Coolant temp",
        lambda r: f"{r[0]:.3f};{r[1]:.1f};{(r[2] + 95) / 100:.5f};950;88",
    ).encode(),
    "quoted": "\n".join(
        ",".join(f'"{cell}"' for cell in line.split(",")) for line in GOOD.splitlines()
    ).encode(),
}


def load(path: Path, content: bytes, named: str = "") -> LoadedLog:
    path.write_bytes(content)
    layout = survey_log(path)
    return read_log(layout, with_named(layout.channels, layout.heads, layout.units, named))


@pytest.mark.parametrize("name", WRITTEN)
def test_every_way_of_writing_gives_the_same_channels(name: str, tmp_path: Path) -> None:
    log = load(tmp_path / "a.csv", WRITTEN[name]).log
    table = np.array(ROWS)
    assert log.time_s == pytest.approx(table[:, 0], abs=6e-4)
    assert log.rpm == pytest.approx(table[:, 1], abs=0.06)
    assert log.boost_kpa == pytest.approx(table[:, 2], abs=0.03)
    assert log.air_kpa == (95.0 if "air logged" in name else 101.325)


def test_columns_and_units_can_be_named(tmp_path: Path) -> None:
    content = _table("a,b,c,d", lambda r: f"{r[0]},{r[3]},{r[1]},{r[2] / 100 + 1.01325}").encode()
    path = tmp_path / "bare.csv"
    with pytest.raises(LogError, match="no column is named as time"):
        load(path, content)
    log = load(path, content, "time=a, rpm=3,blower_rpm=B,boost=d@bar-absolute").log
    table = np.array(ROWS)
    assert log.rpm == pytest.approx(table[:, 1])
    assert log.blower_rpm == pytest.approx(table[:, 3])
    assert log.boost_kpa == pytest.approx(table[:, 2])
    for named, said in (("speedo=a", "names no channel"), ("rpm=z", "no column “z”"),
                        ("boost=d@furlong", "not a unit"), ("rpm", "names no channel")):  # fmt: skip
        with pytest.raises(LogError, match=said):
            load(path, content, named)


HEAD, *LINES = GOOD.splitlines()
BROKEN = {
    "empty": (b"", "is empty"),
    "blank": (b"\n \n", "is empty"),
    "text": (b"Once upon a time\nthere was, perhaps, a belt.\n", "no rows of figures"),
    "heads only": (HEAD.encode(), "no rows of figures"),
    "one column": (b"rpm\n1000\n2000\n3000\n", "only one column"),
    "NUL bytes": (b"Time,RPM\0\n1,2\n", "NUL bytes"),
    "binary": (bytes(range(256)) * 20, "NUL bytes"),
    "ragged": (
        "\n".join([HEAD, *(x if k % 3 else x.rsplit(",", 1)[0] for k, x in enumerate(LINES))]),
        "no figure for boost, the first in line 2",
    ),
    "ten-digit rpm": (
        "\n".join([HEAD, *(f"{x.split(',')[0]},1234567890,{x.split(',')[2]}" for x in LINES)]),
        "engine speed reads 1234567890 rpm in line 2",
    ),
    "a row": ("\n".join([HEAD, *LINES[:1]]), "only 1 rows"),
    "speed in words": (
        "\n".join([HEAD, *(f"{x.split(',')[0]},fast,{x.split(',')[2]}" for x in LINES)]),
        "no figure for engine speed",
    ),
    "three rows": ("\n".join([HEAD, *LINES[:3]]), "only 3 rows"),
}


@pytest.mark.parametrize("name", BROKEN)
def test_a_broken_log_says_what_is_wrong(
    name: str, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    content, said = BROKEN[name]
    path = tmp_path / "broken.csv"
    path.write_bytes(content if isinstance(content, bytes) else str(content).encode())
    assert main(["log", str(path), "--json"]) == 2
    out, err = capsys.readouterr()
    assert said in err
    assert err.count("\n") == 1
    answer = json.loads(out)
    assert answer["pulls"] == []
    assert said in answer["problem"]


def test_a_few_bad_rows_are_left_out_and_named(tmp_path: Path) -> None:
    lines = LINES[:]
    lines[40] = f"{lines[40].split(',')[0]},9999999999,20.0"
    lines[90] = "--,--,--"
    loaded = load(tmp_path / "few.csv", "\n".join([HEAD, *lines, "12.3,24"]).encode())
    assert loaded.log.rpm.size == len(LINES) - 2
    assert any("engine speed left out, the first in line 42" in r for r in loaded.remarks)


def test_the_demo_logs_slip_and_hold(capsys: pytest.CaptureFixture[str]) -> None:
    build = ["--build", str(DEMO), "--drive", "blower"]
    assert main(["log", str(SLIPPING), "--json", *build]) == 1
    (pull,) = json.loads(capsys.readouterr().out)["pulls"]
    assert pull["slip"] is True
    low, high = pull["onset_interval"]
    assert low <= 6407 <= high  # where the belt model starts to slip
    assert pull["friction_ribs"] == pytest.approx(0.45, abs=0.02)
    assert main(["log", str(MENDED), "--json"]) == 0
    (pull,) = json.loads(capsys.readouterr().out)["pulls"]
    assert (pull["slip"], pull["onset_rpm"]) == (False, None)
    assert main(["log", str(SLIPPING), *build]) == 1
    assert "SLIPS" in capsys.readouterr().out


def test_arguments_that_make_no_sense(capsys: pytest.CaptureFixture[str], tmp_path: Path) -> None:
    for arguments in (
        ["log"], ["log", str(tmp_path / "none.csv")], ["log", str(tmp_path)],
        ["log", str(SLIPPING), "--drive", "x"], ["log", str(SLIPPING), "--air-kpa", "5"],
        ["log", str(SLIPPING), "--build", str(DEMO), "--drive", "accessory"],
        ["log", str(SLIPPING), "--build", str(SLIPPING)],
    ):  # fmt: skip
        assert main(arguments) == 2
        assert capsys.readouterr().err.count("\n") == 1


def test_what_loggers_write_is_read_right_or_refused(tmp_path: Path) -> None:
    pull = np.array(dresses.ROWS)
    long, high, most = np.ptp(pull[:, 0]), pull[:, 1].max(), pull[:, 2].max()
    every = dresses.dresses()
    assert len(every) >= 139
    refused = []
    for name, content in every.items():
        try:
            log = load(tmp_path / "log.csv", content).log
        except LogError as error:
            refused.append(f"{name}: {error}")
            continue
        assert np.ptp(log.time_s) == pytest.approx(long, rel=0.02, abs=0.06), name
        assert (np.diff(log.time_s) > 0).all(), name
        assert log.rpm.max() == pytest.approx(high, abs=80), name
        assert log.boost_kpa.max() == pytest.approx(most, abs=1.5), name
        if log.throttle is not None:
            assert log.throttle.max() == pytest.approx(100, abs=3), name
    assert refused == []


def test_samples_without_stamps_are_read_at_a_rate_that_is_told(tmp_path: Path) -> None:
    rows = "\n".join(f"{r[1]:.0f},{r[2]:.2f}" for r in ROWS)
    content = f"Engine RPM,Boost kPa\n{rows}\n".encode()
    with pytest.raises(LogError, match="time=20Hz"):
        load(tmp_path / "log.csv", content)
    told = load(tmp_path / "log.csv", content, "time=25 Hz").log
    assert np.ptp(told.time_s) == pytest.approx((len(ROWS) - 1) / 25.0)


def test_the_air_is_told_by_pressure_or_elevation(capsys: pytest.CaptureFixture[str]) -> None:
    told = []
    for air in ("83.5kPa", "1600m", "5250 ft"):
        main(["log", str(MENDED), "--air", air, "--json"])
        told.append(json.loads(capsys.readouterr().out)["answer"]["reason"])
    assert told[0][:40] == told[1][:40] == told[2][:40]
    assert main(["log", str(MENDED), "--air", "high"]) == 2
    assert "1600 m" in capsys.readouterr().err


def test_parquet_is_read_and_other_formats_name_their_extra(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    table = np.array(ROWS)
    began = datetime(2026, 5, 3, 14, 0)
    stamps = [began + timedelta(seconds=float(t)) for t in table[:, 0]]
    frame = polars.DataFrame({"Time": stamps, "Engine RPM": table[:, 1], "Boost kPa": table[:, 2]})
    frame.write_parquet(tmp_path / "log.parquet")
    log = read_log(survey_log(tmp_path / "log.parquet")).log
    assert np.ptp(log.time_s) == pytest.approx(np.ptp(table[:, 0]), abs=1e-3)
    assert log.boost_kpa.max() == pytest.approx(table[:, 2].max(), abs=1e-3)
    for module, begins, name, extra in (
        ("fastexcel", b"PK\x03\x04", "log.xlsx", "excel"),
        ("asammdf", b"MDF     4.10", "log.mf4", "mdf"),
        ("can", b"(1700000000.1) can0 100#00", "log.log", "can"),
    ):
        monkeypatch.setitem(sys.modules, module, None)  # as where the extra is not there
        (tmp_path / name).write_bytes(begins + b"\0" * 200)
        assert main(["log", str(tmp_path / name)]) == 2
        (said,) = capsys.readouterr().err.splitlines()
        assert f"jovial-tack[{extra}]" in said
    (tmp_path / "broken.parquet").write_bytes(b"PAR1" + b"x" * 400)
    assert main(["log", str(tmp_path / "broken.parquet")]) == 2
    assert len(capsys.readouterr().err.splitlines()) == 1


def test_a_log_after_a_change_is_laid_beside_the_one_before(
    capsys: pytest.CaptureFixture[str],
) -> None:
    asked = ["log", str(SLIPPING), "--compare", str(MENDED)]
    main(asked)
    said = capsys.readouterr().out.splitlines()[-1]
    assert "air nobody noted" in said and "more than the first from 6" in said
    main([*asked, "--air", "99kPa", "--json"])
    compared = json.loads(capsys.readouterr().out)["compared"]
    more = np.array(compared["second_kpa"]) - np.array(compared["first_kpa"])
    assert compared["in_same_air"] is True
    assert more[-1] > 8 and np.abs(more[:40]).max() < 4


def test_what_else_is_in_a_log_is_known_by_its_head(tmp_path: Path) -> None:
    heads = {
        "before_blower": "Blower inlet pressure [kPa gauge]", "after_blower": "Pre intercooler press",
        "before_throttle": "Throttle inlet press", "intake": "Charge air temp [degC]",
        "discharge": "Supercharger discharge temp [degC]", "gear": "Gear",
        "speed": "Vehicle Speed [mph]", "knock": "Knock retard [deg]", "lambda": "Wideband",
        "boost": "Boost [kPa gauge]",
    }  # fmt: skip
    others = "Knock level,Lambda target,Gear ratio,Gearbox oil temp,Engine speed limit"
    first = ",".join(["Time", "RPM", *heads.values(), others])
    figures = {"lambda": 12.1, "speed": 60.0, "gear": 3.0}
    rest = ",".join(str(figures.get(role, 20.0)) for role in heads if role != "boost")

    def row(r: tuple[float, ...]) -> str:
        return f"{r[0]},{r[1]},{rest},{r[2]},7,7,7,7,7"

    found = load(tmp_path / "rich.csv", _table(first, row).encode())
    for role, head in heads.items():
        assert first.split(",")[found.channels[role].column] == head  # type: ignore[index]
    log = found.log
    assert log.mixture is not None and log.mixture[0] == pytest.approx(12.1 / 14.7)
    assert log.road_speed is not None and log.road_speed[0] == pytest.approx(96.56, abs=0.01)
    # the only pressure there is counts as the boost
    alone = "Time,RPM,Supercharger outlet pressure [kPa gauge]"
    found = load(tmp_path / "alone.csv", _table(alone, lambda r: f"{r[0]},{r[1]},{r[2]}").encode())
    assert found.log.boost_kpa == pytest.approx(np.array(ROWS)[:, 2])
