"""Pictures and other files that belong to a build: they lie in NAME.files/ beside it, by checksum.

Nothing outside that folder is ever read for a build: no path that leads out, no link.
"""

from __future__ import annotations

import hashlib
import stat
from collections.abc import Iterator
from pathlib import Path, PurePosixPath

from jovial_tack.answers.kinds import ATTACHMENT_CHANGED, ATTACHMENT_MISSING
from jovial_tack.answers.results import Finding
from jovial_tack.core.errors import SaveError
from jovial_tack.core.value import Value
from jovial_tack.document.model import Attachment, Build
from jovial_tack.files.reading import read_regular
from jovial_tack.files.whole import reason, replace_file

MOST_BYTES = 100_000_000


class Attached(Value, frozen=True):
    """A file that was put beside a build: its path in NAME.files/, its checksum and size."""

    path: str
    sha256: str
    size: int


def folder_of(build_file: Path) -> Path:
    """The folder of what belongs to a build."""
    return build_file.with_name(f"{build_file.stem}.files")


def attach(build_file: Path, source: Path) -> Attached:
    """Copy a file beside a build; one of the same content is not copied twice. Raises SaveError."""
    try:
        content = read_regular(source, MOST_BYTES)
    except OSError as error:
        raise SaveError(f"{source.name} cannot be read: {reason(error)}") from None
    checksum, folder = hashlib.sha256(content).hexdigest(), folder_of(build_file)
    if folder.is_symlink():
        raise SaveError(f"{folder.name} is a link; what belongs to a build lies beside it")
    try:
        folder.mkdir(exist_ok=True)
    except OSError as error:
        raise SaveError(f"{folder.name} cannot be made: {reason(error)}") from None
    name = _free(folder, source.name, checksum)
    if not (folder / name).exists():
        replace_file(folder / name, content)
    return Attached(name, checksum, len(content))


def _free(folder: Path, wanted: str, checksum: str) -> str:
    """A name in the folder that is not taken by another content."""
    shown = wanted.lstrip(".") or "file"
    stem, ending = Path(shown).stem, Path(shown).suffix
    number, name = 1, f"{stem}{ending}"
    while (folder / name).exists():
        if _checksum(folder / name) == checksum:
            return name
        number += 1
        name = f"{stem} {number}{ending}"
    return name


def carry_over(build: Build, before: Path, after: Path) -> tuple[str, ...]:
    """Copy what lies beside a build to where it is saved now. Returns what could not be copied."""
    left = []
    for each in build.logbook.attachments:
        source, target = place_of(before, each), place_of(after, each)
        if source is None or target is None or not source.exists() or target.exists():
            if target is None or (source is None and not target.exists()):
                left.append(each.path)
            continue
        try:
            target.parent.mkdir(parents=True, exist_ok=True)
            replace_file(target, read_regular(source, MOST_BYTES))
        except OSError:  # SaveError is one
            left.append(each.path)
    return tuple(left)


def place_of(build_file: Path, attachment: Attachment) -> Path | None:
    """Where an attachment lies; None where its path leads out of the folder, or by a link."""
    inner = PurePosixPath(attachment.path.replace("\\", "/"))
    if inner.is_absolute() or not inner.parts or ":" in inner.parts[0]:
        return None
    if any(part.startswith(".") for part in inner.parts):
        return None  # it leads out of the folder, or is hidden
    place = folder_of(build_file)
    for part in ("", *inner.parts):
        place = place / part
        try:
            mode = place.lstat().st_mode
        except (OSError, ValueError):
            break  # nothing is there, so no link either
        if stat.S_ISLNK(mode):
            return None
    return folder_of(build_file).joinpath(*inner.parts)


def attachment_findings(build: Build, build_file: Path | None) -> Iterator[Finding]:
    """Attachments that are missing, or are not what they were; each a note, never more."""
    for each in build.logbook.attachments:
        place = None if build_file is None else place_of(build_file, each)
        found = None if place is None else _checksum(place)
        if found is None:
            words = f"{each.path}: not in the folder beside the build"
            yield Finding(ATTACHMENT_MISSING, "note", each.id, words)
        elif found != each.sha256:
            words = f"{each.path}: another file than the one attached"
            yield Finding(ATTACHMENT_CHANGED, "note", each.id, words)


def _checksum(path: Path) -> str | None:
    try:
        return hashlib.sha256(read_regular(path, MOST_BYTES)).hexdigest()
    except OSError:
        return None
