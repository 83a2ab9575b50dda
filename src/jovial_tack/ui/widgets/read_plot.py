"""A plot with a readout of what is pointed at, made when it is first shown."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from jovial_tack.ui.widgets.plots import Plot
from jovial_tack.ui.widgets.theme import Theme


class ReadPlot(QObject):
    """Holds the plot of a card: what fills it and what its readout says is the card's.

    fill: draws what is to be seen now; tell: says what is pointed at, or what is shown; lay_in: puts
    the new plot in its place. plot: None until it has been shown once.
    """

    def __init__(
        self,
        card: QWidget,
        theme: Theme,
        name: str,
        *,
        fill: Callable[[], None],
        tell: Callable[[], None],
        lay_in: Callable[[Plot], None],
    ) -> None:
        super().__init__(card)
        self._card, self._theme, self._name = card, theme, name
        self._fill, self._tell, self._lay_in = fill, tell, lay_in
        self.plot: Plot | None = None
        #: the place on the x axis that is pointed at, None where the pointer is elsewhere
        self.pointed: float | None = None

    def shown(self) -> Plot:
        """The plot, made now if it was not there yet."""
        if self.plot is None:
            self.plot = Plot(self._theme, self._name, self._card)
            self.plot.pointed.connect(self.point)
            self.plot.left.connect(lambda: self.point(None))
            self._lay_in(self.plot)
        return self.plot

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme; curves take its colours when they are drawn anew."""
        self._theme = theme
        if self.plot is not None:
            self.plot.set_theme(theme)
            self.fill_if_seen()

    def fill_if_seen(self) -> None:
        """Draw what is to be seen now, where it is in sight."""
        if self._card.isVisible():
            self._fill()

    def point(self, x: float | None) -> None:
        """Tell the figures at a place pointed at; None: at none."""
        self.pointed = x
        self._tell()
