"""The fields of one reading: what it is, between what, and the figure."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QWidget

from jovial_tack.answers.drive.surveyed import label_of, rim_diameters, survey_start
from jovial_tack.core.units import ANGLE, LENGTH, PERCENT, Quantity
from jovial_tack.core.words import sentence
from jovial_tack.document import model as doc
from jovial_tack.document.edits.shafts import arm_of_shaft
from jovial_tack.document.travel import stands_by_share
from jovial_tack.ui.session import Session
from jovial_tack.ui.survey.picture import Held, Picture
from jovial_tack.ui.widgets.elided import ElidedChoice
from jovial_tack.ui.widgets.field_lines import FieldLines
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.text import heading
from jovial_tack.ui.widgets.theme import Theme

#: The kinds that can be chosen, and how many shafts each is of, at least and at most.
KINDS: dict[str, tuple[int, int]] = {
    "distance": (2, 2),
    "outside": (2, 2),
    "inside": (2, 2),
    "tangent": (2, 2),
    "cross": (2, 2),
    "dx": (2, 2),
    "dy": (2, 2),
    "angle": (2, 2),
    "round": (2, 5),
    "over": (3, 5),
    "offset": (3, 3),
    "at": (1, 1),
    "depth": (1, 1),
    "step": (2, 2),
    "belt": (1, 1),
}
_RIMS = ("outside", "inside", "tangent", "cross", "round", "over")
_PULLEYS = ("depth", "step")
_MOST = 5
_WORDS = ("From", "To", "Then", "Then", "Then")
#: What may be put on the engine by naming it in a reading.
_NEW = ("water_pump", "alternator", "power_steering", "compressor", "supercharger", "idler",
        "tensioner", "fan", "jackshaft", "other")  # fmt: skip
_STOOD, _LONG, _SHORT = "stood", "long", "short"


class ReadingForm(QWidget):
    """entered: Enter in the figure, the reading is to be added. refused: why a figure is not taken."""

    entered = pyqtSignal()
    refused = pyqtSignal(str)
    changed = pyqtSignal()

    def __init__(self, session: Session, theme: Theme) -> None:
        super().__init__()
        self._session = session
        self._offered_now: tuple[str, list[tuple[str, str]]] = ("", [])
        self._typed_rims: dict[str, float] = {}  # of shafts that have no pulley, or several
        self._changes: int | None = None  # the reading that is looked at, by its place
        self._lines = lines = FieldLines(self)
        self.kind = ElidedChoice("Kind of reading")
        for key in KINDS:
            self.kind.addItem(session.catalogue.readings[key].label, key)
        lines.add_whole(self.kind)
        self.picture = Picture(theme)
        lines.add_whole(self.picture)
        self.how = heading("faded")
        lines.add_whole(self.how)
        self.of = [ElidedChoice(f"{word}, shaft {k + 1}") for k, word in enumerate(_WORDS)]
        for word, choice in zip(_WORDS, self.of, strict=True):
            self._lines.add_line(word, choice)
            choice.activated.connect(lambda _k: self._shafts_chosen())
        self.value = self._field("What was read", LENGTH, "Read")
        self.value.setPlaceholderText("270.5 or 10 5/8 in")
        self.degrees = self._field("Angle read", ANGLE, "Read")
        self.at_x = self._field("Place to the right", LENGTH, "x")
        self.at_y = self._field("Place upwards", LENGTH, "y")
        self.rims = [self._field(f"Diameter of rim {k + 1}", LENGTH, "Rim") for k in range(_MOST)]
        self.side = ElidedChoice("Side of the rims the level lies on")
        for word, key in (
            ("over the centres", ""),
            ("left of the rims", "left"),
            ("right of the rims", "right"),
        ):
            self.side.addItem(word, key)
        self._lines.add_line("Lies", self.side)
        self.stood = ElidedChoice("What came of the belt")
        for word, key in (
            ("the adjuster stood at", _STOOD),
            ("too long", _LONG),
            ("too short, would not go on", _SHORT),
        ):
            self.stood.addItem(word, key)
        self._lines.add_line("It was", self.stood)
        self.arm = self._field("Angle the arm stood at", ANGLE, "Arm at")
        self.share = self._field("Share of its travel it stood at", PERCENT, "Stood at")
        self.tool = ElidedChoice("Measured with")
        self._lines.add_line("With", self.tool)
        self.sd = self._field("One standard deviation of it", LENGTH, "±")
        self.sd_deg = self._field("One standard deviation of it", ANGLE, "±")
        for k, rim in enumerate(self.rims):
            rim.committed.connect(lambda value, place=k: self._rim_typed(place, value))
        self.kind.activated.connect(lambda _k: self._kind_by_hand())
        self.side.activated.connect(lambda _k: self._show_lines())
        self.stood.activated.connect(lambda _k: self._show_lines())
        self.tool.activated.connect(lambda _k: self._show_sd())
        for field in (self.value, self.degrees, self.at_y):
            field.returnPressed.connect(self._entered)

    def _field(self, name: str, quantity: Quantity, word: str) -> QuantityField:
        field = QuantityField(name, quantity, draft=True)
        field.refused.connect(lambda text: self.refused.emit(sentence(text) if text else ""))
        field.committed.connect(lambda _v: self._draw())
        field.show_value(None, quantity.shown(self._session.build.display_units))
        self._lines.add_line(word, field)
        return field

    # what is chosen

    @property
    def kind_key(self) -> str:
        """The kind of the reading."""
        return str(self.kind.currentData())

    @property
    def names(self) -> list[str]:
        """The shafts, points, pulleys or drive that are chosen; new ones as “+kind”."""
        least, most = KINDS[self.kind_key]
        found = [str(choice.currentData() or "") for choice in self.of[:most]]
        return [name for k, name in enumerate(found) if name or k < least]

    def begin(self) -> None:
        """Begin as with a build that was just opened."""
        self._offered_now = ("", [])
        for choice in self.of:
            choice.clear()
        self._changes = None
        for field in (*self._figures, *self.rims, self.sd, self.sd_deg):
            field.forget_all()
            field.change_value(None)
        self._typed_rims.clear()
        self.kind.setCurrentIndex(0)
        self.kind_chosen()
        self.refresh()

    def refresh(self) -> None:
        """Offer what the present build has; what is chosen stays chosen while it is there."""
        unit = self._session.build.display_units
        for field in (self.value, self.at_x, self.at_y, *self.rims, self.sd):
            field.show_in(LENGTH.shown(unit))
        for field in (self.degrees, self.arm, self.sd_deg):
            field.show_in("°")
        self.share.show_in(PERCENT.unit)
        self._offer()
        self._show_lines()

    def _offer(self) -> None:
        build, kind = self._session.build, self.kind_key
        least, most = KINDS[kind]
        offered = _offered(build, kind, self._session.catalogue.kinds)
        if (kind, offered) == self._offered_now:
            return  # while something is dragged nothing else can be chosen than before
        self._offered_now = kind, offered
        for k, choice in enumerate(self.of):
            before = choice.currentData()
            choice.blockSignals(True)
            choice.clear()
            if k >= least:
                choice.addItem("–", "")
            for label, name in offered:
                choice.addItem(label, name)
            place = choice.findData(before)
            if place < 0 or before is None:
                place = 0 if k >= least else min(k, max(choice.count() - 1, 0))
            choice.setCurrentIndex(place)
            choice.blockSignals(False)
            self._lines.show_line(choice, shown=k < most)
            self._lines.rename(choice, _word(kind, k))

    def kind_chosen(self) -> None:
        """Another kind: its shafts, its tools, its ±."""
        self._offer()
        row = self._session.catalogue.readings[self.kind_key]
        self.tool.clear()
        for tool in row.tools:
            self.tool.addItem(tool, tool)
        for tool in self._session.build.survey.instruments:
            self.tool.addItem(tool, tool)
        self._fill_rims()
        self._show_sd()
        self._show_lines()

    def _show_sd(self) -> None:
        row, tool = self._session.catalogue.readings[self.kind_key], self.tool.currentData()
        own = self._session.build.survey.instruments.get(str(tool))
        sd = row.sd_with(tool) if own is None or own.sd_mm is None else own.sd_mm
        for field in (self.sd, self.sd_deg):
            field.belong((self.kind_key, tool))
        if self.kind_key == "angle":
            self.sd_deg.show_figure(sd)
        else:
            self.sd.show_figure(None if self.kind_key == "belt" else sd)

    @property
    def _figures(self) -> tuple[QuantityField, ...]:
        """The fields of what was read."""
        return self.value, self.degrees, self.at_x, self.at_y, self.arm, self.share

    @property
    def _of(self) -> tuple[object, ...]:
        """What the figures typed belong to: the reading that is changed, or a new one between these."""
        if self._changes is not None:
            return "change", self._changes
        return "new", self.kind_key, *self.names

    def _look_at(self, changes: int | None) -> None:
        """Show what is typed of the reading that is changed; None: of a new one."""
        self._changes = changes
        for field in self._figures:
            field.belong(self._of)

    def enter_typed(self) -> None:
        """What is typed was entered in the build."""
        for field in (*self._figures, *self.rims, self.sd, self.sd_deg):
            field.enter()

    def _kind_by_hand(self) -> None:
        """Another kind is chosen: what is typed is meant for it now."""
        self.kind_chosen()
        for field in self._figures:
            field.carry(self._of)

    def _shafts_chosen(self) -> None:
        for field in self._figures:
            field.carry(self._of)
        self._fill_rims()
        self._draw()
        self.changed.emit()

    def _rim_typed(self, place: int, value: float) -> None:
        name = str(self.of[place].currentData() or "")
        if name and not name.startswith("+") and self.kind_key not in _PULLEYS:
            self._typed_rims[name] = value

    def _fill_rims(self) -> None:
        """The diameters the build has; one that was typed is kept where it has none."""
        build = self._session.build
        for k, field in enumerate(self.rims):
            name = str(self.of[k].currentData() or "")
            known = rim_diameters(build, name)
            typed = self._typed_rims.get(name)
            field.belong((self.kind_key, name))
            field.show_figure(typed if typed is not None else known[0] if known else None)

    def _show_lines(self) -> None:
        kind, build = self.kind_key, self._session.build
        count = len(self.names)
        is_place, is_angle, is_belt = kind == "at", kind == "angle", kind == "belt"
        self.how.setText(f"{self._session.catalogue.readings[kind].how}.")
        self._lines.show_line(self.value, shown=not (is_place or is_angle))
        self._lines.rename(self.value, "Length" if is_belt else "Read")
        self._lines.show_line(self.degrees, shown=is_angle)
        for field in (self.at_x, self.at_y):
            self._lines.show_line(field, shown=is_place)
        rims = kind in _RIMS or (is_angle and bool(self.side.currentData()))
        for k, field in enumerate(self.rims):
            inner = kind != "over" or 0 < k < count - 1
            self._lines.show_line(
                field, shown=(rims and k < count and inner) or (kind in _PULLEYS and k < count)
            )
            self._lines.rename(field, self._rim_word(kind, k))
        self._lines.show_line(self.side, shown=is_angle)
        self._lines.show_line(self.stood, shown=is_belt)
        stood = is_belt and self.stood.currentData() == _STOOD
        tensioner = self._tensioner(build) if is_belt else None
        self._lines.show_line(
            self.arm, shown=stood and isinstance(tensioner, doc.SpringArmTensioner)
        )
        self._lines.show_line(self.share, shown=stood and stands_by_share(tensioner))
        self._lines.show_line(self.tool, shown=not is_belt)
        self._lines.show_line(self.sd, shown=not is_angle)
        self._lines.show_line(self.sd_deg, shown=is_angle)
        self._draw()

    def _tensioner(self, build: doc.Build) -> doc.Tensioner | None:
        drive = build.find_drive(self.names[0]) if self.names else None
        return None if drive is None else drive.tensioner

    def _rim_word(self, kind: str, k: int) -> str:
        label = self.of[k].currentText() or f"{k + 1}"
        return f"{'Width' if kind in _PULLEYS else 'Rim'}, {label}"[:26]

    def _draw(self) -> None:
        build, kind = self._session.build, self.kind_key
        if kind in _PULLEYS:
            labels = tuple(self.of[k].currentText() for k in range(KINDS[kind][0]))
            self.picture.show_held(Held(kind, (0j,), (0.0,), labels))
            return
        names = self.names
        if kind == "belt":
            self.picture.show_held(_belt_held(build, names))
            return
        places: list[complex] = []
        radii: list[float] = []
        shown: list[str] = []
        for k, name in enumerate(names):
            start = survey_start(build, name)
            places.append(complex(160.0 * (k + 1), 40.0) if start is None else start)
            known = rim_diameters(build, name)
            typed = self.rims[k].value if k < _MOST else None
            radii.append((typed or (known[0] if known else 0.0)) / 2)
            shown.append("" if start is None else label_of(build, name))
        held = Held(kind, tuple(places), tuple(radii), tuple(shown))
        self.picture.show_held(held if len(places) > 0 else None)

    def _entered(self) -> None:
        if not any(
            field.isModified() for field in (self.value, self.degrees, self.at_x, self.at_y)
        ):
            self.entered.emit()

    # to and from readings

    def propose(self, kind: str, names: list[str], changes: int | None = None) -> None:
        """Have a reading of a kind between some shafts ready to be typed; changes: that of a place."""
        self.kind.setCurrentIndex(self.kind.findData(kind))
        self.kind_chosen()
        for choice, name in zip(self.of, names, strict=False):
            place = choice.findData(name)
            if place >= 0:
                choice.setCurrentIndex(place)
        self._look_at(changes)
        self._fill_rims()
        for field in (self.value, self.degrees):
            field.show_figure(None)
        self._show_lines()
        (self.degrees if kind == "angle" else self.value).setFocus()

    def show_reading(self, reading: doc.AnyReading, place: int) -> None:
        """Show a reading that is there, to be changed; what is typed of it stands."""
        names = [str(name) for name in getattr(reading, "shafts", ())]
        if isinstance(reading, doc.DepthReading):
            names = ["/".join(reading.pulley)]
        elif isinstance(reading, doc.StepReading):
            names = ["/".join(pulley) for pulley in reading.pulleys]
        elif isinstance(reading, doc.BeltReading):
            names = [reading.drive or ""]
        if self.kind.findData(reading.type) < 0:
            return
        self.propose(reading.type, names, place)
        if isinstance(reading, doc.AngleReading):
            self.degrees.show_figure(reading.value_deg)
            self.side.setCurrentIndex(self.side.findData(reading.side or ""))
            self.sd_deg.show_figure(reading.sd_deg or self.sd_deg.value)
        elif isinstance(reading, doc.AtReading):
            self.at_x.show_figure(reading.at_mm[0])
            self.at_y.show_figure(reading.at_mm[1])
        elif isinstance(reading, doc.BeltReading):
            self.value.show_figure(reading.effective_length_mm)
            self.stood.setCurrentIndex(self.stood.findData(reading.verdict or _STOOD))
            self.arm.show_figure(reading.arm_angle_deg)
            share = reading.travel_share
            self.share.show_figure(None if share is None else 100 * share)
        elif not isinstance(reading, doc.PatternReading):
            self.value.show_figure(reading.value_mm)
        self._show_widths(reading)
        if reading.instrument and self.tool.findData(reading.instrument) >= 0:
            self.tool.setCurrentIndex(self.tool.findData(reading.instrument))
            self._show_sd()
        sd = getattr(reading, "sd_mm", None)
        if sd is not None:
            self.sd.show_figure(sd)
        self._show_lines()

    def _show_widths(self, reading: doc.AnyReading) -> None:
        given = getattr(reading, "diameters_mm", None) or getattr(reading, "rims_mm", None)
        if isinstance(reading, doc.DepthReading) and reading.rim_mm is not None:
            given = (reading.rim_mm,)
        if given is None or isinstance(reading, doc.DxReading | doc.DyReading):
            return
        first = 1 if isinstance(reading, doc.OverReading) else 0
        for field, value in zip(self.rims[first:], given, strict=False):
            field.show_figure(value)

    def missing(self) -> str:
        """What still must be typed or chosen, in a sentence; "" if nothing."""
        kind, names = self.kind_key, self.names
        least = KINDS[kind][0]
        if len([name for name in names if name]) < least:
            return "Choose what it is between first."
        if len(set(names)) < len(names):
            return "That is of one shaft to itself: choose another for one of them."
        value = {"angle": self.degrees, "at": self.at_x}.get(kind, self.value).value
        if value is None or (kind == "at" and self.at_y.value is None):
            return "Type what was read."
        signed = kind in ("dx", "dy", "offset", "depth", "step", "at", "angle")
        if not signed and value <= 0:
            return "What was read is above zero."
        sd = self.sd_deg.value if kind == "angle" else self.sd.value
        if sd is not None and sd <= 0:
            return "The ± is above zero: how far another hand might read it."
        if kind in _RIMS:
            places = range(1, len(names) - 1) if kind == "over" else range(len(names))
            for k in places:
                if not self.rims[k].value:
                    if arm_of_shaft(self._session.build, names[k]) is not None:
                        return (
                            "Its pulley swings: measure to the arm's pivot bolt, centre to centre."
                        )
                    return f"Type the diameter of the rim of {self.of[k].currentText()}."
        return self._missing_of_belt() if kind == "belt" else ""

    def _missing_of_belt(self) -> str:
        if self.stood.currentData() != _STOOD:
            return ""
        tensioner = self._tensioner(self._session.build)
        if isinstance(tensioner, doc.SpringArmTensioner) and self.arm.value is None:
            return "Type the angle the arm stood at, or choose that the belt was too long or too short."
        if isinstance(tensioner, doc.LockedTensioner) and self.share.value is None:
            mount = self._session.build.shaft(tensioner.shaft).mount
            if isinstance(mount, doc.SlotMount | doc.SwingMount):
                return "Type where on its travel the shaft stood."
        if isinstance(tensioner, doc.SpringSlideTensioner) and self.share.value is None:
            return "Type where on its travel the slide stood."
        return ""

    def as_file(self, names: list[str]) -> dict[str, Any]:
        """The reading as it stands in the file. names: those chosen, new shafts put on by now."""
        kind = self.kind_key
        said: dict[str, Any] = {"type": kind}
        if kind == "belt":
            return said | self._belt(names)
        if kind == "depth":
            said["pulley"] = names[0].split("/", 1)
            said |= {} if self.rims[0].value is None else {"rim_mm": self.rims[0].value}
        elif kind == "step":
            said["pulleys"] = [name.split("/", 1) for name in names]
            widths = [field.value for field in self.rims[:2]]
            said |= {} if None in widths else {"rims_mm": widths}
        else:
            said["shafts"] = names
        if kind == "angle":
            said["value_deg"] = self.degrees.value
            said["sd_deg"] = self.sd_deg.value
            if self.side.currentData():
                said["side"] = self.side.currentData()
                said["diameters_mm"] = [field.value for field in self.rims[:2]]
        elif kind == "at":
            said["at_mm"] = [self.at_x.value, self.at_y.value]
            said["sd_mm"] = self.sd.value
        else:
            said["value_mm"] = self.value.value
            said["sd_mm"] = self.sd.value
        if kind in _RIMS:
            places = range(1, len(names) - 1) if kind == "over" else range(len(names))
            said["diameters_mm"] = [self.rims[k].value for k in places]
        said["instrument"] = str(self.tool.currentData() or "")
        return {key: value for key, value in said.items() if value is not None}

    def _belt(self, names: list[str]) -> dict[str, Any]:
        said: dict[str, Any] = {"drive": names[0], "effective_length_mm": self.value.value}
        if self.stood.currentData() != _STOOD:
            said["verdict"] = self.stood.currentData()
        elif isinstance(self._tensioner(self._session.build), doc.SpringArmTensioner):
            said["arm_angle_deg"] = self.arm.value
        elif self.share.value is not None:
            said["travel_share"] = self.share.value / 100
        if self.sd.value:
            said["sd_mm"] = self.sd.value
        return {key: value for key, value in said.items() if value is not None}


def _belt_held(build: doc.Build, names: list[str]) -> Held | None:
    """A drive's belt as it runs, to be drawn."""
    drive = build.find_drive(names[0]) if names else None
    if drive is None:
        return None
    pulleys = [drive.pulley(name) for name in drive.route]
    stands = {shaft.id: complex(*shaft.center_mm) for shaft in build.shafts}
    crank = -1 if build.engine.crank_rotation == "cw" else 1
    return Held(
        "belt",
        tuple(stands[pulley.shaft] for pulley in pulleys),
        tuple(pulley.diameter_mm / 2 for pulley in pulleys),
        tuple("" for _ in pulleys),  # the view beside it names them
        tuple(crank if pulley.side == "ribs" else -crank for pulley in pulleys),
    )


def _word(kind: str, k: int) -> str:
    if kind == "belt":
        return "On"
    if kind == "at":
        return "Of"
    if kind == "depth":
        return "To"
    return _WORDS[k]


def _offered(build: doc.Build, kind: str, kinds: Any) -> list[tuple[str, str]]:
    """What a reading of a kind can be of: label and name; new shafts as “+kind”."""
    if kind == "belt":
        return [(drive.label, drive.id) for drive in build.drives]
    if kind in _PULLEYS:
        return [
            (f"{build.shaft(p.shaft).label}, {drive.label}", f"{drive.id}/{p.id}")
            for drive in build.drives
            for p in drive.pulleys
        ]
    here = [(label_of(build, shaft.id), shaft.id) for shaft in build.shafts]
    here += [(point.label, point.id) for point in build.survey.points]
    new = [(f"+ new {kinds[name].label.lower()}", f"+{name}") for name in _NEW if name in kinds]
    return [*here, *new, ("+ new point (a bolt, a dowel)", "+point")]
