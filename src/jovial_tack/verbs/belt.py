"""The verbs belt, number and toothed: which belt to order, and what numbers and teeth mean."""

from __future__ import annotations

import argparse
import re
from collections.abc import Callable, Sequence
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from jovial_tack.verbs.arguments import (
    Parser,
    UsageError,
    as_json,
    drive_named,
    output,
    own_catalogue,
    read_to_compute,
    show,
)
from jovial_tack.verbs.figures import (
    between_marks,
    degrees,
    force,
    length,
    measurement,
    one_count,
    rise,
    share,
    signed_length,
    teeth,
    tone,
    torque,
    whole,
)

if TYPE_CHECKING:
    from jovial_tack.answers.belt.feel import Felt
    from jovial_tack.answers.belt.tone import Heard
    from jovial_tack.answers.results import DriveResult

#: A length typed in inches or feet is answered in inches.
_INCHES = re.compile(r"[0-9]\s*(in\b|inch|ft\b|foot|feet|[\"″”′’'])")


def belt_verb(arguments: Sequence[str]) -> int:
    """Print which belts fit a drive. Returns the exit status."""
    parser = Parser(prog="jovial-tack belt", description="Which belt to order for a drive.")
    parser.add_argument("build", metavar="BUILD.jtack", type=Path)
    parser.add_argument("--drive", metavar="ID", help="the drive (the first)")
    seen = parser.add_mutually_exclusive_group()
    seen.add_argument(
        "--pointer",
        type=between_marks,
        metavar="PLACE",
        help="place of an arm between its marks, from the wound one: 40%% or “9 of 22 mm”",
    )
    seen.add_argument("--arm-at", type=degrees, metavar="DEG", help="angle the arm is seen at")
    seen.add_argument(
        "--travel-at", type=share, metavar="SHARE", help="place on slot or swing, 0 to 1"
    )
    parser.add_argument(
        "--measured",
        type=measurement,
        metavar="WAY=LENGTH",
        help="tape, string, rims, flat, outside, fixture, teeth",
    )
    parser.add_argument("--thick", type=length, default=0.0, help="of the tape or string")
    parser.add_argument("--held-at", type=degrees, help="where the adjuster was held meanwhile")
    parser.add_argument(
        "--push",
        type=force,
        metavar="FORCE",
        help="force of a push at the middle of the longest span",
    )
    parser.add_argument("--play", type=length, metavar="LENGTH", help="how far it gave under it")
    parser.add_argument(
        "--tone",
        type=tone,
        metavar="HZ",
        help="lowest tone of the longest span, plucked at rest",
    )
    parser.add_argument(
        "--twist",
        type=torque,
        metavar="TORQUE",
        help="that twists the middle of the longest span by a quarter turn",
    )
    parser.add_argument(
        "--span", metavar="ID", help="pulley that the span leaves, for push, tone and twist"
    )
    parser.add_argument(
        "--card",
        type=output,
        metavar="OUT.png|OUT.txt",
        help="a card for the counter, for a telephone",
    )
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)
    if (asked.push is None) != (asked.play is None):
        raise UsageError("--push and --play go together, such as --push 40 --play 6.5")

    from jovial_tack.answers.belt.as_seen import Seen, as_fitted
    from jovial_tack.answers.belt.buying import choose_belt
    from jovial_tack.answers.belt.counter import asked_for
    from jovial_tack.answers.belt.counter_card import counter_card
    from jovial_tack.answers.belt.feel import from_feel
    from jovial_tack.answers.belt.measured import against_layout, from_measurement
    from jovial_tack.answers.belt.tone import from_tone, from_twist
    from jovial_tack.answers.drive.solve import solve
    from jovial_tack.core.errors import GeometryError
    from jovial_tack.files.belt_json import (
        as_fitted_json,
        belt_choice_json,
        felt_json,
        heard_json,
        measured_json,
    )
    from jovial_tack.files.counter_card import write_card
    from jovial_tack.verbs.tables.belt import belt_table, fitted_table, measured_table

    catalogue = own_catalogue()
    build = read_to_compute(asked.build, catalogue).build
    drive = drive_named(build, asked.drive, asked.build.name)
    choice = choose_belt(build, drive, catalogue)
    values, text = belt_choice_json(choice), belt_table(build, choice)
    if asked.card is not None:
        card = counter_card(build, drive, catalogue)
        write_card(card, asked.card)
        text += f"\n\n{card.text}"
    between = asked.travel_at if asked.pointer is None else asked.pointer
    if asked.arm_at is not None or between is not None:
        try:
            found = as_fitted(build, drive, catalogue, Seen(asked.arm_at, between))
        except GeometryError as error:
            raise UsageError(f"{asked.build.name}: {error}") from None
        values["as_fitted"] = as_fitted_json(found)
        text += "\n\n" + fitted_table(found, build.display_units)
    if asked.measured is not None:
        way, reading = asked.measured
        try:
            means = from_measurement(
                build, drive, catalogue, way, reading, thick_mm=asked.thick, held_at=asked.held_at
            )
        except GeometryError as error:
            raise UsageError(f"{asked.build.name}: {error}") from None
        model, unit = build.drive(drive), build.display_units
        ask = asked_for(choice, model, catalogue, means.order_mm, unit)
        against = against_layout(means, model.belt.effective_length_mm, choice.uncertain_mm, unit)
        values["measured"] = measured_json(means) | {"ask_for": ask or None, "against": against}
        text += "\n\n" + measured_table(means, unit)
        text += f"\n{'nearest stocked' if against else 'ask for'}: {ask}" if ask else ""
        text += f"\n{against}" if against else ""
    readings: list[tuple[str, Callable[..., Felt | Heard], Callable[..., dict[str, Any]]]] = []
    if asked.push is not None:
        felt = partial(from_feel, push_n=asked.push, play_mm=asked.play)
        readings.append(("felt", felt, felt_json))
    if asked.tone is not None:
        readings.append(("heard", partial(from_tone, tone_hz=asked.tone), heard_json))
    if asked.twist is not None:
        readings.append(("twisted", partial(from_twist, twist_nm=asked.twist), heard_json))
    result = solve(build, None, catalogue).drive(drive) if readings else None
    for key, read, told_json in readings:
        assert result is not None
        span = _span_named(result, asked.span, asked.build.name)
        try:
            told = read(build, result, catalogue, span=span)
        except GeometryError as error:
            raise UsageError(f"{asked.build.name}: {error}") from None
        values[key] = told_json(told)
        text += "\n\n" + "\n".join(told.lines(build.display_units))
    show(as_json(values) if asked.json else text)
    return 0 if any(candidate.fits for candidate in choice.candidates) else 1


