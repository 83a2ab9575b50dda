"""Every import rule refuses an offence planted for it."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tomllib
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]

#: One offence a rule: the module, and the line put into it. A module that is not there is made.
OFFENCES = {
    "Floors: imports go down only": (
        "document/model/base.py", "import jovial_tack.answers.drive.solve",
    ),
    "Core: rooms know the drive and the belt, not one another": (
        "core/grip/reserve.py", "import jovial_tack.core.line_up.alignment",
    ),
    "Document: edits change the model, the model knows none of them": (
        "document/model/shaft.py", "import jovial_tack.document.edits.names",
    ),
    "Answers: one solve below, rooms above it, whole builds compared on top": (
        "answers/belt/order.py", "import jovial_tack.answers.ratios.rev_plan",
    ),
    "Window: rooms do not know one another": (
        "ui/ratios/boost.py", "import jovial_tack.ui.grip.ribbon",
    ),
    "No Qt below the window": ("drawing/front.py", "import PyQt6"),
    "The core knows no files and no models": ("core/arrays.py", "import json"),
    "Only files and catalogue touch the disk": ("answers/results.py", "import os"),
    "Widgets compute no formula": ("sheets/shaft.py", "import jovial_tack.core.grip.reserve"),
}  # fmt: skip


@pytest.fixture
def copy(tmp_path: Path) -> Path:
    """A copy of the program and its rules, to plant offences in."""
    shutil.copytree(ROOT / "src/jovial_tack", tmp_path / "jovial_tack")
    shutil.copyfile(ROOT / "pyproject.toml", tmp_path / "pyproject.toml")
    return tmp_path


def lint(folder: Path) -> str:
    """What the linter says of a copy; rules and modules stand on lines of their own."""
    linter = Path(sys.executable).with_name("lint-imports")
    wide = {**os.environ, "PYTHONPATH": str(folder), "COLUMNS": "300", "NO_COLOR": "1"}
    told = subprocess.run(
        [str(linter), "--no-cache"], cwd=folder, capture_output=True, text=True, env=wide
    )
    return told.stdout + told.stderr


def broken_in(folder: Path) -> set[str]:
    """The names of the rules that a copy breaks."""
    lines = lint(folder).splitlines()
    return {line.removesuffix(" BROKEN") for line in lines if line.endswith(" BROKEN")}


def test_every_rule_refuses_the_offence_planted_for_it(copy: Path) -> None:
    settings = tomllib.loads((copy / "pyproject.toml").read_text("utf-8"))
    names = {rule["name"] for rule in settings["tool"]["importlinter"]["contracts"]}
    assert names == set(OFFENCES), "a rule without an offence to try it by"
    assert not broken_in(copy)
    for module, line in OFFENCES.values():
        place = copy / "jovial_tack" / module
        place.write_text(f"{place.read_text('utf-8')}\n{line}\n", "utf-8")
    assert broken_in(copy) == names


@pytest.mark.parametrize("floor", ["core", "document", "answers", "ui"])
def test_a_room_that_nobody_has_placed_is_refused(copy: Path, floor: str) -> None:
    attic = copy / "jovial_tack" / floor / "attic"
    attic.mkdir()
    (attic / "__init__.py").touch()
    assert f"jovial_tack.{floor}.attic" in lint(copy)
