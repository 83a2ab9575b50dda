"""Shipped data as one explicit value that is handed to the solve."""

from jovial_tack.catalogue.catalogue import (
    Catalogue,
    Construction,
    Doubtful,
    Kind,
    Limits,
    Profile,
    UsualParts,
)
from jovial_tack.catalogue.shipped import load_catalogue

__all__ = [
    "Catalogue",
    "Construction",
    "Doubtful",
    "Kind",
    "Limits",
    "Profile",
    "UsualParts",
    "load_catalogue",
]
