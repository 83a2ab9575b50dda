"""Simulated logs written as a logger would: all at once, row by row as time passes, or as MDF4."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Sequence
from pathlib import Path

import numpy as np

from jovial_tack.core.arrays import Float
from jovial_tack.core.errors import LogError, SaveError
from jovial_tack.files.whole import check_output, reason, replace_file


def write_csv(path: Path, heads: Sequence[str], rows: Float) -> None:
    """Write a log at once. Raises SaveError."""
    lines = [",".join(heads), *map(_line, rows)]
    replace_file(path, ("\n".join(lines) + "\n").encode())


def stream_csv(path: Path, heads: Sequence[str], rows: Float, pace: float = 1.0) -> None:
    """Write a log row by row as its time passes, into a file or a named pipe.

    pace: how many times as fast as time. Raises SaveError in a sentence; a reader of a pipe that goes
    ends it.
    """
    check_output(path, pipe=True)
    try:
        with path.open("w", encoding="utf-8") as file:
            file.write(",".join(heads) + "\n")
            began = time.monotonic()
            for row in rows:
                wait = (row[0] - rows[0, 0]) / pace - (time.monotonic() - began)
                if wait > 0:
                    file.flush()
                    time.sleep(wait)
                file.write(_line(row) + "\n")
    except BrokenPipeError:
        return
    except OSError as error:
        raise SaveError(f"{path}: {reason(error)}") from None


def write_mdf(path: Path, heads: Sequence[str], rows: Float) -> None:
    """Write a log as MDF 4.10. Raises LogError where the extra that does it is not there."""
    try:
        import asammdf
    except ImportError:
        raise LogError(
            f"{path.name}: writing MDF needs an extra: pip install 'jovial-tack[mdf]'"
        ) from None
    signals = []
    for place, head in enumerate(heads[1:], start=1):
        name, _, unit = head.partition(" [")
        samples = np.ascontiguousarray(rows[:, place])
        signals.append(
            asammdf.Signal(
                samples, np.ascontiguousarray(rows[:, 0]), unit=unit.rstrip("]"), name=name
            )
        )
    with tempfile.TemporaryDirectory(prefix="jovial-tack-") as folder:
        written = Path(folder) / "log.mf4"
        with asammdf.MDF(version="4.10") as measured:
            measured.append(signals)
            measured.save(str(written), overwrite=True)
        replace_file(path, written.read_bytes())


def _line(row: Float) -> str:
    return f"{row[0]:.3f}," + ",".join(f"{value:.2f}" for value in row[1:])
