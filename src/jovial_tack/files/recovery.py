"""Unsaved work kept aside, and offered again after a crash.

Every running window keeps one file in the state folder, written whole or not at all, that holds its
unsaved build and where it belongs. A window that closes properly takes its file away; what is left of
a process that no longer runs was lost work.
"""

from __future__ import annotations

import contextlib
import json
import os
import uuid
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import BuildFileError
from jovial_tack.document.loading import build_from_json
from jovial_tack.document.model import Build, dump
from jovial_tack.files.build_file import parse_json
from jovial_tack.files.places import is_running, state_folder
from jovial_tack.files.whole import replace_file


@dataclass(frozen=True)
class LostWork:
    """Unsaved work of a window that ended: the build, the file it belongs to, the recovery file."""

    build: Build
    path: Path | None
    kept: Path


class Keeper:
    """Keeps the unsaved work of one window."""

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = folder or state_folder() / "recovery"
        self.file = self._folder / f"{os.getpid()}-{uuid.uuid4().hex[:8]}.json"

    def keep(self, build: Build, path: Path | None) -> None:
        """Write the unsaved build aside. Raises OSError if that cannot be done."""
        content = {"pid": os.getpid(), "path": None if path is None else str(path)}
        write_whole(self.file, {**content, "build": dump(build)})

    def drop(self) -> None:
        """Nothing is unsaved any more."""
        with contextlib.suppress(OSError):
            self.file.unlink()


def write_whole(path: Path, content: dict[str, Any]) -> None:
    """Replace a JSON file whole or not at all; makes its folder. Raises OSError."""
    path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    replace_file(path, json.dumps(content, ensure_ascii=False).encode())


def lost_work(catalogue: Catalogue, folder: Path | None = None) -> list[LostWork]:
    """Unsaved work of windows that no longer run, the newest first; unreadable files are left alone."""
    found: list[tuple[float, LostWork]] = []
    where = folder or state_folder() / "recovery"
    if not where.is_dir():
        return []
    for kept in where.glob("*.json"):
        try:
            content = parse_json(kept.read_bytes())
            if is_running(int(content["pid"])):
                continue
            build, _ = build_from_json(content["build"], catalogue)
            path = None if content["path"] is None else Path(content["path"])
            found.append((kept.stat().st_mtime, LostWork(build, path, kept)))
        except (OSError, BuildFileError, KeyError, TypeError, ValueError):
            continue
    return [work for _, work in sorted(found, key=lambda item: item[0], reverse=True)]
