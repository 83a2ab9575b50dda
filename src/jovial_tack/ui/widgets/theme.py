"""Colours, fonts and the style sheet, for day and night. The one place that knows a colour."""

from __future__ import annotations

import logging
from dataclasses import dataclass
from functools import cache, lru_cache
from importlib import resources

from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette

from jovial_tack.answers.verdicts import Mark
from jovial_tack.core.errors import JovialTackError

_log = logging.getLogger(__name__)

WORDS = "Cabin"
FIGURES = "B612"


@dataclass(frozen=True)
class Theme:
    """Named colours. Text colours keep 4.5:1 on every ground they are used on."""

    name: str
    ground: str  # behind everything
    paper: str  # cards and the front view
    raised: str  # hovered or selected parts
    rule: str  # thin lines between parts
    grid: str
    ink: str  # words and pulley outlines
    faded: str  # second-rank words
    belt: str
    belt_behind: str
    pulley_fill: str
    metal: str  # arms
    accent: str  # what is held
    accent_text: str  # the accent when it is written
    good: str
    watch: str
    stop: str

    def color(self, name: str) -> QColor:
        """A colour of the theme by its name."""
        return QColor(_parsed(getattr(self, name)))


@lru_cache
def _parsed(color: str) -> QColor:
    return QColor(color)


DAY = Theme(
    name="day",
    ground="#f1ebdd",
    paper="#fbf8ef",
    raised="#efe6d2",
    rule="#d6cbb4",
    grid="#ece4d3",
    ink="#1d2f55",
    faded="#575a63",
    belt="#2c2e33",
    belt_behind="#666a73",
    pulley_fill="#f6f0e0",
    metal="#8d99ae",
    accent="#d9541e",
    accent_text="#b03f0f",
    good="#0f6f68",
    watch="#805b00",
    stop="#76245a",
)

NIGHT = Theme(
    name="night",
    ground="#15181f",
    paper="#1c2029",
    raised="#2a303d",
    rule="#3a4150",
    grid="#242934",
    ink="#dfe5f2",
    faded="#a7afbf",
    belt="#c9ccd3",
    belt_behind="#868c99",
    pulley_fill="#232936",
    metal="#6d7a92",
    accent="#ff8a4f",
    accent_text="#ff9d6b",
    good="#58c7bb",
    watch="#e2b04a",
    stop="#e58cc6",
)

MARK_COLORS: dict[Mark, str] = {
    "good": "good",
    "watch": "watch",
    "stop": "stop",
    "unknown": "faded",
}


@cache
def load_fonts() -> tuple[str, ...]:
    """Make the shipped typefaces known to Qt; without them an empty machine shows boxes.

    Returns those that are missing: words may then be clipped. Raises DisplayError where there is no
    typeface at all.
    """
    folder = resources.files("jovial_tack.data").joinpath("fonts")
    entries = list(folder.iterdir()) if folder.is_dir() else []
    for entry in entries:
        if not entry.name.endswith(".otf"):
            continue
        if QFontDatabase.addApplicationFontFromData(entry.read_bytes()) < 0:
            _log.warning("the typeface %s could not be loaded", entry.name)
    families = QFontDatabase.families()
    if not families:
        raise DisplayError(
            "there is no typeface to write with, neither of the program nor of the system: install the"
            " program again, or a typeface such as Debian's fonts-dejavu-core"
        )
    missing = tuple(family for family in (WORDS, FIGURES) if family not in families)
    for family in missing:
        _log.warning("the typeface %s is missing: words may be clipped", family)
    return missing


class DisplayError(JovialTackError):
    """A window cannot be shown; the text says why."""


@cache
def words(px: float, *, bold: bool = False) -> QFont:
    """The typeface for words; signs it lacks come from the one for figures."""
    return _font([WORDS, FIGURES], px, bold)


@cache
def figures(px: float, *, bold: bool = False) -> QFont:
    """The typeface for figures, whose digits are all of one width."""
    return _font([FIGURES, WORDS], px, bold)


def _font(families: list[str], px: float, bold: bool) -> QFont:
    font = QFont()
    font.setFamilies(families)
    font.setPixelSize(round(px))
    font.setBold(bold)
    # how a machine hints would change widths, and with them where lines break
    font.setHintingPreference(QFont.HintingPreference.PreferVerticalHinting)
    return font


def palette(theme: Theme) -> QPalette:
    """The Qt palette of a theme, for what the style sheet does not reach."""
    result = QPalette()
    roles = {
        QPalette.ColorRole.Window: "ground",
        QPalette.ColorRole.Base: "paper",
        QPalette.ColorRole.AlternateBase: "raised",
        QPalette.ColorRole.Button: "paper",
        QPalette.ColorRole.WindowText: "ink",
        QPalette.ColorRole.Text: "ink",
        QPalette.ColorRole.ButtonText: "ink",
        QPalette.ColorRole.Highlight: "ink",
        QPalette.ColorRole.HighlightedText: "paper",
        QPalette.ColorRole.ToolTipBase: "paper",
        QPalette.ColorRole.ToolTipText: "ink",
        QPalette.ColorRole.PlaceholderText: "faded",
    }
    for role, name in roles.items():
        result.setColor(role, theme.color(name))
    return result


