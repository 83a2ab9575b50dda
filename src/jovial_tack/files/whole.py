"""Files replaced whole or not at all.

The content is written aside, flushed to the disk, then renamed over the old file, whose last state can
be kept beside it with a ~ behind its name.
"""

from __future__ import annotations

import contextlib
import errno
import glob
import os
import re
import shutil
import stat
import tempfile
from pathlib import Path

from jovial_tack.core.errors import SaveError
from jovial_tack.files.places import is_running

#: How the name of a file written aside ends: the process, and what makes it unique.
_LEFT = re.compile(r"\.(?P<process>[0-9]{1,9})-[A-Za-z0-9_]{8}$")

_SAID = {
    errno.ENOSPC: "the disk is full",
    errno.EDQUOT: "the disk quota is used up",
    errno.EROFS: "the place is read-only",
    errno.EACCES: "you may not write there",
    errno.EPERM: "you may not write there",
    errno.ENOENT: "the folder does not exist",
    errno.ENOTDIR: "the folder does not exist",
    errno.ENAMETOOLONG: "the name is too long",
    errno.EIO: "the disk reports an error",
}


#: Files that something was read in from since the program began.
_READ_IN: set[Path] = set()


def mark_read_in(path: Path) -> None:
    """Something is read in from a file: no output is written over it from now on."""
    _READ_IN.add(Path(os.path.realpath(path)))


def check_output(path: Path, *, pipe: bool = False) -> Path:
    """Where an output goes, links followed. Raises SaveError where it would go over what was read in,
    or into what is no file: a folder, a device, a pipe unless one may.
    """
    target = Path(os.path.realpath(path))
    try:
        mode = target.stat().st_mode
    except (OSError, ValueError):
        return target  # nothing is there yet, or it is told when it is written
    if stat.S_ISFIFO(mode) and pipe:
        return target
    if not stat.S_ISREG(mode):
        kind = "a folder" if stat.S_ISDIR(mode) else "a device or a pipe"
        raise SaveError(f"{path} is {kind}, and no file to write into; name another")
    if any(_is_same(target, other) for other in _READ_IN):
        raise SaveError(
            f"{path.name} was read in here and would be lost; name another file to write into"
        )
    return target


def _is_same(target: Path, other: Path) -> bool:
    with contextlib.suppress(OSError):
        return target == other or target.samefile(other)
    return False


def replace_file(path: Path, content: bytes, *, keep_previous: bool = False) -> None:
    """Write a file whole or not at all. Raises SaveError in one sentence; the old file is then intact.

    keep_previous: leave what stood there before under NAME~; only so what was read in is written over.
    """
    target = Path(os.path.realpath(path))
    if not keep_previous or not target.is_file():
        target = check_output(path)
    aside: str | None = None
    try:
        sweep(target)
        handle, aside = tempfile.mkstemp(prefix=_aside(target, os.getpid()), dir=target.parent)
        with os.fdopen(handle, "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        if target.exists():
            shutil.copymode(target, aside)
            if keep_previous:
                _keep_previous(target)
        else:
            os.chmod(aside, 0o666 & ~_umask())
        os.replace(aside, target)
        aside = None
        _sync_folder(target.parent)
    except (OSError, ValueError) as error:
        raise SaveError(
            f"{target.name} was not saved: {reason(error)}; the file on disk is as it was"
        ) from error
    finally:
        if aside is not None:
            with contextlib.suppress(OSError):
                os.unlink(aside)


def _aside(target: Path, process: int) -> str:
    """What the names of files begin with that a process writes aside for a file."""
    return f".{target.name[:80]}.{process}-"


def sweep(target: Path) -> None:
    """Take away what processes that were killed while they saved have left beside a file."""
    _sweep(target.parent, f".{glob.escape(target.name[:80])}.*")


def sweep_folder(folder: Path) -> None:
    """Take away what killed processes have left of any file in a folder that is the program's own."""
    _sweep(folder, ".*")


def _sweep(folder: Path, pattern: str) -> None:
    with contextlib.suppress(OSError, ValueError):
        for stray in folder.glob(pattern):
            left = _LEFT.search(stray.name)
            if left is not None and not is_running(int(left["process"])):
                stray.unlink(missing_ok=True)


def _keep_previous(target: Path) -> None:
    """Leave the present file under NAME~ as well, without a moment in which NAME is missing."""
    kept = target.with_name(target.name + "~")
    fresh = target.with_name(f"{_aside(target, os.getpid())}previous")
    try:
        with contextlib.suppress(FileNotFoundError):
            os.unlink(fresh)
        try:
            os.link(target, fresh)
        except OSError as error:
            if error.errno not in (errno.EPERM, errno.EOPNOTSUPP, errno.EMLINK, errno.EXDEV):
                raise
            shutil.copy2(target, fresh)  # the file system knows no hard links
        os.replace(fresh, kept)
    finally:
        with contextlib.suppress(OSError):
            os.unlink(fresh)


def _sync_folder(folder: Path) -> None:
    with contextlib.suppress(
        OSError
    ):  # some file systems cannot sync a folder; the file itself is safe
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def reason(error: Exception) -> str:
    """Why the system refused, in plain words."""
    if isinstance(error, OSError) and error.errno is not None:
        said, usual = error.strerror or "the system refused", ""
        with contextlib.suppress(ValueError):
            usual = os.strerror(error.errno)
        # words of our own say more than those for the number
        return said if said not in (usual, "the system refused") else _SAID.get(error.errno, said)
    return str(error) or type(error).__name__
