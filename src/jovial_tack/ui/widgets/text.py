"""Lines of words in the style sheet's sizes."""

from __future__ import annotations

import re

from PyQt6.QtWidgets import QLabel

_FIGURE = re.compile(r"(\d°?) (?=(?:%|mm|in|N|rpm|kW|m/s|ft/min|lbf|rib|ribs)\b|%)")


def heading(name: str = "heading") -> QLabel:
    """A line of words in one of the style sheet's sizes; wraps."""
    label = QLabel()
    label.setObjectName(name)
    label.setWordWrap(True)
    return label


def together(text: str) -> str:
    """The text with every figure kept on one line with its unit or per cent sign.

    >>> together("105 % at 6600 rpm").split(" ")
    ['105\xa0%', 'at', '6600\xa0rpm']
    """
    return _FIGURE.sub("\\1\u00a0", text)
