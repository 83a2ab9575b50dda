"""Unsaved work kept aside, and offered again after a crash.

Every running window keeps one file in the state folder, written whole or not at all, that holds its
unsaved build and where it belongs, and a lock beside it for as long as it runs. A window that closes
properly takes both away; what nobody holds a lock on is lost work. Who recovers it takes its lock: the
copy stays until the work is saved or thrown away.
"""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import uuid
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from urllib.parse import quote, unquote_to_bytes

from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import BuildFileError
from jovial_tack.document.loading import build_from_json
from jovial_tack.document.model import Build, dump
from jovial_tack.files.build_file import parse_json
from jovial_tack.files.places import is_running, state_folder
from jovial_tack.files.reading import read_regular
from jovial_tack.files.whole import replace_file, sweep_folder

_MOST_BYTES = 50_000_000


@dataclass(frozen=True)
class LostWork:
    """Unsaved work of a window that ended: the build, the file it belongs to, the fingerprint that had
    then, and the recovery file.
    """

    build: Build
    path: Path | None
    kept: Path
    fingerprint: str | None = None


class Owned:
    """A file in the recovery folder that this window answers for, by a lock that ends with it."""

    def __init__(self, file: Path) -> None:
        self.file = file
        self._lock = file.with_suffix(".lock")
        self._handle: int | None = None

    def take(self) -> bool:
        """Take it; False if another window holds it. Raises OSError where no lock can be kept."""
        if self._handle is not None:
            return True
        self._lock.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        handle = os.open(self._lock, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            os.close(handle)
            return False
        self._handle = handle
        return True

    def let_go(self) -> None:
        """Leave it to others."""
        if self._handle is not None:
            os.close(self._handle)
            self._handle = None

    def remove(self) -> None:
        """Take it away: there is nothing to recover any more."""
        for file in (self.file, self._lock):
            with contextlib.suppress(OSError):
                file.unlink()
        self.let_go()


class Keeper:
    """Keeps the unsaved work of one window, and what it has recovered until that is safe."""

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = folder or state_folder() / "recovery"
        self.own = Owned(self._folder / f"{os.getpid()}-{uuid.uuid4().hex[:8]}.json")
        self._adopted: list[Owned] = []

    @property
    def file(self) -> Path:
        """Where the unsaved work is kept."""
        return self.own.file

    def keep(self, build: Build, path: Path | None, fingerprint: str | None = None) -> None:
        """Write the unsaved build aside. Raises OSError or SaveError if that cannot be done."""
        self.own.take()
        named = None if path is None else quote(os.fsencode(path))
        content = {"pid": os.getpid(), "path_quoted": named, "fingerprint": fingerprint}
        write_whole(self.file, {**content, "build": dump(build)})

    def adopt(self, kept: Path) -> bool:
        """Answer for a copy that was recovered; False if another window does already."""
        copy = Owned(kept)
        try:
            taken = copy.take()
        except OSError:
            taken = True  # no lock can be kept there: it is still better recovered than not
        if taken:
            self._adopted.append(copy)
        return taken

    def drop(self) -> None:
        """Nothing is unsaved any more."""
        for copy in (self.own, *self._adopted):
            copy.remove()
        self._adopted = []


def write_whole(path: Path, content: dict[str, Any]) -> None:
    """Replace a JSON file whole or not at all; makes its folder. Raises OSError or SaveError."""
    path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    text = json.dumps(content, ensure_ascii=False)
    try:
        raw = text.encode()
    except UnicodeEncodeError:  # the name of a file that is not UTF-8
        raw = json.dumps(content).encode()
    replace_file(path, raw)


def lost_work(catalogue: Catalogue, folder: Path | None = None) -> list[LostWork]:
    """Unsaved work of windows that no longer run, the newest first; unreadable files are left alone."""
    found: list[tuple[float, LostWork]] = []
    where = folder or state_folder() / "recovery"
    _tidy(where)
    try:
        files = sorted(where.glob("*.json"))
    except OSError:
        return []
    for kept in files:
        try:
            content = parse_json(read_regular(kept, _MOST_BYTES))
            if _is_owned(kept, int(content["pid"])):
                continue
            build, _ = build_from_json(content["build"], catalogue)
            mark = content.get("fingerprint")
            work = LostWork(build, _path_in(content), kept, mark if isinstance(mark, str) else None)
            found.append((kept.stat().st_mtime, work))
        except (OSError, BuildFileError, KeyError, TypeError, ValueError, AttributeError):
            continue
    return [work for _, work in sorted(found, key=lambda item: item[0], reverse=True)]


def _tidy(folder: Path) -> None:
    """Take away what windows have left that were killed before they had kept anything."""
    sweep_folder(folder)
    with contextlib.suppress(OSError):
        for lock in folder.glob("*.lock"):
            copy = Owned(lock.with_suffix(".json"))
            if not copy.file.exists() and copy.take():
                # the lock alone: a window may begin to keep its work beside it right now
                lock.unlink(missing_ok=True)
                copy.let_go()


def _is_owned(kept: Path, process: int) -> bool:
    """Whether a window that runs answers for a copy; without a lock its process tells."""
    if not kept.with_suffix(".lock").exists():
        return is_running(process)
    copy = Owned(kept)
    if not copy.take():
        return True
    copy.let_go()
    return False


def _path_in(content: dict[str, Any]) -> Path | None:
    """The file the work belongs to; its bytes are quoted, since they need not be UTF-8."""
    quoted = content.get("path_quoted")
    if quoted is not None:
        return Path(os.fsdecode(unquote_to_bytes(quoted)))
    named = content.get("path")
    return None if named is None else Path(named)
