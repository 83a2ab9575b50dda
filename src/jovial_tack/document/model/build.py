"""The build: one engine with everything on it; and its variants."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from jovial_tack.document.model.around import Bracket, Obstacle, PinnedNote, ShelfPart, StockBelt
from jovial_tack.document.model.base import Name, Part, fault, unique
from jovial_tack.document.model.drive import Drive
from jovial_tack.document.model.engine import AirState, Engine
from jovial_tack.document.model.load_case import LoadCase
from jovial_tack.document.model.logbook import Logbook
from jovial_tack.document.model.shaft import Shaft

FORMAT = "jovial-tack/build"
VERSION = 1


class Build(Part, frozen=True, kw_only=True):
    """One engine with its shafts and drives, and what is in their way.

    load_case: the one that is looked at, of load_cases or of the catalogue; absent: loads as they are.
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
    variants: Annotated[tuple[Variant, ...], Meta(max_length=12)] = ()
    logbook: Logbook = Logbook()
    load_cases: Annotated[tuple[LoadCase, ...], Meta(max_length=100)] = ()
    load_case: Name | None = None

    def obstacle(self, obstacle_id: str) -> Obstacle:
        """The obstacle of that id; KeyError if there is none."""
        for obstacle in self.obstacles:
            if obstacle.id == obstacle_id:
                return obstacle
        raise KeyError(obstacle_id)

    def note(self, note_id: str) -> PinnedNote:
        """The pinned note of that id; KeyError if there is none."""
        for note in self.pinned_notes:
            if note.id == note_id:
                return note
        raise KeyError(note_id)

    def part(self, part_id: str) -> ShelfPart:
        """The part on the shelf of that id; KeyError if there is none."""
        for part in self.shelf:
            if part.id == part_id:
                return part
        raise KeyError(part_id)

    def bracket(self, bracket_id: str) -> Bracket:
        """The bracket of that id; KeyError if there is none."""
        for bracket in self.brackets:
            if bracket.id == bracket_id:
                return bracket
        raise KeyError(bracket_id)

    def shaft(self, shaft_id: str) -> Shaft:
        """The shaft of that id; KeyError if there is none."""
        for shaft in self.shafts:
            if shaft.id == shaft_id:
                return shaft
        raise KeyError(shaft_id)

    def drive(self, drive_id: str) -> Drive:
        """The drive of that id; KeyError if there is none."""
        for drive in self.drives:
            if drive.id == drive_id:
                return drive
        raise KeyError(drive_id)

    def __post_init__(self) -> None:
        shafts = {shaft.id for shaft in self.shafts}
        unique([shaft.id for shaft in self.shafts], "shafts", "id")
        unique([drive.id for drive in self.drives], "drives", "id")
        unique([obstacle.id for obstacle in self.obstacles], "obstacles", "id")
        unique([note.id for note in self.pinned_notes], "pinned_notes", "id")
        unique([bracket.id for bracket in self.brackets], "brackets", "id")
        unique([part.id for part in self.shelf], "shelf", "id")
        shelf = {part.id for part in self.shelf}
        used = [(f"shafts[{k}].part", shaft.part) for k, shaft in enumerate(self.shafts)]
        for d, drive in enumerate(self.drives):
            used += [
                (f"drives[{d}].pulleys[{p}].part", q.part) for p, q in enumerate(drive.pulleys)
            ]
        for where, part in used:
            if part is not None and part not in shelf:
                raise fault(where, f"a part of the shelf, not “{part}”")
        for k, bracket in enumerate(self.brackets):
            for name in bracket.shafts:
                if name not in shafts:
                    raise fault(f"brackets[{k}].shafts", f"shafts of the build, not “{name}”")
        unique([variant.name for variant in self.variants], "variants", "name")
        unique([drive.label.casefold() for drive in self.drives], "drives", "name")
        self._check_loads(shafts)
        cranks = [place for place, shaft in enumerate(self.shafts) if shaft.kind == "crank"]
        if len(cranks) > 1:
            raise fault(f"shafts[{cranks[1]}].kind", "one crank in a build, not two")
        for d, drive in enumerate(self.drives):
            for p, pulley in enumerate(drive.pulleys):
                if pulley.shaft not in shafts:
                    raise fault(
                        f"drives[{d}].pulleys[{p}].shaft",
                        f"one of the build's shafts, not “{pulley.shaft}”",
                    )
        for o, obstacle in enumerate(self.obstacles):
            if obstacle.moves_with is not None and obstacle.moves_with not in shafts:
                raise fault(
                    f"obstacles[{o}].moves_with",
                    f"one of the build's shafts, not “{obstacle.moves_with}”",
                )

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
