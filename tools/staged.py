"""Start the program by its own command, in a process of its own, and bring back what it shows."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

_STAGE = Path(__file__).parent / "stage"
_FIRST_PAINT = {"only_paint": True}
#: The command that setup puts beside the interpreter: what a user types.
COMMAND = Path(sys.executable).with_name("jovial-tack")


@dataclass(frozen=True)
class Showing:
    """One start. picture: PNG of the window; found: fonts, icon, style, size; log: its log file."""

    picture: Path
    found: Mapping[str, Any]
    log: str


def show(
    folder: Path,
    arguments: Sequence[str] = ("--demo",),
    scene: str | None = None,
    size: tuple[int, int] | None = None,
    environment: Mapping[str, str] | None = None,
) -> Showing:
    """Start the program on a fresh HOME, arrange a scene, take its picture into folder, and end it.

    Raises RuntimeError with what the program wrote if it did not end well.
    """
    picture, found = folder / "window.png", folder / "found.json"
    direction = {
        "only_paint": False, "scene": scene, "size": size,
        "picture": str(picture), "found": str(found),
    }  # fmt: skip
    with tempfile.TemporaryDirectory() as home:
        own = {name: value for name, value in os.environ.items() if not name.startswith("XDG_")}
        own |= {"HOME": home, **_directed(direction)}
        command = [str(COMMAND), *arguments]
        ended = subprocess.run(
            command, env=own | dict(environment or {}), capture_output=True, text=True, timeout=120
        )
        log = Path(home) / ".local/state/jovial-tack/log.txt"
        logged = log.read_text("utf-8") if log.is_file() else ""
    if ended.returncode != 0 or not found.is_file():
        raise RuntimeError(f"{' '.join(command)} ended with {ended.returncode}:\n{ended.stderr}")
    return Showing(picture, json.loads(found.read_text("utf-8")), logged)


def start_to_first_paint() -> tuple[list[str], dict[str, str]]:
    """The command, and what its environment needs besides, that ends once the demo is painted."""
    return [str(COMMAND), "--demo"], _directed(_FIRST_PAINT)


def _directed(direction: Mapping[str, Any]) -> dict[str, str]:
    return {"PYTHONPATH": str(_STAGE), "STAGE_DIRECTION": json.dumps(direction)}
