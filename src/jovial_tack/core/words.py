"""How words become sentences: findings and steps are kept as clauses, and told as sentences."""

from __future__ import annotations


def capital(clause: str) -> str:
    """A clause with its first letter large.

    >>> capital("the belt floats")
    'The belt floats'
    """
    return clause[:1].upper() + clause[1:]


def sentence(clause: str) -> str:
    """A clause as a sentence; nothing stays nothing.

    >>> sentence("it bottoms"), sentence("")
    ('It bottoms.', '')
    """
    return f"{capital(clause)}." if clause else ""
