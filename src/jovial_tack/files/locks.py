"""Who has a build open: a file beside it names every window that has, on whichever machine.

A name counts as long as its process runs, told by when that began, so that a number used again is
none; of another machine, which cannot be asked, as long as it renewed its name lately. All paths to a
file lead to the same list: it lies beside the file itself, links followed.
"""

from __future__ import annotations

import contextlib
import json
import os
import socket
import time
import uuid
from collections.abc import Sequence
from functools import cache
from pathlib import Path
from typing import Any

from jovial_tack.core.errors import SaveError
from jovial_tack.core.value import Value, fields_of, replace
from jovial_tack.files.places import is_running
from jovial_tack.files.reading import read_regular
from jovial_tack.files.whole import replace_file

#: How often a window renews its name, and how old one of another machine may be, s.
RENEWED_EVERY_S = 120.0
_LIVES_S = 3.5 * RENEWED_EVERY_S
_MOST_BYTES = 100_000
_MOST_HOLDERS = 200


class Holder(Value, frozen=True):
    """A window that has a file open.

    window: its own name; process, began: its process and when that began; machine, boot: where, and
    since which start of that; host: what the machine is called; renewed: when it last said so, s.
    """

    window: str
    process: int
    began: str
    machine: str
    boot: str
    host: str
    renewed: float

    @property
    def is_here(self) -> bool:
        """Whether it is on this machine."""
        return self.machine == _machine()

    def is_alive(self, now: float) -> bool:
        """Whether it still has the file open, as far as can be told from here."""
        if not self.is_here:
            return abs(now - self.renewed) <= _LIVES_S
        if self.boot != _boot() or not is_running(self.process):
            return False
        return not self.began or _began(self.process) in ("", self.began)

    @property
    def words(self) -> str:
        """Which window it is, for people."""
        return f"process {self.process}" + ("" if self.is_here else f" on {self.host}")


class Mark:
    """The name of one window beside the file it has open."""

    def __init__(self) -> None:
        self._window = uuid.uuid4().hex
        self._list: Path | None = None

    def hold(self, path: Path | None) -> None:
        """Have the name beside another file, or beside none. What cannot be written is left."""
        there = None if path is None else list_of(path)
        if there != self._list:
            self._write(without_own=True)
        self._list = there
        self.renew()

    def renew(self) -> None:
        """Say again that the file is open here."""
        self._write(without_own=False)

    def others(self, path: Path | None = None) -> tuple[Holder, ...]:
        """The other windows that have a file open: that which is held here, or another."""
        there = self._list if path is None else list_of(path)
        if there is None:
            return ()
        now = time.time()
        return tuple(
            holder
            for holder in _read(there)
            if holder.window != self._window and holder.is_alive(now)
        )

    def take_over(self) -> None:
        """Have the names of windows on other machines out: the user says that they are gone."""
        if self._list is not None:
            own = [holder for holder in _read(self._list) if holder.is_here]
            _put(self._list, own)

    def _write(self, *, without_own: bool) -> None:
        if self._list is None:
            return
        now = time.time()
        holders = [
            holder
            for holder in _read(self._list)
            if holder.window != self._window and holder.is_alive(now)
        ]
        if not without_own:
            holders.append(
                Holder(
                    window=self._window,
                    process=os.getpid(),
                    began=_began(os.getpid()),
                    machine=_machine(),
                    boot=_boot(),
                    host=socket.gethostname(),
                    renewed=now,
                )
            )
        _put(self._list, holders)


def list_of(path: Path) -> Path:
    """Where the windows that have a file open are listed, by whichever way to it."""
    real = Path(os.path.realpath(path))
    return real.with_name(f".{real.name}.lock")


def _read(there: Path) -> list[Holder]:
    """The windows that are listed; what is no list, or garbled, names nobody."""
    try:
        kept: Any = json.loads(read_regular(there, _MOST_BYTES, follow=False))
        return [_holder(each) for each in kept["windows"][:_MOST_HOLDERS]]
    except (OSError, ValueError, TypeError, KeyError, AttributeError, RecursionError):
        return []


def _holder(kept: Any) -> Holder:
    texts = {key: str(kept[key]) for key in ("window", "began", "machine", "boot", "host")}
    return Holder(process=int(kept["process"]), renewed=float(kept["renewed"]), **texts)


def _put(there: Path, holders: Sequence[Holder]) -> None:
    """Write the list, or take it away where nobody is on it; what is no file of its own stays."""
    with contextlib.suppress(OSError, SaveError, ValueError):
        if there.is_symlink() or (there.exists() and not there.is_file()):
            return
        if not there.parent.is_dir():
            return
        if not holders:
            there.unlink(missing_ok=True)
            return
        content = {"windows": [fields_of(replace(holder)) for holder in holders]}
        replace_file(there, json.dumps(content).encode())


@cache
def _machine() -> str:
    """This machine, told apart from others that share a folder with it."""
    return f"{_line('/etc/machine-id')}@{socket.gethostname()}"


@cache
def _boot() -> str:
    """This start of the machine."""
    return _line("/proc/sys/kernel/random/boot_id")


def _began(process: int) -> str:
    """When a process began, in the machine's own count; "" where it is not told."""
    status = _line(f"/proc/{process}/stat")
    # the name in brackets may hold anything; behind it the figures follow in their order
    figures = status.rpartition(")")[2].split()
    return figures[_BEGAN] if len(figures) > _BEGAN else ""


#: The place of the beginning among the figures behind the name; proc(5).
_BEGAN = 19


def _line(path: str) -> str:
    try:
        return Path(path).read_text("utf-8", "replace").strip()
    except OSError:
        return ""
