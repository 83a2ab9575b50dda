"""The run check: logs on the bench, what they show, and boost over the revs."""

from jovial_tack.ui.stations.run_check.bench import LogBench
from jovial_tack.ui.stations.run_check.panel import RunCheckPanel
from jovial_tack.ui.stations.run_check.plot import RunCheckPlot

__all__ = ["LogBench", "RunCheckPanel", "RunCheckPlot"]
