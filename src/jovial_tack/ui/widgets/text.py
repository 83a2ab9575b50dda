"""Lines of words in the style sheet's sizes."""

from __future__ import annotations

import html
import re

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QWidget

_UNITS = "mm|in|N|N·m|lbf|lb·ft|rpm|kW|hp|kPa|psi|°C|°F|A|m/s|ft/min|kg/s|lb/min|rib|ribs"
_FIGURE = re.compile(rf"(\d°?) (?=(?:{_UNITS})\b|%)")
_PER = re.compile(r"(\d\s?(?:m|ft|kg|lb)/)(?=(?:s|min)\b)")


class Label(QLabel):
    """Words shown as they are: a name out of a file is no markup, whatever stands in it.

    Qt would guess that some are, and fetch the pictures they name.
    """

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(text)


def plain(text: str) -> str:
    """A text as a tip must be given it, so that it is shown as it is: tips have no plain form."""
    if not _like_markup(text):
        return text
    return f'<span style="white-space: pre-wrap">{html.escape(text)}</span>'


def _like_markup(text: str) -> bool:
    """Whether Qt might take a text for markup: it needs a tag for that."""
    return "<" in text


def on_button(text: str) -> str:
    """A text as a button or menu must be given it: “&” marks a key there, unless it is doubled."""
    return text.replace("&", "&&")


def heading(name: str = "heading") -> Label:
    """A line of words in one of the style sheet's sizes; wraps."""
    label = Label()
    label.setObjectName(name)
    label.setWordWrap(True)
    return label


def together(text: str) -> str:
    """The text with every figure kept on one line with its unit or per cent sign.

    >>> together("105 % at 6600 rpm").split(" ")
    ['105\xa0%', 'at', '6600\xa0rpm']
    """
    # a word joiner keeps m/s from being parted at its stroke
    return _PER.sub("\\1\u2060", _FIGURE.sub("\\1\u00a0", text))
