"""The run check: logs on the bench, what they show, and boost over the revs."""

from jovial_tack.ui.run_check.logs import Logs
from jovial_tack.ui.run_check.panel import RunCheckPanel
from jovial_tack.ui.run_check.plot import RunCheckPlot

__all__ = ["Logs", "RunCheckPanel", "RunCheckPlot"]
