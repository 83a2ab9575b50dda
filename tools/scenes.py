"""What the pictures in docs/screenshots show: scenes arranged in the window on the demo build."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from jovial_tack.document.edits.belts import set_belt_length
from jovial_tack.document.edits.fit_up import set_seen
from jovial_tack.document.edits.freedoms import set_mount
from jovial_tack.document.edits.plates import add_boss
from jovial_tack.document.edits.routes import remove_belt, take_off
from jovial_tack.document.edits.shafts import add_shaft
from jovial_tack.document.edits.symptoms import set_finding
from jovial_tack.document.edits.tensioners import set_no_tensioner
from jovial_tack.document.edits.variants import keep_variant
from jovial_tack.document.targets import NOTHING, ArmAt, BeltAt, PulleyAt, ShaftAt, SpanAt
from jovial_tack.ui.belt.room import BeltRoom
from jovial_tack.ui.fit_up.room import FitUpRoom
from jovial_tack.ui.front_view.scene import scene_point
from jovial_tack.ui.grip.room import GripRoom
from jovial_tack.ui.lay_out.room import LayOutRoom
from jovial_tack.ui.line_up.room import LineUpRoom
from jovial_tack.ui.logbook.room import LogbookRoom
from jovial_tack.ui.ratios.room import RatiosRoom
from jovial_tack.ui.run_check.room import RunCheckRoom
from jovial_tack.ui.survey.room import SurveyRoom
from jovial_tack.ui.widgets.theme import NIGHT
from jovial_tack.ui.window.main_window import MainWindow


def desk(window: MainWindow) -> None:
    window.session.select(NOTHING)


def grip(window: MainWindow) -> None:
    window.desk.stand_at("grip")
    window.session.select(PulleyAt("blower", "blower"))


def line_up(window: MainWindow) -> None:
    window.desk.stand_at("line_up")
    window.session.select(PulleyAt("accessory", "alternator"))


def stacks(window: MainWindow) -> None:
    line_up(window)
    room = window.desk.room(LineUpRoom)
    room.hands.call(room.stacks)


def run_check(window: MainWindow) -> None:
    window.desk.room(RunCheckRoom).open_demo_logs()
    while window.desk.room(RunCheckRoom).logs.busy:
        QTest.qWait(20)


def belt_night(window: MainWindow) -> None:
    window.set_theme(NIGHT)
    window.session.pin_baseline()
    build = set_belt_length(window.session.build, "blower", 1180.0)
    window.session.edit("belt of Blower drive", build)
    window.desk.stand_at("belt")
    window.session.select(BeltAt("blower"))


def inches(window: MainWindow) -> None:
    window.inch_action.trigger()
    window.session.select(ArmAt("accessory"))


def bracket(window: MainWindow) -> None:
    """A second alternator on its bosses, and what the paper for its plate looks like."""
    session = window.session
    build, shaft = add_shaft(session.build, "alternator", session.catalogue, (-300.0, -20.0))
    build = set_mount(build, shaft, "swing")
    for place in ((-370.0, -110.0), (-250.0, -120.0), (-262.0, 10.0)):
        build, _ = add_boss(build, place)
    session.edit("second alternator", build)
    window.desk.stand_at("line_up")
    session.select(ShaftAt(shaft))
    room = window.desk.room(LineUpRoom)
    room.propose_plate()
    while not session.is_settled:
        QTest.qWait(20)
    room.hands.call(room.paper)


def variants(window: MainWindow) -> None:
    session = window.session
    session.edit("keep a variant", keep_variant(session.build, "as shipped"))
    session.edit("belt", set_belt_length(session.build, "blower", 1180.0))
    window.desk.call(window.desk.room(LayOutRoom).variants)
    QTest.qWait(300)
    while (
        window.desk.room(LayOutRoom).variants.busy
        or not window.desk.room(LayOutRoom).variants.compared
    ):
        QTest.qWait(50)


def threading(window: MainWindow) -> None:
    """The accessory belt without its water pump, a span being pulled under it."""
    session, front = window.session, window.front
    bare = set_no_tensioner(take_off(session.build, "accessory", "pump"), "accessory")
    session.edit("take off", remove_belt(bare, "blower"))
    session.select(SpanAt("accessory", "steering"))
    QTest.qWait(200)
    line = front.drawn["span/accessory/steering"].model
    (x0, y0), (x1, y1) = line.points  # type: ignore[attr-defined]
    start = front.mapFromScene(scene_point(((x0 + x1) / 2, (y0 + y1) / 2)))
    x, y = session.build.shaft("pump").center_mm
    end = front.mapFromScene(scene_point((x - 10, y - 40)))
    viewport, left = front.viewport(), Qt.MouseButton.LeftButton
    QTest.mousePress(viewport, left, Qt.KeyboardModifier.NoModifier, start)
    QTest.mouseMove(viewport, start + QPoint(0, 12))
    QTest.mouseMove(viewport, end)


def survey(window: MainWindow) -> None:
    """What was read on the stand, with the reading that does not fit looked at."""
    window.menus.named["survey_demo"].trigger()
    room = window.desk.room(SurveyRoom)
    QTest.qWait(300)
    while room.readings.pending:
        QTest.qWait(50)
    told = room.readings.told
    room.readings.choose(told.suspects[0].place if told is not None else None)


def shelf(window: MainWindow) -> None:
    window.desk.call(window.desk.room(SurveyRoom).shelf)


def finder(window: MainWindow) -> None:
    """The blower drive mended by what lies at hand, the ghost of another over it."""
    window.desk.stand_at("grip")
    window.session.select(BeltAt("blower"))
    room = window.desk.room(GripRoom)
    room.hands.call(room.finder)
    room.finder.look()
    while room.finder.is_busy:
        QTest.qWait(20)
    room.finder.show_ghost(room.finder.kept[-1].place)


def ratios(window: MainWindow) -> None:
    window.desk.stand_at("ratios")
    window.session.select(ShaftAt("blower"))


def compressor_map(window: MainWindow) -> None:
    ratios(window)
    window.desk.call(window.desk.room(RatiosRoom).map)


def belt_bench(window: MainWindow) -> None:
    """The belts that fit the blower drive, and how the one looked at is put on."""
    window.desk.stand_at("belt")
    window.session.select(BeltAt("blower"))
    window.desk.call(window.desk.room(BeltRoom).bench)
    while window.desk.room(BeltRoom).along.choice is None:
        QTest.qWait(50)


def fit_up(window: MainWindow) -> None:
    """All done up to an arm whose belt sounds too low: what may be wrong is asked."""
    window.desk.stand_at("fit_up")
    room, session = window.desk.room(FitUpRoom), window.session
    while (step := room.following.step) is not None and step.id != "tension:accessory":
        room.following.toggle()
    seen = set_seen(session.build, "tension:accessory", arm_angle_deg=81.8, tone_hz=131.0)
    session.edit("seen", seen)
    room.following.tell()
    room.hands.call(room.causes)
    while room.causes.dialogue is None:
        QTest.qWait(20)


@dataclass(frozen=True)
class Scene:
    """arrange: what is done in the window; size: of the window, None as it opens."""

    arrange: Callable[[MainWindow], None]
    size: tuple[int, int] | None = None


def noise(window: MainWindow) -> None:
    """The blower drive squeals: what is likely, where, and what to look at next."""
    session = window.session
    build = session.build
    for finding, seen in (("squeal", True), ("worse_under_load", True), ("tone_low", False)):
        build = set_finding(build, "blower", finding, seen)
    session.edit("seen", build)
    session.select(BeltAt("blower"))
    window.desk.stand_at("run_check")
    window.desk.call(window.desk.room(RunCheckRoom).noise)


def logbook(window: MainWindow) -> None:
    """The line of time, what is due, and a check whose tone went down."""
    window.desk.stand_at("logbook")
    book = window.desk.room(LogbookRoom).book
    book.choose(next(event.id for event in book.listed if event.kind == "tension_check"))


SCENES = {
    "desk": Scene(desk),
    "grip": Scene(grip),
    "line-up": Scene(line_up),
    "stacks": Scene(stacks),
    "run-check": Scene(run_check),
    "belt-night": Scene(belt_night),
    "inches-small-window": Scene(inches, (1024, 700)),
    "bracket": Scene(bracket),
    "variants": Scene(variants),
    "threading": Scene(threading),
    "finder": Scene(finder),
    "ratios": Scene(ratios),
    "compressor-map": Scene(compressor_map),
    "belt": Scene(belt_bench),
    "fit-up": Scene(fit_up),
    "survey": Scene(survey),
    "shelf": Scene(shelf),
    "noise-finder": Scene(noise),
    "logbook": Scene(logbook),
}
