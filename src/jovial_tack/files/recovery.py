"""Unsaved work kept aside, and offered again after a crash.

Every running window keeps one file in the state folder, written whole or not at all, that holds its
unsaved build and where it belongs, and a lock beside it for as long as it runs. A window that closes
properly takes both away; what nobody holds a lock on is lost work. Who recovers it takes its lock, and
keeps its own unsaved work in it: the copy stays until the work is saved, anywhere. What is thrown away
is left there for a week.
"""

from __future__ import annotations

import contextlib
import fcntl
import json
import os
import time
import uuid
from collections.abc import Sequence
from pathlib import Path
from typing import Any
from urllib.parse import quote, unquote_to_bytes

from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import BuildFileError
from jovial_tack.core.value import Value, fields_of
from jovial_tack.document.loading import build_from_json
from jovial_tack.document.model import Build, dump
from jovial_tack.files.build_file import parse_json, read_build
from jovial_tack.files.places import is_running, state_folder
from jovial_tack.files.reading import read_regular
from jovial_tack.files.whole import replace_file, sweep_folder

_MOST_BYTES = 50_000_000


#: How long work that was thrown away can still be had, s.
_LET_GO_FOR_S = 7 * 86_400.0


class KeptText(Value, frozen=True):
    """A text that was typed and is in no build: in which line (field, and name for people), of what,
    as JSON; why it was not taken, "" where it only waited to be entered.
    """

    field: str
    name: str
    of: Any
    text: str
    why: str = ""


class LostWork(Value, frozen=True):
    """Unsaved work that no window answers for.

    build, typed: what it holds; path: the file it belongs to; kept: the recovery file; fingerprint: of
    that file when it was opened or saved; at: when this was kept, s; let_go: it was thrown away.
    """

    build: Build
    path: Path | None
    kept: Path
    fingerprint: str | None = None
    at: float = 0.0
    let_go: bool = False
    typed: tuple[KeptText, ...] = ()

    @property
    def name(self) -> str:
        """What it is called."""
        return self.path.name if self.path else self.build.title or "a build without a name"

    def throw_away(self) -> None:
        """Take it away for good, unless a window answers for it by now."""
        _take_away(self.kept)


#: Neither waiting for what is a pipe, nor through a link.
_LOCK_FLAGS = os.O_RDWR | os.O_CREAT | os.O_CLOEXEC | os.O_NONBLOCK | os.O_NOFOLLOW


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
        handle = os.open(self._lock, _LOCK_FLAGS, 0o600)
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
    """Keeps the unsaved work of one window, in a file of its own or that of work it has recovered."""

    def __init__(self, folder: Path | None = None) -> None:
        self._folder = folder or state_folder() / "recovery"
        self.own = self._fresh()

    def _fresh(self) -> Owned:
        return Owned(self._folder / f"{os.getpid()}-{uuid.uuid4().hex[:8]}.json")

    @property
    def file(self) -> Path:
        """Where the unsaved work is kept."""
        return self.own.file

    def keep(
        self,
        build: Build,
        path: Path | None,
        fingerprint: str | None = None,
        typed: Sequence[KeptText] = (),
        *,
        let_go: bool = False,
    ) -> None:
        """Write the unsaved work aside. Raises OSError or SaveError if that cannot be done."""
        self.own.take()
        named = None if path is None else quote(os.fsencode(path))
        content = {
            "pid": os.getpid(),
            "at": time.time(),
            "path_quoted": named,
            "fingerprint": fingerprint,
            "let_go": let_go,
            "typed": [fields_of(each) for each in typed],
            "build": dump(build),
        }
        write_whole(self.file, content)

    def adopt(self, kept: Path) -> bool:
        """Answer for a copy that is recovered: what is unsaved is kept in it from now on. False if
        another window does already.
        """
        copy = Owned(kept)
        try:
            taken = copy.take()
        except OSError:
            taken = True  # no lock can be kept there: it is still better recovered than not
        if taken:
            self.own.remove()
            self.own = copy
        return taken

    def leave_behind(self) -> None:
        """Leave what is kept to be found among lost work, and keep what comes in another file."""
        self.own.let_go()
        self.own = self._fresh()

    def drop(self) -> None:
        """Nothing is unsaved any more."""
        self.own.remove()


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
    """Unsaved work of windows that no longer run, the newest first; unreadable files are left alone.

    What was saved meanwhile, what another copy holds as well, and what was thrown away long ago, goes.
    """
    where = folder or state_folder() / "recovery"
    _tidy(where)
    try:
        files = sorted(where.glob("*.json"))
    except OSError:
        return []
    found = [work for kept in files if (work := _work_in(kept, catalogue)) is not None]
    found.sort(key=lambda work: work.at, reverse=True)
    left: list[LostWork] = []
    for work in found:
        again = any(_holds_same(work, newer) for newer in left)
        if again or _is_old(work) or _is_saved(work, catalogue):
            _take_away(work.kept)
        else:
            left.append(work)
    return left


def _work_in(kept: Path, catalogue: Catalogue) -> LostWork | None:
    """The work a recovery file holds; None where a window answers for it, or it cannot be read."""
    try:
        content = parse_json(read_regular(kept, _MOST_BYTES, follow=False))
        if _is_owned(kept, int(content["pid"])):
            return None
        build, _ = build_from_json(content["build"], catalogue)
        mark = content.get("fingerprint")
        return LostWork(
            build,
            _path_in(content),
            kept,
            mark if isinstance(mark, str) else None,
            float(content.get("at") or kept.stat().st_mtime),
            bool(content.get("let_go")),
            tuple(_text_in(each) for each in content.get("typed", ())),
        )
    except (OSError, BuildFileError, KeyError, TypeError, ValueError, AttributeError):
        return None


def _text_in(kept: Any) -> KeptText:
    texts = {key: str(kept[key]) for key in ("field", "name", "text", "why")}
    return KeptText(of=kept["of"], **texts)


def _holds_same(work: LostWork, newer: LostWork) -> bool:
    one, other = ((each.path, each.build, each.typed) for each in (work, newer))
    return one == other


def _is_old(work: LostWork) -> bool:
    # by a clock that was set back it may be of tomorrow
    return work.let_go and abs(time.time() - work.at) > _LET_GO_FOR_S


def _is_saved(work: LostWork, catalogue: Catalogue) -> bool:
    """Whether its file holds it by now."""
    if work.path is None or work.typed:
        return False
    try:
        return read_build(work.path, catalogue).build == work.build
    except BuildFileError:
        return False


def _take_away(kept: Path) -> None:
    copy = Owned(kept)
    with contextlib.suppress(OSError):
        if copy.take():
            copy.remove()


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
