"""Parts made from plain values, checked: a refusal names the key and what was expected there.

The checking itself is the model library's; what it says is put into a builder's words here.
"""

from __future__ import annotations

import math
import re
from collections.abc import Mapping
from itertools import chain
from typing import Any, TypeVar

import msgspec

from jovial_tack.core.errors import BuildFileError
from jovial_tack.document.frozen import FrozenDict, freeze
from jovial_tack.document.model.base import FaultError, Part

P = TypeVar("P", bound=Part)

_NAMES = {
    "float": "a number",
    "int": "a whole number",
    "str": "a text",
    "bool": "true or false",
    "array": "a list",
    "object": "an object in braces",
}
_BOUNDS = {">": "above", ">=": "at least", "<": "below", "<=": "at most"}
_AT = re.compile(r"(?P<what>.*?)(?: - at `\$(?P<path>.*)`)?", re.S)
_MISSING = re.compile(r"Object missing required field `(\w+)`")
_NUMBER = re.compile(r"Expected `(?P<kind>float|int)(?: \| \w+)*` (?P<sign>[<>]=?) (?P<bound>\S+)")
_LENGTH = re.compile(
    r"Expected `(?P<kind>array|str)(?: \| \w+)*` of length (?P<sign>[<>]=?)? ?(?P<n>\d+)"
)
_KIND = re.compile(r"Expected `(?P<kinds>[^`]+)`")
_STEP = re.compile(r"\.(\w+)|\[(\d+|\.\.\.)\]")
#: How the library writes the place of a value that stands under a name of the file's own.
_UNDER_A_NAME = "[...]"


def make(kind: type[P], data: Mapping[str, Any]) -> P:
    """A part from JSON values; parts may stand among them and are taken as they are.

    Raises BuildFileError with the key path below the part and what was expected there.
    """
    data = freeze(data)
    try:
        part = msgspec.convert(data, kind, strict=True)
    except msgspec.ValidationError as error:
        raise _refusal(error, kind, data) from None
    _remember(part, data)
    return part


def _remember(part: Part, data: Mapping[str, Any]) -> None:
    """Have a new part, and all new ones within it, remember the keys they were made from."""
    names, keys = part.__struct_fields__, part.__struct_encode_fields__
    tag = part.__struct_config__.tag_field
    key_of = {name: key for name, key in zip(names, keys, strict=True) if key in data}
    given = frozenset(key_of)
    known = {*key_of.values(), tag}
    unknown = {key: value for key, value in data.items() if key not in known}
    part.remember(given, FrozenDict(unknown))
    for name in given:
        value, of = getattr(part, name), data[key_of[name]]
        if isinstance(value, Part):
            if value is not of:
                _remember(value, of)
        elif isinstance(value, tuple):
            for item, source in zip(value, of, strict=True):
                if isinstance(item, Part) and item is not source:
                    _remember(item, source)
        elif isinstance(value, Mapping):
            for key, item in value.items():
                if isinstance(item, Part) and item is not of[key]:
                    _remember(item, of[key])


def _refusal(error: msgspec.ValidationError, kind: type[Part], data: Any) -> BuildFileError:
    """The library's refusal as a key path of the file and what was expected there."""
    found = _AT.fullmatch(str(error))
    assert found is not None
    what, path = found["what"], (found["path"] or "").removeprefix(".")
    if _UNDER_A_NAME not in path:
        return _told(error, what, path, kind, data)
    before, _, _ = path.partition(_UNDER_A_NAME)
    name = _name_refused(kind, data, before)
    refusal = _told(error, what, path, kind, _with_only(data, _STEP.findall(f".{before}"), name))
    before, _, after = refusal.path.partition(_UNDER_A_NAME)
    return BuildFileError(f"{_joined(before, name)}{after}", refusal.expected)


def _name_refused(kind: type[Part], data: Any, path: str) -> str:
    """Under which of the names at a key path the value is that is refused."""
    named = _value_at(data, path)
    for name in list(named)[:-1]:
        try:
            msgspec.convert(_with_only(data, _STEP.findall(f".{path}"), name), kind, strict=True)
        except msgspec.ValidationError as error:
            if path in str(error):
                return str(name)
    return str(list(named)[-1])


def _with_only(data: Any, steps: list[tuple[str, str]], name: str) -> Any:
    """The data with but one of the names that stand at the end of some steps."""
    if not steps:
        return {name: data[name]}
    (key, place), *rest = steps
    if place:
        here = int(place)
        return (*data[:here], _with_only(data[here], rest, name), *data[here + 1 :])
    return {**data, key: _with_only(data[key], rest, name)}


