"""Cells of tables that other programs open."""

from __future__ import annotations

_BEGIN_FORMULAS = ("=", "+", "-", "−", "@", "\t", "\r")


def as_text(cell: str) -> str:
    """A cell of foreign text that no table takes for a formula: one that begins so gets a ' before it.

    >>> as_text("=1+1"), as_text("Pump")
    ("'=1+1", 'Pump')
    """
    return f"'{cell}" if cell.lstrip(" ")[:1] in _BEGIN_FORMULAS and cell.strip() else cell
