"""The command line: verbs without a window, and the window.

Exit status 0: computed, no finding of level stop; 1: computed, with such a finding; 2: could not be
read or computed, wrong arguments included, with exactly one line on standard error.
"""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import NoReturn

from jovial_tack import __version__
from jovial_tack.core.errors import JovialTackError

_MOST_SPEEDS = 10_000

# looking for plugins of pydantic, of which there are none, would take a tenth of a solve
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")

_WINDOW_HELP = """\
jovial-tack                  open the window
jovial-tack BUILD.jtack      open a build in the window
jovial-tack --demo           open the demo build in the window
jovial-tack solve BUILD.jtack [--json] [--rpm 850,2600,6800]
                             print the figures of a build without a window
jovial-tack --version, --help

Exit status: 0 computed; 1 computed, with at least one finding of level stop;
2 could not be read or computed."""


class UsageError(JovialTackError, ValueError):
    """The arguments make no sense; the text says which and what would."""


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise UsageError(f"{message} (see {self.prog} --help)")


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the program; returns its exit status."""
    given = list(sys.argv[1:] if arguments is None else arguments)
    try:
        return _solve_verb(given[1:]) if given[:1] == ["solve"] else _window(given)
    except JovialTackError as error:
        _complain(str(error))
        return 2
    except BrokenPipeError:
        # the reader of our output has gone; keep the interpreter from complaining on its way out
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0
    except KeyboardInterrupt:
        _complain("interrupted")
        return 2
    except Exception as error:  # the last net: a sentence instead of a traceback
        _complain(f"this went wrong inside the program: {type(error).__name__}: {error}")
        return 2


def _complain(text: str) -> None:
    line = " ".join(text.split())
    encoding = sys.stderr.encoding or "utf-8"
    print("jovial-tack:", line.encode(encoding, "replace").decode(encoding), file=sys.stderr)


def _solve_verb(arguments: Sequence[str]) -> int:
    parser = _Parser(prog="jovial-tack solve", description="Print the figures of a build.")
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--json", action="store_true", help="results as JSON")
    parser.add_argument(
        "--rpm", type=_speeds, help="engine speeds, such as 850,2600,6800 (idle, cruise, redline)"
    )
    asked = parser.parse_args(arguments)

    from jovial_tack.build.load import is_newer
    from jovial_tack.build.solve import solve
    from jovial_tack.catalogue import load_catalogue
    from jovial_tack.io.build_file import read_build
    from jovial_tack.io.table import results_table

    catalogue = load_catalogue()
    loaded = read_build(asked.build, catalogue)
    if is_newer(loaded.build):
        raise UsageError(
            f"{asked.build.name}: written by a newer Jovial Tack; it can be looked at in the window,"
            " not computed"
        )
    results = solve(loaded.build, asked.rpm, catalogue)
    if asked.json:
        text = json.dumps(results.to_json(), indent=1, ensure_ascii=False, allow_nan=False)
    else:
        text = results_table(loaded.build, results, loaded.remarks)
    _print(text)
    return 1 if results.stops else 0


def _print(text: str) -> None:
    try:
        sys.stdout.write(text + "\n")
    except UnicodeEncodeError:  # a terminal without UTF-8
        encoding = sys.stdout.encoding or "ascii"
        sys.stdout.write(text.encode(encoding, "replace").decode(encoding) + "\n")
    sys.stdout.flush()


def _speeds(text: str) -> tuple[float, ...]:
    try:
        speeds = tuple(float(part) for part in text.split(","))
    except ValueError:
        raise argparse.ArgumentTypeError(
            f"“{text[:40]}” is not a list of speeds such as 850,2600,6800"
        ) from None
    if not all(0 < speed <= 1e6 for speed in speeds):
        raise argparse.ArgumentTypeError("engine speeds lie above 0 and up to 1000000 rpm")
    if len(speeds) > _MOST_SPEEDS:
        raise argparse.ArgumentTypeError(f"at most {_MOST_SPEEDS} speeds at once")
    return speeds


def _window(arguments: Sequence[str]) -> int:
    parser = _Parser(prog="jovial-tack", usage=_WINDOW_HELP, add_help=False)
    parser.add_argument("build", nargs="?", type=Path)
    parser.add_argument("--demo", action="store_true")
    parser.add_argument("--version", action="store_true")
    parser.add_argument("-h", "--help", action="store_true")
    asked = parser.parse_args(arguments)
    if asked.help:
        _print(_WINDOW_HELP)
        return 0
    if asked.version:
        _print(f"jovial-tack {__version__}")
        return 0
    if asked.demo and asked.build is not None:
        raise UsageError("--demo and a build file are two different things to open; give one")
    if asked.build is not None and not asked.build.is_file():
        raise UsageError(f"{asked.build}: there is no such build file (and no such verb)")
    if not any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")):
        raise UsageError("there is no display for a window; “jovial-tack solve BUILD” needs none")

    from jovial_tack.ui.app import run_window

    return run_window(asked.build, demo=asked.demo)
