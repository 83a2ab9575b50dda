"""The build as the front view shows it: items kept up to date, fit, zoom, labels and paper."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import QHideEvent, QPainter, QResizeEvent
from PyQt6.QtWidgets import QGraphicsScene, QGraphicsView, QWidget

from jovial_tack.document.targets import (
    NOTHING,
    ArmAt,
    CornerAt,
    CutEndAt,
    PulleyAt,
    ShaftAt,
    Target,
    whole_of,
)
from jovial_tack.drawing.front import front_view, shaft_centers
from jovial_tack.drawing.shapes import Circle, Point, Shape
from jovial_tack.sheets import shaft_of
from jovial_tack.ui.front_view.items import Item, new_item
from jovial_tack.ui.front_view.labelling import arrange_labels
from jovial_tack.ui.front_view.paper import FOOT_PX, draw_foot, draw_grid, foot_boxes
from jovial_tack.ui.front_view.scene import scene_point
from jovial_tack.ui.front_view.words import LabelItem
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.theme import Theme

_SCALE_LIMITS = (0.05, 60.0)
_MARGIN_MM = 26.0
_LEAST_MM = 300.0
_FITTED = ("pulley", "freedom", "corner", "ghost")


class ShownView(QGraphicsView):
    """A view of the session's build that can be zoomed and fitted; what the pointer does is not its."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        self._canvas = QGraphicsScene()
        super().__init__(self._canvas, parent)
        self._session, self._theme = session, theme
        self.drawn: dict[str, Item] = {}
        self._overlay: tuple[Shape, ...] = ()
        self._lit: set[Target] = set()
        self._press: QPoint | None = None  # where the pointer was pressed, while it is held
        self._fitted = True
        self.setRenderHint(QPainter.RenderHint.Antialiasing)
        self.setViewportUpdateMode(QGraphicsView.ViewportUpdateMode.MinimalViewportUpdate)
        self.setOptimizationFlag(QGraphicsView.OptimizationFlag.DontAdjustForAntialiasing, False)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setCacheMode(QGraphicsView.CacheModeFlag.CacheBackground)
        self.setTransformationAnchor(QGraphicsView.ViewportAnchor.NoAnchor)
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
        pinned = session.baseline
        shapes = front_view(
            session.build,
            session.results,
            session.catalogue,
            session.rpm,
            None if pinned is None else pinned.results,
        )
        fresh = self._draw_anew({shape.key: shape for shape in (*shapes, *self._overlay)})
        if fresh or self._lit != self._held_targets():
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
        """Whether all pulleys and outlines are in sight, and none under the words at the foot."""
        viewport = self.viewport()
        if viewport is None or not self.isVisible():
            return True
        seen = self.mapToScene(viewport.rect()).boundingRect()
        boxes = [
            item.sceneBoundingRect()
            for item in self.drawn.values()
            if isinstance(item.model, Circle) and item.model.role in _FITTED
        ]
        return all(map(seen.contains, boxes)) and not self._is_under_words(boxes)

    def _is_under_words(self, boxes: Iterable[QRectF]) -> bool:
        viewport = self.viewport()
        assert viewport is not None
        words = [
            self.mapToScene(box).boundingRect()
            for box in foot_boxes((viewport.width(), viewport.height()))
        ]
        return any(box.intersects(word) for box in boxes for word in words)

    def _start_over(self) -> None:
        self.refresh()
        self.fit()

    def _restyle(self) -> None:
        lit, pointed = self._held_targets(), self._session.hovered
        self._lit = lit
        for item in self.drawn.values():
            target = item.model.target
            held = target in lit
            hovered = target != NOTHING and target == pointed
            if isinstance(target, CornerAt | CutEndAt):
                outline = whole_of(target)
                hovered = hovered or outline in lit or outline == pointed
            item.set_look(self._theme, selected=held, hovered=hovered)

    def _held_targets(self) -> set[Target]:
        """What is drawn as held: what is selected, and what moves or belongs with it."""
        selection = self._session.selection
        if selection == NOTHING:
            return set()
        lit = {selection}
        if isinstance(selection, ArmAt):
            arm = self._session.build.drive(selection.drive).tensioner
            lit.add(PulleyAt(selection.drive, getattr(arm, "pulley", "")))
        elif isinstance(selection, PulleyAt):
            lit.add(ShaftAt(self._shaft_of(selection)))
        return lit

    def _shaft_of(self, target: Target) -> str:
        return shaft_of(self._session.build, target) or ""

    # the view

    def _box_of(self, targets: Collection[Target]) -> QRectF:
        """The box round all that is drawn of some things but their labels."""
        box = QRectF()
        for item in self.drawn.values():
            if item.model.target in targets and not isinstance(item, LabelItem):
                box = box.united(item.sceneBoundingRect())
        return box

    def _draw_anew(self, wanted: Mapping[str, Shape]) -> bool:
        """Keep an item a shape; returns whether any is new."""
        fresh = False
        for key in self.drawn.keys() - wanted.keys():
            self._canvas.removeItem(self.drawn.pop(key))
        for key, shape in wanted.items():
            item = self.drawn.get(key)
            if item is None:
                item = self.drawn[key] = new_item(shape, self._theme)
                self._canvas.addItem(item)
                fresh = True
            elif shape is not item.model:
                item.show_shape(shape)
        return fresh

    def _bring_into_sight(self) -> None:
        """Move the paper if what was selected lies outside of what can be seen."""
        selection, viewport = self._session.selection, self.viewport()
        if selection == NOTHING or viewport is None or self._press is not None:
            return
        box = self._box_of(self._held_targets())
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
        box, boxes = QRectF(), []
        for item in self.drawn.values():
            if isinstance(item.model, Circle):
                boxes.append(item.sceneBoundingRect())
                box = box.united(boxes[-1])
        if box.isEmpty():
            box = QRectF(-150, -250, 300, 300)
        least = QRectF(0, 0, _LEAST_MM, _LEAST_MM)
        least.moveCenter(box.center())
        box = box.united(least).adjusted(-_MARGIN_MM, -_MARGIN_MM, _MARGIN_MM, _MARGIN_MM)
        self.fitInView(box, Qt.AspectRatioMode.KeepAspectRatio)
        if self._is_under_words(boxes):
            box.setHeight(box.height() + FOOT_PX / self.transform().m11())
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
            arrange_labels(self.drawn.values(), self.pixel_at, self.transform().m11(), size)

    def pixel_at(self, point: Point) -> tuple[float, float]:
        """Where a point of the engine is seen, in pixels of the view."""
        at = self.viewportTransform().map(scene_point(point))
        return at.x(), at.y()

    def pixel_of_shaft(self, shaft_id: str) -> QPoint:
        """Where a shaft's centre is in the viewport, px."""
        centers = shaft_centers(self._session.build, self._session.results)
        x, y = self.pixel_at(centers[shaft_id])
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
        """What the pointer is doing, told at the foot; nothing where it does nothing."""
        return ""

    # the paper

    def drawBackground(self, painter: QPainter | None, rect: QRectF) -> None:
        """Paper with a grid."""
        assert painter is not None
        draw_grid(painter, rect, self._session.build, self._theme, self.transform().m11())
