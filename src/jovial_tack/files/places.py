"""Where the program keeps what is not a build: XDG folders, made when first needed."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

_NAME = "jovial-tack"


def _folder(variable: str, fallback: str) -> Path:
    given = os.environ.get(variable, "")
    base = Path(given) if given.startswith("/") else home() / fallback
    return base / _NAME


def home() -> Path:
    """The user's home; without one a folder of his own among the temporary ones."""
    try:
        return Path.home()
    except RuntimeError:  # neither $HOME nor an entry among the users
        return Path(tempfile.gettempdir()) / f"{_NAME}-{os.getuid()}"


def config_folder() -> Path:
    """Settings: $XDG_CONFIG_HOME, or ~/.config."""
    return _folder("XDG_CONFIG_HOME", ".config")


def data_folder() -> Path:
    """The user's own data: $XDG_DATA_HOME, or ~/.local/share."""
    return _folder("XDG_DATA_HOME", ".local/share")


def state_folder() -> Path:
    """Recovery files and the log: $XDG_STATE_HOME, or ~/.local/state."""
    return _folder("XDG_STATE_HOME", ".local/state")


def is_shipped(path: Path) -> bool:
    """Whether a file is one that came with the program, which nobody writes to."""
    shipped = Path(__file__).resolve().parent.parent / "data"
    return Path(os.path.realpath(path)).is_relative_to(shipped)


def is_running(pid: int) -> bool:
    """Whether a process of that number lives (another user's counts)."""
    if pid <= 0:
        return False
    try:
        os.kill(pid, 0)
    except ProcessLookupError:
        return False
    except (OSError, OverflowError):
        return True
    return True
