"""Jovial Tack: lay out accessory and supercharger belt drives for engine swaps."""

__version__ = "0.2.0"
