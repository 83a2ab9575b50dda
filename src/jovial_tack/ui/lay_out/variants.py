"""The variants of a build side by side: verdicts, reserve and hub loads; take one, drop one."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from jovial_tack.answers.comparing import Compared, compare
from jovial_tack.document.edits.variants import drop_variant, keep_variant, take_variant
from jovial_tack.ui.session import Session
from jovial_tack.ui.widgets.blocks import ComparisonPage, compared_block
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.theme import Theme
from jovial_tack.ui.widgets.typed import TextField
from jovial_tack.ui.worker import NewestOnly

_HINT = (
    "Keep the present state as a variant, go on changing, and compare. Taking a variant keeps the"
    " present state as one too; undo works as everywhere."
)


class VariantsCard(SideCard):
    """The variants, at the right of the desk."""

    def __init__(self, session: Session, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__("Variants", _HINT, parent)
        self._session, self._theme = session, theme
        self.compared: tuple[Compared, ...] = ()
        self._worker = NewestOnly(self)
        self._worker.done.connect(self._take)
        self.name = TextField("Name of the variant to keep", draft=True)
        self.name.setPlaceholderText("name of the variant")
        self.keep_button = QPushButton("Keep")
        self.name.returnPressed.connect(self.keep)
        self.keep_button.clicked.connect(lambda _=False: self.keep())
        row = QHBoxLayout()
        row.addWidget(self.name, 1)
        row.addWidget(self.keep_button)
        self._page = ComparisonPage()
        self.column.addLayout(row)
        self.column.addWidget(self._page, 1)
        session.settled.connect(self.refresh)

    @property
    def busy(self) -> bool:
        """Whether the comparison is still to come."""
        return self._worker.busy

    def set_theme(self, theme: Theme) -> None:
        """Paint in another theme."""
        self._theme = theme
        self._show(self.compared)

    def keep(self) -> None:
        """Keep the present state as a variant."""
        name = self.name.text()
        if self._session.attempt("keep a variant", partial(keep_variant, name=name)):
            self.name.change_text("")
            self.refresh()

    def refresh(self) -> None:
        """Compare anew, off the window's thread, if the card is in sight."""
        session = self._session
        if not self.isVisible() or session.is_read_only:
            return
        build, catalogue = session.build, session.catalogue
        self.name.setPlaceholderText("comparing …")
        self._worker.submit(lambda: compare(build, catalogue))

    def close_work(self) -> None:
        """Let running work end."""
        self._worker.finish()

    def _take(self, compared: tuple[Compared, ...]) -> None:
        self.compared = compared
        self.name.setPlaceholderText("name of the variant")
        self._show(compared)

    def _show(self, compared: tuple[Compared, ...]) -> None:
        self._page.show_blocks([self._block(row) for row in compared])

    def _block(self, row: Compared) -> QWidget:
        buttons = [
            (text, partial(self._later, partial(act, row.name)))
            for text, act in (("Take", self._use), ("Drop", self._drop))
        ]
        return compared_block(row, self._theme, () if row.is_present else buttons)

    def _later(self, act: partial[None]) -> None:
        act()
        self.refresh()
        self.name.setFocus()

    def _use(self, name: str) -> None:
        if name not in [variant.name for variant in self._session.build.variants]:
            return  # it has gone since the card was filled
        self._session.attempt(f"take {name}", partial(take_variant, name=name))

    def _drop(self, name: str) -> None:
        self._session.edit(f"drop {name}", drop_variant(self._session.build, name))
