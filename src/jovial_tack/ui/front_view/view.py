"""The front view widget: pan, zoom to the pointer, fit, select, drag a shaft, nudge by keys."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QCursor,
    QDragEnterEvent,
    QDragLeaveEvent,
    QDragMoveEvent,
    QDropEvent,
    QKeyEvent,
    QMouseEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from jovial_tack.core.units import format_length
from jovial_tack.document.edits.obstacles import add_obstacle
from jovial_tack.document.edits.plates import add_cut, usual_cut
from jovial_tack.document.edits.shafts import add_shaft
from jovial_tack.document.targets import (
    NOTHING,
    ArmAt,
    BeltAt,
    BossAt,
    CornerAt,
    CutAt,
    CutEndAt,
    NoteAt,
    ObstacleAt,
    PlateAt,
    ShaftAt,
    SpanAt,
    Target,
    whole_of,
)
from jovial_tack.drawing.front import shaft_centers
from jovial_tack.drawing.shapes import CHOICE, Line, Point, Shape
from jovial_tack.ui.front_view.dragging import Dragging
from jovial_tack.ui.front_view.dropping import Dropping
from jovial_tack.ui.front_view.measuring import Measuring, Tracing
from jovial_tack.ui.front_view.scene import scene_point
from jovial_tack.ui.front_view.shown import ShownView
from jovial_tack.ui.front_view.steps import ARROWS, nudge, select_next, take_away
from jovial_tack.ui.front_view.threading import Threading
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.theme import Theme

_DRAG_START_PX = 4
_ZOOM_STEP = 1.0015


class FrontView(ShownView):
    """Shows the session's build. pointed: where the pointer is, mm, as text ("" outside). picked: the
    key of something laid over the view that was clicked, and stands there to be chosen.
    """

    pointed = pyqtSignal(str)
    picked = pyqtSignal(str)

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(session, theme, parent)
        self._pan_from: QPoint | None = None
        self._moving = False
        self._under_press: list[Target] = []
        self._threading = Threading(session, self._canvas)
        self._dragging = Dragging(session, self._canvas)
        self._measuring = Measuring(session, self._canvas)
        self._measures = False
        self._tracing = Tracing(self._canvas)
        self._dropping = Dropping(session)
        self.setAcceptDrops(True)
        self.setObjectName("front")
        self.setAccessibleName("Front view of the engine")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)

    def _doing(self) -> str:
        if self._tracing.on:
            return "Click corner by corner; Enter closes the outline, Esc lets go"
        if self._measures:
            return self._measuring.message or "Drag from place to place to measure; Esc ends"
        return ""

    # the pointer

    def targets_at(self, point: QPoint) -> list[Target]:
        """What lies under a point, uppermost first, each once."""
        found: list[Target] = []
        for item in self.items(point):
            model = getattr(item, "model", None)
            if isinstance(model, Shape) and model.target not in (NOTHING, *found):
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
        self._under_press = self.targets_at(point)
        selection = self._session.selection
        place = self.mapToScene(point)
        if self._tracing.on:
            self._tracing.add(place, self._theme)
            return
        if self._measures:
            self._measuring.begin(place, self.transform().m11())
            return
        uppermost = self._under_press[0] if self._under_press else NOTHING
        # of a plate that is selected its holes are held, of an outline or an arc its corner or end
        is_part = isinstance(uppermost, CornerAt | CutEndAt) and whole_of(uppermost) == selection
        is_whole = is_part or isinstance(selection, PlateAt)
        keeps = selection in self._under_press and not is_whole
        held = selection if keeps else uppermost
        if self._takes_belt(held, event.modifiers()):
            return
        if isinstance(held, ObstacleAt | CornerAt | NoteAt):
            self._dragging.take_outline(held, place)
        elif isinstance(held, CutAt | CutEndAt):
            self._dragging.take_cut(held, place)
        elif isinstance(held, BossAt):
            self._dragging.take_boss(held.boss, place)
        elif isinstance(held, ArmAt) and self._dragging.take_arm(held.drive, place):
            pass
        elif self._shaft_of(held):
            self._dragging.take_shaft(self._shaft_of(held), place)
        elif held == NOTHING or isinstance(held, PlateAt):
            self._pan_from = point
        is_part = isinstance(held, CornerAt | CutEndAt)
        if self._dragging.dragging and held != selection and not is_part:
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
        spans = [target for target in self._under_press if isinstance(target, SpanAt)]
        if not spans or not isinstance(held, SpanAt | BeltAt):
            return False
        span = held if isinstance(held, SpanAt) else spans[0]
        line = self.drawn[f"span/{span.drive}/{span.leaves}"].model
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
        under, session = self.targets_at(point), self._session
        place = self.mapToScene(point)
        at = round(place.x(), 1), round(-place.y(), 1)
        if session.is_read_only or self._measures or (under and not isinstance(under[0], PlateAt)):
            super().mouseDoubleClickEvent(event)
            return
        if under and isinstance(under[0], PlateAt):
            plate = under[0].plate
            build, cut = add_cut(session.build, plate, usual_cut("hole", at))
            session.edit(f"hole in {build.plate(plate).label}", build)
            session.select(CutAt(plate, cut))
            return
        build, shaft = add_shaft(session.build, "idler", session.catalogue, at)
        session.edit("add idler", build)
        session.select(ShaftAt(shaft))

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
            self._hover((self.targets_at(point) or [NOTHING])[0])

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

    def _pick(self) -> bool:
        """Whether a choice laid over the view was clicked, and no thing that lies above it; it is told
        to whoever laid it there.
        """
        for item in self.items(self._press) if self._press is not None else ():
            model = getattr(item, "model", None)
            if not isinstance(model, Shape):
                continue
            if model.key.startswith(CHOICE):
                self.picked.emit(model.key.removeprefix(CHOICE))
                return True
            if model.target != NOTHING:
                return False
        return False

    def _click(self) -> None:
        """Select what was clicked; clicking again goes to what lies under it."""
        if self._pick():
            return
        under = list(dict.fromkeys(whole_of(target) for target in self._under_press))
        if not under:
            if not self._dragging.dragging:
                self._session.select(NOTHING)
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
            targets = self.targets_at(event.position().toPoint())
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
        return self._measuring.message

    def trace(self) -> None:
        """Begin to trace the outline of something in the way, or let go of it."""
        on = not self._tracing.on and not self._session.is_read_only
        self.put_tools_away()
        self._tracing.on = on
        if on:
            self._session.select(NOTHING)
            self.setCursor(Qt.CursorShape.CrossCursor)
        self._repaint_all()

    def end_trace(self) -> None:
        """Close what was traced; it is then something in the way."""
        session, outline = self._session, self._tracing.outline
        self.put_tools_away()
        if len(outline) >= 2:
            build, name = add_obstacle(session.build, session.catalogue, outline=outline)
            session.edit("trace an outline", build)
            session.select(ObstacleAt(name))
            session.asked.emit("Name")

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
            self._session.select(NOTHING)
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
