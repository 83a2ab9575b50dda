"""What the verbs share: reading arguments and builds, and printing."""

from __future__ import annotations

import argparse
import json
import sys
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING, NoReturn

from jovial_tack.core.errors import JovialTackError

if TYPE_CHECKING:
    from jovial_tack.catalogue import Catalogue
    from jovial_tack.document.model import Build
    from jovial_tack.files.build_file import LoadedBuild


class UsageError(JovialTackError, ValueError):
    """The arguments make no sense; the text says which and what would."""


class Parser(argparse.ArgumentParser):
    """A parser whose complaints are one line."""

    def error(self, message: str) -> NoReturn:
        """Complain by an error instead of leaving the program."""
        raise UsageError(f"{message} (see {self.prog} --help)")


def read_to_compute(path: Path, catalogue: Catalogue) -> LoadedBuild:
    """A build that can be computed. Raises UsageError for one of a newer version."""
    from jovial_tack.document.loading import is_newer
    from jovial_tack.files.build_file import read_build

    loaded = read_build(path, catalogue)
    if is_newer(loaded.build):
        raise UsageError(
            f"{path.name}: written by a newer Jovial Tack; it can be looked at in the window,"
            " not computed"
        )
    return loaded


def drive_named(build: Build, wanted: str | None, file: str) -> str:
    """The id of a drive by its id or name; of the first one if none is wanted. Raises UsageError."""
    for drive in build.drives:
        if wanted is None or wanted in (drive.id, drive.label):
            return drive.id
    known = ", ".join(drive.id for drive in build.drives)
    if not known:
        raise UsageError(f"{file}: there is no belt in it yet")
    raise UsageError(f"{file}: there is no drive “{wanted}”; there are {known}")


def as_json(content: object) -> str:
    """JSON text, strict and in plain letters."""
    return json.dumps(content, indent=1, ensure_ascii=False, allow_nan=False)


def show(text: str) -> None:
    """Print, whatever letters the terminal has."""
    try:
        sys.stdout.write(text + "\n")
    except UnicodeEncodeError:  # a terminal without UTF-8
        encoding = sys.stdout.encoding or "ascii"
        sys.stdout.write(text.encode(encoding, "replace").decode(encoding) + "\n")
    sys.stdout.flush()


def day(text: str) -> date:
    """A day of the calendar."""
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is no day such as 2026-11-27") from None
