"""The verb recorder: a simulated recording of a noise, to try the noise finder with."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from jovial_tack.core.units import RATIO
from jovial_tack.verbs.arguments import (
    Parser,
    UsageError,
    drive_named,
    output,
    own_catalogue,
    read_to_compute,
    show,
)
from jovial_tack.verbs.figures import engine_speed, figure, whole


def recorder_verb(arguments: Sequence[str]) -> int:
    """Write a recording in which something of a drive squeals. Returns the exit status."""
    parser = Parser(
        prog="jovial-tack recorder",
        description="A simulated recording (WAV) of a running engine, in which a pulley, or a place of"
        " the belt, squeals once at each of its turns. Made up, for trying the noise finder.",
    )
    parser.add_argument("out", metavar="OUT.wav", type=output)
    parser.add_argument("--build", metavar="BUILD.jtack", type=Path, required=True)
    parser.add_argument("--drive", metavar="ID", help="the drive (the first)")
    parser.add_argument(
        "--of", metavar="PULLEY", default="belt", help="what squeals: its id, or belt"
    )
    parser.add_argument("--rpm", type=engine_speed, help="revs of the engine; those at idle")
    loud = figure(RATIO, 0.0, 100.0, "a loudness from 0 to 100")
    parser.add_argument("--loud", type=loud, default=0.8, help="0 for an engine without a squeal")
    parser.add_argument("--seed", type=whole(0, 10**9, "a whole number from 0"), default=1)
    asked = parser.parse_args(arguments)

    import numpy as np

    from jovial_tack.answers.drive.solve import solve
    from jovial_tack.answers.fit_up.squeal import turns_of
    from jovial_tack.core.run_check.recorder import RATE_HZ, recording
    from jovial_tack.files.wav import write_wav

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    drive = drive_named(build, asked.drive, asked.build.name)
    turns = turns_of(solve(build, None, catalogue).drive(drive))
    if asked.of not in turns:
        raise UsageError(f"--of {asked.of}: one of {', '.join(turns)}")
    rpm = asked.rpm or build.engine.idle_rpm
    if not 100.0 <= rpm <= 20_000.0:
        raise UsageError("--rpm lies from 100 to 20000")
    firings = (build.engine.cylinders or 8) / 2.0
    rng = np.random.default_rng(asked.seed)
    write_wav(asked.out, recording(rng, rpm, firings, turns[asked.of], asked.loud), RATE_HZ)
    show(f"simulated: {asked.out.name}, {rpm:.0f} rpm, {asked.of} squeals")
    return 0
