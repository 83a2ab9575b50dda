"""What may change of a drive, as one space of combinations, each of which is a build."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from math import degrees, prod

import numpy as np

from jovial_tack.answers.belt.stock import Stocked, stock_for
from jovial_tack.answers.drive.belt_figures import belt_figures
from jovial_tack.answers.places import Place
from jovial_tack.answers.survey.putting_on import put_on
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import GeometryError, JovialTackError
from jovial_tack.core.units import format_length
from jovial_tack.core.value import Value
from jovial_tack.document.edits.belts import set_belt, set_belt_length
from jovial_tack.document.edits.brackets import bolt_bracket
from jovial_tack.document.edits.changing import changed, with_pulley
from jovial_tack.document.edits.freedoms import put_in_hole
from jovial_tack.document.edits.tensioners import set_arm
from jovial_tack.document.model import (
    Build,
    Choices,
    Drive,
    HolesMount,
    Pulley,
    SpringArmTensioner,
    SpringSlideTensioner,
)
from jovial_tack.document.travel import slot_of

#: Sizes and lengths nearer to one another are one.
_SAME_MM = 0.005


class FinderError(GeometryError):
    """What was asked of the finder cannot be tried."""


class Axis(Value, frozen=True):
    """One thing that may change: kind pulley, hole, offset, notch, construction or belt; of: the
    pulley, shaft or bracket; how many options it has.
    """

    kind: str
    of: str
    size: int


class Space(Value, frozen=True, eq=False):
    """All combinations of what may change of a drive, counted with the belts running fastest.

    pulleys: what each pulley of the route may become; holes, offsets: places in the lists of shafts and
    brackets; notches: None for an arm without; belts: None where the length does not matter.
    """

    build: Build
    choices: Choices
    catalogue: Catalogue
    pulleys: tuple[tuple[str, tuple[Pulley, ...]], ...]
    holes: tuple[tuple[str, tuple[int, ...]], ...]
    offsets: tuple[tuple[str, tuple[int, ...]], ...]
    notches: tuple[int | None, ...]
    constructions: tuple[str, ...]
    belts: tuple[float | None, ...]
    stock: tuple[Stocked, ...]

    @property
    def drive(self) -> Drive:
        """The drive as it is today."""
        return self.build.drive(self.choices.drive)

    @property
    def axes(self) -> tuple[Axis, ...]:
        """In the order in which combinations are counted."""
        return (
            *(Axis("pulley", name, len(options)) for name, options in self.pulleys),
            *(Axis("hole", name, len(options)) for name, options in self.holes),
            *(Axis("offset", name, len(options)) for name, options in self.offsets),
            Axis("notch", "", len(self.notches)),
            Axis("construction", "", len(self.constructions)),
            Axis("belt", "", len(self.belts)),
        )

    @property
    def shape(self) -> tuple[int, ...]:
        """How many options each axis has."""
        return tuple(axis.size for axis in self.axes)

    @property
    def count(self) -> int:
        """How many combinations there are."""
        return prod(self.shape)

    def places(self, combination: int) -> tuple[int, ...]:
        """Which option of each axis a combination has."""
        return tuple(int(place) for place in np.unravel_index(combination, self.shape))

    def pulley_of(self, combination: int, pulley_id: str) -> Pulley:
        """A pulley of the route in a combination."""
        for (name, options), place in zip(self.pulleys, self.places(combination), strict=False):
            if name == pulley_id:
                return options[place]
        return self.drive.pulley(pulley_id)

    def build_of(self, combination: int) -> Build:
        """The build with a combination bolted on."""
        build, drive = self.build, self.choices.drive
        places = iter(self.places(combination))
        for (_, pulleys), place in zip(self.pulleys, places, strict=False):
            build = with_pulley(build, drive, pulleys[place])
        holes = [next(places) for _ in self.holes]
        for name, options in self.offsets:
            build = bolt_bracket(build, name, options[next(places)])
        # a bracket takes the holes of its shafts along
        for (name, options), place in zip(self.holes, holes, strict=True):
            build = put_in_hole(build, name, options[place])
        notch = self.notches[next(places)]
        if notch is not None:
            build = set_arm(build, drive, notch=notch)
        construction = self.constructions[next(places)]
        if construction != self.drive.belt.construction:
            build = set_belt(build, drive, construction=construction)
        return self._with_belt(build, self.belts[next(places)])

    def _with_belt(self, build: Build, length: float | None) -> Build:
        drive = self.choices.drive
        if length is None or length == self.drive.belt.effective_length_mm:
            return build
        build = set_belt_length(build, drive, length)
        entry = self.stocked(length)
        return set_belt(build, drive, price=None if entry is None else entry.price, owned=None)

    def stocked(self, length: float) -> Stocked | None:
        """The belt of the stock list of a length, None if there is none."""
        near = [s for s in self.stock if abs(s.effective_length_mm - length) < _SAME_MM]
        return near[0] if near else None

    def words_of(self, combination: int) -> str:
        """What a combination changes of today, in the order in which it is bolted on."""
        return ", ".join(self._changes(combination)) or "as it is"

    def _changes(self, combination: int) -> Iterator[str]:
        build, unit = self.build, self.build.display_units
        places = iter(self.places(combination))
        for (name, pulleys), place in zip(self.pulleys, places, strict=False):
            yield from _pulley_words(build, self.drive.pulley(name), pulleys[place])
        for name, holes in self.holes:
            at = holes[next(places)]
            shaft = build.shaft(name)
            assert isinstance(shaft.mount, HolesMount)
            if at != shaft.mount.at:
                yield f"{shaft.label} in hole {at + 1}"
        for name, offsets in self.offsets:
            at, bracket = offsets[next(places)], build.bracket(name)
            if at != bracket.at:
                yield f"{bracket.label} at offset {at + 1}"
        notch, arm = self.notches[next(places)], self.drive.tensioner
        if isinstance(arm, SpringArmTensioner) and notch is not None and notch != (arm.notch or 0):
            yield f"notch {notch + 1}"
        construction = self.constructions[next(places)]
        if construction != self.drive.belt.construction:
            yield f"{construction.replace('_', ' ')} belt"
        length = self.belts[next(places)]
        if length is not None and length != self.drive.belt.effective_length_mm:
            entry = self.stocked(length)
            yield entry.number if entry is not None else f"belt {format_length(length, unit)}"


def _pulley_words(build: Build, before: Pulley, after: Pulley) -> Iterator[str]:
    if before == after:
        return
    size = format_length(after.diameter_mm, build.display_units)
    side = "" if before.side == after.side else f" on the {after.side}"
    yield f"{build.shaft(after.shaft).label} {size}{side}"


def space_of(build: Build, choices: Choices, catalogue: Catalogue) -> Space:
    """What may change, checked against the build. Raises FinderError with what is not there."""
    drive = build.find_drive(choices.drive)
    if drive is None:
        known = ", ".join(d.id for d in build.drives) or "none is there"
        raise FinderError(f"choices.drive: one of the build's drives ({known})")
    _check_holes(build, drive, choices)
    for name, places in choices.offsets.items():
        if name not in {bracket.id for bracket in build.brackets}:
            raise FinderError(f"choices.offsets: a bracket of the build, not “{_said(name)}”")
        most = len(build.bracket(name).offsets_mm)
        _check_places(f"choices.offsets.{_said(name)}", places, most, "offsets_mm")
    arm = drive.tensioner
    notches: tuple[int | None, ...] = (None,)
    if choices.notches:
        if not isinstance(arm, SpringArmTensioner) or not arm.notches_deg:
            raise FinderError(f"choices.notches: {drive.label} has no arm with notches")
        _check_places("choices.notches", choices.notches, len(arm.notches_deg), "notches_deg")
        notches = choices.notches
    for name in choices.constructions:
        catalogue.construction(drive.belt.profile, name)
    target = choices.target
    if target is not None and target.pulley not in drive.route:
        raise FinderError(f"choices.target.pulley: one of the route, not “{_said(target.pulley)}”")
    lengths: tuple[float | None, ...] = choices.belt_lengths_mm
    return Space(
        build=build,
        choices=choices,
        catalogue=catalogue,
        pulleys=tuple(_pulleys(build, drive, choices, catalogue)),
        holes=tuple((name, places) for name, places in choices.holes.items() if places),
        offsets=tuple((name, places) for name, places in choices.offsets.items() if places),
        notches=notches,
        constructions=choices.constructions or (drive.belt.construction,),
        belts=lengths or (drive.belt.effective_length_mm,),
        stock=stock_for(build, belt_figures(drive.belt, catalogue), catalogue),
    )


def _said(name: str) -> str:
    """A name from a file as it can stand in a sentence."""
    return " ".join(name.split())[:60]


def _check_holes(build: Build, drive: Drive, choices: Choices) -> None:
    shafts = {drive.pulley(name).shaft for name in drive.route}
    for name, places in choices.holes.items():
        mount = build.shaft(name).mount if name in shafts else None
        if not isinstance(mount, HolesMount):
            raise FinderError(
                f"choices.holes: a shaft of {drive.label} with holes, not “{_said(name)}”"
            )
        _check_places(
            f"choices.holes.{_said(name)}", places, len(mount.positions_mm), "positions_mm"
        )


def _check_places(where: str, places: Sequence[int], count: int, of: str) -> None:
    for place in places:
        if place >= count:
            raise FinderError(f"{where}: places of {of}, 0 to {count - 1}, not {place}")


def _pulleys(
    build: Build, drive: Drive, choices: Choices, catalogue: Catalogue
) -> Iterator[tuple[str, tuple[Pulley, ...]]]:
    for key in ("diameters_mm", "sides"):
        for name in getattr(choices, key):
            if name not in drive.route:
                raise FinderError(f"choices.{key}: a pulley of {drive.label}, not “{_said(name)}”")
    for name in drive.route:
        sizes, sides = choices.diameters_mm.get(name, ()), choices.sides.get(name, ())
        if not sizes and not sides:
            continue
        now = drive.pulley(name)
        yield (
            name,
            tuple(
                _becomes(build, drive, now, size, side, catalogue)
                for size in sizes or (now.diameter_mm,)
                for side in sides or (now.side,)
            ),
        )


def _becomes(
    build: Build, drive: Drive, now: Pulley, size: float, side: str, catalogue: Catalogue
) -> Pulley:
    """A pulley of another size or side: one from the shelf where it has one of that size."""
    pulley = now
    if abs(size - now.diameter_mm) >= _SAME_MM:
        pulley = _from_shelf(build, drive, now, size, catalogue) or changed(
            now, diameter_mm=size, part=None
        )
    return pulley if pulley.side == side else changed(pulley, side=side)


def _from_shelf(
    build: Build, drive: Drive, now: Pulley, size: float, catalogue: Catalogue
) -> Pulley | None:
    idle = build.shaft(now.shaft).kind in ("idler", "tensioner")
    for part in sorted(build.shelf, key=lambda part: part.count < 1):
        fits = part.kind == ("idler" if idle else "pulley") and part.side in (None, now.side)
        if not fits or part.diameter_mm is None or abs(part.diameter_mm - size) >= _SAME_MM:
            continue
        try:
            put = put_on(build, now.shaft, part.id, catalogue)
        except JovialTackError:
            continue
        # a shaft may carry a pulley of another belt that takes the part instead
        after = put.drive(drive.id).pulley(now.id)
        if after.part == part.id:
            return after
    return None


def stands_at(space: Space, angle: float) -> Place:
    """Where the drive's sprung tensioner stands at an angle, rad; of a slide a share of its slot."""
    drive = space.drive
    if not isinstance(drive.tensioner, SpringSlideTensioner):
        return Place(arm_angle_deg=degrees(angle))
    shaft = space.build.shaft(drive.pulley(drive.tensioner.pulley).shaft)
    slot = slot_of(drive, shaft)
    return Place(slide_mm=angle * (0.0 if slot is None else slot.length_mm))
