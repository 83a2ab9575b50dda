"""The build: one engine with everything on it; and its variants."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Annotated, Literal, TypeVar

from msgspec import Meta

from jovial_tack.document.model.around import Bracket, Obstacle, PinnedNote, ShelfPart, StockBelt
from jovial_tack.document.model.base import Name, Part, fault, seal, unique
from jovial_tack.document.model.choices import Choices
from jovial_tack.document.model.drive import Drive, Pulley
from jovial_tack.document.model.engine import AirState, Engine
from jovial_tack.document.model.fit_up import FitUp, TorqueNote
from jovial_tack.document.model.load_case import LoadCase
from jovial_tack.document.model.logbook import Logbook
from jovial_tack.document.model.plate import Plate
from jovial_tack.document.model.shaft import Shaft
from jovial_tack.document.model.stack import AlignmentReadings, Boss, Stack
from jovial_tack.document.model.survey import Survey
from jovial_tack.document.model.symptoms import Symptoms

P = TypeVar("P", Drive, Shaft, Obstacle, Bracket, ShelfPart, PinnedNote, Plate)

_NAMED = (
    "shafts",
    "drives",
    "obstacles",
    "pinned_notes",
    "brackets",
    "shelf",
    "bosses",
    "plates",
)
FORMAT = "jovial-tack/build"
VERSION = 1
MOST_VARIANTS = 12


class Build(Part, frozen=True, kw_only=True):
    """One engine with its shafts and drives, and what is in their way.

    load_case: the one that is looked at, of load_cases or of the catalogue; absent: loads as they are.
    choices: what the finder was last asked to choose among. notes_torque: the builder's own, by the
    steps of fitting up; symptoms: of drives, by their ids.
    """

    format: Literal["jovial-tack/build"] = "jovial-tack/build"
    version: Annotated[int, Meta(ge=1)] = VERSION
    title: str = ""
    notes: str = ""
    catalogue_version: str | None = None
    display_units: Literal["mm", "in"] = "mm"
    engine: Engine
    air: AirState = AirState()
    shafts: tuple[Shaft, ...] = ()
    drives: tuple[Drive, ...] = ()
    obstacles: tuple[Obstacle, ...] = ()
    brackets: tuple[Bracket, ...] = ()
    shelf: Annotated[tuple[ShelfPart, ...], Meta(max_length=5000)] = ()
    stock: Annotated[tuple[StockBelt, ...], Meta(max_length=20000)] = ()
    pinned_notes: tuple[PinnedNote, ...] = ()
    variants: Annotated[tuple[Variant, ...], Meta(max_length=MOST_VARIANTS)] = ()
    logbook: Logbook = Logbook()
    survey: Survey = Survey()
    bosses: Annotated[tuple[Boss, ...], Meta(max_length=200)] = ()
    stacks: Annotated[tuple[Stack, ...], Meta(max_length=60)] = ()
    plates: Annotated[tuple[Plate, ...], Meta(max_length=40)] = ()
    alignment: AlignmentReadings = AlignmentReadings()
    load_cases: Annotated[tuple[LoadCase, ...], Meta(max_length=100)] = ()
    load_case: Name | None = None
    choices: Choices | None = None
    fit_up: FitUp = FitUp()
    notes_torque: Annotated[tuple[TorqueNote, ...], Meta(max_length=500)] = ()
    symptoms: Mapping[Name, Symptoms] = {}

    def obstacle(self, obstacle_id: str) -> Obstacle:
        """The obstacle of that id; KeyError if there is none."""
        return _by_id(self.obstacles, obstacle_id)

    def note(self, note_id: str) -> PinnedNote:
        """The pinned note of that id; KeyError if there is none."""
        return _by_id(self.pinned_notes, note_id)

    def part(self, part_id: str) -> ShelfPart:
        """The part on the shelf of that id; KeyError if there is none."""
        return _by_id(self.shelf, part_id)

    def bracket(self, bracket_id: str) -> Bracket:
        """The bracket of that id; KeyError if there is none."""
        return _by_id(self.brackets, bracket_id)

    def plate(self, plate_id: str) -> Plate:
        """The bracket plate of that id; KeyError if there is none."""
        return _by_id(self.plates, plate_id)

    def find_boss(self, boss_id: str) -> Boss | None:
        """The boss of that id; None if there is none."""
        return next((boss for boss in self.bosses if boss.id == boss_id), None)

    def find_part(self, part_id: str) -> ShelfPart | None:
        """The part on the shelf of that id; None if there is none."""
        return next((part for part in self.shelf if part.id == part_id), None)

    def find_stack(self, shaft_id: str) -> Stack | None:
        """The stack of a shaft; None if it has none."""
        return next((stack for stack in self.stacks if stack.shaft == shaft_id), None)

    def shaft(self, shaft_id: str) -> Shaft:
        """The shaft of that id; KeyError if there is none."""
        return _by_id(self.shafts, shaft_id)

    def drive(self, drive_id: str) -> Drive:
        """The drive of that id; KeyError if there is none."""
        return _by_id(self.drives, drive_id)

    def find_drive(self, drive_id: str) -> Drive | None:
        """The drive of that id; None if there is none."""
        return next((drive for drive in self.drives if drive.id == drive_id), None)

    def __post_init__(self) -> None:
        for key in _NAMED:
            unique([part.id for part in getattr(self, key)], key, "id")
        unique([stack.shaft for stack in self.stacks], "stacks", "shaft")
        unique([variant.name for variant in self.variants], "variants", "name")
        unique([note.step for note in self.notes_torque], "notes_torque", "for")
        unique([drive.label.casefold() for drive in self.drives], "drives", "name")
        seal(self, "symptoms")
        shafts = {shaft.id for shaft in self.shafts}
        self._check_parts()
        self._check_shafts_named(shafts)
        self._check_loads(shafts)
        cranks = [place for place, shaft in enumerate(self.shafts) if shaft.kind == "crank"]
        if len(cranks) > 1:
            raise fault(f"shafts[{cranks[1]}].kind", "one crank in a build, not two")

    def _pulleys_at(self) -> Iterator[tuple[str, Pulley]]:
        """Every pulley with its key path."""
        for d, drive in enumerate(self.drives):
            for p, pulley in enumerate(drive.pulleys):
                yield f"drives[{d}].pulleys[{p}]", pulley

    def _check_parts(self) -> None:
        """Refuse a part that is not on the shelf."""
        shelf = {part.id for part in self.shelf}
        used = [(f"shafts[{k}].part", shaft.part) for k, shaft in enumerate(self.shafts)]
        used += [(f"{at}.part", pulley.part) for at, pulley in self._pulleys_at()]
        for where, part in used:
            if part is not None and part not in shelf:
                raise fault(where, f"a part of the shelf, not “{part}”")

    def _check_shafts_named(self, shafts: set[str]) -> None:
        """Refuse a shaft that is named and not there."""
        for k, bracket in enumerate(self.brackets):
            for name in bracket.shafts:
                if name not in shafts:
                    raise fault(f"brackets[{k}].shafts", f"shafts of the build, not “{name}”")
        named = [(f"{at}.shaft", pulley.shaft) for at, pulley in self._pulleys_at()]
        for k, obstacle in enumerate(self.obstacles):
            if obstacle.moves_with is not None:
                named.append((f"obstacles[{k}].moves_with", obstacle.moves_with))
        for where, name in named:
            if name not in shafts:
                raise fault(where, f"one of the build's shafts, not “{name}”")

    def _check_loads(self, shafts: set[str]) -> None:
        """Refuse a load case of a shaft, or an alternator on a bank, that is not there."""
        unique([case.id for case in self.load_cases], "load_cases", "id")
        for k, case in enumerate(self.load_cases):
            for name in case.loads:
                if name not in shafts:
                    raise fault(f"load_cases[{k}].loads", f"shafts of the build, not “{name}”")
        for k, shaft in enumerate(self.shafts):
            if shaft.bank is not None and shaft.bank not in self.engine.banks:
                known = ", ".join(self.engine.banks) or "none is there"
                raise fault(
                    f"shafts[{k}].bank", f"one of the engine's banks ({known}), not “{shaft.bank}”"
                )


class Variant(Part, frozen=True, kw_only=True):
    """A rival state of a build, kept beside the present one."""

    name: Name
    build: Build

    def __post_init__(self) -> None:
        if self.build.variants:
            raise fault("build.variants", "no variants inside a variant")


def _by_id(parts: Iterable[P], part_id: str) -> P:
    for part in parts:
        if part.id == part_id:
            return part
    raise KeyError(part_id)
