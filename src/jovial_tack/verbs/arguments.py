"""What the verbs share: reading arguments and builds, and printing."""

from __future__ import annotations

import argparse
import contextlib
import json
import os
import sys
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING, Any, NoReturn, TextIO

from jovial_tack.core.errors import JovialTackError

if TYPE_CHECKING:
    from jovial_tack.catalogue import Catalogue
    from jovial_tack.document.model import Build
    from jovial_tack.files.build_file import LoadedBuild


class UsageError(JovialTackError, ValueError):
    """The arguments make no sense; the text says which and what would."""


def output(text: str) -> Path:
    """A path that something is written to."""
    return Path(text)


def log_output(text: str) -> Path:
    """A path that a simulated log is written to: a file, or a pipe that waits for it."""
    return Path(text)


class Parser(argparse.ArgumentParser):
    """A parser whose complaints are one line."""

    def parse_args(self, args: Any = None, namespace: Any = None) -> Any:
        """Read arguments; an output over an input, or into what is no file, is refused before any work.

        Arguments that are paths are inputs, those of type `output` are outputs.
        """
        from jovial_tack.files.whole import check_output, mark_read_in

        asked = super().parse_args(args, namespace)
        paths = {action.dest: action.type for action in self._actions}
        for name, kind in paths.items():
            if kind is Path and getattr(asked, name) is not None:
                mark_read_in(getattr(asked, name))
        for name, kind in paths.items():
            if kind is output and getattr(asked, name) is not None:
                check_output(getattr(asked, name))
        return asked

    def print_help(self, file: Any = None) -> None:
        """Print the help as everything is printed."""
        show(self.format_help().rstrip("\n"))

    def error(self, message: str) -> NoReturn:
        """Complain by an error instead of leaving the program."""
        raise UsageError(f"{message} (see {self.prog} --help)")


def read_to_compute(path: Path, catalogue: Catalogue) -> LoadedBuild:
    """A build that can be computed. Raises UsageError for one of a newer version."""
    from jovial_tack.answers.doubts import doubts_of
    from jovial_tack.document.loading import is_newer
    from jovial_tack.files.build_file import read_build

    loaded = read_build(path, catalogue)
    _REMARKS.extend(loaded.remarks)
    _REMARKS.extend(doubt.sentence for doubt in doubts_of(loaded.build, catalogue))
    if is_newer(loaded.build):
        raise UsageError(
            f"{path.name}: written by a newer Jovial Tack; it can be looked at in the window,"
            " not computed"
        )
    return loaded


#: What is to be said beside an answer: of the build that was read, and of own data.
_REMARKS: list[str] = []


def own_catalogue() -> Catalogue:
    """The catalogue with own data over it; what of that cannot be used is said beside the answer."""
    from jovial_tack.files.own_data import own_catalogue

    catalogue = own_catalogue()
    _REMARKS.extend(f"own data: {problem}" for problem in catalogue.problems)
    return catalogue


def take_remarks() -> list[str]:
    """What is still to be said beside an answer; it is said then."""
    said = list(dict.fromkeys(_REMARKS))
    _REMARKS.clear()
    return said


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
    """JSON text, strict and in plain letters; with what is to be said beside it, if anything is."""
    remarks = take_remarks()
    if remarks and isinstance(content, dict):
        content = {**content, "remarks": [*content.get("remarks", ()), *remarks]}
    return json.dumps(content, indent=1, ensure_ascii=False, allow_nan=False)


class OutputError(JovialTackError, OSError):
    """The answer could not be written to where it should go."""


def show(text: str) -> None:
    """Print, whatever letters the terminal has. Raises OutputError where nothing can be printed."""
    out = sys.stdout
    if out is None:
        raise OutputError("the answer has nowhere to go: standard output is closed")
    try:
        try:
            out.write(text + "\n")
        except UnicodeEncodeError:  # a terminal without UTF-8
            encoding = out.encoding or "ascii"
            out.write(text.encode(encoding, "replace").decode(encoding) + "\n")
        out.flush()
    except BrokenPipeError:
        raise
    except (OSError, ValueError) as error:
        _leave_out(out)
        why = getattr(error, "strerror", None) or error
        raise OutputError(f"the answer could not be written to standard output: {why}") from None


def _leave_out(out: TextIO) -> None:
    """Have what could not be written go nowhere, or the interpreter would try again on its way out."""
    with contextlib.suppress(OSError, ValueError):
        os.dup2(os.open(os.devnull, os.O_WRONLY), out.fileno())


def day(text: str) -> date:
    """A day of the calendar."""
    try:
        return date.fromisoformat(text)
    except ValueError:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is no day such as 2026-11-27") from None
