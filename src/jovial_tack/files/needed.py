"""What the program needs beside itself: which part is out of use without it, and how to get it.

Each is loaded when it is used, so that the rest works without it; this says so in a sentence.
"""

from __future__ import annotations

import importlib.util
from collections.abc import Iterable

#: The name it is imported by: what is out of use without it, and what it is installed by.
NEEDED: dict[str, tuple[str, str]] = {
    "reportlab": ("papers in PDF", "reportlab"),
    "PIL": ("papers with pictures, and cards for the counter", "pillow"),
    "ezdxf": ("drawings for the cutter (DXF)", "ezdxf"),
    "shapely": ("bracket plates", "shapely"),
    "pyqtgraph": ("plots", "pyqtgraph"),
    "polars": ("logs", "polars"),
    "tomlkit": ("own figures of the noise finder", "tomlkit"),
    "msgspec": ("the whole program", "msgspec"),
    "numpy": ("the whole program", "numpy"),
    "PyQt6": ("the window", "PyQt6"),
}

#: Said where a typeface that ships with the program is not there.
NO_TYPEFACE = (
    "nothing was written: a typeface that ships with the program is missing; install it again"
)


def out_of_use(names: Iterable[str] = tuple(NEEDED)) -> list[str]:
    """What is not there, by its name."""
    return [name for name in names if not _is_there(name)]


def why_not(names: Iterable[str]) -> str:
    """Which parts are out of use without some of them, and how to get those, in a sentence."""
    parts = ", ".join(dict.fromkeys(NEEDED[name][0] for name in names))
    packages = " ".join(NEEDED[name][1] for name in names)
    is_or_are = "is" if len(list(names)) == 1 else "are"
    return (
        f"{parts}: out of use, since {packages} {is_or_are} not installed (pip install {packages})"
    )


def missing_in(error: ImportError) -> str:
    """What an import failed for, in a sentence; "" for an error of another kind."""
    name = (error.name or "").partition(".")[0]
    return why_not([name]) if name in NEEDED else ""


def _is_there(name: str) -> bool:
    try:
        return importlib.util.find_spec(name) is not None
    except (ImportError, ValueError):
        return False
