"""A build packed with what lies beside it, and unpacked safely: one zip file to hand on.

Opened, nothing is written outside its folder: no absolute path, no way up, no link, nothing over what
is there, and no more than is told and allowed.
"""

from __future__ import annotations

import io
import lzma
import os
import shutil
import stat
import struct
import tempfile
import unicodedata
import zipfile
import zlib
from collections.abc import Callable, Iterator
from pathlib import Path, PurePosixPath

from jovial_tack.core.errors import BuildFileError, SaveError
from jovial_tack.document.model import Build, SuperchargerLoad
from jovial_tack.files.attachments import MOST_BYTES, folder_of, place_of
from jovial_tack.files.companions import map_beside
from jovial_tack.files.reading import open_regular, read_regular
from jovial_tack.files.whole import mark_read_in, reason, replace_file

_MOST_FILES, _MOST_IN_ALL = 5_000, 1_000_000_000
#: The first day a zip can tell: of the same files the same bytes.
_DAY = (1980, 1, 1, 0, 0, 0)
_CHUNK = 1 << 20
#: Above so many bytes, or so many times its own size, it is asked about; below so many never by that.
_LARGE, _TIMES, _SMALL = 100_000_000, 50, 20_000
#: What the readers of compressed data raise where it is damaged, or packed in a way they do not know.
_DAMAGED = (
    NotImplementedError,
    RuntimeError,
    EOFError,
    ValueError,
    zlib.error,
    lzma.LZMAError,
    struct.error,
    OverflowError,
    MemoryError,
)


def pack(build: Build, build_file: Path, out: Path) -> tuple[str, ...]:
    """Write a saved build and what belongs to it to a zip file. Returns what was named and is not
    there.

    Raises SaveError.
    """
    stream, missing = io.BytesIO(), []
    try:
        with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as packed:
            _add(packed, build_file.name, read_regular(build_file, MOST_BYTES))
            for name, place in _belonging(build, build_file):
                try:
                    content = b"" if place is None else read_regular(place, MOST_BYTES)
                except OSError:
                    place = None
                if place is None:
                    missing.append(name)
                else:
                    _add(packed, name, content)
    except OSError as error:
        raise SaveError(f"{build_file.name} cannot be packed: {reason(error)}") from None
    replace_file(out, stream.getvalue())
    return tuple(missing)


def _add(packed: zipfile.ZipFile, name: str, content: bytes) -> None:
    entry = zipfile.ZipInfo(name, _DAY)
    entry.compress_type = zipfile.ZIP_DEFLATED
    entry.external_attr = 0o644 << 16
    packed.writestr(entry, content)


def _belonging(build: Build, build_file: Path) -> Iterator[tuple[str, Path | None]]:
    """What a build names beside it, by its path in the pack; None where that leads elsewhere."""
    folder, named = folder_of(build_file).name, set()
    for each in build.logbook.attachments:
        name = f"{folder}/{PurePosixPath(each.path.replace(chr(92), '/'))}"
        if name not in named:
            named.add(name)
            yield name, place_of(build_file, each)
    for shaft in build.shafts:
        load = shaft.load
        if not isinstance(load, SuperchargerLoad) or not load.map_csv or "\n" in load.map_csv:
            continue
        try:
            place: Path | None = map_beside(build_file.parent, load.map_csv)
        except (OSError, ValueError):
            place = None
        if load.map_csv not in named:
            named.add(load.map_csv)
            yield load.map_csv, place


def is_plain_name(name: str) -> bool:
    """Whether a name shows what it is: no control marks, none that turn the direction of reading."""
    hidden = ("Cc", "Cf", "Cs", "Co", "Zl", "Zp")
    return not any(unicodedata.category(letter) in hidden for letter in name)


def free_folder(wanted: Path) -> Path:
    """A folder beside a file that is not there yet."""
    number, folder = 1, wanted
    while folder.exists():
        number += 1
        folder = wanted.with_name(f"{wanted.name} {number}")
    return folder


class LargePackError(BuildFileError):
    """A packed build that takes much room: whoever unpacks it is asked first."""


