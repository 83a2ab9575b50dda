"""The card at the right: what is selected, its figures, the reason and the remedy."""

from jovial_tack.ui.cards.holder import CardHolder

__all__ = ["CardHolder"]
