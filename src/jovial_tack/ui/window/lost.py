"""Lost work at the right of the desk: what was not saved when a window ended, or was thrown away."""

from __future__ import annotations

from datetime import datetime

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from jovial_tack.core.errors import BuildFileError
from jovial_tack.document.differing import differences
from jovial_tack.document.model import Build
from jovial_tack.files.build_file import fingerprint_of, read_build
from jovial_tack.files.recovery import LostWork, lost_work
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.desk_part import empty, scrolled_column
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import heading, together

_HINT = "Each can be taken up again; it belongs to its file then, and is not saved in it yet."
_NONE = "No unsaved work is kept: all that was done here was saved, or is open."


class LostWorkCard(SideCard):
    """One block a build. wanted: it is to be taken up."""

    wanted = pyqtSignal(object)

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__("Lost work", _HINT, parent)
        self._session = session
        column = scrolled_column(self.column)
        self._blocks = QVBoxLayout()
        self._blocks.setSpacing(14)
        column.addLayout(self._blocks)
        column.addStretch(1)
        self.works: list[LostWork] = []
        self.buttons: list[tuple[QPushButton, QPushButton]] = []

    def refresh(self) -> None:
        """Look what there is now."""
        self.works = lost_work(self._session.catalogue)
        self.buttons = []
        empty(self._blocks)
        for work in self.works:
            block = self._block(work)
            self._blocks.addWidget(block)
            block.show()
        if not self.works:
            none = heading("plain")
            none.setText(_NONE)
            self._blocks.addWidget(none)

    def look_again(self) -> None:
        """Some of it was taken up."""
        if self.isVisible():
            self.refresh()

    def _block(self, work: LostWork) -> QWidget:
        block = QWidget()
        column = QVBoxLayout(block)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        title = heading("subheading")
        title.setText(together(work.name))
        column.addWidget(title)
        for line in lines_of(work, self._session):
            said = heading("plain")
            said.setText(together(line))
            column.addWidget(said)
        row = QHBoxLayout()
        recover, out = QPushButton("Recover"), QPushButton("Throw away …")
        for button, what in ((recover, "Recover"), (out, "Throw away")):
            button.setObjectName("act")
            button.setAccessibleName(f"{what} {work.name}")
            row.addWidget(button)
        row.addStretch(1)
        recover.clicked.connect(lambda _=False: self.wanted.emit(work))
        out.clicked.connect(lambda _=False: self._throw_away(work, out))
        self.buttons.append((recover, out))
        column.addLayout(row)
        return block

    def _throw_away(self, work: LostWork, button: QPushButton) -> None:
        """Asked first, where the pointer is; then it is gone for good."""
        sure = "Throw away for good"
        if button.text() != sure:
            button.setText(sure)
            return
        work.throw_away()
        self.refresh()


def lines_of(work: LostWork, session: Session) -> list[str]:
    """Where it belongs, when it was kept, how its file is to it, and what differs: a line each."""
    when = datetime.fromtimestamp(work.at).strftime("%Y-%m-%d %H:%M")
    lines = [f"Kept {when}" + (", thrown away then." if work.let_go else ", not saved then.")]
    if work.path is None:
        lines.append("It was never saved to a file.")
    else:
        lines.append(f"In {work.path.parent}.")
        lines.append(_file_words(work))
    try:
        saved = None if work.path is None else read_build(work.path, session.catalogue).build
    except BuildFileError:
        saved = None
    lines += _content_words(work, saved)
    return lines


def _file_words(work: LostWork) -> str:
    """How the file is to what is kept."""
    assert work.path is not None
    mark = fingerprint_of(work.path)
    if mark is None:
        return "The file is not there any more."
    if work.fingerprint is not None and mark == work.fingerprint:
        return "The file is older: it is as it was before these changes."
    try:
        newer = work.path.stat().st_mtime > work.at
    except OSError:
        newer = False
    if newer:
        return (
            "The file is newer: it was written since. Recovered, this is not saved over it unasked."
        )
    return "The file was written by another hand meanwhile."


def _content_words(work: LostWork, saved: Build | None) -> list[str]:
    lines = []
    if saved is not None:
        differs = differences(work.build, saved)
        lines.append(f"Otherwise than the file: {differs}." if differs else "As in the file.")
    else:
        parts = len(work.build.shafts), len(work.build.drives)
        lines.append(f"It has {parts[0]} shafts and {parts[1]} belt drives.")
    if work.typed:
        texts = ", ".join(f"“{each.text[:40]}” ({each.name})" for each in work.typed[:3])
        lines.append(f"Typed, and in no build: {texts}.")
    return lines
