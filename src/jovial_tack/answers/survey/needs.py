"""What each accessory still needs until its belt is threaded: a list to tick off, with why."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from jovial_tack.answers.results import Results
from jovial_tack.core.value import Value
from jovial_tack.document import model as doc
from jovial_tack.document.targets import NOTHING, BeltAt, PulleyAt, ShaftAt, Target

#: Kinds that work one way only, as a pump does, so that which way must be looked at.
_ONE_WAY = ("water_pump", "power_steering", "compressor", "supercharger", "vacuum_pump", "fan")
_DRIVEN = (*_ONE_WAY, "alternator", "fuel_pump", "jackshaft", "camshaft", "other")
_LOADED = ("alternator", "power_steering", "compressor", "supercharger", "water_pump", "fan")

State = Literal["done", "open"]


class Need(Value, frozen=True):
    """One thing of a list: of what (its label), what it is, and where it is put right."""

    of: str
    words: str
    state: State
    target: Target = NOTHING


def needs_of(build: doc.Build, results: Results) -> tuple[Need, ...]:
    """The whole list, shaft by shaft and then belt by belt; it ends with each belt threaded."""
    found = [need for shaft in build.shafts for need in _of_shaft(build, shaft)]
    for drive in build.drives:
        found += _of_drive(build, drive, results)
    if not build.drives and len(build.shafts) > 1:
        found.append(Need("Belts", "pull a belt over the shafts (Lay out, Shift and drag)", "open"))
    return tuple(found)


def _of_shaft(build: doc.Build, shaft: doc.Shaft) -> Iterator[Need]:
    at = ShaftAt(shaft.id)

    def need(words: str, *, done: bool) -> Need:
        return Need(shaft.label, words, "done" if done else "open", at)

    pulleys = [(d.id, p) for d in build.drives for p in d.pulleys if p.shaft == shaft.id]
    yield need("a pulley, on a belt", done=bool(pulleys))
    if shaft.kind in _ONE_WAY:
        turns = shaft.needs_rotation is not None
        yield need("which way it must turn: look at its cover, or its vanes", done=turns)
    if shaft.kind in _LOADED:
        known = shaft.load is not None or shaft.output is not None
        yield need("its load; till then the usual one of its kind counts", done=known)
    if shaft.kind in _DRIVEN and shaft.kind != "other":
        yield need("its maker's most revs", done=shaft.max_rpm is not None)
    for drive, pulley in pulleys:
        if pulley.side == "ribs":
            known = pulley.plane_mm is not None
            words = "the plane of its groove: with a long or a short pump it is another"
            yield Need(shaft.label, words, "done" if known else "open", PulleyAt(drive, pulley.id))


def _of_drive(build: doc.Build, drive: doc.Drive, results: Results) -> Iterator[Need]:
    at, result = BeltAt(drive.id), results.drive(drive.id)

    def need(words: str, *, done: bool) -> Need:
        return Need(drive.label, words, "done" if done else "open", at)

    yield need("something that tensions it", done=drive.tensioner is not None)
    yield need("a belt of some length", done=drive.belt.effective_length_mm is not None)
    yield need("the belt threaded, with a path all the way round", done=result.exists)


def still_open(needs: tuple[Need, ...]) -> int:
    """How many things are open."""
    return sum(need.state == "open" for need in needs)
