"""The verb logger: a simulated logger, to try the run check with."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from jovial_tack.verbs.arguments import Parser, UsageError, positive, show


def logger_verb(arguments: Sequence[str]) -> int:
    """Write a simulated log. Returns the exit status."""
    parser = Parser(
        prog="jovial-tack logger",
        description="Write what a logger would of full-throttle pulls: simulated, to try things with.",
    )
    parser.add_argument("log", metavar="OUT", type=Path, help="a CSV, a named pipe, or a .mf4")
    parser.add_argument("--pulls", type=positive, default=1.0, metavar="N", help="how many (1)")
    parser.add_argument(
        "--slip", type=positive, metavar="PERCENT", help="blower speed lost at the top of each"
    )
    parser.add_argument(
        "--onset", type=positive, default=5600.0, metavar="RPM", help="from which it slips (5600)"
    )
    parser.add_argument("--hertz", type=positive, default=20.0, help="samples a second (20)")
    parser.add_argument("--blower-speed", action="store_true", help="with the blower's own speed")
    parser.add_argument("--seed", type=positive, default=1.0, help="of its noise (1)")
    parser.add_argument("--live", action="store_true", help="row by row, as time passes")
    asked = parser.parse_args(arguments)

    from jovial_tack.answers.run_check.simulated import HEADS, Simulated, simulated_log
    from jovial_tack.files.logs.writing import stream_csv, write_csv, write_mdf

    if not asked.hertz <= 1000 or not asked.pulls <= 100:
        raise UsageError("up to 1000 samples a second and 100 pulls can be simulated")
    if asked.slip is not None and not (asked.slip < 60 and 2500 < asked.onset < 6500):
        raise UsageError("slip is below 60 %, from an onset between 2500 and 6500 rpm")
    rows = simulated_log(
        Simulated(
            pulls=max(1, round(asked.pulls)),
            hertz=asked.hertz,
            slip=(asked.slip or 0.0) / 100.0,
            onset_rpm=asked.onset,
            seed=round(asked.seed),
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
