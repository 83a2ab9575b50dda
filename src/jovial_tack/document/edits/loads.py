"""Edits of load cases and of banks of batteries."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from jovial_tack.document.edits.changing import changed
from jovial_tack.document.edits.engine import set_engine
from jovial_tack.document.edits.names import free_name
from jovial_tack.document.model import Bank, Build, LoadCase, make


def look_at(build: Build, case_id: str) -> Build:
    """Look at the build in a load case; "" for its loads as they are."""
    return changed(build, load_case=case_id or None)


def own_case(build: Build, case_id: str) -> LoadCase | None:
    """The build's own load case of that id; None if it is not one of its own."""
    return next((case for case in build.load_cases if case.id == case_id), None)


def add_case(build: Build, name: str, loads: Mapping[str, float], **factors: float) -> Build:
    """Add a load case of the build's own, and look at it."""
    new = free_name(name, [case.id for case in build.load_cases])
    case = make(LoadCase, {"id": new, "name": new, "loads": dict(loads), **factors})
    return look_at(changed(build, load_cases=(*build.load_cases, case)), new)


def set_case(build: Build, case_id: str, **changes: Any) -> Build:
    """Change a load case of the build's own; KeyError if there is none of that id."""
    old = own_case(build, case_id)
    if old is None:
        raise KeyError(case_id)
    new = changed(old, **changes)
    return changed(
        build, load_cases=tuple(new if case.id == case_id else case for case in build.load_cases)
    )


def set_case_load(build: Build, case_id: str, shaft_id: str, factor: float) -> Build:
    """How many times its own load a shaft takes in a load case of the build's own."""
    case = own_case(build, case_id)
    if case is None:
        raise KeyError(case_id)
    return set_case(build, case_id, loads={**case.loads, shaft_id: factor})


def remove_case(build: Build, case_id: str) -> Build:
    """Take a load case away; one that is looked at is looked at no more."""
    kept = tuple(case for case in build.load_cases if case.id != case_id)
    build = changed(build, load_cases=kept or None)
    return look_at(build, "") if build.load_case == case_id else build


def without_loads_of(build: Build, shaft_id: str) -> Build:
    """The build with a shaft out of all its load cases."""
    if not any(shaft_id in case.loads for case in build.load_cases):
        return build
    for case in build.load_cases:
        left = {name: load for name, load in case.loads.items() if name != shaft_id}
        build = set_case(build, case.id, loads=left)
    return build


def add_bank(build: Build) -> Build:
    """A bank of batteries that asks nothing yet."""
    name = free_name("bank", build.engine.banks)
    return set_engine(build, banks={**build.engine.banks, name: make(Bank, {})})


def set_bank(build: Build, name: str, **changes: Any) -> Build:
    """Change what a bank asks of the alternators that are on it."""
    banks = build.engine.banks
    return set_engine(build, banks={**banks, name: changed(banks[name], **changes)})


def rename_bank(build: Build, name: str, wanted: str) -> Build:
    """Call a bank otherwise; the alternators on it follow."""
    wanted = wanted.strip()
    if not wanted or wanted == name:
        return build
    new = free_name(wanted, [other for other in build.engine.banks if other != name])
    banks = {new if key == name else key: bank for key, bank in build.engine.banks.items()}
    return _with_banks(build, banks, {name: new})


def remove_bank(build: Build, name: str) -> Build:
    """Take a bank away; its alternators are on the car's batteries again."""
    banks = {key: bank for key, bank in build.engine.banks.items() if key != name}
    return _with_banks(build, banks, {name: None})


def _with_banks(build: Build, banks: Mapping[str, Bank], moved: Mapping[str, str | None]) -> Build:
    """The build with other banks, and alternators moved to another, at once: each alone is refused."""
    engine = changed(build.engine, banks=banks or None)
    shafts = tuple(
        changed(shaft, bank=moved[shaft.bank])
        if shaft.bank is not None and shaft.bank in moved
        else shaft
        for shaft in build.shafts
    )
    return changed(build, engine=engine, shafts=shafts)
