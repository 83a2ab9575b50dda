"""What the desktop reads is valid, goes into the home, and comes out of it whole."""

from __future__ import annotations

import os
import shutil
import subprocess
from pathlib import Path

import pytest

from jovial_tack import __version__

ROOT = Path(__file__).parents[1]
METAINFO = ROOT / "desktop/org.jovial_tack.JovialTack.metainfo.xml"


def _run(*command: str, home: Path) -> str:
    environment = {"PATH": os.environ["PATH"], "HOME": str(home), "FILES_ONLY": "1"}
    done = subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, text=True)
    assert done.returncode == 0, done.stdout + done.stderr
    return done.stdout


def _needs(tool: str) -> str:
    found = shutil.which(tool)
    if found is None:
        pytest.skip(f"{tool} is not installed (make setup-test installs it on Debian)")
    return found


def test_installed_files_are_valid_and_leave_nothing_behind(tmp_path: Path) -> None:
    home = tmp_path / "home with spaces"
    home.mkdir()
    _run("sh", "tools/install.sh", "install", home=home)
    entry = home / ".local/share/applications/org.jovial_tack.JovialTack.desktop"
    assert f'Exec="{home}/.local/share/jovial-tack/venv/bin/jovial-tack" %f' in entry.read_text()
    _run(_needs("desktop-file-validate"), str(entry), home=home)
    installed = {p.name for p in home.rglob("*") if p.is_file() or p.is_symlink()}
    assert {"jovial-tack", "jovial-tack.svg", "jovial-tack.xml", METAINFO.name} <= installed
    _run("sh", "tools/install.sh", "uninstall", home=home)
    ours = [p for p in home.rglob("*jovial*") if not p.is_dir()]
    assert ours == []


def test_the_software_catalogue_entry_is_valid_and_of_this_version(tmp_path: Path) -> None:
    assert f'<release version="{__version__}"' in METAINFO.read_text()
    _run(_needs("appstreamcli"), "validate", "--no-net", str(METAINFO), home=tmp_path)
