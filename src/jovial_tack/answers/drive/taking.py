"""What every shaft takes: its own load, the usual one of its kind, or that of a load case.

A load is kept twice: with everything, and without what was guessed. What is found only with the
guesses is no alarm (`answers/drive/findings`).
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from jovial_tack.answers.drive.air import blower_load
from jovial_tack.catalogue import Catalogue
from jovial_tack.core.drive.loads import (
    ConstantTorque,
    Load,
    NoLoad,
    PowerLaw,
    PowerTable,
    Scaled,
    electrical_load,
)
from jovial_tack.core.errors import CatalogueError
from jovial_tack.core.value import Value
from jovial_tack.document import model as doc


class Situation(Value, frozen=True):
    """A load case as it applies to one build: factors and loads by shaft, which of them are usual ones
    and not the builder's own, and the factors on friction and springs. label: "" where none is chosen.
    """

    label: str = ""
    loads: Mapping[str, doc.CaseLoad] = {}
    usual: bool = False
    friction_factor: float = 1.0
    spring_factor: float = 1.0


class Taken(Value, frozen=True):
    """The load of a shaft, and what of it is known: the same, unless something was guessed."""

    load: Load
    known: Load

    @property
    def guessed(self) -> bool:
        """Whether the load is more than what is known of it."""
        return self.load != self.known


def situation_of(build: doc.Build, catalogue: Catalogue) -> Situation:
    """The load case a build is looked at in. Raises CatalogueError for one that is nowhere."""
    name = build.load_case
    if name is None:
        return Situation()
    for case in build.load_cases:
        if case.id == name:
            return Situation(
                case.label, case.loads, False, case.friction_factor, case.spring_factor
            )
    usual = catalogue.load_cases.get(name)
    if usual is None:
        known = ", ".join([*(case.id for case in build.load_cases), *catalogue.load_cases])
        raise CatalogueError(f"a load case, one of {known}")
    loads = {s.id: usual.loads[s.kind] for s in build.shafts if s.kind in usual.loads}
    return Situation(usual.label, loads, True, usual.friction_factor, usual.spring_factor)


def taken_by(
    build: doc.Build, shaft: doc.Shaft, ratio: float, catalogue: Catalogue, situation: Situation
) -> Taken:
    """What a shaft takes that turns `ratio` times as fast as the crank."""
    own = _own(build, shaft, ratio, catalogue)
    told = situation.loads.get(shaft.id)
    if told is None:
        return own
    if not isinstance(told, float | int):
        load = _typed(build, doc.replaced(shaft, load=told), ratio, catalogue)
        return Taken(load or NoLoad(), load or NoLoad())
    if told == 0:
        return Taken(NoLoad(), NoLoad())
    known = own.known if isinstance(own.known, NoLoad) else _times(own.known, told)
    # a factor of the catalogue that raises a load is a guess; what it lowers is known at most
    return Taken(_times(own.load, told), own.known if situation.usual and told > 1 else known)


def _times(load: Load, factor: float) -> Load:
    return load if factor == 1 or isinstance(load, NoLoad) else Scaled(load, factor)


def _own(build: doc.Build, shaft: doc.Shaft, ratio: float, catalogue: Catalogue) -> Taken:
    typed = _typed(build, shaft, ratio, catalogue)
    if typed is not None:
        return Taken(typed, typed)
    usual = _usual(catalogue.kinds[shaft.kind].load)
    return Taken(usual, NoLoad())


def _typed(build: doc.Build, shaft: doc.Shaft, ratio: float, catalogue: Catalogue) -> Load | None:
    """The load that follows from what was typed; None where nothing was."""
    load: Any = shaft.load
    if isinstance(load, doc.TableLoad):
        return PowerTable(load.rpm, load.power_kw)
    if isinstance(load, doc.PowerLawLoad):
        return PowerLaw(load.torque_nm, load.at_rpm, load.exponent)
    if isinstance(load, doc.ConstantTorqueLoad):
        return ConstantTorque(load.torque_nm)
    if isinstance(load, doc.SuperchargerLoad):
        return blower_load(build, shaft, ratio)
    output = shaft.output
    if output is None or shaft.kind != "alternator":
        return None
    volts, efficiency = electrics_of(output, catalogue)
    return electrical_load(output.rpm, output.current_a, volts, efficiency)


def electrics_of(output: doc.OutputCurve, catalogue: Catalogue) -> tuple[float, float]:
    """Volts and efficiency of an alternator; those usual for its kind where they are not given."""
    usual = catalogue.kinds["alternator"].output or {}
    volts = usual["volts"] if output.volts is None else output.volts
    return volts, usual["efficiency"] if output.efficiency is None else output.efficiency


def _usual(typical: Mapping[str, Any] | None) -> Load:
    """The representative load of a kind."""
    if typical is None:
        return NoLoad()
    if typical["type"] == "table":
        return PowerTable(tuple(typical["rpm"]), tuple(typical["power_kw"]))
    if typical["type"] == "power_law":
        return PowerLaw(typical["torque_nm"], typical["at_rpm"], typical["exponent"])
    return ConstantTorque(typical["torque_nm"])
