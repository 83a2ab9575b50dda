"""The page of the belt bench on where belts are bought: the build's stock list, read and written."""

from __future__ import annotations

from importlib import resources
from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QPushButton

from jovial_tack.core.errors import JovialTackError
from jovial_tack.document.edits.stock import read_stock, set_stock, write_stock
from jovial_tack.files.companions import read_text
from jovial_tack.files.whole import replace_file
from jovial_tack.ui.belt.along_window import BeltsAlongWindow
from jovial_tack.ui.belt.page import Page
from jovial_tack.ui.session import Session

_FILES = "Stock lists (*.csv *.txt);;All files (*)"
MADE_UP = "orrin-vale-belts.csv"


class StockPage(Page):
    """An open CSV of numbers, prices and counts; without one the generic lengths count."""

    name = "Stock"

    def __init__(self, session: Session, along: BeltsAlongWindow) -> None:
        super().__init__(session, along)
        self.read_button = QPushButton("Read a stock list …")
        self.made_up_button = QPushButton("Take the made-up stockist")
        self.write_button = QPushButton("Write it …")
        self.away_button = QPushButton("Generic lengths instead")
        for place, (button, act) in enumerate(
            (
                (self.read_button, self.ask),
                (self.made_up_button, self._take_made_up),
                (self.write_button, self.write),
                (self.away_button, self._let_go),
            )
        ):
            button.clicked.connect(lambda _=False, a=act: a())
            self.column.insertWidget(place, button)

    def refresh(self) -> None:
        """Tell what is bought from."""
        stock = self._session.build.stock
        for button in (self.write_button, self.away_button):
            button.setVisible(bool(stock))
        if not stock:
            self.show_text(
                "Belts are chosen from generic stock lengths. Read your stockist's list: a CSV with a"
                " column of belt numbers in any common scheme and, if known, price and count."
            )
            return
        priced = sum(entry.price is not None for entry in stock)
        self.show_text(
            f"{len(stock)} belts in the list of this build, {priced} of them priced. For a profile or"
            " width that is not in it the generic lengths count."
        )

    def ask(self) -> None:
        """Ask for a stock list and read it."""
        name, _ = QFileDialog.getOpenFileName(self, "Read a stock list", "", _FILES)
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Take the stock list of a file; what is wrong with it is said and changes nothing."""
        try:
            self._take(read_text(path), path.name)
        except JovialTackError as error:
            self.refuse(f"{path.name} was not taken: {error}.")

    def _take_made_up(self) -> None:
        text = (resources.files("jovial_tack") / "data/stock" / MADE_UP).read_text("utf-8")
        self._take(text, MADE_UP)

    def _take(self, text: str, name: str) -> None:
        session = self._session
        session.edit(f"stock list {name}", set_stock(session.build, read_stock(text)))
        self.refresh()

    def write(self) -> None:
        """Write the stock list to a file of the user's choice."""
        name, _ = QFileDialog.getSaveFileName(self, "Write the stock list", "stock.csv", _FILES)
        if not name:
            return
        try:
            replace_file(Path(name), write_stock(self._session.build.stock).encode())
        except JovialTackError as error:
            self.refuse(f"{error}.")

    def _let_go(self) -> None:
        session = self._session
        session.edit("generic belt lengths", set_stock(session.build, ()))
        self.refresh()
