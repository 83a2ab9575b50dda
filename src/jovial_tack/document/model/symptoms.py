"""What is seen, heard and measured of a drive that is noisy or wears."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from jovial_tack.document.model.base import Name, Part, seal


class Symptoms(Part, frozen=True, kw_only=True):
    """Of one drive: whether each finding is seen (true) or not there (false); what was not looked at is
    absent. material: of the belt, epdm (which loses material and hardly cracks) or the older rubber.
    turns_with: the pulley that a recording of the noise beats with.
    """

    material: Literal["epdm", "old"] | None = None
    findings: Mapping[Name, bool] = {}
    turns_with: Name | None = None

    def __post_init__(self) -> None:
        seal(self, "findings")
