"""What the finder may choose among: a line for each thing that may change, the aim and the limits."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QGridLayout, QHBoxLayout, QVBoxLayout, QWidget

from jovial_tack.answers.finder.offers import (
    Offer,
    changed_offer,
    choices_of,
    offers_of,
    sizes_text,
    sizes_typed,
)
from jovial_tack.answers.finder.space import FinderError
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import JovialTackError
from jovial_tack.core.units import PRESSURE, RATIO, parse
from jovial_tack.core.words import sentence
from jovial_tack.document.model import Build, Choices, RatioTarget, make
from jovial_tack.ui.widgets.elided import ElidedChoice
from jovial_tack.ui.widgets.field_lines import FieldLines
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.text import heading, together
from jovial_tack.ui.widgets.typed import Parked, TextField, take_typed

AIMS = (
    ("reserve", "most grip"),
    ("ratio", "the ratio"),
    ("hub_load", "least pull on a hub"),
    ("cost", "least to pay"),
    ("owned", "least to buy"),
)
NEEDS = (
    ("holds", "holds at all revs"),
    ("goes_on", "can be put on"),
    ("not_tight", "not too tight"),
    ("clear", "nothing in the way"),
    ("no_stop", "makes no other stop"),
)


class FinderForm(QWidget):
    """asked: to find, with Return in a field."""

    asked = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 8, 0)
        column.setSpacing(8)
        self._lines = QGridLayout()
        self._lines.setHorizontalSpacing(8)
        self._lines.setVerticalSpacing(4)
        self._lines.setColumnStretch(1, 1)
        self.rows: list[tuple[Offer, QCheckBox, TextField | None]] = []
        self.aim = ElidedChoice("What is looked for")
        for key, words in AIMS:
            self.aim.addItem(words, key)
        self.keeps_ratio = QCheckBox("Keep the ratio of")
        self.ratio = QuantityField("Ratio to keep", RATIO, draft=True)
        self.within = QuantityField("How far it may be off", RATIO, draft=True)
        for field in (self.ratio, self.within):
            field.returnPressed.connect(self._ratio_entered)
            field.refused.connect(self._tell)
        self.boost = TextField("Boost at redline, from and to, kPa", draft=True)
        self.boost.setPlaceholderText("any, or such as 45 to 60 kPa")
        self._parked = Parked(self)
        self.boost.returnPressed.connect(self.asked)
        self.needs = {key: QCheckBox(words) for key, words in NEEDS}
        self.told = heading("faded")
        self._unit, self._step, self._pulley, self._drive = "mm", 1.0, "", ""
        self._has_boost = False
        column.addWidget(_heading("What may change"))
        column.addLayout(self._lines)
        column.addWidget(_heading("What is looked for"))
        self._fields = FieldLines()
        self._fields.add_line("Best is", self.aim)
        column.addLayout(self._fields)
        ratio = QHBoxLayout()
        ratio.addWidget(self.ratio)
        self._off = heading("faded")
        self._off.setText("±")
        self._off.setWordWrap(False)
        ratio.addWidget(self._off)
        ratio.addWidget(self.within)
        column.addWidget(self.keeps_ratio)
        column.addLayout(ratio)
        self._fields_boost = FieldLines()
        self._fields_boost.add_line("Boost at redline", self.boost)
        column.addLayout(self._fields_boost)
        needs = QGridLayout()
        for k, box in enumerate(self.needs.values()):
            box.setChecked(True)
            needs.addWidget(box, k // 2, k % 2)
        column.addLayout(needs)
        column.addWidget(self.told)
        column.addStretch(1)
        self.keeps_ratio.toggled.connect(self._follow)

    def show_drive(
        self, build: Build, drive_id: str, catalogue: Catalogue, ratio: tuple[str, float] | None
    ) -> None:
        """Offer what a drive lets change. ratio: of which pulley it is told, and what it is today."""
        self._unit, self._drive = build.display_units, drive_id
        self._step = catalogue.parts.pulley_step(self._unit)
        self._forget()
        for offer in offers_of(build, drive_id, catalogue):
            self._add(offer)
        self._parked.bring_back(self._by_offer())
        kept = build.choices if build.choices and build.choices.drive == drive_id else None
        self._show_limits(build, kept, ratio)

    def _show_limits(
        self, build: Build, kept: Choices | None, ratio: tuple[str, float] | None
    ) -> None:
        if kept is not None:
            self.aim.setCurrentIndex([key for key, _ in AIMS].index(kept.aim))
            for key, box in self.needs.items():
                box.setChecked(key in kept.needs)
        target = None if kept is None else kept.target
        self._pulley = target.pulley if target else ratio[0] if ratio else ""
        if self._pulley:
            shaft = build.shaft(build.drive(self._drive).pulley(self._pulley).shaft)
            self.keeps_ratio.setText(f"Keep the ratio of {shaft.label}")
            now = target.ratio if target else ratio[1] if ratio else 1.0
            off = target.tolerance if target else round(0.03 * now, 3)
            self.ratio.show_value(now, "", 3, of=self._drive)
            self.within.show_value(off, "", 3, of=self._drive)
            self.keeps_ratio.setChecked(target is not None or kept is None)
        for widget in (self.keeps_ratio, self.ratio, self._off, self.within):
            widget.setVisible(bool(self._pulley))
        blowers = [build.shaft(p.shaft) for p in build.drive(self._drive).pulleys]
        self._has_boost = any(shaft.kind == "supercharger" and shaft.load for shaft in blowers)
        self._fields_boost.show_line(self.boost, shown=self._has_boost)
        band = None if kept is None else kept.boost_kpa
        shown = "" if band is None else f"{band[0]:g} to {band[1]:g} kPa"
        self.boost.show_text(shown, of=self._drive)
        self._follow()

    def _add(self, offer: Offer) -> None:
        row = len(self.rows)
        box = QCheckBox(offer.words)
        box.setChecked(offer.ticked)
        field = None
        if offer.is_typed:
            field = TextField(f"Sizes of {offer.words}", draft=True, most=2000)
            field.show_text(sizes_text(offer, self._unit), of=(self._drive, offer.kind, offer.of))
            field.setToolTip("72, 76, 80 · 1150 to 1300 of what is at hand · 70 to 80 by 2")
            field.textEdited.connect(lambda _text, b=box: b.setChecked(True))
            field.returnPressed.connect(self.asked)
            field.setCursorPosition(0)
            self._lines.addWidget(box, row, 0)
            self._lines.addWidget(field, row, 1)
        else:
            self._lines.addWidget(box, row, 0, 1, 2)
        self.rows.append((offer, box, field))

    def _by_offer(self) -> dict[str, TextField]:
        """The fields of sizes, by what they are of."""
        return {str(field.of): field for _, _, field in self.rows if field is not None}

    def enter_typed(self) -> None:
        """What is typed was entered in the build."""
        for field in (self.ratio, self.within, self.boost, *self._by_offer().values()):
            field.enter()

    def _ratio_entered(self) -> None:
        if not any(field.reason for field in (self.ratio, self.within)):
            self.asked.emit()

    def _tell(self, text: str) -> None:
        self.told.setText(together(sentence(text)) if text else "")

    def _forget(self) -> None:
        self._parked.put_away(self._by_offer())
        for _, box, field in self.rows:
            for widget in (box, field):
                if widget is not None:
                    self._lines.removeWidget(widget)
                    widget.deleteLater()
        self.rows = []
        self.told.setText("")

    def _follow(self) -> None:
        """What does not count is greyed."""
        for field in (self.ratio, self.within):
            field.setEnabled(self.keeps_ratio.isChecked() and bool(self._pulley))

    def choices(self) -> Choices | None:
        """What is chosen; None, and told, where something typed is not understood."""
        take_typed()
        try:
            offers = self._typed()
            more = self._limits()
            return choices_of(self._drive, offers, **more)
        except JovialTackError as error:
            self.told.setText(together(sentence(str(error))))
        return None

    def _typed(self) -> Sequence[Offer]:
        offers = []
        for offer, box, field in self.rows:
            if not box.isChecked():
                offers.append(changed_offer(offer, offer.values, ticked=False))
            elif field is None or not field.is_typed:
                offers.append(changed_offer(offer, offer.values, ticked=True))
            else:
                offers.append(sizes_typed(offer, field.text(), self._unit, self._step))
        return offers

    def _limits(self) -> dict[str, object]:
        aim = self.aim.currentData()
        more: dict[str, object] = {"aim": aim}
        if self._pulley and (self.keeps_ratio.isChecked() or aim == "ratio"):
            ratio, within = self._figure(self.ratio), self._figure(self.within)
            data = {"pulley": self._pulley, "ratio": ratio, "tolerance": within}
            more["target"] = make(RatioTarget, data)
        more["needs"] = tuple(key for key, box in self.needs.items() if box.isChecked())
        if self._has_boost and self.boost.text().strip():
            more["boost_kpa"] = _band_kpa(self.boost.text())
        return more

    @staticmethod
    def _figure(field: QuantityField) -> float:
        if field.reason or field.value is None:
            why = field.reason or "a figure such as 2.124"
            raise FinderError(f"{field.name}: {why}")
        return field.value


def _band_kpa(text: str) -> tuple[float, float]:
    """From and to of a typed boost, kPa; one figure is both. Raises UnitError."""
    low, _, high = text.lower().partition("to")
    high = high.strip() or low
    unit = high.strip().lstrip("0123456789.,+- ")
    if low.strip()[-1:].isdigit():  # “45 to 60 psi”: the unit of both stands behind the second
        low = f"{low.strip()} {unit}"
    return parse(low, PRESSURE, "kPa"), parse(high, PRESSURE, "kPa")


def _heading(words: str) -> QWidget:
    title = heading("subheading")
    title.setText(words)
    return title
