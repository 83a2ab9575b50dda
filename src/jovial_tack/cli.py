"""The command line: verbs without a window, and the window.

Exit status 0: computed, no finding of level stop; 1: computed, with such a finding; 2: could not be
read or computed, wrong arguments included, with exactly one line on standard error.
"""

from __future__ import annotations

import contextlib
import importlib
import os
import signal
import sys
from collections.abc import Iterator, Sequence
from pathlib import Path

from jovial_tack import __version__
from jovial_tack.core.errors import JovialTackError
from jovial_tack.verbs.arguments import Parser, UsageError, show, take_remarks

_WINDOW_HELP = """\
jovial-tack                  open the window
jovial-tack BUILD.jtack      open a build in the window
jovial-tack --demo           open the demo build in the window
jovial-tack solve BUILD.jtack [--json] [--rpm 850,2600,6800] [--bare]
                             the four verdicts, the figures and what mends what is wrong
jovial-tack survey BUILD.jtack [--take OUT.jtack] [--json]
                             where shafts are by tape and belts tried, which reading does not fit,
                             and which one to take next
jovial-tack lineup BUILD.jtack [--anew] [--json]
                             where pulleys may stand, the fewest things to move, the pieces each ear
                             needs, its bolt, and what laser and straightedge tell
jovial-tack bracket BUILD.jtack [--plate ID] [--dxf OUT.dxf] [--svg OUT.svg] [--json]
                    [--pdf OUT.pdf --paper a4|letter [--printed 98.9,99.6]] [--kerf MM]
                             bracket plates: edges, webs, what they meet; drawn for cutter and paper
jovial-tack worth BUILD.jtack [--drive ID] [--json]
                             what every change of a drive wins in reserve, and what it costs
jovial-tack find BUILD.jtack [--rpm 850,2600,6800] [--limit N] [--sure] [--json]
                             every combination of what the build's choices let change, the best first
jovial-tack cases BUILD.jtack [--drive ID] [--json]
                             a drive in every situation over all revs: loads, weather, wear, throttle
jovial-tack loads BUILD.jtack [--against OTHER.jtack] [--json]
                             pulls on shafts over the revs, moments, bends, life against another
jovial-tack fitup BUILD.jtack [--seen DRIVE:arm_deg=81,tone_hz=140] [--picture OUT.svg] [--json]
                             the steps on the engine in order, what is done, what to do again
jovial-tack faults BUILD.jtack [--drive ID] [--code P0562] [--sound IN.wav --rpm 850] [--json]
                             why a drive is noisy or wears, by its symptoms; what to look at next
jovial-tack logbook BUILD.jtack [--on DATE] [--csv OUT.csv] [--import IN.csv -o OUT.jtack] [--json]
                             what is due by use or time, how long belts lasted, wear, costs
jovial-tack sheet BUILD.jtack --pdf OUT.pdf [--paper a4|letter] [--whole] [--on DATE]
                             the build sheet for the file, on one page or whole
jovial-tack pack BUILD.jtack -o OUT.zip | IN.zip -o FOLDER [--large]
                             a build with its pictures and maps as one file, and back
jovial-tack recorder OUT.wav --build BUILD.jtack [--drive ID] [--of PULLEY] [--rpm 850] [--loud 0.8]
                             a simulated recording in which something squeals
jovial-tack log LOG.csv [--build BUILD.jtack --drive ID] [--columns rpm=NAME,…] [--json]
                             find full-throttle pulls in a log, and slip in them
jovial-tack logger OUT.csv [--pulls 3] [--slip 8 --onset 5600] [--blower-speed] [--live]
                             a simulated logger: a CSV, .mf4 or named pipe, at once or as time passes
jovial-tack plan BUILD.jtack [--underdrive DRIVE] [--json]
                             speeds of every shaft from idle to redline, and their margins;
                             what smaller crank pulleys save, and what they slow down too far
jovial-tack boost BUILD.jtack [--rpm 2600,6800] [--target-kpa 60 | --pulleys] [--at 6500] [--json]
                             boost over the revs, the pulleys that make one, or what pulleys make
jovial-tack belt BUILD.jtack [--drive ID] [--arm-at DEG | --travel-at SHARE]
                             [--measured tape=1640 [--thick 0.2] [--held-at DEG]]
                             [--push N --play MM] [--tone HZ] [--twist NM] [--span ID] [--json]
                             belts that fit, where they put the adjuster, and which to bring home;
                             what an adjuster seen somewhere, or a measurement, means
jovial-tack number TEXT [--json]
                             read a belt number, and tell the belt in other schemes
jovial-tack toothed --pitch 8 --teeth 30,60 (--belt 120 | --center 297) [--json]
                             a toothed drive of two pulleys
jovial-tack --version, --help

Exit status: 0 computed; 1 computed, with at least one finding of level stop;
2 could not be read or computed."""

