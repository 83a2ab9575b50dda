"""The front view widget: pan, zoom to the pointer, fit, select, drag a shaft, nudge by keys."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QCursor,
    QDragEnterEvent,
    QDragLeaveEvent,
    QDragMoveEvent,
    QDropEvent,
    QHideEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QGraphicsScene, QGraphicsView, QWidget

from jovial_tack.build.figures import shaft_of
from jovial_tack.build.obstacles import add_obstacle
from jovial_tack.build.routing import add_shaft
from jovial_tack.core.units import format_length
from jovial_tack.drawing.front import front_view, shaft_centers
from jovial_tack.drawing.shapes import Circle, Line, Point, Shape
from jovial_tack.ui.front_view.dragging import Dragging
from jovial_tack.ui.front_view.dropping import Dropping
from jovial_tack.ui.front_view.items import (
    Item,
    new_item,
)
from jovial_tack.ui.front_view.labelling import arrange_labels
from jovial_tack.ui.front_view.measuring import Measuring, Tracing
from jovial_tack.ui.front_view.paper import draw_foot, draw_grid
from jovial_tack.ui.front_view.scene import scene_point
from jovial_tack.ui.front_view.steps import ARROWS, nudge, select_next, take_away
from jovial_tack.ui.front_view.threading import Threading
from jovial_tack.ui.front_view.words import LabelItem
from jovial_tack.ui.session import Session, Target
from jovial_tack.ui.theme import Theme

_DRAG_START_PX = 4
_ZOOM_STEP = 1.0015
_SCALE_LIMITS = (0.05, 60.0)
_MARGIN_MM = 26.0
_LEAST_MM = 300.0


class FrontView(QGraphicsView):
    """Shows the session's build. pointed: where the pointer is, mm, as text ("" outside)."""

    pointed = pyqtSignal(str)

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        self._canvas = QGraphicsScene()
        super().__init__(self._canvas, parent)
        self._session, self._theme = session, theme
        self._items: dict[str, Item] = {}
        self._overlay: tuple[Shape, ...] = ()
        self._press: QPoint | None = None
        self._pan_from: QPoint | None = None
        self._moving = False
        self._under_press: list[Target] = []
        self._fitted = True
        self._threading = Threading(session, self._canvas)
        self._dragging = Dragging(session, self._canvas)
        self._measuring = Measuring(session, self._canvas)
        self._measures = False
        self._tracing = Tracing(self._canvas)
        self._dropping = Dropping(session)
        self.setAcceptDrops(True)
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
        viewport = self.viewport()
        assert viewport is not None
        viewport.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # the paper covers all of it
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
        wanted = {shape.key: shape for shape in (*shapes, *self._overlay)}
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
        if self._fitted and self._press is None and not self._shows_all():
            self.fit()

    def show_overlay(self, shapes: tuple[Shape, ...]) -> None:
        """Lay further shapes over the view, in place of those laid there before."""
        if shapes != self._overlay:
            self._overlay = shapes
            self.refresh()

    def _shows_all(self) -> bool:
        """Whether all pulleys are in sight."""
        viewport = self.viewport()
        if viewport is None or not self.isVisible():
            return True
        seen = self.mapToScene(viewport.rect()).boundingRect()
        return all(
            seen.contains(item.sceneBoundingRect())
            for item in self._items.values()
            if isinstance(item.model, Circle) and item.model.role in ("pulley", "freedom")
        )

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
        if box.isEmpty() or seen.contains(box) or (seen.intersects(box) and not self._fitted):
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
        viewport = self.viewport()
        if viewport is not None:
            size = viewport.width(), viewport.height()
            arrange_labels(self._items.values(), self._pixel, self.transform().m11(), size)

    def _pixel(self, point: Point) -> tuple[float, float]:
        at = self.viewportTransform().map(scene_point(point))
        return at.x(), at.y()

    def pixel_of_shaft(self, shaft_id: str) -> QPoint:
        """Where a shaft's centre is in the viewport, px."""
        centers = shaft_centers(self._session.build, self._session.results)
        x, y = self._pixel(centers[shaft_id])
        return QPoint(round(x), round(y))

    def drawForeground(self, painter: QPainter | None, rect: QRectF) -> None:
        """The scale, and the crank's sense of rotation or what the pointer is doing."""
        viewport = self.viewport()
        if painter is None or viewport is None:
            return
        painter.save()
        painter.resetTransform()
        ratio = self.devicePixelRatioF()
        painter.scale(ratio, ratio)
        size = viewport.width(), viewport.height()
        build, scale = self._session.build, self.transform().m11()
        draw_foot(painter, size, build, self._theme, scale, self._doing())
        painter.restore()

    def _doing(self) -> str:
        if self._tracing.on:
            return "Click corner by corner; Enter closes the outline, Esc lets go"
        if self._measures:
            return self._measuring.said or "Drag from place to place to measure; Esc ends"
        return ""

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
        place = self.mapToScene(point)
        if self._tracing.on:
            self._tracing.add(place, self._theme)
            return
        if self._measures:
            self._measuring.begin(place, self.transform().m11())
            return
        held = selection if selection in self._under_press else (self._under_press or [()])[0]
        if self._takes_belt(held, event.modifiers()):
            return
        if held[:1] in (("obstacle",), ("corner",), ("note",)):
            self._dragging.take_outline(held, place)
        elif held[:1] == ("arm",) and self._dragging.take_arm(held[1], place):
            pass
        elif held and self._shaft_of(held):
            self._dragging.take_shaft(self._shaft_of(held), place)
        elif not held:
            self._pan_from = point
        if self._dragging.dragging and held != selection and held[:1] not in (("corner",),):
            self._session.select(held)
            self._under_press = []

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
        if self._tracing.on:
            self.end_trace()
            return
        if self._targets_at(point) or self._session.is_read_only or self._measures:
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
        elif self._dragging.dragging and self._press is not None:
            if self._moving or (point - self._press).manhattanLength() >= _DRAG_START_PX:
                self._moving = True
                freely = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
                scale = self.transform().m11()
                self._dragging.move(place, scale, self._theme, freely=freely)
        elif self._tracing.on:
            self._tracing.move(place, self._theme)
        elif self._measures and self._measuring.pulling:
            self._measuring.move(place, self.transform().m11(), self._theme)
            self._repaint_all()
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

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go: a drag becomes one undo step, a click selects."""
        if event is None:
            return
        if self._threading.pulling and self._moving:
            made = self._threading.release()
            if made is not None:
                self._session.select(made)
        elif self._dragging.dragging and self._moving:
            self._dragging.release()
        elif self._measures:
            self._measuring.release()
        elif self._tracing.on:
            pass
        elif event.button() == Qt.MouseButton.LeftButton and not self._moving:
            self._click()
        self._let_go()

    def _click(self) -> None:
        """Select what was clicked; clicking again goes to what lies under it."""
        under = [("obstacle", t[1]) if t[0] == "corner" else t for t in self._under_press]
        if not under:
            if not self._dragging.dragging:
                self._session.select(())
            return
        selection = self._session.selection
        place = under.index(selection) + 1 if selection in under else 0
        self._session.select(under[place % len(under)])

    def _let_go(self) -> None:
        self._threading.let_go()
        self._dragging.let_go()
        self._pan_from = self._press = None
        self._moving = False

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom to the pointer."""
        if event is not None:
            self.zoom(_ZOOM_STEP ** event.angleDelta().y(), event.position())
            event.accept()

    # what is dropped

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """A part may come from the shelf; all else is the window's."""
        if event is not None:
            self._dropping.enter(event)

    def dragMoveEvent(self, event: QDragMoveEvent | None) -> None:
        """Over a shaft the part shows as it would be there."""
        if event is not None:
            targets = self._targets_at(event.position().toPoint())
            self._dropping.move(event, next((n for t in targets if (n := self._shaft_of(t))), ""))

    def dragLeaveEvent(self, event: QDragLeaveEvent | None) -> None:
        """Nothing is put anywhere."""
        self._dropping.leave()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Put the part on the shaft it is over."""
        if event is not None:
            self._dropping.drop(event)

    # tools

    def measure(self) -> None:
        """Begin to measure, or end; between the last two parts selected at once."""
        on = not self._measures
        self.put_tools_away()
        self._measures = on
        if on:
            pair = [
                self._shaft_of(t) for t in (self._session.selected_before, self._session.selection)
            ]
            if all(pair) and pair[0] != pair[1]:
                self._measuring.between(pair[0], pair[1], self._theme)
            self.setCursor(Qt.CursorShape.CrossCursor)
        self._repaint_all()

    @property
    def measured(self) -> str:
        """What was measured, in words."""
        return self._measuring.said

    def trace(self) -> None:
        """Begin to trace the outline of something in the way, or let go of it."""
        on = not self._tracing.on and not self._session.is_read_only
        self.put_tools_away()
        self._tracing.on = on
        if on:
            self._session.select(())
            self.setCursor(Qt.CursorShape.CrossCursor)
        self._repaint_all()

    def end_trace(self) -> None:
        """Close what was traced; it is then something in the way."""
        session, outline = self._session, self._tracing.outline
        self.put_tools_away()
        if len(outline) >= 2:
            build, name = add_obstacle(session.build, session.catalogue, outline=outline)
            session.edit("trace an outline", build)
            session.select(("obstacle", name))

    def put_tools_away(self) -> None:
        """Neither measure nor trace."""
        self._measures = False
        self._measuring.clear()
        self._tracing.clear()
        self.setCursor(Qt.CursorShape.ArrowCursor)
        self._repaint_all()

    def pointer_place(self) -> Point | None:
        """Where the pointer is, mm; None if it is not over the view."""
        viewport = self.viewport()
        if viewport is None or not viewport.underMouse():
            return None
        at = self.mapToScene(viewport.mapFromGlobal(QCursor.pos()))
        return round(at.x(), 1), round(-at.y(), 1)

    # the keys

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows nudge the selected shaft, Esc lets go, Page keys walk through what there is."""
        if event is None:
            return
        key = Qt.Key(event.key())
        if key == Qt.Key.Key_Escape and (self._measures or self._tracing.on):
            self.put_tools_away()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self._tracing.on:
            self.end_trace()
        elif key == Qt.Key.Key_Escape:
            self._session.drop_preview()
            self._let_go()
            self._session.select(())
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            take_away(self._session)
        elif key in ARROWS and nudge(self._session, ARROWS[key], event.modifiers()):
            pass
        elif key in (Qt.Key.Key_PageDown, Qt.Key.Key_PageUp):
            self.select_next(1 if key == Qt.Key.Key_PageDown else -1)
        else:
            super().keyPressEvent(event)

    def select_next(self, way: int) -> None:
        """Select the next part, or the one before."""
        select_next(self._session, way)

    # the paper

    def _said(self, place: QPointF) -> str:
        unit = self._session.build.display_units
        x, y = format_length(place.x(), unit), format_length(-place.y(), unit)
        return f"x {x}   y {y}"

    def drawBackground(self, painter: QPainter | None, rect: QRectF) -> None:
        """Paper with a grid."""
        assert painter is not None
        draw_grid(painter, rect, self._session.build, self._theme, self.transform().m11())
