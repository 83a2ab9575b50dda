"""The user's own figures of the noise finder's table, laid over the shipped ones."""

from __future__ import annotations

from collections.abc import Mapping
from difflib import get_close_matches
from typing import Any

from jovial_tack.catalogue.catalogue import FaultCause, FaultFinding, Faults
from jovial_tack.catalogue.shipped import fault_finding
from jovial_tack.core.errors import CatalogueError
from jovial_tack.core.value import replace

_OF_CAUSE: Mapping[str, type] = {"prior": float, "words": str, "remedy": str}
_OF_FINDING: Mapping[str, type] = {
    "words": str, "group": str, "minutes": float, "leak": float, "running": bool,
    "seen_with": dict, "codes": list,
}  # fmt: skip
_SPOKEN = {float: "a number", str: "words", bool: "true or false", dict: "a table", list: "a list"}
#: A share of nothing or of all would make a cause certain whatever else is seen.
LEAST, MOST = 0.001, 0.99


def with_own_faults(shipped: Faults, table: Mapping[str, Any]) -> Faults:
    """The table with own figures, causes and findings over it. Raises CatalogueError."""
    if not table:
        return shipped
    strange = sorted(set(table) - {"causes", "findings", "old_rubber"})
    if strange:
        raise CatalogueError(f"faults: there is no table “{strange[0]}”")
    own: set[tuple[str, str]] = set()
    causes = _own_causes(shipped, _entries("causes", table), own)
    findings = dict(shipped.findings)
    for name, row in _entries("findings", table).items():
        findings[name] = _own_finding(findings.get(name), name, row, causes, own)
    old_rubber = dict(shipped.old_rubber)
    for name, row in _entries("old_rubber", table).items():
        if name not in findings:
            raise CatalogueError(f"faults: old_rubber.{name} is of no finding")
        _shares(f"old_rubber.{name}", row, causes)
        old_rubber[name] = {**old_rubber.get(name, findings[name].seen_with), **row}
    return Faults(causes, findings, old_rubber, frozenset(own))


def _entries(part: str, table: Mapping[str, Any]) -> Mapping[str, Mapping[str, Any]]:
    rows = table.get(part, {})
    if not isinstance(rows, Mapping) or not all(isinstance(row, Mapping) for row in rows.values()):
        raise CatalogueError(f"faults: {part} is no table of entries")
    return rows


def _own_causes(
    shipped: Faults, rows: Mapping[str, Mapping[str, Any]], own: set[tuple[str, str]]
) -> dict[str, FaultCause]:
    causes = dict(shipped.causes)
    for name, row in rows.items():
        _check(f"causes.{name}", row, _OF_CAUSE)
        if "prior" in row:
            _share(f"causes.{name}.prior", row["prior"], LEAST)
            own.add(("", name))
        before = causes.get(name)
        if before is None:
            _whole(f"causes.{name}", row, set(_OF_CAUSE))
            causes[name] = FaultCause(name=name, **row)
        else:
            causes[name] = replace(before, **row)
    return causes


def _own_finding(
    before: FaultFinding | None,
    name: str,
    row: Mapping[str, Any],
    causes: Mapping[str, FaultCause],
    own: set[tuple[str, str]],
) -> FaultFinding:
    where = f"findings.{name}"
    _check(where, row, _OF_FINDING)
    if "leak" in row:
        _share(f"{where}.leak", row["leak"], LEAST)
        own.add((name, ""))
    if not 0.0 <= row.get("minutes", 0.0) <= 1440.0:
        raise CatalogueError(f"faults: {where}.minutes needs minutes, 0 to 1440")
    seen_with = row.get("seen_with", {})
    _shares(f"{where}.seen_with", seen_with, causes)
    own.update((name, cause) for cause in seen_with)
    if before is None:
        _whole(where, row, set(_OF_FINDING) - {"codes"})
        return fault_finding(name, row)
    laid = {**row, "seen_with": {**before.seen_with, **seen_with}}
    if "codes" in row:
        laid["codes"] = tuple(map(str, row["codes"]))
    return replace(before, **laid)


def _check(where: str, row: Mapping[str, Any], kinds: Mapping[str, type]) -> None:
    """Every figure of a row is one there is, and of its kind."""
    for key, value in row.items():
        if key not in kinds:
            raise CatalogueError(f"faults: {where} has no figure “{key}”{_meant(key, kinds)}")
        wanted = kinds[key]
        fits = _is_number(value) if wanted is float else isinstance(value, wanted)
        if not fits:
            raise CatalogueError(f"faults: {where}.{key} needs {_SPOKEN[wanted]}")


def _shares(where: str, row: Mapping[str, Any], causes: Mapping[str, FaultCause]) -> None:
    for cause, share in row.items():
        if cause not in causes:
            hint = _meant(cause, causes)
            raise CatalogueError(f"faults: {where} speaks of no cause “{cause}”{hint}")
        _share(f"{where}.{cause}", share, 0.0)


def _share(where: str, value: Any, least: float) -> None:
    if not _is_number(value) or not least <= value <= MOST:
        raise CatalogueError(f"faults: {where} needs a share from {least:g} to {MOST:g}")


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _meant(key: str, known: Mapping[str, Any]) -> str:
    """What may be meant by a key that is not known."""
    near = get_close_matches(key, known, 1)
    return f"; is “{near[0]}” meant?" if near else ""


def _whole(where: str, row: Mapping[str, Any], needed: set[str]) -> None:
    lacking = sorted(needed - set(row))
    if lacking:
        raise CatalogueError(f"faults: {where} lacks {', '.join(lacking)}")
