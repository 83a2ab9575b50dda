"""The stocked belt to order for each drive: one of those to bring home (docs/METHOD.md, section 13)."""

from __future__ import annotations

from collections.abc import Callable

from jovial_tack.answers.belt.buying import ENOUGH, BeltChoice, choose_belt
from jovial_tack.answers.belt.window import Candidate
from jovial_tack.answers.drive.assemble import assemble
from jovial_tack.answers.drive.case import SolvableCase
from jovial_tack.answers.drive.spread import Spread, share_sigma, spread_of
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.value import Value
from jovial_tack.document.model import Build, LockedTensioner, StretchTensioner

_JUST_OUTSIDE_MM = 2.0  # a locked drive takes belts a little off the one it calls for


class OrderedBelt(Value, frozen=True):
    """The stocked belt to order for one drive.

    width in words; window_fraction and growth_left_mm where an arm would rest; travel_fraction where a
    shaft is bolted, of its travel from the shortest belt's side; off_by_mm from the length that fixed
    centres call for; tension_n: what a stretch belt's stretch gives it; missed: what speaks against it
    though nothing better is stocked; window_sd: one standard deviation of window_fraction, where the
    shafts stand as surveyed; noun: what rests in a window, arm or slide.
    """

    drive: str
    number: str
    ribs: int
    profile: str
    width: str
    effective_length_mm: float
    is_fitted: bool
    window_fraction: float | None = None
    growth_left_mm: float | None = None
    travel_fraction: float | None = None
    off_by_mm: float | None = None
    tension_n: float | None = None
    missed: str | None = None
    window_sd: float | None = None
    noun: str = "arm"


def belts_to_order(
    build: Build,
    catalogue: Catalogue,
    only: str | None = None,
    enough: int = ENOUGH,
    check_cancelled: Callable[[], None] = lambda: None,
) -> dict[str, OrderedBelt | None]:
    """For every drive (or only one) the belt to order; None where no stocked belt fits and goes on.

    enough: as `choose_belt` has it; one is enough to know whether there is any.

    It is the one of those to bring home that lies nearest to mid window, so that it goes on, rests and
    runs in the window, holds and is not too tight, where there is such a belt. Drives without a
    decided adjuster or a path are left out. check_cancelled: called between drives; what it raises
    ends the work.
    """
    found: dict[str, OrderedBelt | None] = {}
    spread = spread_of(build, catalogue)
    for case in assemble(build, catalogue):
        name = case.model.id
        if (
            not isinstance(case, SolvableCase)
            or case.model.tensioner is None
            or only not in (None, name)
        ):
            continue
        check_cancelled()
        choice = choose_belt(build, name, catalogue, _JUST_OUTSIDE_MM, enough)
        if choice.window is not None:
            found[name] = _ordered(case, choice, spread)
        elif case.arm is not None or case.track is not None:
            found[name] = None
    return found


def _ordered(case: SolvableCase, choice: BeltChoice, spread: Spread) -> OrderedBelt | None:
    home = {belt.number for belt in choice.bring_home}
    belts = [belt for belt in choice.candidates if belt.number in home]
    if not belts:
        return None
    assert choice.window is not None
    middle = choice.window.mid_mm
    nearest = min(belts, key=lambda b: abs(b.effective_length_mm - middle))
    window_sd = None
    place = nearest.place
    if spread.surveyed and place is not None and case.arm is not None:
        window_sd = share_sigma(case, place.angle_of(case.arm), spread)
    return _named(case, nearest, middle, window_sd)


def _named(
    case: SolvableCase, belt: Candidate, middle_mm: float, window_sd: float | None
) -> OrderedBelt:
    fitted, length = case.model.belt.effective_length_mm, belt.effective_length_mm
    tensioner, profile = case.model.tensioner, case.belt.profile
    bolted = isinstance(tensioner, LockedTensioner) and case.track is None
    return OrderedBelt(
        drive=case.model.id,
        number=belt.number,
        ribs=case.belt.ribs,
        profile=profile.name,
        width=profile.counted(case.belt.ribs),
        effective_length_mm=length,
        is_fitted=fitted is not None and abs(fitted - length) < 0.5,
        window_fraction=belt.window_fraction if case.arm is not None else None,
        growth_left_mm=belt.growth_left_mm if case.arm is not None else None,
        travel_fraction=belt.window_fraction if case.track is not None else None,
        off_by_mm=length - middle_mm if bolted else None,
        tension_n=belt.tension_n if isinstance(tensioner, StretchTensioner) else None,
        missed=None if belt.passes else belt.reason,
        window_sd=window_sd,
        noun=belt.place.noun if belt.place is not None else "arm",
    )
