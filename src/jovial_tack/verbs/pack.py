"""The verb pack: a build with what lies beside it as one zip file, and back."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from jovial_tack.verbs.arguments import (
    Parser,
    UsageError,
    output,
    own_catalogue,
    read_to_compute,
    show,
)


def pack_verb(arguments: Sequence[str]) -> int:
    """Pack a build, or unpack one. Returns the exit status."""
    parser = Parser(
        prog="jovial-tack pack",
        description="A build with its pictures and maps as one zip file; or such a file unpacked into a"
        " new folder.",
    )
    parser.add_argument("source", metavar="BUILD.jtack|IN.zip", type=Path)
    parser.add_argument(
        "-o", "--out", metavar="OUT.zip|FOLDER", type=output, required=True, help="where to"
    )
    parser.add_argument(
        "--large", action="store_true", help="unpack what takes over 100 MB, or 50 times its size"
    )
    asked = parser.parse_args(arguments)

    from jovial_tack.files.pack import LargePackError, pack, unpack

    if asked.source.suffix.lower() == ".zip":
        try:
            file = unpack(asked.source, asked.out, large=asked.large)
        except LargePackError as error:
            raise UsageError(f"{error}; --large unpacks it all the same") from None
        show(f"unpacked: {file}")
        return 0
    build = read_to_compute(asked.source, own_catalogue()).build
    missing = pack(build, asked.source, asked.out)
    show(f"packed in {asked.out.name}")
    for name in missing:
        show(f"not there, and not packed: {name}")
    return 0
