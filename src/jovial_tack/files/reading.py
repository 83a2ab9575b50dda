"""Files read safely: regular ones only, of bounded size, and none that waits for ever.

A name out of a received file may lead to a device, a pipe that nobody writes into, or out of its folder
by a link. Nothing of that kind is opened to be read.
"""

from __future__ import annotations

import errno
import os
import stat
from pathlib import Path


def read_regular(path: Path, most_bytes: int, *, follow: bool = True) -> bytes:
    """All bytes of a regular file. Raises OSError in plain words for all else, and for a larger one.

    follow: also through a link.
    """
    handle = open_regular(path, follow=follow)
    with os.fdopen(handle, "rb") as file:
        size = os.fstat(handle).st_size
        if size > most_bytes:
            words = (
                f"it has {size / 1e6:.0f} MB, more than the {most_bytes / 1e6:.0f} MB it may have"
            )
            raise OSError(errno.EFBIG, words)
        raw = file.read(most_bytes + 1)
    if len(raw) > most_bytes:  # it has grown since
        raise OSError(errno.EFBIG, f"it has more than the {most_bytes / 1e6:.0f} MB it may have")
    return raw


def open_regular(path: Path, *, follow: bool = True) -> int:
    """A handle on a regular file. Raises OSError in plain words for a folder, pipe or device."""
    if "\0" in str(path):
        raise OSError(errno.EINVAL, "its name holds a NUL")
    # without waiting: a pipe that nobody writes into would be waited for at once
    links = 0 if follow else os.O_NOFOLLOW
    handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC | links)
    kind = os.fstat(handle).st_mode
    if not stat.S_ISREG(kind):
        os.close(handle)
        said = "it is a folder" if stat.S_ISDIR(kind) else "it is no file with content of its own"
        raise OSError(errno.EISDIR if stat.S_ISDIR(kind) else errno.EINVAL, said)
    return handle


def beside(folder: Path, named: str) -> Path:
    """The file a text of the folder names, with all links followed. Raises OSError for one outside."""
    if "\0" in named:
        raise OSError(errno.EINVAL, "its name holds a NUL")
    if any(part.startswith(".") for part in Path(named).parts):
        raise OSError(errno.EPERM, "it is hidden, or not beside the build")
    home = folder.resolve()
    try:
        found = (home / named).resolve()
    except RuntimeError:  # links that lead to one another
        raise OSError(errno.ELOOP, "its links lead in a circle") from None
    if Path(named).is_absolute() or ".." in Path(named).parts or not found.is_relative_to(home):
        raise OSError(errno.EPERM, "it is not beside the build")
    return found
