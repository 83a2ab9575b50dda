"""Threading with the pointer: a span pulled over a pulley, a belt drawn from shaft to shaft.

While the pointer moves, the build is previewed as it would be, so that path, verdicts and figures
answer at once; a belt that cannot exist shows as a ghost.
"""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainterPath, QPen
from PyQt6.QtWidgets import QGraphicsPathItem, QGraphicsScene

from jovial_tack.core.arrays import cross
from jovial_tack.core.errors import BuildFileError
from jovial_tack.document.edits.routes import Side, lay_on, new_belt
from jovial_tack.document.model import Build
from jovial_tack.document.targets import BeltAt, PulleyAt, SpanAt, Target
from jovial_tack.drawing.shapes import Point
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.theme import Theme

_REACH_MM = 14.0


@dataclass(frozen=True)
class Pulled:
    """What is pulled: a span (drive and the pulley it leaves), or a new belt from a shaft.

    ends: where the line to the pointer is held, scene points; build: as it was at the press.
    """

    drive: str | None
    start: str
    ends: tuple[QPointF, ...]
    build: Build


class Threading:
    """One pull at a time. centers are given with each move, as the arms stand at rest."""

    def __init__(self, session: Session, canvas: QGraphicsScene) -> None:
        self._session, self._canvas = session, canvas
        self._pulled: Pulled | None = None
        self._over: tuple[str, Side] | None = None
        self._line: QGraphicsPathItem | None = None

    @property
    def pulling(self) -> bool:
        """Whether something is pulled."""
        return self._pulled is not None

    def pull_span(self, span: SpanAt, ends: tuple[QPointF, QPointF]) -> None:
        """Take hold of a span."""
        self._pulled = Pulled(span.drive, span.leaves, ends, self._session.history.build)

    def pull_belt(self, shaft: str, center: QPointF) -> None:
        """Begin a new belt at a shaft."""
        self._pulled = Pulled(None, shaft, (center,), self._session.history.build)

    def move(self, at: QPointF, centers: dict[str, Point], theme: Theme) -> None:
        """Follow the pointer (a scene point): show the line, and the belt if it lies over a shaft."""
        pulled = self._pulled
        if pulled is None:
            return
        self._show_line(pulled, at, theme)
        over = self._shaft_at(at, centers)
        if over is not None:
            over = over[0], self._side(pulled, over[0], at, centers)
        if over == self._over:
            return
        self._over = over
        if over is None:
            self._session.drop_preview()
            return
        try:
            self._session.preview(self._made(pulled, *over))
        except BuildFileError:
            self._over = None
            self._session.drop_preview()

    def release(self) -> Target | None:
        """Let go: what lies over a shaft becomes one undo step. Returns what was made, if anything."""
        pulled, over = self._pulled, self._over
        made: Target | None = None
        if pulled is not None and over is not None:
            build = self._session.build
            label = build.shaft(over[0]).label
            if pulled.drive is None:
                self._session.commit_preview(f"new belt to {label}")
                made = BeltAt(build.drives[-1].id)
            else:
                drive = build.drive(pulled.drive)
                self._session.commit_preview(f"lay {drive.label} on {label}")
                made = PulleyAt(drive.id, drive.pulleys[-1].id)
        self.let_go()
        return made

    def let_go(self) -> None:
        """Drop what is pulled."""
        if self._over is not None:
            self._session.drop_preview()
        self._pulled = self._over = None
        if self._line is not None:
            self._canvas.removeItem(self._line)
            self._line = None

    def _made(self, pulled: Pulled, shaft: str, side: Side) -> Build:
        catalogue = self._session.catalogue
        if pulled.drive is None:
            return new_belt(pulled.build, pulled.start, shaft, catalogue)[0]
        return lay_on(pulled.build, pulled.drive, pulled.start, shaft, side, catalogue)

    def _shaft_at(self, at: QPointF, centers: dict[str, Point]) -> tuple[str, Side] | None:
        """The nearest shaft under the pointer that is not on the belt yet."""
        pulled = self._pulled
        assert pulled is not None
        build = pulled.build
        on = {pulled.start}
        if pulled.drive is not None:
            on = {pulley.shaft for pulley in build.drive(pulled.drive).pulleys}
        found: list[tuple[float, str]] = []
        for shaft in build.shafts:
            if shaft.id in on:
                continue
            x, y = centers[shaft.id]
            sizes = [
                p.diameter_mm / 2 for d in build.drives for p in d.pulleys if p.shaft == shaft.id
            ]
            usual = self._session.catalogue.kinds[shaft.kind].typical_diameter_mm / 2
            away = ((at.x() - x) ** 2 + (at.y() + y) ** 2) ** 0.5
            if away <= max(sizes, default=usual) + _REACH_MM:
                found.append((away, shaft.id))
        return (min(found)[1], "ribs") if found else None

    def _side(self, pulled: Pulled, shaft: str, at: QPointF, centers: dict[str, Point]) -> Side:
        """The side of the belt that lies where the pointer is.

        A belt that passes a pulley on the right of its centre, seen in its travel, turns it counter-
        clockwise; ribs turn a pulley as they turn the driver.
        """
        if pulled.drive is None:
            return "ribs"
        build, result = pulled.build, self._session.results.drive(pulled.drive)
        drive = build.drive(pulled.drive)
        after = drive.route[(drive.route.index(pulled.start) + 1) % len(drive.route)]
        start, end = (complex(*centers[drive.pulley(n).shaft]) for n in (pulled.start, after))
        aside = complex(at.x(), -at.y()) - complex(*centers[shaft])
        ccw = float(cross(end - start, aside)) < 0  # type: ignore[arg-type]
        driver = drive.pulley(result.driver or drive.route[0])
        turns = result.pulley(driver.id)
        driver_ccw = turns.turns == "ccw" if turns else build.engine.crank_rotation == "ccw"
        other: Side = "back" if driver.side == "ribs" else "ribs"
        return driver.side if ccw == driver_ccw else other

    def _show_line(self, pulled: Pulled, at: QPointF, theme: Theme) -> None:
        path = QPainterPath(pulled.ends[0])
        path.lineTo(at)
        for end in pulled.ends[1:]:
            path.lineTo(end)
        if self._line is None:
            self._line = QGraphicsPathItem()
            self._line.setZValue(300.0)
            self._canvas.addItem(self._line)
        pen = QPen(theme.color("accent"), 2.0, Qt.PenStyle.DashLine)
        pen.setCosmetic(True)
        self._line.setPen(pen)
        self._line.setPath(path)
