"""What is dragged from one part of the window to another."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QMimeData

PART_MIME = "application/x-jovial-tack-part"


def local_files(data: QMimeData | None) -> tuple[Path, ...]:
    """The files of this machine that are dragged; none for what is no file."""
    if data is None or not data.hasUrls():
        return ()
    return tuple(Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile())
