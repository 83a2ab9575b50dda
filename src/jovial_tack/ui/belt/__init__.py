"""The station for the belt: those that can be bought along the window, and the bench beside them."""

from jovial_tack.ui.belt.along_window import BeltsAlongWindow
from jovial_tack.ui.belt.bench import BeltBench

__all__ = ["BeltBench", "BeltsAlongWindow"]
