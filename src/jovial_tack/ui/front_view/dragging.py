"""What is dragged in the front view: shafts along their freedoms, arms over their notches, outlines
and notes. The build is previewed while the pointer moves; letting go makes it one undo step.
"""

from __future__ import annotations

from collections.abc import Callable
from math import atan2, degrees

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QPainterPath, QPen
from PyQt6.QtWidgets import QGraphicsItem, QGraphicsPathItem, QGraphicsScene

from jovial_tack.answers.line_up.meaning import meant_by_place
from jovial_tack.core.errors import BuildFileError
from jovial_tack.core.units import MM_PER_INCH
from jovial_tack.core.value import replace
from jovial_tack.document.edits.brackets import bracket_of, drag_bracket
from jovial_tack.document.edits.freedoms import slide_shaft
from jovial_tack.document.edits.notes import move_note
from jovial_tack.document.edits.obstacles import move_obstacle
from jovial_tack.document.edits.plates import move_boss, move_cut
from jovial_tack.document.edits.tensioners import set_arm
from jovial_tack.document.meant import cut_name
from jovial_tack.document.model import Build, HoleCut, SpringArmTensioner
from jovial_tack.document.snapping import (
    Guide,
    cut_snaps,
    others_of,
    radius_on,
    snapped,
    snapped_cut,
)
from jovial_tack.document.targets import (
    BossAt,
    CornerAt,
    CutAt,
    CutEndAt,
    NoteAt,
    ObstacleAt,
    Target,
)
from jovial_tack.drawing.front import shaft_centers
from jovial_tack.drawing.plates import ends_of
from jovial_tack.drawing.shapes import Point
from jovial_tack.ui.front_view.scene import scene_point
from jovial_tack.ui.front_view.words import Tag
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.theme import Theme

_SNAP_PX = 6.0

#: The previewed build for a pointer place (mm, y up) and a reach (mm), and why it fell into place.
Move = Callable[[Point, float], tuple[Build, tuple[Guide, ...]]]