def unpack(
    packed_file: Path,
    into: Path,
    *,
    large: bool = False,
    check: Callable[[], None] = lambda: None,
) -> Path:
    """Unpack a build into a new folder; gives the build's file there.

    large: it may take over 100 MB, or 50 times its own size; check: called between the pieces, what it
    raises ends it. Raises BuildFileError for what is no packed build, or would lead out of the folder
    or fill the disk, LargePackError for one that is large and may not be; SaveError where it cannot be
    written. Nothing is left behind then.
    """
    if into.exists():
        raise SaveError(f"{into.name} is there already; a packed build makes a folder of its own")
    mark_read_in(packed_file)
    aside: Path | None = None
    try:
        with os.fdopen(open_regular(packed_file), "rb") as file, zipfile.ZipFile(file) as packed:
            # one without a name is no folder, and refused below
            entries = [e for e in packed.infolist() if not e.filename or not e.is_dir()]
            build_name = _checked(entries, packed_file.name)
            if not large:
                _check_large(entries, packed_file.name)
            aside = Path(tempfile.mkdtemp(prefix=f".{into.name}-", dir=into.parent))
            left = _MOST_IN_ALL
            for entry in entries:
                left = _unpack_one(packed, entry, aside, left, packed_file.name, check)
        aside.chmod(0o755)
        aside.rename(into)
        aside = None
    except zipfile.BadZipFile as error:
        raise BuildFileError("", f"{packed_file.name}: no packed build ({error})") from None
    except _DAMAGED as error:
        if isinstance(error, BuildFileError):
            raise
        raise BuildFileError("", f"{packed_file.name}: cannot be unpacked ({error})") from None
    except OSError as error:
        if isinstance(error, SaveError):
            raise
        raise SaveError(f"{packed_file.name} cannot be unpacked: {reason(error)}") from None
    finally:
        if aside is not None:
            shutil.rmtree(aside, ignore_errors=True)
    return into / build_name


def _check_large(entries: list[zipfile.ZipInfo], name: str) -> None:
    """Raises LargePackError for what takes much room, by what it says of itself."""
    full = sum(entry.file_size for entry in entries)
    packed = sum(entry.compress_size for entry in entries)
    if full > _LARGE or full > _TIMES * max(packed, _SMALL):
        raise LargePackError(
            "", f"{name}: it takes {full / 1e6:.0f} MB unpacked, and has {packed / 1e6:.1f} MB"
        )


def _checked(entries: list[zipfile.ZipInfo], name: str) -> str:
    """The build among the entries. Raises BuildFileError for what may not be unpacked."""

    def refuse(why: str) -> BuildFileError:
        return BuildFileError("", f"{name}: {why}; nothing was unpacked")

    if len(entries) > _MOST_FILES:
        raise refuse(f"{len(entries)} files are more than a build has")
    if sum(entry.file_size for entry in entries) > _MOST_IN_ALL:
        raise refuse("it would take more than a gigabyte")
    builds, seen = [], set()
    for entry in entries:
        path = PurePosixPath(entry.filename.replace("\\", "/"))
        if not entry.filename.strip() or entry.filename.endswith("."):
            raise refuse("a file in it has no name")
        if not is_plain_name(entry.filename):
            raise refuse("the name of a file in it holds control or direction marks")
        if any(part.startswith(".") for part in path.parts if part != ".."):
            raise refuse(f"“{entry.filename[:80]}” is hidden")
        if path.is_absolute() or ".." in path.parts or ":" in entry.filename or not path.parts:
            raise refuse(f"“{entry.filename[:80]}” leads out of its folder")
        if stat.S_ISLNK(entry.external_attr >> 16):
            raise refuse(f"“{entry.filename[:80]}” is a link")
        if str(path).casefold() in seen:
            raise refuse(f"“{entry.filename[:80]}” is in it twice")
        seen.add(str(path).casefold())
        if len(path.parts) == 1 and path.suffix.lower() == ".jtack":
            builds.append(str(path))
    if len(builds) != 1:
        raise refuse("one build file should be in it")
    return builds[0]


def _unpack_one(
    packed: zipfile.ZipFile,
    entry: zipfile.ZipInfo,
    aside: Path,
    left: int,
    name: str,
    check: Callable[[], None],
) -> int:
    """Write one entry, a piece at a time: what it says of its size is not believed."""
    place = aside / PurePosixPath(entry.filename.replace("\\", "/"))
    place.parent.mkdir(parents=True, exist_ok=True)
    with packed.open(entry) as source, place.open("xb") as target:
        while piece := source.read(_CHUNK):
            check()
            left -= len(piece)
            if left < 0:
                raise BuildFileError("", f"{name}: it would take more than a gigabyte")
            target.write(piece)
    return left
