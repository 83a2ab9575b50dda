"""A named pipe copied into a file as it is written, so that it can be read as one that grows."""

from __future__ import annotations

import contextlib
import os
import select
import stat
import tempfile
import threading
from pathlib import Path

_MOST_BYTES = 200 << 20
_WAIT_S = 0.2
_PIECE = 1 << 16


def is_pipe(path: Path) -> bool:
    """Whether a path leads to a named pipe."""
    with contextlib.suppress(OSError, ValueError):
        return stat.S_ISFIFO(path.stat().st_mode)
    return False


class PipeCopy:
    """Copies a pipe into a file of its own until it is closed, or 200 MB have come. Raises OSError."""

    def __init__(self, pipe: Path) -> None:
        # without waiting for a writer; what came before one reads is not lost
        self._handle = os.open(pipe, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        self._folder = tempfile.TemporaryDirectory(prefix="jovial-tack-")
        self.path = Path(self._folder.name) / f"{pipe.name}.csv"
        self.path.touch()
        self._ends = threading.Event()
        self._thread = threading.Thread(target=self._copy, daemon=True)
        self._thread.start()

    def _copy(self) -> None:
        copied = 0
        with self.path.open("ab", buffering=0) as file:
            while not self._ends.is_set() and copied < _MOST_BYTES:
                ready, _, _ = select.select([self._handle], [], [], _WAIT_S)
                piece = b""
                if ready:
                    with contextlib.suppress(BlockingIOError):
                        piece = os.read(self._handle, _PIECE)
                if not piece:
                    self._ends.wait(_WAIT_S)  # nobody writes now
                    continue
                file.write(piece)
                copied += len(piece)

    def close(self) -> None:
        """Stop copying, and take the copy away."""
        self._ends.set()
        self._thread.join(2.0)
        os.close(self._handle)
        self._folder.cleanup()