#: The module of `jovial_tack.verbs` that each verb is in; loaded when it is called.
_VERBS = {
    "solve": "solve",
    "log": "run_check",
    "logger": "logger",
    "plan": "ratios",
    "boost": "ratios",
    "belt": "belt",
    "number": "belt",
    "toothed": "belt",
    "survey": "survey",
    "logbook": "logbook",
    "sheet": "sheet",
    "recorder": "recorder",
    "pack": "pack",
    "lineup": "lineup",
    "bracket": "bracket",
    "worth": "worth",
    "find": "find",
    "cases": "cases",
    "loads": "loads",
    "fitup": "fitup",
    "faults": "faults",
}


def main(arguments: Sequence[str] | None = None) -> int:
    """Run the program; returns its exit status."""
    given = list(sys.argv[1:] if arguments is None else arguments)
    try:
        _interrupts()
        if given and given[0] in _VERBS:
            with _one_voice():
                return _verb(given)
        return _window(given)
    except JovialTackError as error:
        _complain(str(error))
        return 2
    except BrokenPipeError:
        # the reader of our output has gone; keep the interpreter from complaining on its way out
        if sys.stdout is not None:
            os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0
    except KeyboardInterrupt:
        _complain("interrupted")
        return 2
    except SystemExit:
        raise
    except ImportError as error:
        from jovial_tack.files.needed import missing_in

        _complain(missing_in(error) or f"a part of the program is missing: {error}")
        return 2
    except BaseException as error:  # the last net: a sentence instead of a traceback
        first = (str(error).splitlines() or [""])[0]
        _complain(f"this went wrong inside the program: {type(error).__name__}: {first}")
        return 2


@contextlib.contextmanager
def _one_voice() -> Iterator[None]:
    """Nobody but us writes on standard error: no warnings, no panics of libraries."""
    try:
        sys.stderr.flush()
        number = sys.stderr.fileno()
        kept, nowhere = os.dup(number), os.open(os.devnull, os.O_WRONLY)
    except (OSError, ValueError, AttributeError):
        yield  # there is none, or it is no file: then nothing else can write on it either
        return
    os.dup2(nowhere, number)
    try:
        yield
    finally:
        sys.stderr.flush()
        os.dup2(kept, number)
        os.close(kept)
        os.close(nowhere)


def _verb(given: Sequence[str]) -> int:
    module = importlib.import_module(f"jovial_tack.verbs.{_VERBS[given[0]]}")
    take_remarks()
    status: int = getattr(module, f"{given[0]}_verb")(given[1:])
    for remark in take_remarks():
        show(f"remark: {remark}")
    return status


def _interrupts() -> None:
    """From here on an interrupt is an exception, which ends in a sentence; before, it ended at once."""
    if signal.getsignal(signal.SIGINT) not in (signal.SIG_IGN, signal.default_int_handler):
        signal.signal(signal.SIGINT, signal.default_int_handler)


def _complain(text: str) -> None:
    if sys.stderr is None:
        return
    line = " ".join(text.split())
    encoding = sys.stderr.encoding or "utf-8"
    print("jovial-tack:", line.encode(encoding, "replace").decode(encoding), file=sys.stderr)


def _window(arguments: Sequence[str]) -> int:
    parser = Parser(prog="jovial-tack", usage=_WINDOW_HELP, add_help=False)
    parser.add_argument("build", nargs="?", type=Path)
    parser.add_argument("--demo", action="store_true")
    parser.add_argument("--version", action="store_true")
    parser.add_argument("-h", "--help", action="store_true")
    asked = parser.parse_args(arguments)
    if asked.help:
        show(_WINDOW_HELP)
        return 0
    if asked.version:
        show(f"jovial-tack {__version__}")
        return 0
    if asked.demo and asked.build is not None:
        raise UsageError("--demo and a build file are two different things to open; give one")
    if asked.build is not None and not asked.build.is_file():
        raise UsageError(f"{asked.build}: there is no such build file (and no such verb)")
    from jovial_tack.ui.display import why_no_window

    if why := why_no_window():
        raise UsageError(f"{why}; “jovial-tack solve BUILD” needs none")

    from jovial_tack.ui.app import run_window

    return run_window(asked.build, demo=asked.demo)
