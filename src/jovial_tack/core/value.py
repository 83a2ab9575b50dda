"""Values: small frozen records.

They are structs of the model library and not dataclasses, because a dataclass is code written and
compiled at import: a hundred of them took as long as NumPy. A class whose `cached_property` needs a
place to keep its figure says ``dict=True``.
"""

from __future__ import annotations

from typing import Any

import msgspec
from msgspec.structs import asdict, replace

__all__ = ["Value", "fields_of", "replace"]


class Value(msgspec.Struct, frozen=True):
    """Base of all values. Two are equal if all their fields are, unless they say ``eq=False``."""


def fields_of(value: Value) -> dict[str, Any]:
    """The fields of a value by their names, in their order."""
    return asdict(value)
