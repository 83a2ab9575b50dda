"""The station for the belt: those that can be bought along the window, and the bench beside them."""

from jovial_tack.ui.belt.bench import BeltBench
from jovial_tack.ui.belt.shop import BeltShop

__all__ = ["BeltBench", "BeltShop"]
