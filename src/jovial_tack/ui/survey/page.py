"""The survey at the right of the desk: one reading to type, and what all of them say."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from jovial_tack.answers.drive.surveyed import stands_as_surveyed, surveyed
from jovial_tack.answers.survey.taking import taken
from jovial_tack.answers.survey.told import doubt_words, survey_words
from jovial_tack.core.errors import BuildFileError
from jovial_tack.core.units import format_length
from jovial_tack.core.words import sentence
from jovial_tack.document import model as doc
from jovial_tack.document.edits.shafts import add_shaft
from jovial_tack.document.edits.survey import (
    add_point,
    add_reading,
    change_reading,
    exchange_reading,
    remove_reading,
)
from jovial_tack.ui.session import Session
from jovial_tack.ui.survey.form import ReadingForm
from jovial_tack.ui.survey.readings import Readings
from jovial_tack.ui.survey.stand import StandForm
from jovial_tack.ui.widgets.desk_part import DeskPart, scrolled
from jovial_tack.ui.widgets.flow import FlowLayout
from jovial_tack.ui.widgets.text import heading, together
from jovial_tack.ui.widgets.theme import Theme

_CAUTION = (
    "Engine off, key out, fan unplugged, hot parts cold before hands go in. ± is one standard deviation"
    " throughout; ellipses hold 95 % and are drawn ten times as large."
)


class SurveyPage(DeskPart):
    """What to hold where, the figure, and what the readings say.

    take_wanted: the shafts are to be moved; pattern_wanted: a bolt pattern is to be read; needs_wanted,
    shelf_wanted: their cards.
    """

    take_wanted = pyqtSignal()
    pattern_wanted = pyqtSignal()
    needs_wanted = pyqtSignal()
    shelf_wanted = pyqtSignal()

    def __init__(self, session: Session, readings: Readings, theme: Theme) -> None:
        super().__init__()
        self._session, self._readings = session, readings
        self.setObjectName("card")
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        inside = QWidget()
        column = QVBoxLayout(inside)
        column.setContentsMargins(16, 14, 16, 10)
        column.setSpacing(8)
        title = heading()
        title.setText("Survey")
        self.form = ReadingForm(session, theme)
        self.refusal = heading("badfigure")
        self.refusal.hide()
        self.add_button = self._button("Add the reading", self.enter)
        self.others = QWidget()
        flow = FlowLayout(self.others, 6)
        self.aside_button = self._button("Set aside", self.set_aside)
        self.remove_button = self._button("Take away", self.remove)
        self.new_button = self._button("New reading", self.begin_anew)
        self.pattern_button = self._button("Bolt pattern …", self.pattern_wanted.emit)
        self.shelf_button = self._button("Shelf", self.shelf_wanted.emit)
        self.needs_button = self._button("Still needed", self.needs_wanted.emit)
        for button in (
            self.pattern_button,
            self.shelf_button,
            self.needs_button,
            self.aside_button,
            self.remove_button,
            self.new_button,
        ):
            button.setObjectName("act")
            flow.addWidget(button)
        self.stand = StandForm(session, self.refuse)
        self.known = heading("subheading")
        self.said = heading("plain")
        self.take_button = self._button("Move the shafts there …", self.take_wanted.emit)
        for widget in (
            title,
            self.form,
            self.refusal,
            self.add_button,
            self.others,
            self.known,
            self.take_button,
            self.said,
            self.stand,
        ):
            column.addWidget(widget)
        column.addStretch(1)
        outer.addWidget(scrolled(inside), 1)
        caution = heading("caution")
        caution.setText(_CAUTION)
        outer.addWidget(caution)
        self.form.entered.connect(self.enter)
        self.form.refused.connect(self.refuse)
        readings.changed.connect(self._show_said)
        readings.chosen_changed.connect(self._show_chosen)
        session.build_changed.connect(self._offer)
        session.replaced.connect(self._start_over)
        self.form.kind_chosen()

    def _button(self, text: str, act: Callable[[], object]) -> QPushButton:
        button = QPushButton(text)
        button.clicked.connect(lambda _=False: act())
        return button

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self.form.picture.set_theme(theme)

    def close_work(self) -> None:
        """Let running work end."""
        self._readings.close()

    def refresh(self) -> None:
        """Show the session as it is now."""
        self.form.refresh()
        self.stand.refresh()
        self._show_said()
        self._show_chosen()

    def _start_over(self) -> None:
        self.refuse("")
        self.form.begin()

    def _offer(self) -> None:
        if self.isVisible():
            self.form.refresh()
            self.stand.refresh()

    def refuse(self, text: str) -> None:
        """Say why a reading is not taken; nothing once it is put right."""
        self.refusal.setText(text)
        self.refusal.setVisible(bool(text))

    # readings

    def enter(self) -> None:
        """Add the reading that is typed, or change the one that is looked at."""
        session, form = self._session, self.form
        if session.is_read_only:
            return
        missing = form.missing()
        if missing:
            self.refuse(missing)
            return
        build, names = _with_new(session, form.names)
        reading = form.as_file(names)
        chosen = self._readings.chosen
        try:
            if chosen is None:
                made, label = add_reading(build, reading), "reading of the survey"
            else:
                made, label = exchange_reading(build, chosen, reading), "change a reading"
        except BuildFileError as error:
            self.refuse(f"This needs {error.expected}.")
            return
        self.refuse("")
        form.enter_typed()
        session.edit(label, self._drawn_there(made))
        if chosen is None:
            form.propose(form.kind_key, names)
        else:
            self._readings.choose(None)

    def _drawn_there(self, build: doc.Build) -> doc.Build:
        """A build that is not laid out yet is drawn as it was measured, without being asked."""
        found = None
        if not build.drives:
            found = surveyed(build, self._session.catalogue, search=False)
        return build if found is None else taken(build, found)

    def take_next(self) -> None:
        """Have the reading that would help most ready to be typed."""
        told = self._readings.told
        if told is None or told.next is None:
            return
        self._readings.choose(None)
        self.form.propose(told.next.kind, list(told.next.names))

    def begin_anew(self) -> None:
        """Let go of the reading that is looked at, and type a new one."""
        self._readings.choose(None)
        self.form.propose(self.form.kind_key, [name for name in self.form.names if name])

    def remove(self) -> None:
        """Take away the reading that is looked at."""
        chosen, session = self._readings.chosen, self._session
        if chosen is not None and not session.is_read_only:
            self._readings.choose(None)
            session.edit("take a reading away", remove_reading(session.build, chosen))

    def set_aside(self) -> None:
        """Keep the reading that is looked at, and use it no more; or use it again."""
        chosen, session = self._readings.chosen, self._session
        if chosen is None or session.is_read_only:
            return
        aside = session.build.survey.readings[chosen].set_aside
        made = change_reading(session.build, chosen, set_aside=None if aside else True)
        session.edit("use a reading again" if aside else "set a reading aside", made)

    # what is shown

    def _show_chosen(self) -> None:
        chosen, build = self._readings.chosen, self._session.build
        there = chosen is not None and chosen < len(build.survey.readings)
        self.add_button.setText("Change it" if there else "Add the reading")
        for button in (self.aside_button, self.remove_button, self.new_button):
            button.setVisible(there)
        for button in (self.pattern_button, self.shelf_button, self.needs_button):
            button.setVisible(not there)
        if there:
            assert chosen is not None
            reading = build.survey.readings[chosen]
            self.aside_button.setText("Use it again" if reading.set_aside else "Set aside")
            self.form.show_reading(reading, chosen)
            self._show_doubt(chosen)
            self.add_button.setEnabled(not isinstance(reading, doc.PatternReading))
        else:
            self.add_button.setEnabled(True)
            self.refuse("")

    def _show_doubt(self, place: int) -> None:
        """Say of the reading that is looked at why it does not fit, or is not used."""
        told = self._readings.told
        if told is None or place >= len(told.readings):
            return
        reading = told.readings[place]
        if reading.doubt is not None:
            self.refuse(f"{doubt_words(self._session.build, told, reading)}.")
        else:
            self.refuse(sentence(reading.problem) if reading.problem else "")

    def _show_said(self) -> None:
        readings, build = self._readings, self._session.build
        told, unit = readings.told, self._session.build.display_units
        if told is None or not build.survey.readings:
            self.known.setText("")
            self.said.setText(readings.problem or _BEGIN)
            self.take_button.hide()
            return
        lines = [
            f"{build.drive(drive).label}: belt ± {format_length(sd, unit)}"
            for drive, sd in told.drives
            if build.find_drive(drive) is not None
        ]
        self.known.setText(together("\n".join(lines)))
        self.known.setVisible(bool(lines))
        words = survey_words(build, told)
        if readings.pending:
            words.append("Still looking for other arrangements and for readings that do not fit …")
        there = readings.found is not None and stands_as_surveyed(build, readings.found)
        if not words:
            words.append("Every reading fits the others.")
        if there and any(shaft.determined and shaft.read for shaft in told.shafts):
            words.append("The shafts are drawn where the readings put them.")
        self.said.setText(together("\n\n".join(words)))
        self.take_button.setVisible(not there)
        self.take_button.setEnabled(not self._session.is_read_only)


_BEGIN = (
    "Type readings in the order they are taken; nothing must be set up first. New shafts are put on by"
    " naming them: choose “+ new …” beside To. Each reading comes with its ±; what the readings leave"
    " open, and the next one to take, is told below the view. File, Open the survey demo shows one."
)


def _with_new(session: Session, names: list[str]) -> tuple[doc.Build, list[str]]:
    """The build with shafts put on that were named as new, and their names."""
    build, found = session.build, []
    for name in names:
        if name == "+point":
            build, made = add_point(build, "", (120.0, 120.0))
            found.append(made)
        elif name.startswith("+"):
            build, made = add_shaft(build, name[1:], session.catalogue)
            found.append(made)
        else:
            found.append(name)
    return build, found
