"""The front view widget: pan, zoom to the pointer, fit, select, drag a shaft, nudge by keys."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QHideEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPen,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QGraphicsScene, QGraphicsView, QWidget

from jovial_tack.build.edits import move_shaft
from jovial_tack.build.figures import shaft_of
from jovial_tack.build.model import SpringArmTensioner
from jovial_tack.build.obstacles import move_obstacle, remove_obstacle
from jovial_tack.build.routing import add_shaft, remove_belt, remove_shaft, slide_shaft, take_off
from jovial_tack.core.arrays import Float
from jovial_tack.core.errors import BuildFileError
from jovial_tack.core.units import MM_PER_INCH, format_length
from jovial_tack.drawing.front import front_view, shaft_centers
from jovial_tack.drawing.labels import Wanted, place_labels
from jovial_tack.drawing.shapes import BeltLoop, Circle, Label, Line, Point, Shape
from jovial_tack.ui.front_view.items import (
    Item,
    LabelItem,
    belt_points,
    new_item,
    outline_points,
    scene_point,
)
from jovial_tack.ui.front_view.threading import Threading
from jovial_tack.ui.session import Session, Target
from jovial_tack.ui.theme import Theme, figures, words

_DRAG_START_PX = 4
_ZOOM_STEP = 1.0015
_SCALE_LIMITS = (0.05, 60.0)
_MARGIN_MM = 26.0
_LEAST_MM = 300.0
_BAR_PX = 140.0
_BRIEF_SCALE = 0.58  # px per mm below which labels leave their sizes out
_FOOT_PX = 26.0  # kept free of labels for the scale
_BARS = {
    "mm": (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000),
    "in": (0.1, 0.25, 0.5, 1, 2, 4, 8, 20, 40),
}
_ARROWS = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, 1),
    Qt.Key.Key_Down: (0, -1),
}


class FrontView(QGraphicsView):
    """Shows the session's build. pointed: where the pointer is, mm, as text ("" outside)."""

    pointed = pyqtSignal(str)

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        self._canvas = QGraphicsScene()
        super().__init__(self._canvas, parent)
        self._session, self._theme = session, theme
        self._items: dict[str, Item] = {}
        self._press: QPoint | None = None
        self._pan_from: QPoint | None = None
        self._grabbed: tuple[str, QPointF] | None = None
        self._moving = False
        self._under_press: list[Target] = []
        self._fitted = True
        self._threading = Threading(session, self._canvas)
        self._outline: tuple[Target, QPointF] | None = None  # what is moved, and from where
        self.setObjectName("front")
        self.setAccessibleName("Front view of the engine")
        self.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.setViewportUpdateMode(QGraphicsView.ViewportUpdateMode.MinimalViewportUpdate)
        self.setOptimizationFlag(QGraphicsView.OptimizationFlag.DontAdjustForAntialiasing, False)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setCacheMode(QGraphicsView.CacheModeFlag.CacheBackground)
        self.setTransformationAnchor(QGraphicsView.ViewportAnchor.NoAnchor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self._canvas.setItemIndexMethod(QGraphicsScene.ItemIndexMethod.NoIndex)  # few, and moving
        self._canvas.setSceneRect(-20000, -20000, 40000, 40000)
        self._settle_labels = QTimer(self)
        self._settle_labels.setSingleShot(True)
        self._settle_labels.setInterval(60)
        self._settle_labels.timeout.connect(self.arrange_labels)
        session.results_changed.connect(self.refresh)
        session.selection_changed.connect(self._restyle)
        session.selection_changed.connect(self._bring_into_sight)
        session.hover_changed.connect(self._restyle)
        session.rpm_changed.connect(self.refresh)
        session.baseline_changed.connect(self.refresh)
        session.replaced.connect(self._start_over)
        self._start_over()

    # showing

    def set_theme(self, theme: Theme) -> None:
        """Draw in another theme."""
        self._theme = theme
        self._restyle()
        self.resetCachedContent()
        self._repaint_all()

    def _repaint_all(self) -> None:
        viewport = self.viewport()
        assert viewport is not None
        viewport.update()

    def refresh(self) -> None:
        """Bring the items up to the session's build: new ones made, gone ones dropped, others kept."""
        session = self._session
        watch = session.catalogue.limits.low_reserve_arc_used
        pinned = session.baseline
        shapes = front_view(
            session.build,
            session.results,
            watch,
            session.rpm,
            None if pinned is None else pinned.results,
        )
        wanted = {shape.key: shape for shape in shapes}
        for key in self._items.keys() - wanted.keys():
            self._canvas.removeItem(self._items.pop(key))
        for key, shape in wanted.items():
            item = self._items.get(key)
            if item is None:
                item = self._items[key] = new_item(shape, self._theme)
                self._canvas.addItem(item)
            else:
                item.show_shape(shape)
        self._restyle()
        self._settle_labels.start()

    def _start_over(self) -> None:
        self.refresh()
        self.fit()

    def _restyle(self) -> None:
        lit = self._held_targets()
        for item in self._items.values():
            target = item.model.target
            held = bool(target) and target in lit
            hovered = bool(self._session.hovered) and self._session.hovered == target
            item.set_look(self._theme, selected=held, hovered=hovered)

    def _held_targets(self) -> set[Target]:
        """What is drawn as held: what is selected, and what moves or belongs with it."""
        selection = self._session.selection
        if not selection:
            return set()
        lit = {selection}
        if selection[0] == "arm":
            arm = self._session.build.drive(selection[1]).tensioner
            lit.add(("pulley", selection[1], getattr(arm, "pulley", "")))
        elif selection[0] == "pulley":
            lit.add(("shaft", self._shaft_of(selection)))
        return lit

    def _shaft_of(self, target: Target) -> str:
        return shaft_of(self._session.build, target) or ""

    # the view

    def _bring_into_sight(self) -> None:
        """Move the paper if what was selected lies outside of what can be seen."""
        selection, viewport = self._session.selection, self.viewport()
        if not selection or viewport is None or self._press is not None:
            return
        box = QRectF()
        lit = self._held_targets()
        for item in self._items.values():
            if item.model.target in lit and not isinstance(item, LabelItem):
                box = box.united(item.sceneBoundingRect())
        seen = self.mapToScene(viewport.rect()).boundingRect()
        if box.isEmpty() or seen.intersects(box):
            return
        if self._fitted:
            self.fit()
        else:
            away = seen.center() - box.center()
            self.translate(away.x(), away.y())
            self._settle_labels.start()

    def fit(self) -> None:
        """Show all pulleys."""
        box = QRectF()
        for item in self._items.values():
            if isinstance(item.model, Circle):
                box = box.united(item.sceneBoundingRect())
        if box.isEmpty():
            box = QRectF(-150, -250, 300, 300)
        least = QRectF(0, 0, _LEAST_MM, _LEAST_MM)
        least.moveCenter(box.center())
        box = box.united(least).adjusted(-_MARGIN_MM, -_MARGIN_MM, _MARGIN_MM, _MARGIN_MM)
        self.fitInView(box, Qt.AspectRatioMode.KeepAspectRatio)
        self._fitted = True
        self.arrange_labels()

    def view_state(self) -> tuple[float, float, float] | None:
        """How the view lies: px per mm and the scene point in its middle; None while all is fitted."""
        viewport = self.viewport()
        if self._fitted or viewport is None:
            return None
        middle = self.mapToScene(viewport.rect().center())
        return self.transform().m11(), middle.x(), middle.y()

    def restore_view(self, state: tuple[float, float, float]) -> None:
        """Lie as an earlier view did."""
        scale, x, y = state
        low, high = _SCALE_LIMITS
        self.zoom(min(max(scale, low), high) / self.transform().m11())
        viewport = self.viewport()
        assert viewport is not None
        moved = self.mapToScene(viewport.rect().center()) - QPointF(x, y)
        self.translate(moved.x(), moved.y())

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        """Zoom, keeping what lies under a point of the widget where it is."""
        viewport = self.viewport()
        assert viewport is not None
        point = at or QPointF(viewport.rect().center())
        scale = self.transform().m11()
        low, high = _SCALE_LIMITS
        factor = min(max(factor, low / scale), high / scale)
        before = self.mapToScene(point.toPoint())
        self.scale(factor, factor)
        after = self.mapToScene(point.toPoint())
        moved = after - before
        self.translate(moved.x(), moved.y())
        self._fitted = False
        self._settle_labels.start()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """A view that showed everything goes on doing so."""
        super().resizeEvent(event)
        if self._fitted:
            self.fit()

    def hideEvent(self, event: QHideEvent | None) -> None:
        """Nothing is left to arrange in a view that goes."""
        self._settle_labels.stop()
        super().hideEvent(event)

    def arrange_labels(self) -> None:
        """Find a free spot for every label at the present zoom."""
        labels = [item for item in self._items.values() if isinstance(item, LabelItem)]
        viewport = self.viewport()
        if not labels or viewport is None:
            return
        scale = self.transform().m11()
        for item in labels:
            item.be_brief(scale < _BRIEF_SCALE)
        belts = [
            point
            for item in self._items.values()
            if isinstance(item.model, BeltLoop)
            for point in belt_points(item.model, 6.0 / scale)
        ]
        on_screen = self._pixels(belts)
        outlines = self._pixels(
            [
                point
                for item in self._items.values()
                if isinstance(item.model, Circle | Line)
                if not self._is_covered(item.model)
                for point in outline_points(item.model, 6.0 / scale)
            ]
        )
        wanted = []
        labels.sort(key=lambda item: -_radius(item))
        for item in labels:
            assert isinstance(item.model, Label)
            x, y = self._pixel(item.model.anchor)
            wanted.append(Wanted(x, y, item.model.radius * scale, *item.size))
        bounds = (4.0, 4.0, viewport.width() - 8.0, viewport.height() - 8.0 - _FOOT_PX)
        for item, want, box in zip(
            labels, wanted, place_labels(wanted, on_screen, outlines, bounds), strict=True
        ):
            item.put(QPointF(box[0] - want.x, box[1] - want.y), want.radius)

    def _is_covered(self, shape: Shape) -> bool:
        """Whether a larger pulley on the same shaft hides this one."""
        return isinstance(shape, Circle) and any(
            isinstance(other.model, Circle)
            and other.model.center == shape.center
            and other.model.radius > shape.radius
            for other in self._items.values()
        )

    def _pixels(self, points: list[Point]) -> Float:
        return np.array([self._pixel(point) for point in points]).reshape(-1, 2)

    def _pixel(self, point: Point) -> tuple[float, float]:
        at = self.viewportTransform().map(scene_point(point))
        return at.x(), at.y()

    def pixel_of_shaft(self, shaft_id: str) -> QPoint:
        """Where a shaft's centre is in the viewport, px."""
        centers = shaft_centers(self._session.build, self._session.results)
        x, y = self._pixel(centers[shaft_id])
        return QPoint(round(x), round(y))

    def drawForeground(self, painter: QPainter | None, rect: QRectF) -> None:
        """The scale and the crank's sense of rotation, along the lower edge."""
        viewport = self.viewport()
        if painter is None or viewport is None:
            return
        painter.save()
        painter.resetTransform()
        ratio = self.devicePixelRatioF()
        painter.scale(ratio, ratio)
        build = self._session.build
        unit = build.display_units
        size = (MM_PER_INCH if unit == "in" else 1.0) * self.transform().m11()
        fitting = [length for length in _BARS[unit] if length * size <= _BAR_PX]
        length = max(fitting, default=_BARS[unit][0])
        y, bar, said = viewport.height() - 16.0, length * size, f"{length:g} {unit}"
        painter.setPen(QPen(self._theme.color("faded"), 1.2))
        painter.setFont(figures(12))
        painter.drawText(QPointF(14, y + 4), said)
        for a, b in (
            ((76, y), (76 + bar, y)),
            ((76, y - 4), (76, y + 4)),
            ((76 + bar, y - 4), (76 + bar, y + 4)),
        ):
            painter.drawLine(QPointF(*a), QPointF(*b))
        turns = "clockwise" if build.engine.crank_rotation == "cw" else "counter-clockwise"
        text = f"front of engine, crank turns {turns}"
        painter.setFont(words(13))
        width = painter.fontMetrics().horizontalAdvance(text)
        painter.drawText(QPointF(viewport.width() - width - 14, y + 4), text)
        painter.restore()

    # the pointer

    def _targets_at(self, point: QPoint) -> list[Target]:
        """What lies under a point, uppermost first, each once."""
        found: list[Target] = []
        for item in self.items(point):
            model = getattr(item, "model", None)
            if isinstance(model, Shape) and model.target and model.target not in found:
                found.append(model.target)
        return found

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of a shaft or a belt, or of the paper to move it."""
        if event is None:
            return
        point = event.position().toPoint()
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        if event.button() != Qt.MouseButton.LeftButton:
            self._pan_from = point
            return
        self._press = point
        self._under_press = self._targets_at(point)
        selection = self._session.selection
        held = selection if selection in self._under_press else (self._under_press or [()])[0]
        if self._takes_belt(held, event.modifiers()):
            return
        if held[:1] in (("obstacle",), ("corner",)):
            self._outline = held, self.mapToScene(point)
            return
        if held and self._shaft_of(held):
            shaft = self._shaft_of(held)
            centers = shaft_centers(self._session.build, self._session.results)
            self._grabbed = shaft, scene_point(centers[shaft]) - self.mapToScene(point)
            if held != selection:
                self._session.select(held)
                self._under_press = []
        elif not held:
            self._pan_from = point

    def _takes_belt(self, held: Target, modifiers: Qt.KeyboardModifier) -> bool:
        """Whether the press takes hold of a span to thread, or (with Shift) begins a new belt."""
        if self._session.is_read_only:
            return False
        shaft = self._shaft_of(held)
        if shaft and modifiers & Qt.KeyboardModifier.ShiftModifier:
            centers = shaft_centers(self._session.build, self._session.results)
            self._threading.pull_belt(shaft, scene_point(centers[shaft]))
            return True
        spans = [target for target in self._under_press if target[0] == "span"]
        if not spans or held[0] not in ("span", "belt"):
            return False
        span = held if held in spans else spans[0]
        line = self._items[f"span/{span[1]}/{span[2]}"].model
        assert isinstance(line, Line)
        start, end = (scene_point(point) for point in line.points)
        self._threading.pull_span(span, (start, end))
        return True

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Put a shaft where there is nothing yet."""
        if event is None:
            return
        point = event.position().toPoint()
        if self._targets_at(point) or self._session.is_read_only:
            super().mouseDoubleClickEvent(event)
            return
        place = self.mapToScene(point)
        session = self._session
        at = round(place.x(), 1), round(-place.y(), 1)
        build, shaft = add_shaft(session.build, "idler", session.catalogue, at)
        session.edit("add idler", build)
        session.select(("shaft", shaft))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Drag what is held; otherwise light what is pointed at."""
        if event is None:
            return
        point = event.position().toPoint()
        place = self.mapToScene(point)
        self.pointed.emit(self._said(place))
        if self._threading.pulling and self._press is not None:
            if self._moving or (point - self._press).manhattanLength() >= _DRAG_START_PX:
                self._moving = True
                centers = shaft_centers(self._session.build, self._session.results)
                self._threading.move(place, centers, self._theme)
        elif self._outline is not None and self._press is not None:
            if self._moving or (point - self._press).manhattanLength() >= _DRAG_START_PX:
                self._moving = True
                self._drag_outline(place)
        elif self._grabbed is not None and self._press is not None:
            if self._moving or (point - self._press).manhattanLength() >= _DRAG_START_PX:
                self._moving = True
                self._drag_to(place + self._grabbed[1])
        elif self._pan_from is not None:
            step = self.mapToScene(point) - self.mapToScene(self._pan_from)
            self.translate(step.x(), step.y())
            self._pan_from = point
            self._fitted = False
            self._moving = True
            self._settle_labels.start()
        else:
            self._hover((self._targets_at(point) or [()])[0])

    def _hover(self, target: Target) -> None:
        if target != self._session.hovered:
            self._session.hover(target)
            held = bool(self._shaft_of(target))
            cursor = Qt.CursorShape.OpenHandCursor if held else Qt.CursorShape.ArrowCursor
            self.setCursor(cursor)

    def _drag_to(self, place: QPointF) -> None:
        assert self._grabbed is not None
        base = self._session.history.build
        shaft = self._grabbed[0]
        offset = self._arm_offset(shaft)
        x, y = place.x() - offset.x(), -(place.y() + offset.y())
        snap = 0.5 if base.display_units == "mm" else MM_PER_INCH / 64
        try:
            moved = slide_shaft(base, shaft, round(x / snap) * snap, round(y / snap) * snap)
        except BuildFileError:
            return  # beyond what a build can hold; the shaft stays at the edge
        self._session.preview(moved)

    def _drag_outline(self, place: QPointF) -> None:
        assert self._outline is not None
        target, start = self._outline
        base = self._session.history.build
        snap = 0.5 if base.display_units == "mm" else MM_PER_INCH / 64
        dx, dy = place.x() - start.x(), start.y() - place.y()
        corner = int(target[2]) if target[0] == "corner" else None
        moved = move_obstacle(
            base, target[1], round(dx / snap) * snap, round(dy / snap) * snap, corner
        )
        self._session.preview(moved)

    def _arm_offset(self, shaft: str) -> QPointF:
        """Where the belt put an arm pulley less where the file draws it (x right, y up)."""
        base = self._session.history.build
        if not self._drag_offset_known:
            centers = shaft_centers(base, self._session.results)
            drawn = base.shaft(shaft).center_mm
            self._drag_offset = QPointF(centers[shaft][0] - drawn[0], centers[shaft][1] - drawn[1])
            self._drag_offset_known = True
        return self._drag_offset

    _drag_offset = QPointF(0, 0)
    _drag_offset_known = False

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go: a drag becomes one undo step, a click selects."""
        if event is None:
            return
        if self._threading.pulling and self._moving:
            made = self._threading.release()
            if made is not None:
                self._session.select(made)
        elif self._outline is not None and self._moving:
            name = self._session.build.obstacle(self._outline[0][1]).label
            self._session.commit_preview(f"move {name}")
            self._session.select(("obstacle", self._outline[0][1]))
        elif self._grabbed is not None and self._moving:
            name = self._session.build.shaft(self._grabbed[0]).label
            self._session.commit_preview(f"move {name}")
        elif event.button() == Qt.MouseButton.LeftButton and not self._moving:
            self._click()
        self._let_go()

    def _click(self) -> None:
        """Select what was clicked; clicking again goes to what lies under it."""
        under = [("obstacle", t[1]) if t[0] == "corner" else t for t in self._under_press]
        if not under:
            if self._grabbed is None:
                self._session.select(())
            return
        selection = self._session.selection
        place = under.index(selection) + 1 if selection in under else 0
        self._session.select(under[place % len(under)])

    def _let_go(self) -> None:
        self._threading.let_go()
        self._grabbed = self._pan_from = self._press = self._outline = None
        self._moving = False
        self._drag_offset_known = False

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom to the pointer."""
        if event is not None:
            self.zoom(_ZOOM_STEP ** event.angleDelta().y(), event.position())
            event.accept()

    # the keys

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows nudge the selected shaft, Esc lets go, Page keys walk through what there is."""
        if event is None:
            return
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Escape:
            self._session.drop_preview()
            self._let_go()
            self._session.select(())
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self._take_away()
        elif key in _ARROWS and self._session.selection[:1] == ("obstacle",):
            self._nudge_outline(*_ARROWS[key], event.modifiers())
        elif key in _ARROWS and self._shaft_of(self._session.selection):
            self._nudge(*_ARROWS[key], event.modifiers())
        elif key in (Qt.Key.Key_PageDown, Qt.Key.Key_PageUp):
            self.select_next(1 if key == Qt.Key.Key_PageDown else -1)
        else:
            super().keyPressEvent(event)

    def _take_away(self) -> None:
        """Take the selected pulley off its belt, or the selected belt or shaft away."""
        session, target = self._session, self._session.selection
        build = session.build
        if target[:1] == ("pulley",):
            shaft = build.shaft(build.drive(target[1]).pulley(target[2]).shaft)
            session.edit(f"take {shaft.label} off", take_off(build, target[1], target[2]))
            session.select(("shaft", shaft.id))
        elif target[:1] == ("belt",):
            label = build.drive(target[1]).label
            session.edit(f"take away {label}", remove_belt(build, target[1]))
        elif target[:1] == ("obstacle",):
            label = build.obstacle(target[1]).label
            session.edit(f"delete {label}", remove_obstacle(build, target[1]))
        elif target[:1] == ("shaft",) and build.shaft(target[1]).kind != "crank":
            label = build.shaft(target[1]).label
            session.edit(f"delete {label}", remove_shaft(build, target[1]))

    def _step(self, modifiers: Qt.KeyboardModifier) -> float:
        """How far an arrow key moves, mm."""
        step = 1.0 if self._session.build.display_units == "mm" else MM_PER_INCH / 32
        if modifiers & Qt.KeyboardModifier.ShiftModifier:
            return step * 0.1
        return step * 10.0 if modifiers & Qt.KeyboardModifier.ControlModifier else step

    def _nudge_outline(self, dx: int, dy: int, modifiers: Qt.KeyboardModifier) -> None:
        session, step = self._session, self._step(modifiers)
        obstacle = session.build.obstacle(session.selection[1])
        moved = move_obstacle(session.build, obstacle.id, dx * step, dy * step)
        session.edit(f"nudge {obstacle.label}", moved)

    def _nudge(self, dx: int, dy: int, modifiers: Qt.KeyboardModifier) -> None:
        build, step = self._session.build, self._step(modifiers)
        shaft = build.shaft(self._shaft_of(self._session.selection))
        x, y = shaft.center_mm
        try:
            moved = move_shaft(build, shaft.id, x + dx * step, y + dy * step)
        except BuildFileError:
            return
        self._session.edit(f"nudge {shaft.label}", moved)

    def select_next(self, way: int) -> None:
        """Select the next pulley, belt or bare shaft in the order of the routes."""
        build = self._session.build
        every: list[Target] = []
        for drive in build.drives:
            every += [("pulley", drive.id, name) for name in drive.route]
            every += [("span", drive.id, name) for name in drive.route]
            if isinstance(drive.tensioner, SpringArmTensioner):
                every.append(("arm", drive.id))
            every.append(("belt", drive.id))
        every += [("obstacle", obstacle.id) for obstacle in build.obstacles]
        used = {pulley.shaft for drive in build.drives for pulley in drive.pulleys}
        every += [("shaft", shaft.id) for shaft in build.shafts if shaft.id not in used]
        if not every:
            return
        selection = self._session.selection
        place = every.index(selection) + way if selection in every else (0 if way > 0 else -1)
        self._session.select(every[place % len(every)])

    # the paper

    def _said(self, place: QPointF) -> str:
        unit = self._session.build.display_units
        x, y = format_length(place.x(), unit), format_length(-place.y(), unit)
        return f"x {x}   y {y}"

    def drawBackground(self, painter: QPainter | None, rect: QRectF) -> None:
        """Paper with a grid of 50 mm or 2 in."""
        assert painter is not None
        painter.fillRect(rect, self._theme.color("paper"))
        step = 50.0 if self._session.build.display_units == "mm" else 2 * MM_PER_INCH
        while step * self.transform().m11() < 24:
            step *= 2
        pen = QPen(self._theme.color("grid"), 1)
        pen.setCosmetic(True)
        painter.setPen(pen)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, False)
        first, last = int(rect.left() // step), int(rect.right() // step) + 1
        for k in range(first, last + 1):
            painter.drawLine(QPointF(k * step, rect.top()), QPointF(k * step, rect.bottom()))
        first, last = int(rect.top() // step), int(rect.bottom() // step) + 1
        for k in range(first, last + 1):
            painter.drawLine(QPointF(rect.left(), k * step), QPointF(rect.right(), k * step))


def _radius(item: LabelItem) -> float:
    return item.model.radius if isinstance(item.model, Label) else 0.0
