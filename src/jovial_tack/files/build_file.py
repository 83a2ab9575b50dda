"""Reading and writing build files; see `io.whole` for how a file is replaced."""

from __future__ import annotations

import hashlib
import json
import math
import os
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Any, NoReturn

from jovial_tack.catalogue import Catalogue
from jovial_tack.core.errors import BuildFileError
from jovial_tack.document.loading import build_from_json
from jovial_tack.document.model import Build, dump
from jovial_tack.files.companions import with_companions
from jovial_tack.files.reading import open_regular, read_regular
from jovial_tack.files.whole import mark_read_in, reason, replace_file

MOST_BYTES = 20_000_000
#: Levels of braces and brackets: a build has nine, and what is kept unread may have some more.
MOST_DEEP = 60


@dataclass(frozen=True)
class LoadedBuild:
    """What a file held: the build, remarks for the user, and a fingerprint of the bytes read."""

    build: Build
    remarks: tuple[str, ...]
    fingerprint: str


def read_build(path: Path, catalogue: Catalogue) -> LoadedBuild:
    """Read a build file. Raises BuildFileError with one sentence that names the file."""
    mark_read_in(path)
    try:
        raw = _bytes_of(path)
        build, remarks = build_from_json(parse_json(raw), catalogue)
        build, more = with_companions(build, path.parent)
    except BuildFileError as error:
        raise BuildFileError("", f"{path.name}: {error}") from None
    return LoadedBuild(build, (*remarks, *more), hashlib.sha256(raw).hexdigest())


def _bytes_of(path: Path) -> bytes:
    try:
        return read_regular(path, MOST_BYTES)
    except IsADirectoryError:
        raise BuildFileError("", "this is a folder, not a build file") from None
    except FileNotFoundError:
        raise BuildFileError("", "there is no such file") from None
    except (OSError, ValueError) as error:
        raise BuildFileError("", f"it cannot be read ({reason(error)})") from None


def parse_json(raw: bytes) -> Any:
    """Strict JSON from bytes: UTF-8, no NaN, no key twice. Raises BuildFileError in plain words."""
    if not raw.strip():
        raise BuildFileError("", "the file is empty")
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        hint = " (it looks like UTF-16)" if raw[:2] in (b"\xff\xfe", b"\xfe\xff") else ""
        raise BuildFileError(
            "", f"not UTF-8 text from byte {error.start}{hint}; save it as UTF-8"
        ) from None
    try:
        value = json.loads(
            text, object_pairs_hook=_no_key_twice, parse_constant=_no_constant, parse_int=_integer
        )
    except json.JSONDecodeError as error:
        raise BuildFileError(
            "", f"not JSON at line {error.lineno}, column {error.colno}: {error.msg.lower()}"
        ) from None
    except RecursionError:
        raise BuildFileError("", "nested too deeply for a build file") from None
    _check(value)
    return value


def _check(value: Any) -> None:
    """Refuse what could be read but not written again, with its key path."""
    _check_leaf("", value)
    waiting: list[tuple[str, int, Any]] = [("", 0, value)]
    while waiting:
        where, depth, here = waiting.pop()
        if depth > MOST_DEEP:
            raise BuildFileError(where, f"at most {MOST_DEEP} levels of braces and brackets")
        held: Iterable[tuple[str | int, Any]] = ()
        if isinstance(here, dict):
            held = here.items()
        elif isinstance(here, list):
            held = enumerate(here)
        for key, inner in held:
            if isinstance(inner, dict | list):
                waiting.append((_below(where, key), depth + 1, inner))
            elif isinstance(inner, float | str):
                _check_leaf(where, inner, key)


def _check_leaf(where: str, value: Any, key: str | int | None = None) -> None:
    """Refuse a number or a text; where: the key path of what holds it, key: its own place there."""
    if isinstance(value, float):
        if math.isfinite(value):
            return
        expected = "a finite number; this one is too large to be held"
    elif isinstance(value, str) and not _is_encodable(value):
        expected = "whole characters; half of one (a lone surrogate) is there"
    else:
        return
    raise BuildFileError(where if key is None else _below(where, key), expected)


def _below(where: str, key: str | int) -> str:
    """The key path of what stands under a key, or at a place of a list."""
    if isinstance(key, int):
        return f"{where}[{key}]"
    return f"{where}.{key}" if where else key


def _no_key_twice(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for key, value in pairs:
        if not _is_encodable(key):
            raise BuildFileError("", "a key holds half a character (a lone surrogate)")
        if key in found:
            raise BuildFileError(key, "this key stands twice in the same braces; keep one")
        found[key] = value
    return found


def _is_encodable(text: str) -> bool:
    try:
        text.encode("utf-8")
    except UnicodeEncodeError:
        return False
    return True


def _no_constant(name: str) -> NoReturn:
    raise BuildFileError("", f"{name} is not a number a build can hold")


def _integer(text: str) -> int | float:
    return int(text) if len(text) < 300 else float("inf")


def text_of(build: Build) -> str:
    """The build as the text of its file."""
    return json.dumps(dump(build), indent=1, ensure_ascii=False, allow_nan=False) + "\n"


def fingerprint_of(path: Path) -> str | None:
    """Fingerprint of the bytes now on disk; None if there is no readable file."""
    try:
        digest = hashlib.sha256()
        with os.fdopen(open_regular(path), "rb") as file:
            while piece := file.read(1 << 20):
                digest.update(piece)
        return digest.hexdigest()
    except OSError:
        return None


def write_build(build: Build, path: Path) -> str:
    """Write a build file, whole or not at all, and keep the one before as NAME~.

    Returns the fingerprint of what was written. Raises SaveError with one sentence; the old file
    is then untouched.
    """
    raw = text_of(build).encode("utf-8")
    replace_file(path, raw, keep_previous=True)
    return hashlib.sha256(raw).hexdigest()
