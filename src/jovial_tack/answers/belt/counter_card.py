"""A card for the counter: what to ask for of one drive, on a telephone (docs/METHOD.md, section 19)."""

from __future__ import annotations

from jovial_tack.answers.belt.buying import choose_belt
from jovial_tack.answers.belt.counter import Numbered, not_to_take, numbered
from jovial_tack.answers.belt.order import belts_to_order
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import GeometryError
from jovial_tack.core.units import format_length
from jovial_tack.core.value import Value
from jovial_tack.core.words import capital
from jovial_tack.document.model import Build


class CounterCard(Value, frozen=True):
    """What to ask for. numbers: of the first choice, the usual one first, with what each scheme is
    called; grade: the construction in words; second: another that would do, None without one.
    """

    title: str
    drive: str
    numbers: tuple[tuple[str, str], ...]
    width: str
    length: str
    grade: str
    second: tuple[str, ...] | None
    not_to_take: tuple[str, ...]

    @property
    def text(self) -> str:
        """The card as lines, to be sent."""
        (_, number), *others = self.numbers
        lines = [f"{self.drive}: {number}"]
        lines += [f"{scheme}: {name}" for scheme, name in others]
        lines += [f"{capital(self.width)}, {self.length} effective, {self.grade}"]
        if self.second is not None:
            lines.append(f"Second choice: {' = '.join(self.second)}")
        lines += [f"Not: {each}" for each in self.not_to_take]
        return "\n".join([*lines, self.title])


def counter_card(build: Build, drive_id: str, catalogue: Catalogue) -> CounterCard:
    """The card of a drive. Raises GeometryError where no stocked belt fits."""
    drive = build.drive(drive_id)
    order = belts_to_order(build, catalogue, drive_id).get(drive_id)
    if order is None:
        raise GeometryError(f"{drive.label}: no stocked belt fits; there is nothing to ask for yet")
    profile, ribs = catalogue.profiles[drive.belt.profile], drive.belt.ribs
    choice = choose_belt(build, drive_id, catalogue)
    fits = {belt.number: belt.effective_length_mm for belt in choice.candidates}
    others = [belt.number for belt in choice.bring_home if belt.number != order.number]
    others += [b.number for b in choice.candidates if b.fits and b.number != order.number]
    second = next((name for name in others if name in fits), None)
    length = order.effective_length_mm

    def named(length_mm: float) -> Numbered:
        return numbered(profile, ribs, length_mm, length_mm)

    first = named(length)
    return CounterCard(
        build.title or build.engine.name or "Build without a title",
        drive.label,
        (("number", first.number), *first.elsewhere),
        order.width,
        format_length(length, build.display_units),
        drive.belt.construction.replace("_", " "),
        None if second is None else _all_numbers(named(fits[second])),
        not_to_take(profile, ribs),
    )


def _all_numbers(belt: Numbered) -> tuple[str, ...]:
    return (belt.number, *(name for _, name in belt.elsewhere))
