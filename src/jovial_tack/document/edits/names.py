"""Names that are not taken yet."""

from __future__ import annotations

from collections.abc import Iterable


def free_name(wanted: str, taken: Iterable[str]) -> str:
    """A name that is not taken: the wanted one, or with a number behind it.

    >>> free_name("idler", ["idler", "idler 2"])
    'idler 3'
    """
    names = {name.casefold() for name in taken}
    number, name = 1, wanted
    while name.casefold() in names:
        number += 1
        name = f"{wanted} {number}"
    return name
