"""Starting layouts: generic engines to begin from, made up, laid out by the same edits a user makes."""

from __future__ import annotations

from collections.abc import Callable

from jovial_tack.answers.lay_out.suited import bolt_shaft, fit_belt, set_spring_arm
from jovial_tack.catalogue import Catalogue
from jovial_tack.document.edits.belts import set_belt
from jovial_tack.document.edits.engine import empty_build, set_engine, set_title
from jovial_tack.document.edits.freedoms import set_mount
from jovial_tack.document.edits.pulleys import set_diameter
from jovial_tack.document.edits.routes import lay_on, new_belt, set_profile
from jovial_tack.document.edits.shafts import add_shaft, set_shaft
from jovial_tack.document.model import Build, Point


def two_pulleys(catalogue: Catalogue) -> Build:
    """A crank and an alternator that swings to tension the belt."""
    build = _engine(catalogue, "Two pulleys", alternator=(210.0, 180.0))
    build, drive = new_belt(build, "crank", "alternator", catalogue)
    build = set_mount(build, "alternator", "swing")
    return fit_belt(bolt_shaft(build, drive, "alternator", catalogue), drive, catalogue)


def one_belt_with_arm(catalogue: Catalogue) -> Build:
    """Steering pump, water pump on the belt's back and alternator on one belt with a spring arm."""
    build = _engine(
        catalogue,
        "One belt with an arm",
        idler=(-152.0, 70.0),
        power_steering=(-185.0, 250.0),
        water_pump=(0.0, 150.0),
        alternator=(215.0, 290.0),
    )
    build, drive = new_belt(build, "crank", "power_steering", catalogue)
    build = set_belt(build, drive, ribs=7)
    build = lay_on(build, drive, "crank", "idler", "back", catalogue)
    build = lay_on(build, drive, "power_steering", "water_pump", "back", catalogue)
    build = lay_on(build, drive, "water_pump", "alternator", "ribs", catalogue)
    return set_spring_arm(build, drive, "idler", catalogue)


def blower_belt(catalogue: Catalogue) -> Build:
    """A blower on a belt of its own, with a spring arm on the slack side and a back-side idler."""
    build = _engine(
        catalogue,
        "Blower on its own belt",
        idler=(10.0, 190.0),
        supercharger=(110.0, 350.0),
        other=(150.0, 250.0),
    )
    build = set_shaft(build, "other", kind="idler", name="Back idler")
    build, drive = new_belt(build, "crank", "supercharger", catalogue)
    build = set_belt(build, drive, ribs=10, construction="low_stretch")
    build = set_diameter(build, drive, "crank", 165.0)
    build = lay_on(build, drive, "crank", "idler", "back", catalogue)
    build = lay_on(build, drive, "supercharger", "other", "back", catalogue)
    return set_spring_arm(build, drive, "idler", catalogue)


def jackshaft(catalogue: Catalogue) -> Build:
    """A belt to a jackshaft, and a second one from there to a blower behind it."""
    build = _engine(
        catalogue, "Blower by a jackshaft", jackshaft=(0.0, 260.0), supercharger=(230.0, 330.0)
    )
    build, first = new_belt(build, "crank", "jackshaft", catalogue)
    build, second = new_belt(build, "jackshaft", "supercharger", catalogue)
    for drive, shaft in ((first, "jackshaft"), (second, "supercharger")):
        build = set_belt(build, drive, ribs=16, construction="low_stretch")
        build = set_mount(build, shaft, "slot")
        build = bolt_shaft(build, drive, shaft, catalogue)
        build = fit_belt(build, drive, catalogue)
    return build


def v_belts(catalogue: Catalogue) -> Build:
    """A V-belt front: water pump and alternator on one belt, the steering pump on another."""
    build = _engine(
        catalogue,
        "V-belt front",
        water_pump=(0.0, 205.0),
        alternator=(205.0, 190.0),
        power_steering=(-215.0, 40.0),
    )
    build = set_engine(build, redline_rpm=5000.0)
    build, first = new_belt(build, "crank", "water_pump", catalogue)
    build = lay_on(build, first, "water_pump", "alternator", "ribs", catalogue)
    build, second = new_belt(build, "crank", "power_steering", catalogue)
    build = set_diameter(build, first, "alternator", 70.0)
    for drive, shaft, mount in (
        (first, "alternator", "swing"),
        (second, "power_steering", "slot"),
    ):
        build = set_profile(build, drive, "SAE 0.380", catalogue)
        build = set_mount(build, shaft, mount)
        build = bolt_shaft(build, drive, shaft, catalogue)
        build = fit_belt(build, drive, catalogue)
    return build


#: What the window offers: words, and what makes the build.
LAYOUTS: tuple[tuple[str, Callable[[Catalogue], Build]], ...] = (
    ("Two pulleys, alternator swung", two_pulleys),
    ("V-belt front, alternator swung", v_belts),
    ("One belt with a spring arm", one_belt_with_arm),
    ("A blower on its own belt", blower_belt),
    ("A blower driven by a jackshaft", jackshaft),
)


def _engine(catalogue: Catalogue, title: str, **places: Point) -> Build:
    build = set_title(empty_build(catalogue.version), title)
    for kind, place in places.items():
        build, _ = add_shaft(build, kind, catalogue, place)
    return build