class Dragging:
    """One drag at a time."""

    def __init__(self, session: Session, canvas: QGraphicsScene) -> None:
        self._session, self._canvas = session, canvas
        self._move: Move | None = None
        self._label = ""
        self._made: Target | None = None
        self._drawn: list[QGraphicsItem] = []

    @property
    def dragging(self) -> bool:
        """Whether something is held."""
        return self._move is not None

    def take_shaft(self, shaft: str, at: QPointF) -> None:
        """Take hold of a shaft at a scene point."""
        session = self._session
        base = session.history.build
        centers = shaft_centers(base, session.results)
        drawn, stands = base.shaft(shaft).center_mm, centers[shaft]
        # an arm's pulley stands where the belt puts it; the file draws it somewhere else
        off = (
            stands[0] - at.x() - (stands[0] - drawn[0]),
            stands[1] + at.y() - (stands[1] - drawn[1]),
        )
        carrier = bracket_of(base, shaft)
        radius = radius_on(base, shaft, session.catalogue)
        others = others_of(base, shaft, centers, session.catalogue)
        grid = 0.5 if base.display_units == "mm" else MM_PER_INCH / 64

        def move(place: Point, reach: float) -> tuple[Build, tuple[Guide, ...]]:
            x, y = place[0] + off[0], place[1] + off[1]
            if carrier is not None and len(carrier.offsets_mm) > 1:
                return drag_bracket(base, carrier.id, shaft, x, y), ()
            shown = x + stands[0] - drawn[0], y + stands[1] - drawn[1]
            (fell_x, fell_y), guides = snapped(shown, radius, others, reach)
            if fell_x == shown[0]:
                fell_x = round(x / grid) * grid + stands[0] - drawn[0]
            if fell_y == shown[1]:
                fell_y = round(y / grid) * grid + stands[1] - drawn[1]
            x, y = fell_x - stands[0] + drawn[0], fell_y - stands[1] + drawn[1]
            return slide_shaft(base, shaft, x, y), guides

        self._take(move, f"move {base.shaft(shaft).label}")

    def take_arm(self, drive: str, at: QPointF) -> bool:
        """Take hold of an arm that has notches, to turn it from one to another; False without them."""
        base = self._session.history.build
        arm = base.drive(drive).tensioner
        if not isinstance(arm, SpringArmTensioner) or len(arm.notches_deg or ()) < 2:
            return False
        notches = arm.notches_deg or ()
        pivot, now = arm.pivot_mm, notches[arm.notch or 0]
        start = degrees(atan2(-at.y() - pivot[1], at.x() - pivot[0]))

        def move(place: Point, _reach: float) -> tuple[Build, tuple[Guide, ...]]:
            angle = degrees(atan2(place[1] - pivot[1], place[0] - pivot[0]))
            wanted = now + (angle - start + 180.0) % 360.0 - 180.0
            away = [abs(notch - wanted) for notch in notches]
            return set_arm(base, drive, notch=away.index(min(away))), ()

        self._take(move, f"notch of {base.drive(drive).label}")
        return True

    def take_outline(self, target: ObstacleAt | CornerAt | NoteAt, at: QPointF) -> None:
        """Take hold of an outline, one of its corners, or a note."""
        base = self._session.history.build
        grid = 0.5 if base.display_units == "mm" else MM_PER_INCH / 64

        def move(place: Point, _reach: float) -> tuple[Build, tuple[Guide, ...]]:
            dx = round((place[0] - at.x()) / grid) * grid
            dy = round((place[1] + at.y()) / grid) * grid
            if isinstance(target, NoteAt):
                return move_note(base, target.note, dx, dy), ()
            corner = target.corner if isinstance(target, CornerAt) else None
            return move_obstacle(base, target.obstacle, dx, dy, corner), ()

        if isinstance(target, NoteAt):
            self._take(move, "move note", target)
        else:
            label = base.obstacle(target.obstacle).label
            self._take(move, f"move {label}", ObstacleAt(target.obstacle))

    def take_cut(self, target: CutAt | CutEndAt, at: QPointF) -> None:
        """Take hold of a hole, a slot or an arc of a plate, or of an end of one."""
        session = self._session
        base = session.history.build
        plate, cut = target.plate, base.plate(target.plate).feature(target.cut)
        end = target.end if isinstance(target, CutEndAt) else None
        places = [cut.at_mm] if isinstance(cut, HoleCut) else list(ends_of(cut))
        anchor = places[end or 0]
        grid = 0.5 if base.display_units == "mm" else MM_PER_INCH / 64
        snaps = cut_snaps(base, plate, cut.id)

        def move(place: Point, reach: float) -> tuple[Build, tuple[Guide, ...]]:
            wanted = anchor[0] + place[0] - at.x(), anchor[1] + place[1] + at.y()
            fell = snapped_cut(wanted, snaps, reach)
            if fell.at == wanted:
                fell = replace(
                    fell, at=(round(wanted[0] / grid) * grid, round(wanted[1] / grid) * grid)
                )
            dx, dy = fell.at[0] - anchor[0], fell.at[1] - anchor[1]
            build = move_cut(base, plate, cut.id, dx, dy, end)
            if isinstance(cut, HoleCut):
                build = meant_by_place(build, plate, cut.id, fell.boss, session.catalogue)
            return build, fell.guides

        self._take(move, f"move {cut_name(base, cut)}", CutAt(plate, cut.id))

    def take_boss(self, boss: str, at: QPointF) -> None:
        """Take hold of a boss; the holes over it go along."""
        base = self._session.history.build
        found = base.find_boss(boss)
        assert found is not None
        start, grid = found.at_mm, 0.5 if base.display_units == "mm" else MM_PER_INCH / 64

        def move(place: Point, _reach: float) -> tuple[Build, tuple[Guide, ...]]:
            x = round((start[0] + place[0] - at.x()) / grid) * grid
            y = round((start[1] + place[1] + at.y()) / grid) * grid
            return move_boss(base, boss, x, y), ()

        self._take(move, f"move {found.label}", BossAt(boss))

    def _take(self, move: Move, label: str, made: Target | None = None) -> None:
        self._move, self._label, self._made = move, label, made

    def move(self, at: QPointF, px_per_mm: float, theme: Theme, *, freely: bool) -> None:
        """Follow the pointer (a scene point). freely: fall into place nowhere but on the grid."""
        if self._move is None:
            return
        try:
            reach = 0.0 if freely else _SNAP_PX / px_per_mm
            build, guides = self._move((at.x(), -at.y()), reach)
        except BuildFileError:
            return  # beyond what a build can hold; what is dragged stays at the edge
        self._session.preview(build)
        self._show(guides, theme)

    def release(self) -> None:
        """Let go: what was moved becomes one undo step."""
        self._session.commit_preview(self._label)
        if self._made is not None:
            self._session.select(self._made)

    def let_go(self) -> None:
        """Hold nothing any more."""
        self._move = None
        self._show((), None)

    def _show(self, guides: tuple[Guide, ...], theme: Theme | None) -> None:
        for item in self._drawn:
            self._canvas.removeItem(item)
        self._drawn = []
        for guide in guides if theme is not None else ():
            assert theme is not None
            start, end = (scene_point(point) for point in guide.points)
            path = QPainterPath(start)
            path.lineTo(end)
            line = QGraphicsPathItem(path)
            pen = QPen(theme.color("accent"), 1.4, Qt.PenStyle.DashLine)
            pen.setCosmetic(True)
            line.setPen(pen)
            line.setZValue(200.0)
            message = Tag(guide.word, (start + end) / 2, theme)
            for item in (line, message):
                self._canvas.addItem(item)
                self._drawn.append(item)
