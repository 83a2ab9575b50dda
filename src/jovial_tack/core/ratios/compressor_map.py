"""A compressor's map: speed lines between surge and choke, and where an operating point lies on it.

Flow is corrected to a reference air, W·√(T1/T_ref)/(p1/p_ref), and speed to N·√(T_ref/T1)
(docs/METHOD.md, 11). The map ends on the left at its surge line, through the first points of the speed
lines, on the right at its choke line, through their last points, and above at the top speed line.
"""

from __future__ import annotations

import numpy as np

from jovial_tack.core.arrays import Bool, Float
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.ratios.blower import Air, Charge
from jovial_tack.core.value import Value

REFERENCE = Air(101.325, 25.0)
_TINY = 1e-9
_NEAR = 1e-6
_BISECTIONS = 50


class SpeedLine(Value, frozen=True):
    """One line: impeller speed rpm, corrected flows (K,) kg/s rising, pressure ratios (K,),
    efficiencies (K,) of 0 to 1 or NaN where not given.
    """

    rpm: float
    flow: Float
    ratio: Float
    efficiency: Float


class Operating(Value, frozen=True):
    """Points on a map (R,): corrected flow kg/s, pressure ratio, corrected impeller rpm, efficiency
    (NaN: outside the map or not given), margins from surge and choke as fractions of the flow there
    (NaN above the map), and whether the point is inside.
    """

    flow: Float
    ratio: Float
    rpm: Float
    efficiency: Float
    surge_margin: Float
    choke_margin: Float
    inside: Bool


class CompressorMap(Value, frozen=True):
    """Speed lines in rising order of speed. Raises GeometryError for lines that make no map."""

    lines: tuple[SpeedLine, ...]

    def __post_init__(self) -> None:
        if len(self.lines) < 2:
            raise GeometryError("a compressor map needs at least two speed lines")
        for line in self.lines:
            if line.flow.size < 2 or (np.diff(line.flow) <= 0).any():
                raise GeometryError(
                    f"the speed line of {line.rpm:g} rpm needs two or more flows in rising order"
                )
        for ends, word in ((self.surge, "first"), (self.choke, "last")):
            if (np.diff(ends[1]) <= 0).any() or (np.diff(ends[0]) <= 0).any():
                raise GeometryError(
                    f"flow and ratio of the {word} points must rise with the speed of the lines"
                )

    @property
    def surge(self) -> tuple[Float, Float]:
        """Flow and pressure ratio (L,) along the surge line."""
        return np.array([v.flow[0] for v in self.lines]), np.array([v.ratio[0] for v in self.lines])

    @property
    def choke(self) -> tuple[Float, Float]:
        """Flow and pressure ratio (L,) along the choke line."""
        ends = self.lines
        return np.array([v.flow[-1] for v in ends]), np.array([v.ratio[-1] for v in ends])

    def flow_at_surge(self, ratio: Float) -> Float:
        """Least flow at a pressure ratio, kg/s; NaN above the map; below it straight to none at 1."""
        flow, ratios = self.surge
        low = ratios[0] > 1.0
        flow, ratios = (np.append([0.0], flow), np.append([1.0], ratios)) if low else (flow, ratios)
        return np.asarray(np.interp(ratio, ratios, flow, right=np.nan))

    def flow_at_choke(self, ratio: Float) -> Float:
        """Greatest flow at a pressure ratio, kg/s; NaN above the map."""
        flow, ratios = self.choke
        top = self.lines[-1]
        # beyond the last choke point the top speed line closes the map; its ratio falls with flow
        # interpolation wants a rising ratio; the line runs from surge to choke, so it is turned round
        back = np.maximum.accumulate(top.ratio[::-1])
        flows = np.concatenate([flow, top.flow[::-1][1:]])
        rises = np.concatenate([ratios, back[1:]])
        return np.asarray(np.interp(ratio, rises, flows, right=np.nan))

    def efficiency(self, flow: Float, ratio: Float) -> Float:
        """Efficiency at points (...); NaN outside the map and where the lines give none.

        Between two speed lines a further one is laid through points at the same share of their flows,
        and moved until it passes through the point.
        """
        flow, ratio = np.broadcast_arrays(np.asarray(flow, float), np.asarray(ratio, float))
        found = np.full(flow.shape, np.nan)
        for low, high in zip(self.lines, self.lines[1:], strict=False):
            t0, t1 = np.zeros(flow.shape), np.ones(flow.shape)
            inside = (_above(low, high, t0, flow, ratio) <= _TINY) & (
                _above(low, high, t1, flow, ratio) >= -_TINY
            )
            for _ in range(_BISECTIONS):
                middle = (t0 + t1) / 2
                under = _above(low, high, middle, flow, ratio) < 0
                t0, t1 = np.where(under, middle, t0), np.where(under, t1, middle)
            left = np.minimum(
                np.abs(_above(low, high, t0, flow, ratio)),
                np.abs(_above(low, high, t1, flow, ratio)),
            )
            inside &= left < _NEAR  # not where the lines end before they reach the point
            t = (t0 + t1) / 2
            share = np.clip(_share(low, high, t, flow), 0.0, 1.0)
            eta = (1 - t) * _at(low, share, low.efficiency) + t * _at(high, share, high.efficiency)
            # on a line that two bands share the first to find it stays
            found = np.where(inside & np.isnan(found), eta, found)
        return found

    def operating(self, charge: Charge, air: Air, step_up: float) -> Operating:
        """Where a charge lies on the map; step_up: impeller speed over the input's. METHOD 11."""
        warm = air.kelvin / REFERENCE.kelvin
        flow = charge.mass_flow_kg_s * np.sqrt(warm) / (air.pressure_kpa / REFERENCE.pressure_kpa)
        rpm = charge.blower_rpm * step_up / np.sqrt(warm)
        surge, choke = self.flow_at_surge(charge.ratio), self.flow_at_choke(charge.ratio)
        return Operating(
            flow,
            charge.ratio,
            rpm,
            self.efficiency(flow, charge.ratio),
            flow / surge - 1.0,
            1.0 - flow / choke,
            (flow >= surge) & (flow <= choke),
        )


def _share(low: SpeedLine, high: SpeedLine, t: Float, flow: Float) -> Float:
    """Place of a flow along the line laid at t between two lines: 0 at surge, 1 at choke."""
    first = (1 - t) * low.flow[0] + t * high.flow[0]
    last = (1 - t) * low.flow[-1] + t * high.flow[-1]
    return np.asarray((flow - first) / (last - first))


def _at(line: SpeedLine, share: Float, values: Float) -> Float:
    own = (line.flow - line.flow[0]) / (line.flow[-1] - line.flow[0])
    return np.asarray(np.interp(share, own, values))


def _above(low: SpeedLine, high: SpeedLine, t: Float, flow: Float, ratio: Float) -> Float:
    """How far the line laid at t lies above a point: infinitely if the point is left of its surge end,
    infinitely below if it is right of its choke end.
    """
    share = _share(low, high, t, flow)
    held = np.clip(share, 0.0, 1.0)
    over = (1 - t) * _at(low, held, low.ratio) + t * _at(high, held, high.ratio) - ratio
    # left of surge the line counts as above, right of choke as below: the bisection then moves away
    return np.where(share < -_TINY, np.inf, np.where(share > 1 + _TINY, -np.inf, over))
