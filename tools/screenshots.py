"""Pictures of the main views into docs/screenshots, each of the program as a user starts it.

usage: tools/screenshots.py [SCENE …]      without a scene: all of them
"""

from __future__ import annotations

import shutil
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent))

from scenes import SCENES
from staged import show

FOLDER = Path(__file__).parents[1] / "docs/screenshots"


def picture(name: str) -> None:
    """Take one picture."""
    with tempfile.TemporaryDirectory() as folder:
        showing = show(Path(folder), scene=name, size=SCENES[name].size)
        shutil.copyfile(showing.picture, FOLDER / f"{name}.png")


def main() -> None:
    """Take the pictures asked for, two at a time."""
    FOLDER.mkdir(parents=True, exist_ok=True)
    with ThreadPoolExecutor(2) as pool:
        list(pool.map(picture, sys.argv[1:] or SCENES))


if __name__ == "__main__":
    main()
