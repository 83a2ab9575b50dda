"""Lines of words in the style sheet's sizes."""

from __future__ import annotations

import re

from PyQt6.QtWidgets import QLabel

_UNITS = "mm|in|N|N·m|lbf|lb·ft|rpm|kW|hp|kPa|psi|°C|°F|A|m/s|ft/min|kg/s|lb/min|rib|ribs"
_FIGURE = re.compile(rf"(\d°?) (?=(?:{_UNITS})\b|%)")
_PER = re.compile(r"(\d\s?(?:m|ft|kg|lb)/)(?=(?:s|min)\b)")


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
    # a word joiner keeps m/s from being parted at its stroke
    return _PER.sub("\\1\u2060", _FIGURE.sub("\\1\u00a0", text))
