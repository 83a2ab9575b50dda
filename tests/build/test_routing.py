"""Edits that build an engine up, and the layouts to start from."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jovial_tack.build.edits import empty_build
from jovial_tack.build.layouts import LAYOUTS
from jovial_tack.build.load import build_from_json
from jovial_tack.build.model import Build, dump
from jovial_tack.build.order import belts_to_order
from jovial_tack.build.results import ArmResult, FixedResult
from jovial_tack.build.routing import (
    add_shaft,
    best_span,
    duplicate_shaft,
    lay_on,
    new_belt,
    remove_shaft,
    set_mount,
    set_side,
    shift_in_route,
    take_off,
)
from jovial_tack.build.solve import solve
from jovial_tack.catalogue import Catalogue, load_catalogue

CATALOGUE = load_catalogue()


@pytest.mark.parametrize("make", [make for _, make in LAYOUTS], ids=[name for name, _ in LAYOUTS])
def test_a_starting_layout_stands_and_holds(make: Callable[[Catalogue], Build]) -> None:
    build = make(CATALOGUE)
    results = solve(build, None, CATALOGUE)
    assert not results.stops, [f.message for f in results.findings if f.level == "stop"]
    for drive in results.drives:
        tensioner = drive.tensioner
        if isinstance(tensioner, ArmResult):
            assert tensioner.window_fraction is not None
            assert 0.15 < tensioner.window_fraction < 0.85
        else:
            assert isinstance(tensioner, FixedResult)
            assert tensioner.travel is not None
            assert 0.1 < tensioner.travel.travel_fraction < 0.9
    orders = belts_to_order(build, CATALOGUE).values()
    assert all(order is not None and order.is_fitted for order in orders)


def _belt_of_three() -> tuple[Build, str]:
    build = empty_build(CATALOGUE.version)
    for kind, place in (("alternator", (200.0, 150.0)), ("idler", (-150.0, 120.0))):
        build, _ = add_shaft(build, kind, CATALOGUE, place)
    build, drive = new_belt(build, "crank", "alternator", CATALOGUE)
    after = best_span(build, drive, "idler", "ribs", CATALOGUE)
    assert after is not None
    return lay_on(build, drive, after, "idler", "ribs", CATALOGUE), drive


def test_the_best_span_is_the_one_with_the_shortest_path() -> None:
    build, drive = _belt_of_three()
    lengths = {}
    bare = take_off(build, drive, "idler")
    for after in bare.drive(drive).route:
        tried = lay_on(bare, drive, after, "idler", "ribs", CATALOGUE)
        lengths[after] = solve(tried, None, CATALOGUE).drive(drive).cord_length_mm
    known = {after: length for after, length in lengths.items() if length is not None}
    chosen = solve(build, None, CATALOGUE).drive(drive).cord_length_mm
    assert chosen == pytest.approx(min(known.values()))


def test_taking_off_the_last_but_one_takes_the_belt_away() -> None:
    build, drive = _belt_of_three()
    build = take_off(take_off(build, drive, "idler"), drive, "alternator")
    assert build.drives == ()
    assert [s.id for s in remove_shaft(build, "idler").shafts] == ["crank", "alternator"]


def test_going_round_the_route_comes_back() -> None:
    build, drive = _belt_of_three()
    route = build.drive(drive).route
    seen = {route}
    turned = build
    for _ in range(3):
        turned = shift_in_route(turned, drive, "idler", 1)
        assert sorted(turned.drive(drive).route) == sorted(route)
        seen.add(turned.drive(drive).route)
    assert len(seen) >= 2
    assert set_side(set_side(build, drive, "idler", "back"), drive, "idler", "ribs") == build


DOINGS = st.lists(
    st.sampled_from(["add", "copy", "belt", "lay", "off", "gone", "mount"]), max_size=12
)
MOUNTS = st.sampled_from(["slot", "swing", "holes", "fixed"])
KINDS = st.sampled_from([kind for kind in CATALOGUE.kinds if kind != "crank"])


@given(doings=DOINGS, data=st.data())
@settings(max_examples=40, deadline=None)
def test_whatever_is_done_the_build_stays_one_that_can_be_saved(
    doings: list[str], data: st.DataObject
) -> None:
    build = empty_build(CATALOGUE.version)
    for doing in doings:
        shaft = data.draw(st.sampled_from([s.id for s in build.shafts]))
        drives = [d.id for d in build.drives]
        drive = data.draw(st.sampled_from(drives)) if drives else None
        if doing == "add":
            build, _ = add_shaft(build, data.draw(KINDS), CATALOGUE)
        elif doing == "copy" and shaft != "crank":
            build, _ = duplicate_shaft(build, shaft)
        elif doing == "belt" and shaft != "crank":
            build, _ = new_belt(build, "crank", shaft, CATALOGUE)
        elif doing == "lay" and drive is not None:
            if shaft not in {p.shaft for p in build.drive(drive).pulleys}:
                build = lay_on(build, drive, build.drive(drive).route[0], shaft, "back", CATALOGUE)
        elif doing == "off" and drive is not None:
            build = take_off(build, drive, build.drive(drive).route[-1])
        elif doing == "gone" and shaft != "crank":
            build = remove_shaft(build, shaft)
        elif doing == "mount":
            build = set_mount(build, shaft, data.draw(MOUNTS))
    assert build_from_json(dump(build), CATALOGUE)[0] == build
    solve(build, None, CATALOGUE)
