"""The logbook's events: entered, kept through variants and files, taken out again."""

from __future__ import annotations

import pytest

from drawn import CATALOGUE, DEMO_DATA
from jovial_tack.answers.belt.as_seen import seen_verdict
from jovial_tack.answers.belt.measured import against_layout, from_measurement
from jovial_tack.core.errors import BuildFileError
from jovial_tack.document.edits.logbook import add_event, events_of, remove_event
from jovial_tack.document.edits.variants import keep_variant, take_variant
from jovial_tack.document.loading import build_from_json
from jovial_tack.document.model import SpringArmTensioner, SpringSlideTensioner, dump
from slides import slid
from support import built


def test_events_are_kept_in_the_file_and_by_every_variant_and_taken_out_again() -> None:
    build = built(DEMO_DATA)
    one, first = add_event(build, "reading", "2026-11-27", drive="blower", way="tape",
                           value_mm=1180.0, thick_mm=0.2, sd_mm=1.2)  # fmt: skip
    two, second = add_event(one, "belt_tried", "2026-11-28", drive="gone", number="10PK1190")
    assert first != second and build_from_json(dump(two), CATALOGUE)[0] == two
    assert [e.id for e in events_of(two, "blower", "reading")] == [first]
    assert events_of(two, "gone", "belt_tried")[0].number == "10PK1190"
    started = keep_variant(build, "before")
    later, _ = add_event(started, "note", "2026-11-29", note="looked at")
    back = take_variant(later, "before")  # going back in the layout loses nothing that was read
    assert back.logbook == later.logbook
    assert remove_event(remove_event(two, first), second) == build
    for wrong in ({"at": "yesterday"}, {"travel_share": 1.5}, {"verdict": "nice"}):
        with pytest.raises(BuildFileError):
            add_event(build, "belt_tried", **({"at": "2026-11-27"} | wrong))


def test_a_reading_that_contradicts_the_build_says_so_and_no_other_does() -> None:
    build = built(DEMO_DATA)
    right = from_measurement(build, "blower", CATALOGUE, "tape", 1000.0, thick_mm=0.2).expected_mm
    assert right is not None
    for off, says in ((0.0, False), (4.0, False), (25.0, True), (-25.0, True)):
        found = from_measurement(build, "blower", CATALOGUE, "tape", right + off, thick_mm=0.2)
        told = against_layout(found, 1195.0, 2.0, "mm")
        assert (told is not None) == says
        assert not says or f"25.0 mm {'longer' if off > 0 else 'shorter'}" in str(told)
    old = from_measurement(build, "blower", CATALOGUE, "fixture", 1210.0)
    assert "not the one in the build" in str(against_layout(old, 1195.0, 2.0, "mm"))
    assert against_layout(old, 1210.5, 2.0, "mm") is None


def test_a_belt_is_long_beyond_the_unwound_end_of_the_window() -> None:
    arm = built(DEMO_DATA).drive("blower").tensioner
    assert isinstance(arm, SpringArmTensioner) and arm.window_deg and arm.notches_deg
    low, high = arm.window_deg
    turned = arm.notches_deg[arm.notch or 0]
    beyond = {"ccw": (high, low), "cw": (low, high)}[arm.pushes]
    outward = 1 if beyond[0] == high else -1
    assert seen_verdict(arm, (low + high) / 2 + turned) == "fits"
    assert seen_verdict(arm, beyond[0] + turned + 3 * outward) == "long"
    assert seen_verdict(arm, beyond[1] + turned - 3 * outward) == "short"


def test_a_slide_is_seen_to_fit_inside_its_window_alone() -> None:
    slide = slid().drives[0].tensioner
    assert isinstance(slide, SpringSlideTensioner) and slide.window_mm is not None
    low, high = slide.window_mm
    beyond = {"second": ("long", "short"), "first": ("short", "long")}[slide.pushes_to]
    assert seen_verdict(slide, None, (low + high) / 2) == "fits"
    assert (seen_verdict(slide, None, high + 1), seen_verdict(slide, None, low - 1)) == beyond
    assert seen_verdict(slide, None) is None
