"""Load cases: what the shafts take, and what the belt holds, in one situation."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated

from msgspec import Meta

from jovial_tack.document.model.base import Name, Part, seal
from jovial_tack.document.model.shaft import (
    ConstantTorqueLoad,
    PowerLawLoad,
    SuperchargerLoad,
    TableLoad,
)

#: By how much a load or a friction is multiplied.
Factor = Annotated[float, Meta(ge=0, le=100)]
#: What a shaft takes in a load case: so many times its own load, or another load.
CaseLoad = Factor | TableLoad | ConstantTorqueLoad | PowerLawLoad | SuperchargerLoad


class LoadCase(Part, frozen=True, kw_only=True):
    """One situation: loads by shaft (others take their own), and factors on friction and springs."""

    id: Name
    name: str = ""
    loads: Mapping[Name, CaseLoad] = {}
    friction_factor: Annotated[float, Meta(gt=0, le=10)] = 1.0
    spring_factor: Annotated[float, Meta(gt=0, le=10)] = 1.0

    def __post_init__(self) -> None:
        seal(self, "loads")

    @property
    def label(self) -> str:
        """What it is called on screen."""
        return self.name or self.id
