"""From parsed JSON to a Build: every refusal names the key and what was expected there."""

from __future__ import annotations

import difflib
from collections.abc import Mapping
from typing import Any

from pydantic import BaseModel, ValidationError
from pydantic_core import ErrorDetails

from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import BuildFileError, CatalogueError
from jovial_tack.document.frozen import freeze
from jovial_tack.document.model import FORMAT, VERSION, Build

_EXPECTED = {
    "missing": "this key is needed and is not there",
    "float_type": "a number",
    "int_type": "a whole number",
    "int_from_float": "a whole number",
    "string_type": "a text",
    "bool_type": "true or false",
    "tuple_type": "a list",
    "model_type": "an object in braces",
    "model_attributes_type": "an object in braces",
    "dict_type": "an object in braces",
    "finite_number": "a finite number, not NaN or infinity",
    "string_too_short": "a text that is not empty",
    "string_too_long": "a shorter text",
}


def build_from_json(data: Any, catalogue: Catalogue) -> tuple[Build, list[str]]:
    """A checked Build from parsed JSON, with remarks the user should see.

    Raises BuildFileError with the key path and what was expected there.
    """
    if not isinstance(data, dict):
        raise BuildFileError("", "a Jovial Tack build is a JSON object in braces")
    if data.get("format") != FORMAT:
        raise BuildFileError("format", f"“{FORMAT}” (this is not a Jovial Tack build)")
    version = data.get("version")
    if isinstance(version, bool) or not isinstance(version, int) or version < 1:
        raise BuildFileError("version", f"a whole number from 1 to {VERSION}")
    try:
        build = validated(freeze(data))
    except BuildFileError:
        if version <= VERSION:
            raise
        raise BuildFileError(
            "version",
            f"written by a newer Jovial Tack (file version {version}, this one reads {VERSION})",
        ) from None
    if version > VERSION:
        return build, []
    check_names(build, catalogue)
    remarks = [*_misspelled(build, "")]
    made_with = build.catalogue_version
    if made_with is not None and made_with != catalogue.version:
        remarks.append(
            f"made with shipped data {made_with}, computed with {catalogue.version}:"
            " representative figures may differ"
        )
    return build, remarks


def is_newer(build: Build) -> bool:
    """Whether the build was written by a newer version: to be looked at, not computed."""
    return build.version > VERSION


def validated(data: Mapping[str, Any]) -> Build:
    """A Build from frozen JSON values; raises BuildFileError at the first fault."""
    try:
        return Build.model_validate(data)
    except ValidationError as error:
        raise refusal(error.errors(include_url=False)[0], data) from None


def check_names(build: Build, catalogue: Catalogue) -> None:
    """Raise BuildFileError for a belt profile or construction the catalogue does not know."""
    for place, drive in enumerate(build.drives):
        where = f"drives[{place}].belt"
        try:
            catalogue.profile(drive.belt.profile)
        except CatalogueError as error:
            raise BuildFileError(
                f"{where}.profile", f"{error}, not “{drive.belt.profile}”"
            ) from None
        try:
            catalogue.construction(drive.belt.profile, drive.belt.construction)
        except CatalogueError as error:
            raise BuildFileError(f"{where}.construction", str(error)) from None


def refusal(detail: ErrorDetails, data: Mapping[str, Any]) -> BuildFileError:
    """A pydantic error as a key path of the file and what was expected there."""
    context = detail.get("ctx", {})
    kind = detail["type"]
    path = _key_path(detail["loc"], data, ends_in_key=kind == "missing")
    if kind == "hangs_together":
        inner = context["where"]
        return BuildFileError(f"{path}.{inner}" if path else inner, context["expected"])
    expected = _EXPECTED.get(kind)
    if kind in ("union_tag_invalid", "union_tag_not_found"):
        path += ".type"
        expected = f"one of {context.get('expected_tags', 'the known types')}".replace("'", "")
    elif kind == "literal_error":
        expected = f"one of {context['expected']}".replace("'", "").replace(" or ", ", ")
    elif kind in ("greater_than", "greater_than_equal", "less_than", "less_than_equal"):
        words = {"gt": "above", "ge": "at least", "lt": "below", "le": "at most"}
        key = next(key for key in words if key in context)
        expected = f"a number {words[key]} {context[key]:g}"
    elif kind in ("too_short", "too_long"):
        length = context.get("min_length", context.get("max_length"))
        expected = f"a list of {'at least' if kind == 'too_short' else 'at most'} {length}"
    if expected is None:
        expected = detail["msg"][:1].lower() + detail["msg"][1:]
    if kind not in ("missing", "finite_number"):
        expected += f", not {_shown(detail['input'])}"
    return BuildFileError(path, expected)


def _shown(value: Any) -> str:
    if isinstance(value, dict):
        return "an object"
    if isinstance(value, list | tuple):
        return "a list" if len(value) > 4 else f"[{', '.join(_shown(item) for item in value)}]"
    if isinstance(value, str):
        return f"“{value[:40]}”"
    if value is None or isinstance(value, bool):
        return {None: "null", True: "true", False: "false"}[value]
    return str(value)[:24]


def _key_path(location: tuple[int | str, ...], data: Any, *, ends_in_key: bool) -> str:
    """The location as a key path of the file; tags pydantic adds for unions are left out."""
    text = ""
    for place, step in enumerate(location):
        if isinstance(step, int):
            text += f"[{step}]"
            data = data[step] if isinstance(data, tuple) and step < len(data) else None
            continue
        is_key = isinstance(data, dict) and step in data
        if is_key or (ends_in_key and place == len(location) - 1):
            text += f".{step}" if text else step
            data = data[step] if is_key else None
    return text


def _misspelled(part: BaseModel, where: str) -> list[str]:
    """Unknown keys that look like known ones, as remarks."""
    remarks = []
    known = type(part).model_fields
    for key in part.model_extra or {}:
        near = difflib.get_close_matches(
            key, [name for name in known if name not in part.model_fields_set], n=1, cutoff=0.8
        )
        if near:
            path = f"{where}.{key}" if where else key
            remarks.append(f"{path} is not a known key and is kept as it is; was {near[0]} meant?")
    for name in part.model_fields_set & known.keys():
        value = getattr(part, name)
        inner = f"{where}.{name}" if where else name
        if isinstance(value, BaseModel):
            remarks += _misspelled(value, inner)
        elif isinstance(value, tuple):
            for place, item in enumerate(value):
                if isinstance(item, BaseModel):
                    remarks += _misspelled(item, f"{inner}[{place}]")
    return remarks
