"""What all parts of a build share: how numbers are bounded, that they are frozen, what they keep."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any, Literal, TypeVar

import msgspec
from msgspec import Meta

from jovial_tack.document.frozen import FrozenDict, thawed

Rotation = Literal["cw", "ccw"]
Mm = Annotated[float, Meta(ge=-1e5, le=1e5)]
SizeMm = Annotated[float, Meta(gt=0, le=1e5)]
DiameterMm = Annotated[float, Meta(ge=0.1, le=1e4)]
Degrees = Annotated[float, Meta(ge=-1e5, le=1e5)]
Rpm = Annotated[float, Meta(gt=0, le=1e6)]
Amount = Annotated[float, Meta(gt=0, le=1e9)]
AmountOrZero = Annotated[float, Meta(ge=0, le=1e9)]
Name = Annotated[str, Meta(min_length=1, max_length=200)]
Point = tuple[Mm, Mm]

P = TypeVar("P", bound="Part")


class Part(msgspec.Struct, frozen=True, dict=True):
    """Base of all parts of a build: frozen and strict.

    It remembers which keys were given, so that an absent one stays absent in the file, and keeps
    those it does not know. Both lie beside its fields and do not count when parts are compared.
    """

    @property
    def given(self) -> frozenset[str]:
        """The known keys that were given; of a part made in code, those that are not as by default."""
        known: frozenset[str] | None = self.__dict__.get("given")
        if known is not None:
            return known
        fields, defaults = self.__struct_fields__, self.__struct_defaults__
        first = len(fields) - len(defaults)
        usual = dict(zip(fields[first:], defaults, strict=True))
        missing = object()
        return frozenset(f for f in fields if getattr(self, f) != usual.get(f, missing))

    @property
    def unknown(self) -> FrozenDict:
        """The keys that are kept though nothing is known of them."""
        unknown: FrozenDict = self.__dict__.get("unknown", _NOTHING)
        return unknown

    @classmethod
    def key_of(cls, name: str) -> str:
        """The key of the file that a field stands under; the name itself where it is no field."""
        keys = dict(zip(cls.__struct_fields__, cls.__struct_encode_fields__, strict=True))
        return keys.get(name, name)

    @property
    def type(self) -> str:
        """The word by which the file tells it from others that may stand in its place."""
        return str(self.__struct_config__.tag)

    def remember(self, given: frozenset[str], unknown: FrozenDict) -> None:
        """Set what it was made from; for whoever makes a part, and nobody else."""
        self.__dict__["given"] = given
        if unknown:
            self.__dict__["unknown"] = unknown


_NOTHING = FrozenDict()


def seal(part: Part, name: str) -> None:
    """Make a field that holds names with values unchangeable; for a part that is being made."""
    msgspec.structs.force_setattr(part, name, FrozenDict(getattr(part, name)))


def replaced(part: P, **changes: Any) -> P:
    """A copy with some fields changed, unchecked: for values that come out of checked ones."""
    copy = msgspec.structs.replace(part, **changes)
    copy.remember(part.given | changes.keys(), part.unknown)
    return copy


def dump(part: Part) -> dict[str, Any]:
    """A part as plain JSON values: keys that were absent stay absent, unknown ones are kept."""
    config, given = part.__struct_config__, part.given
    values: dict[str, Any] = {}
    if config.tag_field is not None:
        values[config.tag_field] = config.tag
    for name, key in zip(part.__struct_fields__, part.__struct_encode_fields__, strict=True):
        if name in given:
            values[key] = _plain(getattr(part, name))
    values.update(thawed(part.unknown))
    return values


def _plain(value: Any) -> Any:
    if isinstance(value, Part):
        return dump(value)
    if isinstance(value, tuple):
        return [_plain(item) for item in value]
    if isinstance(value, Mapping):
        return {key: _plain(item) for key, item in value.items()}
    return value


class FaultError(ValueError):
    """A fault below the part that found it. where: the key; expected: what should stand there."""

    def __init__(self, where: str, expected: str) -> None:
        super().__init__(expected)
        self.where, self.expected = where, expected


def fault(where: str, expected: str) -> FaultError:
    """An error that names a key below the part that found it."""
    return FaultError(where, expected)


def unique(names: list[str], where: str, key: str) -> None:
    """Refuse a name that stands twice, told by its key."""
    seen: dict[str, int] = {}
    for place, name in enumerate(names):
        if name in seen:
            raise fault(
                f"{where}[{place}].{key}",
                f"a name of its own; “{name}” is {where}[{seen[name]}] already",
            )
        seen[name] = place
