"""Reading the shipped data files into a Catalogue."""

from __future__ import annotations

import tomllib
from collections.abc import Mapping
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np

from jovial_tack.catalogue.catalogue import (
    AlignmentReadings,
    BoltRules,
    Catalogue,
    Cause,
    Change,
    Construction,
    Doubtful,
    FaultCause,
    FaultFinding,
    Faults,
    Kind,
    Limits,
    ObstacleKind,
    PlateRules,
    Profile,
    ReadingKind,
    StackRules,
    UsualLoads,
    UsualParts,
)

_FOLDER = Path(__file__).parents[1] / "data/catalogue"


_LEAST_STEP_MM, _MOST_MM, _MOST_LENGTHS = 0.01, 100_000.0, 20_000


def _read(name: str) -> dict[str, Any]:
    return tomllib.loads((_FOLDER / name).read_text("utf-8"))


def stocked_lengths(steps: list[list[float]]) -> tuple[float, ...]:
    """Lengths, mm, of steps: from, to and by how much, each. Raises ValueError for what is no list."""
    for low, high, step in steps:
        ordered = 0 < low <= high <= _MOST_MM and step >= _LEAST_STEP_MM
        if not ordered or (high - low) / step > _MOST_LENGTHS:
            raise ValueError("steps")
    lengths = np.concatenate([np.arange(low, high + step / 2, step) for low, high, step in steps])
    return tuple(sorted(set(lengths.tolist())))  # np.unique would load masked arrays for it


def fault_finding(name: str, row: Mapping[str, Any]) -> FaultFinding:
    """A finding as it stands in the data."""
    codes = tuple(row.get("codes", ()))
    return FaultFinding(name=name, **{**row, "codes": codes})


def doubtful_figures(
    table: Mapping[str, Mapping[str, Mapping[str, Any]]],
) -> dict[str, dict[str, Doubtful]]:
    """Within what figures of a build lie, as it stands in the data."""
    return {
        part: {
            key: Doubtful(
                tuple(row["within"]), row["measures"], row["words"], tuple(row.get("judges", ()))
            )
            for key, row in rows.items()
        }
        for part, rows in table.items()
    }


def _faults(table: dict[str, Any]) -> Faults:
    return Faults(
        {name: FaultCause(name=name, **row) for name, row in table["causes"].items()},
        {name: fault_finding(name, row) for name, row in table["findings"].items()},
        table["old_rubber"],
    )


@cache
def load_catalogue() -> Catalogue:
    """The catalogue of the data shipped with the application; the same value at every call."""
    lining_up = _read("lining_up.toml")
    return Catalogue(
        version=_read("version.toml")["version"],
        profiles={name: Profile(name=name, **row) for name, row in _read("profiles.toml").items()},
        constructions={
            profile: {name: Construction(name=name, **row) for name, row in rows.items()}
            for profile, rows in _read("constructions.toml").items()
        },
        kinds={name: Kind(name=name, **row) for name, row in _read("kinds.toml").items()},
        limits=Limits(**_read("limits.toml")),
        obstacles={
            name: ObstacleKind(name=name, **row) for name, row in _read("obstacles.toml").items()
        },
        lengths={
            name: stocked_lengths(row["steps"]) for name, row in _read("lengths.toml").items()
        },
        parts=UsualParts(**_read("parts.toml")),
        stacks=StackRules(**lining_up["stacks"]),
        bolts=BoltRules(**lining_up["bolts"]),
        alignment=AlignmentReadings(**lining_up["readings"]),
        plates=PlateRules(**lining_up["plates"]),
        load_cases={
            name: UsualLoads(name=name, label=row.pop("name"), **row)
            for name, row in _read("load_cases.toml").items()
        },
        causes={name: Cause(name=name, **row) for name, row in _read("causes.toml").items()},
        faults=_faults(_read("faults.toml")),
        readings={
            name: ReadingKind(name=name, tools=row.pop("with"), **row)
            for name, row in _read("readings.toml").items()
        },
        doubtful=doubtful_figures(_read("doubtful.toml")),
        changes=tuple(
            Change(**{**row, "profiles": tuple(row.get("profiles", ()))})
            for row in _read("changes.toml")["change"]
        ),
    )
