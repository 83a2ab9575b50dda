"""Edits that build an engine up, and the layouts to start from."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from jovial_tack.answers.belt.order import belts_to_order
from jovial_tack.answers.comparing import compare
from jovial_tack.answers.drive.solve import solve
from jovial_tack.answers.lay_out.starts import LAYOUTS, jackshaft, one_belt_with_arm
from jovial_tack.answers.lay_out.suited import best_span
from jovial_tack.answers.results import ArmResult, FixedResult
from jovial_tack.catalogue import Catalogue, load_catalogue
from jovial_tack.core.errors import BuildFileError
from jovial_tack.document.edits.changing import changed, with_drive
from jovial_tack.document.edits.engine import empty_build
from jovial_tack.document.edits.freedoms import set_mount, slide_shaft
from jovial_tack.document.edits.routes import lay_on, new_belt, set_side, shift_in_route, take_off
from jovial_tack.document.edits.shafts import add_shaft, duplicate_shaft, remove_shaft, set_shaft
from jovial_tack.document.edits.tensioners import set_arm
from jovial_tack.document.edits.variants import (
    PRESENT,
    bare,
    drop_variant,
    keep_variant,
    take_variant,
)
from jovial_tack.document.loading import build_from_json
from jovial_tack.document.model import Build, dump
from jovial_tack.document.travel import track_on
from support import with_own_loads

CATALOGUE = load_catalogue()


@pytest.mark.parametrize("make", [make for _, make in LAYOUTS], ids=[name for name, _ in LAYOUTS])
def test_a_starting_layout_stands_and_holds(make: Callable[[Catalogue], Build]) -> None:
    build = make(CATALOGUE)
    results = solve(build, None, CATALOGUE)
    assert not results.stops, [f.message for f in results.findings if f.level == "stop"]
    for drive in results.drives:
        tensioner, grip = drive.tensioner, drive.grip
        assert tensioner is not None and grip is not None
        assert grip.least_tension_n is not None and grip.most_tension_n is not None
        assert grip.least_tension_n < tensioner.tension_n < grip.most_tension_n
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


def test_a_dragged_shaft_stays_on_its_freedom() -> None:
    build, _ = _belt_of_three()
    x, y = build.shaft("idler").center_mm
    for kind in ("slot", "swing", "holes"):
        free = set_mount(build, "idler", kind)
        moved = slide_shaft(free, "idler", x + 500, y + 300)
        track = track_on(moved.shaft("idler").mount)
        center = complex(*moved.shaft("idler").center_mm)
        if track is not None:
            on_it = complex(track.center(np.asarray(track.share(center))))
            assert abs(on_it - center) < 0.01
            assert moved.shaft("idler").mount == free.shaft("idler").mount
        else:
            assert moved.shaft("idler").mount.at in (0, 1)  # type: ignore[union-attr]
            assert moved.shaft("idler").center_mm in moved.shaft("idler").mount.positions_mm  # type: ignore[union-attr]
    fixed = slide_shaft(build, "idler", x + 5, y - 5)
    assert fixed.shaft("idler").center_mm == (x + 5, y - 5)


def test_a_jackshaft_drive_equals_its_belts_solved_one_after_the_other() -> None:
    whole = jackshaft(CATALOGUE)
    results = solve(whole, None, CATALOGUE)
    first, second = (results.drive(drive.id) for drive in whole.drives)
    jack = next(p for p in first.pulleys if p.id == "jackshaft")
    at_jack = next(p for p in second.pulleys if p.id == "jackshaft")

    # the second belt by itself: the jackshaft as a crank at the speed and place the first belt gives it
    place = first.tensioner.travel.center_mm  # type: ignore[union-attr]
    data = dump(whole)
    ratio = jack.speed_ratio
    for key in ("idle_rpm", "cruise_rpm", "redline_rpm"):
        data["engine"][key] *= ratio
    data["shafts"] = [
        {"id": "jackshaft", "kind": "crank", "center_mm": list(place)},
        next(s for s in data["shafts"] if s["id"] == "supercharger"),
    ]
    data["drives"] = [data["drives"][1]]
    alone = solve(build_from_json(data, CATALOGUE)[0], None, CATALOGUE).drives[0]
    for mine, theirs in zip(second.spans, alone.spans, strict=True):
        assert mine.tension_n == pytest.approx(theirs.tension_n, rel=1e-9)
    assert second.tensioner.travel.center_mm == pytest.approx(alone.tensioner.travel.center_mm)  # type: ignore[union-attr]

    # the first belt by itself: the jackshaft loaded with what the second belt takes off it
    data = dump(whole)
    torque = next(p for p in alone.pulleys if p.id == "jackshaft").torque_nm
    data["drives"] = [data["drives"][0]]
    for k, rpm in enumerate(first.rpm):
        shafts = [s for s in data["shafts"] if s["id"] != "supercharger"]
        shafts = [dict(s) for s in shafts]
        next(s for s in shafts if s["id"] == "jackshaft")["load"] = {
            "type": "constant_torque", "torque_nm": torque[k],
        }  # fmt: skip
        build = build_from_json({**data, "shafts": shafts}, CATALOGUE)[0]
        by_itself = solve(build, [rpm], CATALOGUE).drives[0]
        for mine, theirs in zip(first.spans, by_itself.spans, strict=True):
            assert mine.tension_n[k] == pytest.approx(theirs.tension_n[0], rel=1e-9)
    assert at_jack.torque_nm == pytest.approx(torque)


def test_a_loop_of_drives_is_reported() -> None:
    build = jackshaft(CATALOGUE)
    build, _ = new_belt(build, "crank", "supercharger", CATALOGUE)
    found = solve(build, None, CATALOGUE).findings
    assert any(f.level == "stop" and f.code == "drive_loop" for f in found)


def test_variants_are_kept_compared_taken_and_dropped() -> None:
    build = with_own_loads(one_belt_with_arm(CATALOGUE))
    weak = set_arm(keep_variant(build, "strong"), build.drives[0].id, torque_nm=9.0)
    rows = compare(weak, CATALOGUE)
    assert [row.name for row in rows] == [PRESENT, "strong"]
    assert rows[0].reserve is not None
    assert rows[1].reserve is not None
    assert rows[0].reserve < 0 < rows[1].reserve
    assert rows[0].verdicts[2].mark == "stop"
    assert rows[1].verdicts[2].mark == "good"
    taken = take_variant(weak, "strong")
    assert bare(taken) == build
    assert [v.name for v in taken.variants] == ["strong", "before strong"]
    assert bare(take_variant(taken, "before strong")) == bare(weak)
    assert len(take_variant(taken, "before strong").variants) == 2  # nothing is kept twice
    assert drop_variant(drop_variant(taken, "strong"), "before strong") == build
    assert build_from_json(dump(taken), CATALOGUE)[0] == taken
    inner = dump(taken)
    inner["variants"][0]["build"]["variants"] = inner["variants"][1:]
    with pytest.raises(BuildFileError, match="no variants inside"):
        build_from_json(inner, CATALOGUE)


def test_a_belt_is_called_by_what_it_drives_now_until_it_is_named() -> None:
    build = empty_build(CATALOGUE.version)
    names = {}
    for kind in ("alternator", "water_pump", "idler", "fan"):
        build, names[kind] = add_shaft(build, kind, CATALOGUE)
    build, drive = new_belt(build, "crank", names["alternator"], CATALOGUE)
    assert build.drive(drive).name == "Alternator drive"
    for kind, called in (
        ("idler", "Alternator drive"),
        ("water_pump", "Water pump and alternator drive"),
        ("fan", "Accessory drive"),
    ):
        build = lay_on(build, drive, "crank", names[kind], "ribs", CATALOGUE)
        assert build.drive(drive).name == called
    build = take_off(build, drive, names["fan"])
    build = set_shaft(build, names["alternator"], name="Left alternator")
    assert build.drive(drive).name == "Water pump and left alternator drive"
    typed = with_drive(build, changed(build.drive(drive), name="Front"))
    assert take_off(typed, drive, names["water_pump"]).drive(drive).name == "Front"
