"""What a drive lets change, offered with what lies at hand, and the choices made of it."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from jovial_tack.answers.belt.stock import stock_for
from jovial_tack.answers.drive.belt_figures import belt_figures
from jovial_tack.answers.finder.space import FinderError
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.units import LENGTH, parse, written_in
from jovial_tack.core.value import Value
from jovial_tack.document.edits.changing import changed
from jovial_tack.document.model import (
    Build,
    Choices,
    Drive,
    HolesMount,
    SpringArmTensioner,
    make,
)

#: Belts are offered within this share of the one that is fitted.
_BELTS_WITHIN = 0.1
#: A size typed in inches is the one at hand that is no further off, mm.
_SAME_MM = 0.06
_MOST = 500


class Offer(Value, frozen=True):
    """One thing that may change: kind as a key of the choices, of which part, in words; what it may
    become; whether it is ticked at first; at_hand: sizes or lengths that lie at hand, mm.
    """

    kind: str
    of: str
    words: str
    values: tuple[float | int | str, ...]
    ticked: bool = False
    at_hand: tuple[float, ...] = ()

    @property
    def is_typed(self) -> bool:
        """Whether its values are sizes or lengths, which may be typed."""
        return self.kind in ("belt_lengths_mm", "diameters_mm")


def offers_of(build: Build, drive_id: str, catalogue: Catalogue) -> tuple[Offer, ...]:
    """All that may change of a drive; what was chosen last is as it was then."""
    drive = build.drive(drive_id)
    kept = build.choices if build.choices and build.choices.drive == drive_id else None
    return tuple(_as_kept(offer, kept) for offer in _offers(build, drive, catalogue))


def _offers(build: Build, drive: Drive, catalogue: Catalogue) -> Iterator[Offer]:
    stock = stock_for(build, belt_figures(drive.belt, catalogue), catalogue)
    lengths = tuple(dict.fromkeys(belt.effective_length_mm for belt in stock))
    now = drive.belt.effective_length_mm
    near = [mm for mm in lengths if now is None or abs(mm / now - 1.0) <= _BELTS_WITHIN]
    own = () if now is None or now in near else (now,)
    yield Offer("belt_lengths_mm", "", "Belts", (*own, *near), True, lengths)
    arm = drive.tensioner
    if isinstance(arm, SpringArmTensioner) and len(arm.notches_deg or ()) > 1:
        count = len(arm.notches_deg or ())
        yield Offer("notches", "", f"All {count} notches", tuple(range(count)), True)
    for name in drive.route:
        mount = build.shaft(drive.pulley(name).shaft).mount
        if isinstance(mount, HolesMount) and len(mount.positions_mm) > 1:
            shaft, count = build.shaft(drive.pulley(name).shaft), len(mount.positions_mm)
            yield Offer(
                "holes", shaft.id, f"All {count} holes of {shaft.label}", tuple(range(count)), True
            )
    carried = {drive.pulley(name).shaft for name in drive.route}
    for bracket in build.brackets:
        if carried & set(bracket.shafts) and len(bracket.offsets_mm) > 1:
            count = len(bracket.offsets_mm)
            words = f"All {count} offsets of {bracket.label}"
            yield Offer("offsets", bracket.id, words, tuple(range(count)), True)
    for name in drive.route:
        yield _sizes(build, drive, name)
    built = tuple(catalogue.constructions.get(drive.belt.profile, {}))
    others = tuple(kind for kind in built if kind != "stretch")
    if len(others) > 1 and drive.belt.construction in others:
        yield Offer("constructions", "", "Other constructions", others)
    for name in drive.route:
        shaft = build.shaft(drive.pulley(name).shaft)
        if shaft.kind == "idler":
            yield Offer("sides", name, f"{shaft.label} on either side", ("ribs", "back"))


def _sizes(build: Build, drive: Drive, name: str) -> Offer:
    """The sizes of a pulley that lie on the shelf."""
    pulley = drive.pulley(name)
    shaft = build.shaft(pulley.shaft)
    kind = "idler" if shaft.kind in ("idler", "tensioner") else "pulley"
    shelf = [
        part.diameter_mm
        for part in build.shelf
        if part.kind == kind
        and part.diameter_mm is not None
        and part.side in (None, pulley.side)
        # what is made for another belt fits no pulley of this one
        and (kind == "idler" or part.grooves in (None, pulley.grooves))
    ]
    own = pulley.diameter_mm
    # a crank's pulley is none of those that go on an accessory
    sizes = (own,) if shaft.kind == "crank" else tuple(sorted({own, *shelf}))
    words, many = f"Pulley of {shaft.label}", len(sizes) > 1
    return Offer("diameters_mm", name, words, sizes, many, tuple(sorted({own, *shelf})))


def _as_kept(offer: Offer, kept: Choices | None) -> Offer:
    if kept is None:
        return offer
    held = getattr(kept, offer.kind)
    values = tuple(held.get(offer.of, ()) if offer.of else held)
    if not values:
        return changed_offer(offer, offer.values, ticked=False)
    return changed_offer(offer, values, ticked=True)


def changed_offer(offer: Offer, values: Sequence[float | int | str], *, ticked: bool) -> Offer:
    """The same thing with other values."""
    return Offer(offer.kind, offer.of, offer.words, tuple(values), ticked, offer.at_hand)


def sizes_text(offer: Offer, unit: str) -> str:
    """The values of an offer as they may be typed: a list, or a range of what lies at hand."""
    values = sorted(float(value) for value in offer.values)
    within = [mm for mm in offer.at_hand if values and values[0] <= mm <= values[-1]]
    if len(values) > 4 and len(within) == len(values):
        low, high = (_bare(mm, unit) for mm in (values[0], values[-1]))
        return f"{low} to {high}"
    return ", ".join(_bare(mm, unit) for mm in values)


def _bare(size_mm: float, unit: str) -> str:
    """A size without its unit, and without a nought that tells nothing."""
    return written_in(size_mm, LENGTH, unit).split()[0].removesuffix(".0")


def sizes_typed(offer: Offer, text: str, unit: str, step_mm: float) -> Offer:
    """An offer with typed values: “72, 76, 80”, “1150 to 1300” of what is at hand, “70 to 80 by 2”.

    Raises FinderError or UnitError with what was expected.
    """
    values: list[float] = []
    for part in filter(None, (piece.strip() for piece in re.split(r"[,;]\s+|[,;]$|;", text))):
        values += _typed_part(offer, part, unit, step_mm)
    if not values:
        raise FinderError(f"{offer.words}: sizes such as 72, 76, 80, or 70 to 80 by 2")
    if len(values) > _MOST:
        raise FinderError(f"{offer.words}: at most {_MOST} sizes at once, not {len(values)}")
    return changed_offer(offer, tuple(dict.fromkeys(values)), ticked=True)


def _typed_part(offer: Offer, part: str, unit: str, step_mm: float) -> list[float]:
    found = re.fullmatch(r"(.+?)\s+to\s+(.+?)(?:\s+by\s+(.+))?", part)
    if found is None:
        return [_at_hand(offer, parse(part, LENGTH, unit))]
    low, high = (parse(end, LENGTH, unit) for end in found.group(1, 2))
    if low > high:
        low, high = high, low
    if found.group(3) is None:
        within = [mm for mm in offer.at_hand if low - _SAME_MM <= mm <= high + _SAME_MM]
        if len(within) > 1 or offer.kind == "belt_lengths_mm":
            return within
    step = parse(found.group(3), LENGTH, unit) if found.group(3) else step_mm
    if step <= 0 or (high - low) / step > _MOST:
        raise FinderError(f"{offer.words}: a step that makes at most {_MOST} sizes")
    count = int((high - low) / step + 1e-9) + 1
    return [_at_hand(offer, round(low + k * step, 4)) for k in range(count)]


def _at_hand(offer: Offer, size_mm: float) -> float:
    near = [mm for mm in offer.at_hand if abs(mm - size_mm) < _SAME_MM]
    return min(near, key=lambda mm: abs(mm - size_mm)) if near else size_mm


def choices_of(drive_id: str, offers: Sequence[Offer], **more: object) -> Choices:
    """The choices that are ticked; more: aim, target, needs, boost_kpa, limit."""
    data: dict[str, object] = {"drive": drive_id}
    for offer in offers:
        if not offer.ticked:
            continue
        if offer.of:
            held = data.setdefault(offer.kind, {})
            assert isinstance(held, dict)
            held[offer.of] = offer.values
        else:
            data[offer.kind] = offer.values
    return make(Choices, {**data, **{key: value for key, value in more.items() if value}})


def with_choices(build: Build, choices: Choices) -> Build:
    """The build with choices kept in it."""
    return build if build.choices == choices else changed(build, choices=choices)
