"""The cards of what it lasted and cost, and of what sellers ask."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from functools import partial

from PyQt6.QtWidgets import QGridLayout, QPushButton, QVBoxLayout, QWidget

from jovial_tack.answers.logbook.words import cost_words, life_words, offer_lines, wear_words
from jovial_tack.core.logbook.due import read_day
from jovial_tack.core.units import COUNT, MONEY, Quantity
from jovial_tack.core.words import capital, sentence
from jovial_tack.document.edits.logbook import add_offer, remove_offer, set_offer
from jovial_tack.document.model import Build, Offer
from jovial_tack.ui.logbook.book import Book
from jovial_tack.ui.widgets.desk_part import empty, scrolled_column
from jovial_tack.ui.widgets.fields import QuantityField
from jovial_tack.ui.widgets.side_card import SideCard
from jovial_tack.ui.widgets.text import Label, heading, together
from jovial_tack.ui.widgets.typed import Parked, TextField, TypedField

_LASTED = "As your own record shows it; nothing here is predicted beyond it."
_OFFERS = "A belt has several numbers and prices: side by side, by drive."


class RecordCard(SideCard):
    """Lives by construction, wear, tension kept, costs."""

    def __init__(self, book: Book, parent: QWidget | None = None) -> None:
        super().__init__("What it lasted and cost", _LASTED, parent)
        self._book = book
        self.said = heading("plain")
        column = scrolled_column(self.column)
        column.addWidget(self.said)
        column.addStretch(1)
        book.changed.connect(self.refresh)

    def refresh(self) -> None:
        """Show the present record."""
        if not self.isVisible():
            return
        told, build = self._book.told, self._book.session.build
        system = build.display_units
        parts: list[tuple[str, list[str]]] = [
            ("Lives", [life_words(each, system) for each in told.lives]),
            ("Wear", [wear_words(build, each, told.unit) for each in told.wear]),
            (
                "Tension kept",
                [
                    f"{each.at}, {self._label(each.drive)}: {100 * each.share:.0f} % of what it was"
                    for each in told.kept
                ],
            ),
            ("Cost", list(cost_words(told, system))),
        ]
        lines = []
        for title, each in parts:
            if each:
                lines += [f"{title}:", *(f"• {sentence(capital(line))}" for line in each), ""]
        none = "Nothing yet: a life begins when a belt is fitted and ends when it is taken off."
        self.said.setText(together("\n".join(lines).strip() or none))

    def _label(self, drive: str) -> str:
        found = self._book.session.build.find_drive(drive)
        return drive if found is None else found.label


class OffersCard(SideCard):
    """What sellers ask for a belt: number, others it goes by, seller, price."""

    def __init__(self, book: Book, parent: QWidget | None = None) -> None:
        super().__init__("Offers", _OFFERS, parent)
        self._book, self._session = book, book.session
        column = scrolled_column(self.column)
        self.blocks = QVBoxLayout()
        self.blocks.setSpacing(12)
        column.addLayout(self.blocks)
        column.addStretch(1)
        self.add = QPushButton("One more offer")
        self.add.clicked.connect(lambda _=False: self._add())
        self.refusal = heading("badfigure")
        self.refusal.hide()
        self.column.addWidget(self.refusal)
        self.column.addWidget(self.add)
        self.fields: dict[tuple[int, str], TypedField] = {}
        self._parked = Parked(self)
        self._shown: tuple[object, ...] = ("nothing yet",)
        #: the offers shown, each with a number of its own
        self._known: list[tuple[int, Offer]] = []
        self._numbered = 0
        book.changed.connect(self.refresh)

    def refresh(self) -> None:
        """Show the present offers, those of one drive together."""
        if not self.isVisible():
            return
        build = self._session.build
        self.add.setEnabled(not self._session.is_read_only and bool(build.drives))
        shown = build.logbook.offers, build.drives
        if shown == self._shown:
            return
        self._shown = shown
        self._parked.put_away(self._by_offer())
        self._follow(build.logbook.offers)
        self._show_offers(build)
        self._parked.bring_back(self._by_offer())

    def _by_offer(self) -> dict[tuple[int, str], TypedField]:
        """The fields by which offer they are of, wherever that stands."""
        return {
            (self._known[place][0], name): field for (place, name), field in self.fields.items()
        }

    def _follow(self, offers: tuple[Offer, ...]) -> None:
        """Know each offer again: by its place while there are as many, else by what it says."""
        known, self._known = self._known, []
        for place, offer in enumerate(offers):
            if len(known) == len(offers):
                number = known[place][0]
            else:
                same = (each for each in known if each[1] == offer and each not in self._known)
                number = next(same, (self._numbered, offer))[0]
            self._numbered += number == self._numbered
            self._known.append((number, offer))

    def _show_offers(self, build: Build) -> None:
        self.fields = {}
        empty(self.blocks)
        lines = offer_lines(build)
        if lines:
            said = heading("plain")
            said.setText(together("\n".join(f"• {line}" for line in lines)))
            self.blocks.addWidget(said)
        order = sorted(enumerate(build.logbook.offers), key=lambda each: (each[1].drive, each[0]))
        for place, offer in order:
            block = self._block(place, offer)
            self.blocks.addWidget(block)
            block.show()  # so that it can be typed in at once
        if not order:
            none = heading("plain")
            none.setText("No offer yet.")
            self.blocks.addWidget(none)

    def _block(self, place: int, offer: Offer) -> QWidget:
        block = QWidget()
        grid = QGridLayout(block)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(4)
        found = self._session.build.find_drive(offer.drive)
        title = heading("subheading")
        title.setText(together(offer.drive if found is None else found.label))
        grid.addWidget(title, 0, 0, 1, 3)
        out = QPushButton("Take out")
        out.setObjectName("act")
        out.setAccessibleName(f"Take the offer of {offer.number} out")
        out.clicked.connect(lambda _=False: self._edit(lambda build: remove_offer(build, place)))
        grid.addWidget(out, 0, 3)
        for k, (name, word) in enumerate(
            (
                ("number", "Number"),
                ("other_numbers", "also"),
                ("seller", "Seller"),
                ("note", "Note"),
                ("at", "On"),
                ("url", "Link"),
            )
        ):
            value = getattr(offer, name)
            shown = ", ".join(value) if name == "other_numbers" else value or ""
            most = 2000 if name in ("note", "url") else 200
            field = self._words(place, name, f"{word} of offer {place + 1}", shown, most)
            grid.addWidget(Label(word), 1 + k // 2, 2 * (k % 2))
            grid.addWidget(field, 1 + k // 2, 2 * (k % 2) + 1)
        price = self._figure(place, "price", f"Price of offer {place + 1}", MONEY, 2)
        price.show_value(offer.price, "", 2)
        spoken = f"Currency of offer {place + 1}"
        currency = self._words(place, "currency", spoken, offer.currency, 200)
        grid.addWidget(Label("Price"), 4, 0)
        grid.addWidget(price, 4, 1)
        grid.addWidget(Label("in"), 4, 2)
        grid.addWidget(currency, 4, 3)
        days = self._figure(place, "days", f"Days of delivery of offer {place + 1}", COUNT, 0)
        days.show_value(offer.days, "", 0)
        grid.addWidget(Label("Days"), 5, 0)
        grid.addWidget(days, 5, 1)
        return block

    def _words(self, place: int, name: str, spoken: str, shown: str, most: int) -> TextField:
        """A line of words of an offer."""
        field = TextField(spoken, most=most)
        field.show_text(shown)
        field.committed.connect(partial(self._take, place, name, field))
        field.refused.connect(self._refuse)
        self.fields[place, name] = field
        return field

    def _figure(
        self, place: int, name: str, spoken: str, quantity: Quantity, digits: int
    ) -> QuantityField:
        """A figure of an offer."""
        field = QuantityField(spoken, quantity)

        def take(value: float) -> None:
            self._edit(lambda build: set_offer(build, place, **{name: value}), field)

        field.committed.connect(take)
        field.refused.connect(self._refuse)
        self.fields[place, name] = field
        return field

    def _take(self, place: int, name: str, field: TextField, text: str) -> None:
        self._refuse("")
        if name == "number" and not text:
            self._turn_down(field, "An offer has a number.")
            return
        if name == "at" and text and read_day(text) is None:
            self._turn_down(field, f"“{text}” is no day; a day is written as 2026-11-27.")
            return
        value: object = text or None
        if name == "other_numbers":
            value = tuple(each.strip() for each in text.split(",") if each.strip()) or None
        self._edit(lambda build: set_offer(build, place, **{name: value}), field)

    def _turn_down(self, field: TypedField, why: str) -> None:
        field.turn_down(why)
        self._refuse(why)

    def _refuse(self, text: str) -> None:
        self.refusal.setText(text)
        self.refusal.setVisible(bool(text))

    def _add(self) -> None:
        session, drive = self._session, self._book.drive
        build = session.build
        drive = drive or build.drives[0].id
        belt = build.drive(drive).belt
        number = "number"
        if belt.effective_length_mm is not None:
            profile = session.catalogue.profiles[belt.profile]
            number = profile.number(belt.ribs, belt.effective_length_mm, build.display_units)
        today = date.today().isoformat()
        self._edit(lambda now: add_offer(now, drive, number, at=today))

    def _edit(self, make: Callable[[Build], Build], field: TypedField | None = None) -> None:
        refused = self._book.edit("offers", make)
        if refused and field is not None:
            field.turn_down(refused)
        self._refuse(refused)
