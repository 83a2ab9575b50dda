"""Simulated full-throttle logs of the demo build: slipping, and mended.

The truth comes from the belt model: above the speed at which the blower's pulley uses up its wrap the
belt carries only a share of the load, and the blower falls back to the speed whose torque that share
is. Noise, idling before and lifting after are added. The analysis shares no code with this script.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np

from jovial_tack.answers.drive.judging import solvable_case
from jovial_tack.catalogue import load_catalogue
from jovial_tack.core.drive.travel import survey_travel
from jovial_tack.core.grip.reserve import capacity_factor
from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.edits.changing import changed, with_drive
from jovial_tack.document.model import Build
from jovial_tack.files.build_file import read_build

DATA = Path(__file__).parents[1] / "src/jovial_tack/data/demo"
AIR_KPA = 101.3
BOOST_AT = (14000.0, 125.0)  # blower rpm, kPa


def slip_along(build: Build, rpm: np.ndarray) -> np.ndarray:
    """Share of the blower's speed lost to slip at engine speeds, from the belt model."""
    case = solvable_case(build, "blower", load_catalogue())
    assert case.arm is not None
    travel = survey_travel(case.drive.layout, case.arm)
    grid = np.linspace(rpm.min(), rpm.max(), 80)
    factors = [
        capacity_factor(case.drive, np.asarray(float(n)), travel, 0.75) or 50.0 for n in grid
    ]
    carried = np.minimum(np.interp(rpm, grid, factors), 1.0)
    return np.asarray(1.0 - np.sqrt(carried))  # torque goes with speed squared


def pull(build: Build, seed: int, hertz: float = 50.0, noise: float = 0.01) -> np.ndarray:
    """Columns time, rpm, boost kPa gauge, throttle % of one pull."""
    rng = np.random.default_rng(seed)
    time = np.arange(0.0, 11.0, 1.0 / hertz)
    rise = np.clip((time - 2.0) / 7.0, 0.0, 1.0)
    rpm = 2300 + (6600 - 2300) * (1.25 * rise - 0.25 * rise**2)
    off = time > 9.0
    rpm[off] = 6600 - 1500 * (time[off] - 9.0)
    throttle = np.where((time > 1.9) & ~off, 100.0, 8.0)
    ratio = solvable_case(build, "blower", load_catalogue())
    assert ratio.drive is not None
    blower = rpm * ratio.drive.ratios[list(ratio.model.route).index("blower")]
    blower *= 1.0 - slip_along(build, rpm)
    head = ((1 + BOOST_AT[1] / AIR_KPA) ** (2 / 7) - 1) * (blower / BOOST_AT[0]) ** 2
    boost = AIR_KPA * ((1 + head) ** 3.5 - 1)
    boost = np.where(throttle > 50, boost, -45.0) * (1 + noise * rng.standard_normal(time.size))
    rpm = rpm + 8.0 * rng.standard_normal(time.size)
    return np.stack([time, rpm, boost, throttle + 0.2 * rng.standard_normal(time.size)], axis=1)


def mended(build: Build) -> Build:
    """The demo build with the belt that sits mid window and a stiffer spring."""
    build = set_belt_length(build, "blower", 1180.0)
    drive = build.drive("blower")
    arm = drive.tensioner
    assert arm is not None
    return with_drive(build, changed(drive, tensioner=changed(arm, torque_nm=44.0)))


def main() -> None:
    build = read_build(DATA / "tessary-fen.jtack", load_catalogue()).build
    for name, what, seed in (("slipping", build, 11), ("mended", mended(build), 12)):
        table = pull(what, seed)
        lines = ["Simulated log of Tessary Fen (made by tools/simulate_log.py)"]
        lines += ["Time [s],Engine speed [rpm],Boost [kPa gauge],Throttle [%]"]
        lines += [f"{t:.2f},{n:.0f},{p:.2f},{th:.1f}" for t, n, p, th in table]
        (DATA / f"tessary-fen-{name}.csv").write_text("\n".join(lines) + "\n", "utf-8")


if __name__ == "__main__":
    main()
