"""A bracket plate on its way out: its sheets of paper shown beforehand, files for cutter and
drawing.
"""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QFileDialog, QPushButton, QSizePolicy, QVBoxLayout, QWidget

from jovial_tack.answers.line_up.plate_words import bent_words, size_words, spacer_words
from jovial_tack.answers.results import PlateResult
from jovial_tack.core.errors import JovialTackError
from jovial_tack.core.units import LENGTH
from jovial_tack.core.words import sentence
from jovial_tack.document.model import Plate
from jovial_tack.document.targets import CutAt, PlateAt
from jovial_tack.files.plates.drawing import Curves, PlateDrawing, curves_of, plate_drawing
from jovial_tack.files.plates.pdf import Tiles, sheets_of
from jovial_tack.files.plates.writing import write_plate
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.desk_part import scrolled
from jovial_tack.ui.widgets.elided import ElidedChoice
from jovial_tack.ui.widgets.field_lines import FieldLines
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import heading, together
from jovial_tack.ui.widgets.theme import Theme, figures, words

_HINT = "The plate in full size, as it is now: on paper to punch through, or for a cutter."
_AFTER = (
    "Measure both scales on the first print: 100 mm across and 100 mm upright. If they read"
    " otherwise, type what they read here and print again."
)
_PAPERS = (("A4", "a4"), ("Letter", "letter"))
_KINDS = {
    "pdf": ("Paper 1:1 (PDF) …", "Sheets of paper (*.pdf)"),
    "dxf": ("For the cutter (DXF) …", "Drawing for a cutter (*.dxf)"),
    "svg": ("Drawing (SVG) …", "Drawing (*.svg)"),
}
_SCALE_MM, _LEAST_MM, _MOST_MM = 100.0, 80.0, 120.0


