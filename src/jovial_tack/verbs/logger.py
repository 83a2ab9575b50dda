"""The verb logger: a simulated logger, to try the run check with."""

from __future__ import annotations

from collections.abc import Sequence

from jovial_tack.verbs.arguments import Parser, UsageError, log_output, show
from jovial_tack.verbs.figures import engine_speed, percent, tone, whole


def logger_verb(arguments: Sequence[str]) -> int:
    """Write a simulated log. Returns the exit status."""
    parser = Parser(
        prog="jovial-tack logger",
        description="Write what a logger would of full-throttle pulls: simulated, to try things with.",
    )
    parser.add_argument(
        "log", metavar="OUT", type=log_output, help="a CSV, a named pipe, or a .mf4"
    )
    parser.add_argument(
        "--pulls",
        type=whole(1, 100, "a count from 1 to 100"),
        default=1,
        metavar="N",
        help="how many (1)",
    )
    parser.add_argument(
        "--slip", type=percent, metavar="PERCENT", help="blower speed lost at the top of each"
    )
    parser.add_argument(
        "--onset",
        type=engine_speed,
        default=5600.0,
        metavar="RPM",
        help="from which it slips (5600)",
    )
    parser.add_argument("--hertz", type=tone, default=20.0, help="samples a second (20)")
    parser.add_argument("--blower-speed", action="store_true", help="with the blower's own speed")
    parser.add_argument(
        "--seed", type=whole(0, 10**9, "a whole number from 0"), default=1, help="of its noise (1)"
    )
    parser.add_argument("--live", action="store_true", help="row by row, as time passes")
    asked = parser.parse_args(arguments)

    from jovial_tack.answers.run_check.simulated import HEADS, Simulated, simulated_log
    from jovial_tack.files.logs.writing import stream_csv, write_csv, write_mdf

    if asked.hertz > 1000:
        raise UsageError("up to 1000 samples a second can be simulated")
    if asked.slip is not None and not (asked.slip < 60 and 2500 < asked.onset < 6500):
        raise UsageError("slip is below 60 %, from an onset between 2500 and 6500 rpm")
    rows = simulated_log(
        Simulated(
            pulls=asked.pulls,
            hertz=asked.hertz,
            slip=(asked.slip or 0.0) / 100.0,
            onset_rpm=asked.onset,
            seed=asked.seed,
        )
    )
    heads = HEADS if asked.blower_speed else HEADS[:4]
    rows = rows[:, : len(heads)]
    if asked.log.suffix.lower() in (".mf4", ".mdf"):
        write_mdf(asked.log, heads, rows)
    elif asked.live or asked.log.is_fifo():
        stream_csv(asked.log, heads, rows)
    else:
        write_csv(asked.log, heads, rows)
    show(f"{asked.log}: {rows.shape[0]} rows, {rows[-1, 0]:.0f} s")
    return 0
