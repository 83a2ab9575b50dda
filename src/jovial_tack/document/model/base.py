"""What all parts of a build share: how numbers are bounded, and that they are frozen and strict."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, model_validator
from pydantic_core import PydanticCustomError

from jovial_tack.document.frozen import FrozenDict, freeze

Rotation = Literal["cw", "ccw"]
Mm = Annotated[float, Field(ge=-1e5, le=1e5)]
SizeMm = Annotated[float, Field(gt=0, le=1e5)]
DiameterMm = Annotated[float, Field(gt=0, ge=0.1, le=1e4)]
Degrees = Annotated[float, Field(ge=-1e5, le=1e5)]
Rpm = Annotated[float, Field(gt=0, le=1e6)]
Amount = Annotated[float, Field(gt=0, le=1e9)]
AmountOrZero = Annotated[float, Field(ge=0, le=1e9)]
Name = Annotated[str, Field(min_length=1, max_length=200)]
Point = tuple[Mm, Mm]


class Part(BaseModel):
    """Base of all parts of a build: frozen, strict, unknown keys kept."""

    model_config = ConfigDict(
        frozen=True, strict=True, extra="allow", allow_inf_nan=False, defer_build=True
    )

    @model_validator(mode="after")
    def _freeze_unknown_keys(self) -> Part:
        extra = self.__pydantic_extra__
        if extra is not None and not isinstance(extra, FrozenDict):
            object.__setattr__(self, "__pydantic_extra__", freeze(extra))
        return self


def fault(where: str, expected: str) -> PydanticCustomError:
    """An error that names a key below the model that found it."""
    return PydanticCustomError(
        "hangs_together", "{expected}", {"where": where, "expected": expected}
    )


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