class SheetsView(QWidget):
    """The plate over its sheets, as they will be laid together."""

    def __init__(self, theme: Theme) -> None:
        super().__init__()
        self._theme = theme
        self._drawing: PlateDrawing | None = None
        self._tiles: Tiles | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("The plate over its sheets of paper")

    def sizeHint(self) -> QSize:
        """As wide as there is room."""
        return QSize(280, 240)

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self.update()

    def show_sheets(self, drawing: PlateDrawing | None, tiles: Tiles | None) -> None:
        """Show another plate, or none."""
        self._drawing, self._tiles = drawing, tiles
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint sheets, plate, crosses and what each sheet is called."""
        painter, t = QPainter(self), self._theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        drawing, tiles = self._drawing, self._tiles
        if drawing is None or tiles is None:
            painter.setFont(words(13))
            painter.setPen(t.color("faded"))
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(QRectF(self.rect()), int(flags), "Nothing is cut in it yet.")
            return
        at, scale = self._placed(tiles)
        for sheet, (left, foot) in enumerate(tiles.origins):
            corner = at(left, foot + tiles.area[1])
            box = QRectF(corner.x(), corner.y(), tiles.area[0] * scale, tiles.area[1] * scale)
            painter.setPen(QPen(t.color("faded"), 1.0, Qt.PenStyle.DashLine))
            painter.fillRect(box, t.color("paper"))
            painter.drawRect(box)
            painter.setFont(figures(11))
            painter.setPen(t.color("faded"))
            painter.drawText(QPointF(box.left() + 5, box.bottom() - 5), str(sheet + 1))
        painter.setPen(QPen(t.color("ink"), 1.3))
        for start, curves in curves_of(drawing):
            painter.drawPath(_path(start, curves, at))
        painter.setPen(QPen(t.color("accent"), 1.2))
        for _, x, y in tiles.crosses:
            place = at(x, y)
            painter.drawLine(place + QPointF(-4, 0), place + QPointF(4, 0))
            painter.drawLine(place + QPointF(0, -4), place + QPointF(0, 4))

    def _placed(self, tiles: Tiles) -> tuple[Callable[[float, float], QPointF], float]:
        """Where a place of the plate is painted, and how many pixels a millimetre has."""
        left, foot = tiles.origins[0]
        last = tiles.origins[-1]
        wide, high = last[0] + tiles.area[0] - left, last[1] + tiles.area[1] - foot
        scale = min((self.width() - 4) / wide, (self.height() - 4) / high)
        off_x = (self.width() - wide * scale) / 2
        off_y = (self.height() - high * scale) / 2

        def at(x: float, y: float) -> QPointF:
            return QPointF(off_x + (x - left) * scale, self.height() - off_y - (y - foot) * scale)

        return at, scale


def _path(start: complex, curves: Curves, at: Callable[[float, float], QPointF]) -> QPainterPath:
    """A ring as it is painted."""
    path = QPainterPath(at(start.real, start.imag))
    for first, second, end in curves:
        path.cubicTo(*(at(place.real, place.imag) for place in (first, second, end)))
    path.closeSubpath()
    return path


class PaperCard(SideCard):
    """The plate that is selected, else the first one."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__("Plate on paper and for the cutter", _HINT, parent)
        self._session = session
        self._plate = ""
        self._printed = [_SCALE_MM, _SCALE_MM]
        self._kerf_mm = 0.0
        self.sheets = SheetsView(theme)
        self.measures, self.more = heading("plain"), heading("faded")
        self.wrong, self.refusal, self.done = heading("stop"), heading("stop"), heading("plain")
        for label in (self.wrong, self.refusal, self.done):
            label.hide()
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(0, 0, 8, 0)
        column.setSpacing(8)
        column.addWidget(self.sheets)
        column.addWidget(self.measures)
        column.addWidget(self.wrong)
        self.buttons: dict[str, QPushButton] = {}
        for kind, (text, _) in _KINDS.items():
            button = QPushButton(text)
            button.setObjectName("act")
            button.clicked.connect(lambda _=False, kind=kind: self.ask(kind))
            column.addWidget(button, 0, Qt.AlignmentFlag.AlignLeft)
            self.buttons[kind] = button
        column.addWidget(self.done)
        column.addWidget(self.refusal)
        form = QWidget()
        self._lines = FieldLines(form)
        column.addWidget(form)
        self._make_form()
        column.addWidget(self.more)
        column.addStretch(1)
        self.column.addWidget(scrolled(inside), 1)
        session.readings_changed.connect(self.refresh)
        session.selection_changed.connect(self.refresh)
        session.replaced.connect(self._start_over)

    def _make_form(self) -> None:
        self.which = ElidedChoice("Plate")
        self.which.activated.connect(lambda _k: self._choose(str(self.which.currentData())))
        self._lines.add_line("Plate", self.which)
        self.paper = ElidedChoice("Paper")
        for text, key in _PAPERS:
            self.paper.addItem(text, key)
        self.paper.activated.connect(lambda _k: self.refresh())
        self._lines.add_line("Paper", self.paper)
        spoken = ("across", "upright")
        self.printed = [
            QuantityField(
                f"What the scale of 100 mm {way} read on an earlier print", LENGTH, draft=True
            )
            for way in spoken
        ]
        for k, field in enumerate(self.printed):
            field.committed.connect(lambda mm, k=k: self._take_printed(k, mm))
            field.refused.connect(self._refuse)
            self._lines.add_line(f"Read {spoken[k]}", field)
        self.kerf = QuantityField(
            "Width of the cut that DXF and SVG make good; 0 for none", LENGTH, draft=True
        )
        self.kerf.committed.connect(self._take_kerf)
        self.kerf.refused.connect(self._refuse)
        self._lines.add_line("Cut, wide", self.kerf)

    # what it shows

    def open(self) -> None:
        """Begin with the plate that is selected; called once the card is in sight."""
        self._say("")
        self.refresh()
        (self.buttons["pdf"] if self.buttons["pdf"].isEnabled() else self.paper).setFocus()

    def _start_over(self) -> None:
        self._plate = ""
        self._say("")
        self.refresh()

    def _say(self, text: str) -> None:
        """Say what became of a file; nothing takes no room."""
        self.done.setText(text)
        self.done.setVisible(bool(text))

    @property
    def plate(self) -> Plate | None:
        """The plate that is shown."""
        plates = self._session.build.plates
        return next((plate for plate in plates if plate.id == self._plate), None)

    @property
    def told(self) -> PlateResult | None:
        """What was worked out of it; None while that is still to come."""
        ready = self._session.solving.has_plates
        return self._session.results.plate(self._plate) if ready else None

    def refresh(self) -> None:
        """Show the plate of the present build, if the card is in sight."""
        if not self.isVisible():
            return
        build, selected = self._session.build, self._session.selection
        ids = [plate.id for plate in build.plates]
        if isinstance(selected, PlateAt | CutAt) and selected.plate in ids:
            self._plate = selected.plate
        elif self._plate not in ids:
            self._plate = ids[0] if ids else ""
        self.which.clear()
        for plate in build.plates:
            self.which.addItem(plate.label, plate.id)
        self.which.setCurrentIndex(max(self.which.findData(self._plate), 0))
        unit = LENGTH.shown(build.display_units)
        # what a ruler reads is in mm whatever the build is shown in: the scale is one of 100 mm
        for field, value in zip(self.printed, self._printed, strict=True):
            field.show_value(value, "mm", 2)
        self.kerf.show_value(self._kerf_mm, unit, 2)
        self._show_told()

    def _show_told(self) -> None:
        build, plate, told = (
            self._session.build,
            self.plate,
            self._session.results.plate(self._plate),
        )
        drawing = None if plate is None or told is None else self._drawn(plate, told)
        tiles = None if drawing is None else sheets_of(drawing, self._chosen_paper, self._read)
        self.sheets.show_sheets(drawing, tiles)
        ready = plate is not None and drawing is not None and self.told is not None
        for button in self.buttons.values():
            button.setEnabled(ready)
        if plate is None or told is None:
            self.measures.setText("")
            self.wrong.hide()
            self.more.setText("")
            return
        several = "" if tiles is None or tiles.count == 1 else "s"
        count = (
            "" if tiles is None else f"; {tiles.count} sheet{several} of {self.paper.currentText()}"
        )
        self.measures.setText(together(sentence(size_words(build, plate, told) + count)))
        stops = [finding.message for finding in told.findings if finding.level == "stop"]
        self.wrong.setText(together(" ".join(sentence(message) for message in stops)))
        self.wrong.setVisible(bool(stops))
        ids = {cut.id for cut in plate.features}
        lines = [spacer_words(build, plate, s) for s in told.spacers if s.id in ids]
        lines += [*told.loose, bent_words(build, told)]
        said = [together(sentence(line)) for line in lines if line]
        self.more.setText("\n".join([*said, _AFTER]))

    def _drawn(self, plate: Plate, told: PlateResult) -> PlateDrawing | None:
        """The plate as it will be written; None while what was worked out is of an earlier one."""
        if {cut.id for cut in plate.features} != {name for name, _ in told.cuts}:
            return None
        return plate_drawing(self._session.build, plate, told)

    @property
    def _chosen_paper(self) -> str:
        return str(self.paper.currentData() or "a4")

    @property
    def _read(self) -> tuple[float, float]:
        return self._printed[0], self._printed[1]

    # what it does

    def _choose(self, plate: str) -> None:
        self._plate = plate
        if isinstance(self._session.selection, PlateAt | CutAt):
            self._session.select(PlateAt(plate))
        self.refresh()

    def _refuse(self, text: str) -> None:
        self.refusal.setText(sentence(text) if text else "")
        self.refusal.setVisible(bool(text))

    def _take_printed(self, place: int, mm: float) -> None:
        if not _LEAST_MM <= mm <= _MOST_MM:
            why = f"a scale of 100 mm reads from {_LEAST_MM:g} to {_MOST_MM:g} mm"
            self.printed[place].turn_down(why)
            self._refuse(why)
            return
        self._refuse("")
        self._printed[place] = mm
        self.refresh()

    def _take_kerf(self, mm: float) -> None:
        if not 0 <= mm <= 20.0:
            why = "a cut is 0 to 20 mm wide"
            self.kerf.turn_down(why)
            self._refuse(why)
            return
        self._refuse("")
        self._kerf_mm = mm
        self.refresh()

    def ask(self, kind: str) -> None:
        """Ask for a file, and write the plate into it."""
        plate = self.plate
        if plate is None:
            return
        folder = self._session.path.parent if self._session.path is not None else Path.home()
        name = f"{_as_file(plate.label)}.{kind}"
        chosen, _ = QFileDialog.getSaveFileName(
            self, f"Write {plate.label}", str(folder / name), _KINDS[kind][1]
        )
        if chosen:
            path = Path(chosen)
            self.write(kind, path if path.suffix else path.with_suffix(f".{kind}"))

    def write(self, kind: str, path: Path) -> None:
        """Write the plate into a file; what became of it is told."""
        plate, told = self.plate, self.told
        if plate is None or told is None:
            return
        session = self._session
        try:
            write_plate(
                session.build,
                plate,
                told,
                path,
                kind,
                paper=self._chosen_paper,
                printed=self._read,
                kerf_mm=self._kerf_mm,
                saved_as=None if session.is_modified else session.path,
            )
        except JovialTackError as error:
            self._refuse(str(error))
            self._say("")
            return
        self._refuse("")
        said = f"{plate.label} is written to {path.name}"
        self._say(sentence(said if kind != "pdf" else f"{said}; measure both scales on it"))

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self.sheets.set_theme(theme)


def _as_file(label: str) -> str:
    """A name as that of a file: letters, figures and hyphens."""
    kept = "".join(letter if letter.isalnum() else "-" for letter in label.casefold())
    return "-".join(part for part in kept.split("-") if part)[:60] or "plate"
