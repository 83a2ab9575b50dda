"""A plain, independent solver: one state at a time, scalar loops, SciPy's root finder.

It shares no code with the program and builds tangents another way (through angles, not unit
vectors; dL/dθ by a central difference). Tests hold the program against it and the benchmark runs
beside it.
"""

from __future__ import annotations

import cmath
import math
from dataclasses import dataclass

from scipy.optimize import brentq


@dataclass
class Plain:
    """One drive: complex centres, signed cord radii, torques at the pulleys, friction."""

    centers: list[complex]
    rho: list[float]
    friction: list[float]
    driver: int
    length: float  # cord length at the reference tension
    stiffness: float
    reference: float
    mass: float
    # arm: (index, pivot, arm, push, angle, torque, rate per rad, wound stop, unwound stop)
    arm: tuple[int, complex, float, int, float, float, float, float, float] | None = None
    installed: float = 0.0

    def at(self, theta: float) -> list[complex]:
        centers = list(self.centers)
        if self.arm is not None:
            centers[self.arm[0]] = self.arm[1] + cmath.rect(self.arm[2], theta)
        return centers

    def trace(self, theta: float) -> tuple[list[float], list[float], list[float]]:
        """Directions, span lengths and wraps."""
        c, n = self.at(theta), len(self.centers)
        psi, span = [], []
        for i in range(n):
            gap, step = c[(i + 1) % n] - c[i], self.rho[(i + 1) % n] - self.rho[i]
            psi.append(cmath.phase(gap) - math.asin(step / abs(gap)))
            span.append(math.sqrt(abs(gap) ** 2 - step**2))
        wrap = [
            (math.copysign(1, self.rho[i]) * (psi[i] - psi[i - 1])) % (2 * math.pi)
            for i in range(n)
        ]
        return psi, span, wrap

    def total(self, theta: float) -> float:
        _, span, wrap = self.trace(theta)
        return sum(span) + sum(abs(r) * w for r, w in zip(self.rho, wrap, strict=True))

    def mean(self, theta: float, tractions: list[float], centrifugal: float) -> float:
        _, span, wrap = self.trace(theta)
        summed = sum(s * f for s, f in zip(span, tractions, strict=True))
        for i, (r, beta, mu) in enumerate(zip(self.rho, wrap, self.friction, strict=True)):
            a, b = tractions[i - 1], tractions[i]
            if a <= 0 or b <= 0:
                summed += abs(r) * beta * (a + b) / 2
                continue
            alpha = abs(math.log(b / a)) / mu
            if alpha > beta:
                summed += abs(r) * beta * (b - a) / math.log(b / a)
            else:
                summed += abs(r) * ((beta - alpha) * a + abs(b - a) / mu)
        return summed / self.total(theta) + centrifugal

    def slack(self, theta: float, offsets: list[float], scale: float) -> float:
        assert self.arm is not None
        i, _, arm, push, angle, torque, rate, *_ = self.arm
        psi, _, _ = self.trace(theta)
        v = 1j * cmath.rect(arm, theta)

        def pull(direction: float) -> float:
            return (cmath.rect(1, -direction) * v).real

        moment = 1000 * push * scale * (torque - push * rate * (theta - angle))
        # of fourth order: where a span is short the path bends too much for one of second
        h = 1e-5
        near, far = (self.total(theta + k * h) - self.total(theta - k * h) for k in (1, 2))
        grown = (8 * near - far) / (12 * h)
        uneven = offsets[i] * pull(psi[i]) - offsets[i - 1] * pull(psi[i - 1])
        return (moment + uneven) / grown

    def solve(
        self, offsets: list[float], speed: float, scale: float = 1.0
    ) -> tuple[float, list[float], bool]:
        """Arm angle, tractions and whether it lies on its unwound stop."""
        centrifugal = self.mass * speed**2

        def tractions(theta: float) -> list[float]:
            base = self.slack(theta, offsets, scale)
            return [base + o for o in offsets]

        def excess(theta: float) -> float:
            mean = self.mean(theta, tractions(theta), centrifugal)
            stretched = self.length * (1 + (mean - self.reference) / self.stiffness)
            return self.total(theta) - stretched

        if self.arm is None:
            return math.nan, self._locked(0.0, offsets, centrifugal, self.installed), False
        wound, unwound = self.arm[7], self.arm[8]
        steps = max(24, int(abs(unwound - wound) / math.radians(0.5)))
        before = wound
        for k in range(steps + 1):
            theta = wound + (unwound - wound) * k / steps
            if excess(theta) >= 0:
                assert k, "too short"
                root = brentq(excess, before, theta, xtol=1e-13)
                return root, tractions(root), False
            before = theta
        stretched = self.reference + self.stiffness * (self.total(unwound) / self.length - 1)
        return unwound, self._locked(unwound, offsets, centrifugal, stretched), True

    def _locked(
        self, theta: float, offsets: list[float], centrifugal: float, mean: float
    ) -> list[float]:
        def miss(base: float) -> float:
            return self.mean(theta, [base + o for o in offsets], centrifugal) - mean

        low, high = mean - centrifugal - max(offsets), mean - centrifugal - min(offsets)
        low = max(low, -min(offsets) + 1e-6)
        base = brentq(miss, low - 1e-9, high + 1e-9, xtol=1e-10) if low < high else low
        return [base + o for o in offsets]

    def offsets(self, torques: list[float]) -> list[float]:
        """Traction of every span above that of the one leaving the driver."""
        n, result = len(self.rho), [0.0] * len(self.rho)
        for k in range(1, n):
            i = (self.driver + k) % n
            result[i] = result[i - 1] + 1000 * torques[i] / abs(self.rho[i])
        return result


def plain_of(drive: object) -> Plain:
    """The plain twin of one of the program's drives (only its inputs are read)."""
    from jovial_tack.core.drive.arm import SpringArm
    from jovial_tack.core.drive.solve import BeltDrive

    assert isinstance(drive, BeltDrive)
    adjuster, layout = drive.adjuster, drive.layout
    arm = None
    if isinstance(adjuster, SpringArm):
        arm = (
            adjuster.index,
            adjuster.pivot,
            adjuster.arm_mm,
            adjuster.push,
            adjuster.angle,
            adjuster.torque_nm,
            adjuster.rate_nm_per_rad,
            *adjuster.stops,
        )
    return Plain(
        [complex(c) for c in layout.centers],
        [float(r) for r in layout.signed_radii],
        [float(f) for f in drive.friction],
        layout.driver,
        float(drive.belt.cord_length_mm),
        float(drive.belt.stiffness_n),
        float(drive.belt.reference_tension_n),
        drive.mass_kg_per_m,
        arm,
        0.0 if arm else adjuster.tension_n,  # type: ignore[union-attr]
    )