def _span_named(result: DriveResult, wanted: str | None, file: str) -> str | None:
    """The span that was asked for, by the pulley it leaves. Raises UsageError where there is none."""
    if wanted is None or any(span.from_id == wanted for span in result.spans):
        return wanted
    known = ", ".join(span.from_id for span in result.spans)
    raise UsageError(f"{file}: no span leaves “{wanted}”; there are {known or 'none'}")


def number_verb(arguments: Sequence[str]) -> int:
    """Print the readings of a belt number. Returns the exit status."""
    parser = Parser(
        prog="jovial-tack number",
        description="Read a belt number, or what one reading of a belt or drive means to ask for.",
    )
    parser.add_argument(
        "text",
        nargs="*",
        metavar="TEXT",
        help="a number, ? for a digit worn off; or belts tried: 6PK1610 short, 6PK1625 long",
    )
    parser.add_argument("--length", type=length, help="a reading, such as 1435 or “56 1/2 in”")
    parser.add_argument(
        "--way",
        default="length",
        help="how it was read: length, tape, string, rims, flat, outside, fixture",
    )
    parser.add_argument("--teeth", type=one_count, help="teeth counted on a toothed belt")
    parser.add_argument("--ribs", type=one_count, help="ribs counted")
    parser.add_argument("--width", type=length, help="top width of a V-belt, or of a toothed one")
    parser.add_argument("--profile", help="PK, PJ, A, B, 8M … where ribs or width do not tell")
    parser.add_argument("--thick", type=length, default=0.0, help="of the tape or string")
    parser.add_argument(
        "--back",
        type=whole(0, 30, "a count of pulleys from 0 to 30"),
        default=0,
        metavar="COUNT",
        help="pulleys on the belt's back, under tape or string",
    )
    parser.add_argument("--json", action="store_true", help="the readings as JSON")
    asked = parser.parse_args(arguments)
    text = " ".join(asked.text)

    from jovial_tack.answers.belt.counter import is_of_belts_tried

    if asked.length is not None or asked.teeth is not None:
        if text:
            raise UsageError("a number and a reading are two questions; ask one")
        return _at_the_counter(asked, "in" if any(map(_INCHES.search, arguments)) else "mm")
    if not text:
        raise UsageError("type a number such as 7PK1835, or --length with --ribs or --width")
    if "?" in text:
        return _worn(asked, text)
    if is_of_belts_tried(text):
        return _tried(asked, text)

    return _read_number(asked, text)


def _read_number(asked: argparse.Namespace, text: str) -> int:
    """Print the readings of a number. Returns the exit status."""
    from jovial_tack.answers.belt.numbers import number_table
    from jovial_tack.core.belt.numbers import elsewhere, read_number, why_not
    from jovial_tack.files.belt_json import reading_json

    readings = read_number(text)
    problem = None if readings else why_not(text)
    if asked.json:
        values = [reading_json(reading) | {"same_as": elsewhere(reading)} for reading in readings]
        show(as_json({"readings": values, "problem": problem}))
    else:
        show(number_table(readings) if readings else f"no belt number: {problem}")
    return 0 if readings else 1


