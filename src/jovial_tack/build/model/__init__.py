"""The build file as frozen models; one build is one value (docs/ARCHITECTURE.md, "The document").

Types are strict: no text or bool passes for a number, no NaN or infinity. Unknown keys are kept and
frozen; a key that was absent stays absent when written. What one field cannot know by itself (ids
that must match, routes) is checked by `Build`.
"""

from __future__ import annotations

from jovial_tack.build.model.around import (
    Bracket,
    Obstacle,
    ObstacleKindName,
    PinnedNote,
    ShelfPart,
)
from jovial_tack.build.model.base import (
    Amount,
    AmountOrZero,
    Degrees,
    DiameterMm,
    Mm,
    Name,
    Part,
    Point,
    Rotation,
    Rpm,
    SizeMm,
    fault,
    unique,
)
from jovial_tack.build.model.build import FORMAT, VERSION, Build, Variant, dump
from jovial_tack.build.model.drive import (
    Belt,
    Drive,
    LockedTensioner,
    Pulley,
    SpringArmTensioner,
    StretchTensioner,
    Tensioner,
)
from jovial_tack.build.model.engine import AirState, Engine, FillingCurve
from jovial_tack.build.model.shaft import (
    AnyMount,
    BoltCircle,
    ConstantTorqueLoad,
    Efficiency,
    FixedMount,
    Fixing,
    HolesMount,
    KnownPoint,
    Mount,
    PowerLawLoad,
    Shaft,
    ShaftKind,
    ShaftLoad,
    SlotMount,
    SuperchargerLoad,
    SwingMount,
    TableLoad,
)

__all__ = [
    "FORMAT",
    "VERSION",
    "AirState",
    "Amount",
    "AmountOrZero",
    "AnyMount",
    "Belt",
    "BoltCircle",
    "Bracket",
    "Build",
    "ConstantTorqueLoad",
    "Degrees",
    "DiameterMm",
    "Drive",
    "Efficiency",
    "Engine",
    "FillingCurve",
    "FixedMount",
    "Fixing",
    "HolesMount",
    "KnownPoint",
    "LockedTensioner",
    "Mm",
    "Mount",
    "Name",
    "Obstacle",
    "ObstacleKindName",
    "Part",
    "PinnedNote",
    "Point",
    "PowerLawLoad",
    "Pulley",
    "Rotation",
    "Rpm",
    "Shaft",
    "ShaftKind",
    "ShaftLoad",
    "ShelfPart",
    "SizeMm",
    "SlotMount",
    "SpringArmTensioner",
    "StretchTensioner",
    "SuperchargerLoad",
    "SwingMount",
    "TableLoad",
    "Tensioner",
    "Variant",
    "dump",
    "fault",
    "unique",
]
