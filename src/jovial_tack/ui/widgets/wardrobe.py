"""Style sheets for the parts of a window, each on the part itself and only when it is in sight.

A style sheet on the whole window is worked out anew for every widget in it, a thousand of which are
in cards that nobody looks at: day and night would be a quarter of a second apart.
"""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtWidgets import QWidget

from jovial_tack.ui.widgets.theme import Theme, style_sheet


class Wardrobe:
    """Dresses parts. in_sight: those that are shown from the start."""

    def __init__(self, in_sight: Iterable[QWidget], theme: Theme) -> None:
        self.sheet = style_sheet(theme)
        self._worn: dict[QWidget, str] = {}
        for part in in_sight:
            self.dress(part)

    def dress(self, part: QWidget) -> None:
        """Have a part wear the present style; to be called before it is shown."""
        if self._worn.get(part) != self.sheet:
            self._worn[part] = self.sheet
            part.setStyleSheet(self.sheet)

    def change(self, theme: Theme) -> None:
        """Another style: parts in sight wear it at once, the others when they are dressed again."""
        self.sheet = style_sheet(theme)
        for part in list(self._worn):
            if not part.isHidden():  # true before the window is shown, too
                self.dress(part)
