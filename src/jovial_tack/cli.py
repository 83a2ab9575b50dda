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
from typing import TYPE_CHECKING, NoReturn

from jovial_tack import __version__
from jovial_tack.core.errors import JovialTackError

if TYPE_CHECKING:
    from jovial_tack.build.assemble import DriveCase
    from jovial_tack.build.run_check import RunCheck
    from jovial_tack.catalogue import Catalogue
    from jovial_tack.io.build_file import LoadedBuild
    from jovial_tack.io.logs import LoadedLog

_MOST_SPEEDS = 10_000

# looking for plugins of pydantic, of which there are none, would take a tenth of a solve
os.environ.setdefault("PYDANTIC_DISABLE_PLUGINS", "__all__")

_WINDOW_HELP = """\
jovial-tack                  open the window
jovial-tack BUILD.jtack      open a build in the window
jovial-tack --demo           open the demo build in the window
jovial-tack solve BUILD.jtack [--json] [--rpm 850,2600,6800]
                             print the figures of a build without a window
jovial-tack log LOG.csv [--build BUILD.jtack --drive ID] [--columns rpm=NAME,…] [--json]
                             find full-throttle pulls in a log, and slip in them
jovial-tack plan BUILD.jtack [--underdrive DRIVE] [--json]
                             speeds of every shaft from idle to redline, and their margins;
                             what smaller crank pulleys save, and what they slow down too far
jovial-tack boost BUILD.jtack [--rpm 2600,6800] [--target-kpa 60 | --pulleys] [--at 6500] [--json]
                             boost over the revs, the pulleys that make one, or what pulleys make
jovial-tack belt BUILD.jtack [--drive ID] [--arm-at DEG | --travel-at SHARE]
                             [--measured tape=1640 [--thick 0.2] [--held-at DEG]] [--json]
                             belts that fit, where they put the adjuster, and which to bring home;
                             what an adjuster seen somewhere, or a measurement, means
jovial-tack number TEXT [--json]
                             read a belt number, and tell the belt in other schemes
jovial-tack toothed --pitch 8 --teeth 30,60 (--belt 120 | --center 297) [--json]
                             a toothed drive of two pulleys
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
        verb = _VERBS.get(given[0]) if given else None
        return _window(given) if verb is None else verb(given[1:])
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

    from jovial_tack.build.solve import solve
    from jovial_tack.io.own_data import own_catalogue
    from jovial_tack.io.table import results_table

    catalogue = own_catalogue()
    loaded = _read_to_compute(asked.build, catalogue)
    results = solve(loaded.build, asked.rpm, catalogue)
    if asked.json:
        _print(_json(results.to_json()))
    else:
        _print(results_table(loaded.build, results, loaded.remarks))
    return 1 if results.stops else 0


def _log_verb(arguments: Sequence[str]) -> int:
    parser = _Parser(
        prog="jovial-tack log",
        description="Find full-throttle pulls in a log, and whether the blower's belt slips in them.",
    )
    parser.add_argument("log", metavar="LOG.csv", type=Path)
    parser.add_argument(
        "--build", metavar="BUILD.jtack", type=Path, help="the build it was run with"
    )
    parser.add_argument(
        "--drive", metavar="ID", help="the blower's drive (the first with a blower)"
    )
    parser.add_argument(
        "--columns",
        default="",
        metavar="ROLE=NAME,…",
        help="columns by head or number: time, rpm, boost, blower_rpm, throttle, baro;"
        " with a unit as in boost=MAP@psi-absolute",
    )
    parser.add_argument("--air-kpa", type=_pressure, help="the air's pressure (logged, or 101.325)")
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)
    if asked.drive is not None and asked.build is None:
        raise UsageError("--drive names a drive of a build; give --build too")

    from jovial_tack.core.errors import LogError
    from jovial_tack.io.pull_table import run_check_table

    try:
        loaded, checked, case = _check_log(asked)
    except LogError as error:
        if asked.json:
            _print(_json({"pulls": [], "problem": str(error), "remarks": []}))
        raise
    if asked.json:
        from jovial_tack.build.calibrate import known_point

        pulls = [pull.to_json() for pull in checked.pulls]
        if case is not None:
            for said, pull in zip(pulls, checked.pulls, strict=True):
                said["known_point"] = known_point(pull.pull, case, loaded.log.air_kpa)
        told = {"pulls": pulls, "problem": checked.problem, "remarks": list(loaded.remarks)}
        _print(_json(told))
    else:
        _print(run_check_table(asked.log.name, loaded.remarks, checked))
    return 1 if checked.slips or not checked.pulls else 0


def _plan_verb(arguments: Sequence[str]) -> int:
    parser = _Parser(
        prog="jovial-tack plan", description="Speeds of every shaft, and their margins."
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--underdrive", metavar="DRIVE", help="smaller crank pulleys of a drive")
    parser.add_argument("--json", action="store_true", help="the plan as JSON")
    asked = parser.parse_args(arguments)

    from jovial_tack.build.ratios import rev_plan
    from jovial_tack.build.underdrive import underdrives
    from jovial_tack.core.errors import GeometryError
    from jovial_tack.io.own_data import own_catalogue
    from jovial_tack.io.ratio_table import plan_table, underdrive_table

    catalogue = own_catalogue()
    build = _read_to_compute(asked.build, catalogue).build
    plan = rev_plan(build, catalogue)
    told: dict[str, object] = {"shafts": [shaft.to_json() for shaft in plan]}
    text = plan_table(plan)
    if asked.underdrive is not None:
        if asked.underdrive not in [drive.id for drive in build.drives]:
            known = ", ".join(drive.id for drive in build.drives) or "none"
            raise UsageError(
                f"--underdrive: the build has no drive “{asked.underdrive}”; it has {known}"
            )
        try:
            steps = underdrives(build, asked.underdrive, catalogue)
        except GeometryError as error:
            raise UsageError(f"{asked.build.name}: {error}") from None
        told["underdrive"] = [step.to_json() for step in steps]
        text += "\n\n" + underdrive_table(steps)
    _print(_json(told) if asked.json else text)
    return 1 if any(shaft.margin is not None and shaft.margin < 0 for shaft in plan) else 0


def _boost_verb(arguments: Sequence[str]) -> int:
    parser = _Parser(
        prog="jovial-tack boost", description="Boost over the revs, or pulleys for one."
    )
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--rpm", type=_speeds, help="engine speeds (idle, cruise, redline)")
    parser.add_argument("--target-kpa", type=_boost, help="find pulleys that make this boost")
    parser.add_argument("--pulleys", action="store_true", help="what pulleys at hand make")
    parser.add_argument("--at", type=_speeds, metavar="RPM", help="at this engine speed (redline)")
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)
    if asked.target_kpa is not None and asked.pulleys:
        raise UsageError("--target-kpa and --pulleys are two questions; ask one")
    wishes = asked.target_kpa is not None or asked.pulleys
    if asked.at is not None and (not wishes or len(asked.at) != 1):
        raise UsageError("--at takes one engine speed, together with --target-kpa or --pulleys")

    from jovial_tack.build.boost import (
        boost_at,
        charge_json,
        charged_drive,
        operating_line,
        pulleys_at_hand,
        pulleys_for,
    )
    from jovial_tack.core.errors import GeometryError
    from jovial_tack.io.own_data import own_catalogue
    from jovial_tack.io.ratio_table import boost_table, pulleys_table

    catalogue = own_catalogue()
    build = _read_to_compute(asked.build, catalogue).build
    try:
        if not wishes:
            charge = boost_at(build, catalogue, asked.rpm)
            on_map = operating_line(
                build, charged_drive(build, catalogue), charge.engine_rpm.tolist()
            )
            _print(
                _json(charge_json(charge, on_map)) if asked.json else boost_table(charge, on_map)
            )
            return 0
        at = asked.at[0] if asked.at else build.engine.redline_rpm
        if asked.pulleys:
            pairs = pulleys_at_hand(build, catalogue, at)
        else:
            pairs = pulleys_for(build, catalogue, asked.target_kpa, at)
    except GeometryError as error:
        raise UsageError(f"{asked.build.name}: {error}") from None
    if asked.json:
        _print(_json({"pulleys": [pair.to_json() for pair in pairs]}))
    else:
        _print(pulleys_table(pairs))
    return 1 if all(pair.problem for pair in pairs) else 0


def _belt_verb(arguments: Sequence[str]) -> int:
    parser = _Parser(prog="jovial-tack belt", description="Which belt to order for a drive.")
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--drive", metavar="ID", help="the drive (the first)")
    seen = parser.add_mutually_exclusive_group()
    seen.add_argument("--arm-at", type=_degrees, metavar="DEG", help="angle the arm is seen at")
    seen.add_argument(
        "--travel-at", type=_share, metavar="SHARE", help="place on slot or swing, 0 to 1"
    )
    parser.add_argument("--measured", type=_measurement, metavar="WAY=MM",
                        help="tape, string, rims, flat, outside, fixture, teeth")  # fmt: skip
    parser.add_argument("--thick", type=_positive, default=0.0, help="of the tape or string, mm")
    parser.add_argument("--held-at", type=_degrees, help="where the adjuster was held meanwhile")
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)

    from jovial_tack.build.as_fitted import as_fitted
    from jovial_tack.build.buying import choose_belt
    from jovial_tack.build.measured import from_measurement
    from jovial_tack.core.errors import GeometryError
    from jovial_tack.io.belt_table import belt_table, fitted_table, measured_table
    from jovial_tack.io.own_data import own_catalogue

    catalogue = own_catalogue()
    build = _read_to_compute(asked.build, catalogue).build
    known = [drive.id for drive in build.drives]
    drive = asked.drive if asked.drive is not None else next(iter(known), None)
    if drive not in known:
        raise UsageError(
            f"{asked.build.name}: there is no drive “{drive}”; there are {', '.join(known)}"
            if known
            else f"{asked.build.name}: there is no belt in it yet"
        )
    choice = choose_belt(build, drive, catalogue)
    told, text = choice.to_json(), belt_table(build, choice)
    if asked.arm_at is not None or asked.travel_at is not None:
        try:
            found = as_fitted(build, drive, catalogue, arm_deg=asked.arm_at, share=asked.travel_at)
        except GeometryError as error:
            raise UsageError(f"{asked.build.name}: {error}") from None
        told["as_fitted"] = found.to_json()
        text += "\n\n" + fitted_table(found)
    if asked.measured is not None:
        way, reading = asked.measured
        try:
            means = from_measurement(
                build, drive, catalogue, way, reading, thick_mm=asked.thick, held_at=asked.held_at
            )
        except GeometryError as error:
            raise UsageError(f"{asked.build.name}: {error}") from None
        told["measured"] = means.to_json()
        text += "\n\n" + measured_table(means)
    _print(_json(told) if asked.json else text)
    return 0 if any(candidate.fits for candidate in choice.candidates) else 1


def _number_verb(arguments: Sequence[str]) -> int:
    parser = _Parser(prog="jovial-tack number", description="Read a belt number.")
    parser.add_argument("text", nargs="+", metavar="TEXT")
    parser.add_argument("--json", action="store_true", help="the readings as JSON")
    asked = parser.parse_args(arguments)

    from jovial_tack.core.belt.numbers import elsewhere, read_number, why_not
    from jovial_tack.io.belt_table import number_table

    text = " ".join(asked.text)
    readings = read_number(text)
    problem = None if readings else why_not(text)
    if asked.json:
        told = [reading.to_json() | {"same_as": elsewhere(reading)} for reading in readings]
        _print(_json({"readings": told, "problem": problem}))
    else:
        _print(number_table(readings) if readings else f"no belt number: {problem}")
    return 0 if readings else 1


def _toothed_verb(arguments: Sequence[str]) -> int:
    parser = _Parser(prog="jovial-tack toothed", description="A toothed drive of two pulleys.")
    parser.add_argument(
        "--pitch", type=_positive, required=True, help="tooth pitch in mm, such as 8"
    )
    parser.add_argument(
        "--teeth", type=_teeth, required=True, help="of driver and driven, as 30,60"
    )
    way = parser.add_mutually_exclusive_group(required=True)
    way.add_argument("--belt", type=_one_count, help="teeth of the belt")
    way.add_argument(
        "--center", type=_positive, help="centre distance in mm; the nearest belt is taken"
    )
    parser.add_argument("--off", type=_signed_mm, default=0.0, metavar="MM",
                        help="by how much the centres are closer than the belt asks for")  # fmt: skip
    parser.add_argument("--torque", type=_positive, metavar="NM", help="torque at the driver")
    parser.add_argument("--rise", type=_signed_mm, default=70.0, metavar="K",
                        help="rise in temperature (70)")  # fmt: skip
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)

    from jovial_tack.build.toothed import toothed_json
    from jovial_tack.core.belt.toothed import ToothedDrive, belts_for
    from jovial_tack.core.errors import GeometryError
    from jovial_tack.io.belt_table import toothed_table

    if len(asked.teeth) != 2:
        raise UsageError("--teeth takes two counts, of driver and driven pulley, such as 30,60")
    driver, driven = asked.teeth
    try:
        if asked.belt is not None:
            drive = ToothedDrive(asked.pitch, driver, driven, asked.belt)
        else:
            drive = belts_for(asked.pitch, driver, driven, asked.center, 2 * asked.pitch)[0]
    except (GeometryError, IndexError) as error:
        raise UsageError(str(error) or "no belt of whole teeth has that centre distance") from None
    told = toothed_json(drive, asked.off, asked.torque, asked.rise)
    _print(_json(told) if asked.json else toothed_table(told))
    return 0


def _measurement(text: str) -> tuple[str, float]:
    from jovial_tack.build.measured import WAYS

    way, _, reading = text.partition("=")
    value = _number_in(reading)
    if way not in WAYS or not 0 < value <= 1e5:
        ways = ", ".join(WAYS)
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is no reading such as tape=1640; {ways}")
    return way, value


def _positive(text: str) -> float:
    value = _number_in(text)
    if not 0 < value <= 1e6:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is not a figure above 0")
    return value


def _signed_mm(text: str) -> float:
    value = _number_in(text)
    if not -1000 <= value <= 1000:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is not a figure from -1000 to 1000")
    return value


def _degrees(text: str) -> float:
    value = _number_in(text)
    if not -3600 <= value <= 3600:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is not an angle in degrees")
    return value


def _share(text: str) -> float:
    value = _number_in(text)
    if not 0 <= value <= 1:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is not a share from 0 to 1")
    return value


def _one_count(text: str) -> int:
    return _teeth(text)[0]


def _teeth(text: str) -> tuple[int, ...]:
    parts = text.split(",")
    if not all(part.strip().isascii() and part.strip().isdigit() for part in parts):
        raise argparse.ArgumentTypeError(f"“{text[:40]}” are no counts of teeth such as 30,60")
    counts = tuple(int(part) for part in parts)
    if not all(1 <= count <= 10_000 for count in counts):
        raise argparse.ArgumentTypeError("counts of teeth lie between 1 and 10000")
    return counts


def _number_in(text: str) -> float:
    try:
        return float(text)
    except ValueError:
        return float("nan")


def _boost(text: str) -> float:
    try:
        kpa = float(text)
    except ValueError:
        kpa = 0.0
    if not 0 < kpa <= 2000:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is not a boost above 0 and up to 2000 kPa")
    return kpa


def _check_log(asked: argparse.Namespace) -> tuple[LoadedLog, RunCheck, DriveCase | None]:
    from jovial_tack.build.run_check import blower_drive, check_run, drive_case
    from jovial_tack.io.logs import read_log, survey_log, with_named
    from jovial_tack.io.own_data import own_catalogue

    case = None
    if asked.build is not None:
        catalogue = own_catalogue()
        build = _read_to_compute(asked.build, catalogue).build
        drive = asked.drive or blower_drive(build)
        case = None if drive is None else drive_case(build, drive, catalogue)
    layout = survey_log(asked.log)
    channels = with_named(layout.channels, layout.heads, layout.units, asked.columns)
    loaded = read_log(layout, channels, asked.air_kpa)
    return loaded, check_run(loaded.log, case), case


def _read_to_compute(path: Path, catalogue: Catalogue) -> LoadedBuild:
    from jovial_tack.build.load import is_newer
    from jovial_tack.io.build_file import read_build

    loaded = read_build(path, catalogue)
    if is_newer(loaded.build):
        raise UsageError(
            f"{path.name}: written by a newer Jovial Tack; it can be looked at in the window,"
            " not computed"
        )
    return loaded


_VERBS = {
    "solve": _solve_verb, "log": _log_verb, "plan": _plan_verb, "boost": _boost_verb,
    "belt": _belt_verb, "number": _number_verb, "toothed": _toothed_verb,
}  # fmt: skip


def _json(content: object) -> str:
    return json.dumps(content, indent=1, ensure_ascii=False, allow_nan=False)


def _pressure(text: str) -> float:
    try:
        kpa = float(text)
    except ValueError:
        kpa = 0.0
    if not 40 <= kpa <= 120:
        raise argparse.ArgumentTypeError(f"“{text[:40]}” is not an air pressure from 40 to 120 kPa")
    return kpa


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