def _at_the_counter(asked: argparse.Namespace, unit: str) -> int:
    """Print what a reading means to ask for; inches are told in inches. Returns the exit status."""
    from jovial_tack.answers.belt.counter import (
        COUNTER_WAYS,
        CounterWay,
        at_the_counter,
        counter_lines,
        profiles_of,
    )
    from jovial_tack.core.errors import GeometryError
    from jovial_tack.files.belt_json import to_ask_for_json

    named: CounterWay | None = next((w for w in COUNTER_WAYS if w == asked.way), None)
    if named is None:
        raise UsageError(f"no way “{asked.way[:20]}”; there are {', '.join(COUNTER_WAYS)}")
    catalogue, way, reading = own_catalogue(), named, asked.length
    if asked.teeth is not None:
        way, reading = "teeth", float(asked.teeth)
    try:
        found = [
            at_the_counter(
                catalogue,
                kind,
                way,
                reading,
                thick_mm=asked.thick,
                on_the_back=asked.back,
                unit=unit,
            )
            for kind in profiles_of(catalogue, asked.ribs, asked.width, asked.profile)
        ]
    except GeometryError as error:
        raise UsageError(str(error)) from None
    if asked.json:
        show(as_json({"to_ask_for": [to_ask_for_json(each) for each in found]}))
    else:
        show("\n\n".join("\n".join((each.width, *counter_lines(each, unit))) for each in found))
    return 0


def _tried(asked: argparse.Namespace, text: str) -> int:
    """Print what belts that were tried mean to ask for. Returns the exit status."""
    from jovial_tack.answers.belt.counter import counter_lines, from_belts_tried
    from jovial_tack.core.errors import GeometryError
    from jovial_tack.files.belt_json import to_ask_for_json

    try:
        found = from_belts_tried(own_catalogue(), text)
    except GeometryError as error:
        raise UsageError(str(error)) from None
    if asked.json:
        show(as_json({"to_ask_for": [to_ask_for_json(found)]}))
    else:
        show("\n".join((found.width, *counter_lines(found))))
    return 0


def _worn(asked: argparse.Namespace, text: str) -> int:
    """Print the belts a half worn number may have been. Returns the exit status."""
    from jovial_tack.answers.belt.counter import worn_number
    from jovial_tack.core.errors import GeometryError
    from jovial_tack.files.belt_json import numbered_json

    try:
        found = worn_number(own_catalogue(), text, asked.ribs, asked.width)
    except GeometryError as error:
        raise UsageError(str(error)) from None
    if asked.json:
        show(as_json({"may_be": [numbered_json(belt) for belt in found]}))
    else:
        show("\n".join(f"{b.number:14}{b.effective_length_mm:9.1f} mm effective" for b in found))
    return 0


def toothed_verb(arguments: Sequence[str]) -> int:
    """Print a toothed drive of two pulleys. Returns the exit status."""
    parser = Parser(prog="jovial-tack toothed", description="A toothed drive of two pulleys.")
    parser.add_argument("--pitch", type=length, required=True, help="tooth pitch in mm, such as 8")
    parser.add_argument("--teeth", type=teeth, required=True, help="of driver and driven, as 30,60")
    way = parser.add_mutually_exclusive_group(required=True)
    way.add_argument("--belt", type=one_count, help="teeth of the belt")
    way.add_argument(
        "--center", type=length, help="centre distance in mm; the nearest belt is taken"
    )
    parser.add_argument(
        "--off",
        type=signed_length,
        default=0.0,
        metavar="MM",
        help="by how much the centres are closer than the belt asks for",
    )
    parser.add_argument("--width", type=length, metavar="MM", help="width of the belt")
    parser.add_argument("--torque", type=torque, metavar="NM", help="torque at the driver")
    parser.add_argument(
        "--rise", type=rise, default=70.0, metavar="K", help="rise in temperature (70)"
    )
    parser.add_argument("--json", action="store_true", help="the answer as JSON")
    asked = parser.parse_args(arguments)

    from jovial_tack.answers.belt.toothed import stiffness_of, toothed_answer, toothed_table
    from jovial_tack.core.belt.toothed import ToothedDrive, belts_for
    from jovial_tack.core.errors import GeometryError
    from jovial_tack.files.belt_json import toothed_json

    if len(asked.teeth) != 2:
        raise UsageError("--teeth takes two counts, of driver and driven pulley, such as 30,60")
    driver, driven = asked.teeth
    try:
        if asked.belt is not None:
            drive = ToothedDrive(asked.pitch, driver, driven, asked.belt)
        else:
            drive = belts_for(asked.pitch, driver, driven, asked.center, 2 * asked.pitch)[0]
    except (GeometryError, IndexError) as error:
        raise UsageError(str(error) or "no belt of whole teeth has that centre distance") from None
    wide = None if asked.width is None else stiffness_of(own_catalogue(), asked.pitch, asked.width)
    answer = toothed_answer(drive, asked.off, asked.torque, asked.rise, wide)
    show(as_json(toothed_json(answer)) if asked.json else toothed_table(answer))
    return 0