def _told(error: Exception, what: str, path: str, kind: type[Part], data: Any) -> BuildFileError:
    """The refusal at the path the library gives."""
    cause = error.__cause__
    if isinstance(cause, FaultError):
        return BuildFileError(_joined(path, cause.where), cause.expected)
    missing = _MISSING.match(what)
    if missing is not None and missing[1] != "type":
        return BuildFileError(_joined(path, missing[1]), "this key is needed and is not there")
    if missing is not None:
        words = _one_of(_tags_at(kind, path))
        return BuildFileError(_joined(path, "type"), f"{words}; this key is not there")
    value = _value_at(data, path)
    if isinstance(value, float) and not math.isfinite(value):
        return BuildFileError(path, "a finite number, not NaN or infinity")
    return BuildFileError(path, f"{_expected(what, kind, path)}, not {_shown(value)}")


def _expected(what: str, kind: type[Part], path: str) -> str:
    if what.startswith("Invalid enum value"):
        return _one_of(_choices_at(kind, path))
    if what.startswith("Invalid value"):
        return _one_of(_tags_at(kind, path.removesuffix(".type")))
    number = _NUMBER.match(what)
    if number is not None:
        return f"a number {_BOUNDS[number['sign']]} {float(number['bound']):g}"
    length = _LENGTH.match(what)
    if length is not None:
        return _expected_length(length["kind"], length["sign"] or "", int(length["n"]))
    kinds = _KIND.match(what)
    if kinds is not None:
        known = [_NAMES[name] for name in kinds["kinds"].split(" | ") if name in _NAMES]
        return " or ".join(known)
    return what[:1].lower() + what[1:]


def _expected_length(kind: str, sign: str, count: int) -> str:
    if kind == "str":
        return "a text that is not empty" if sign == ">=" else "a shorter text"
    return f"a list of {f'{_BOUNDS[sign]} ' if sign else ''}{count}"


def _one_of(words: list[str]) -> str:
    return f"one of {', '.join(words)}"


def _joined(path: str, key: str) -> str:
    return f"{path}.{key}" if path else key


def _value_at(data: Any, path: str) -> Any:
    """The value that stands at a key path."""
    for key, place in _STEP.findall(f".{path}"):
        if place == "...":
            data = next(iter(data.values()), None)
        elif place:
            data = data[int(place)]
        elif key:
            data = data.get(key) if isinstance(data, Mapping) else getattr(data, key, None)
    return data


def _types_at(kind: type[Part], path: str) -> list[Any]:
    """What may stand at a key path, as the library describes types."""
    import msgspec.inspect as inspect

    types: list[Any] = [inspect.type_info(kind)]
    for key, _ in [("", ""), *_STEP.findall(f".{path}")]:
        if key:
            structs = [t for t in types if isinstance(t, inspect.StructType)]
            fields = chain.from_iterable(struct.fields for struct in structs)
            types = [field.type for field in fields if field.encode_name == key]
        for _unpacked in range(3):  # unions of lists of unions are as deep as it gets
            unpacked = (_inner(inspect, of, in_list=not key) for of in types)
            types = list(chain.from_iterable(unpacked))
    return types


def _inner(inspect: Any, found: Any, *, in_list: bool) -> list[Any]:
    if isinstance(found, inspect.UnionType):
        return list(found.types)
    if isinstance(found, inspect.Metadata):
        return [found.type]
    if in_list and isinstance(found, inspect.VarTupleType):
        return [found.item_type]
    if in_list and isinstance(found, inspect.DictType):
        return [found.value_type]
    return [found]


def _choices_at(kind: type[Part], path: str) -> list[str]:
    import msgspec.inspect as inspect

    found = [t for t in _types_at(kind, path) if isinstance(t, inspect.LiteralType)]
    return [str(value) for t in found for value in t.values]


def _tags_at(kind: type[Part], path: str) -> list[str]:
    import msgspec.inspect as inspect

    found = [t for t in _types_at(kind, path) if isinstance(t, inspect.StructType)]
    return [str(t.tag) for t in found if t.tag is not None]


def _shown(value: Any) -> str:
    if isinstance(value, Mapping):
        return "an object"
    if isinstance(value, list | tuple):
        if len(value) > 4:
            return f"one of {len(value)}"
        return f"[{', '.join(_shown(item) for item in value)}]"
    if isinstance(value, str):
        return f"“{' '.join(value[:80].split())[:40]}”"
    if value is None or isinstance(value, bool):
        return {None: "null", True: "true", False: "false"}[value]
    return str(value)[:24]