def style_sheet(t: Theme) -> str:
    """The style sheet of a theme."""
    return f"""
    QWidget {{ color: {t.ink}; font-family: {WORDS}, {FIGURES}; font-size: 14px; }}
    QMainWindow, #desk {{ background: {t.ground}; }}
    QMenuBar {{ background: {t.ground}; padding: 2px 6px; }}
    QMenuBar::item {{ background: transparent; padding: 4px 10px; border-radius: 4px; }}
    QMenuBar::item:selected, QMenu::item:selected {{ background: {t.raised}; }}
    QMenu {{ background: {t.paper}; border: 1px solid {t.rule}; padding: 4px; }}
    QMenu::item {{ padding: 5px 28px 5px 18px; border-radius: 4px; }}
    QMenu::item:disabled {{ color: {t.faded}; }}
    QMenu::separator {{ height: 1px; background: {t.rule}; margin: 4px 8px; }}
    QToolTip {{ background: {t.paper}; color: {t.ink}; border: 1px solid {t.rule}; padding: 4px; }}
    #card, #notice, #verdict {{ background: {t.paper}; border: 1px solid {t.rule};
                               border-radius: 6px; }}
    #verdict:hover {{ background: {t.raised}; }}
    #verdict:focus {{ border: 2px solid {t.accent}; }}
    #notice {{ border: 1px solid {t.accent}; }}
    #front {{ border: 1px solid {t.rule}; border-radius: 6px; background: {t.paper}; }}
    #front:focus {{ border: 2px solid {t.accent}; }}
    #told {{ background: {t.paper}; border: 1px solid {t.accent}; border-radius: 6px;
            padding: 8px 10px; font-size: 14px; }}
    #heading {{ font-size: 18px; font-weight: 600; }}
    #subheading {{ font-size: 15px; font-weight: 600; }}
    #faded {{ color: {t.faded}; font-size: 13px; }}
    #caution {{ color: {t.faded}; font-size: 13px; border-top: 1px solid {t.rule};
               padding: 8px 14px; }}
    #small {{ color: {t.faded}; font-size: 12px; }}
    #moved {{ color: {t.accent_text}; font-family: {FIGURES}, {WORDS}; font-size: 12px; }}
    #plain {{ font-size: 14px; }}
    #figure {{ font-family: {FIGURES}, {WORDS}; font-size: 13px; }}
    #badfigure {{ color: {t.stop}; font-size: 13px; }}
    QLineEdit {{ background: {t.paper}; border: 1px solid {t.faded}; border-radius: 4px;
                padding: 2px 6px; font-family: {FIGURES}, {WORDS}; font-size: 13px;
                selection-background-color: {t.ink}; selection-color: {t.paper}; }}
    QLineEdit:read-only {{ border-color: {t.rule}; color: {t.faded}; }}
    QLineEdit:focus {{ border: 2px solid {t.accent}; padding: 1px 5px; }}
    QPushButton {{ background: {t.raised}; border: 1px solid {t.rule}; border-radius: 4px;
                  padding: 4px 12px; }}
    QPushButton:hover {{ border-color: {t.ink}; }}
    QPushButton:focus {{ border: 2px solid {t.accent}; padding: 3px 11px; }}
    QPushButton:checked {{ background: {t.ink}; color: {t.paper}; }}
    QPushButton#way, QPushButton#choice, QPushButton#act,
    QPushButton#mend {{ padding: 2px 8px; font-size: 13px; }}
    QPushButton#mend {{ padding: 0 8px; }}
    QPushButton#act, QPushButton#mend {{ background: {t.paper}; border: 1px solid {t.faded}; }}
    QPushButton#act:hover, QPushButton#mend:hover {{ background: {t.raised}; }}
    QPushButton#way:focus, QPushButton#choice:focus, QPushButton#act:focus,
    QPushButton#mend:focus {{
                  border: 2px solid {t.accent}; padding: 1px 7px; }}
    QPushButton:disabled {{ color: {t.faded}; }}
    QComboBox, QComboBox QAbstractItemView {{ font-size: 13px; background-color: {t.paper}; }}
    QListWidget {{ background: {t.paper}; border: 1px solid {t.rule}; border-radius: 4px;
                  font-size: 13px; }}
    QListWidget::item {{ padding: 4px 6px; color: {t.ink}; }}
    QListWidget::item:selected {{ background: {t.raised}; color: {t.ink}; }}
    QListWidget:focus {{ border: 2px solid {t.accent}; }}
    QTableView {{ background: {t.paper}; border: 1px solid {t.rule}; border-radius: 4px;
                   font-size: 13px; selection-background-color: {t.raised};
                   selection-color: {t.ink}; }}
    QTableView:focus {{ border: 2px solid {t.accent}; }}
    QHeaderView {{ background: {t.paper}; }}
    QHeaderView::section {{ background: {t.paper}; color: {t.faded}; border: none;
                           border-bottom: 1px solid {t.rule}; padding: 2px 6px; font-size: 12px; }}
    QProgressBar {{ background: {t.raised}; border: none; border-radius: 4px; }}
    QProgressBar::chunk {{ background: {t.accent}; border-radius: 4px; }}
    QPlainTextEdit {{ background: {t.paper}; border: 1px solid {t.rule}; font-size: 12px; }}
    QPlainTextEdit:focus {{ border: 2px solid {t.accent}; }}
    QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: none; }}
    QScrollBar:vertical {{ background: transparent; width: 10px; }}
    QScrollBar::handle:vertical {{ background: {t.rule}; border-radius: 5px; min-height: 24px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
    QStatusBar QLabel {{ color: {t.faded}; font-size: 13px; padding: 0 10px; }}
    QStatusBar::item {{ border: none; }}
    """
