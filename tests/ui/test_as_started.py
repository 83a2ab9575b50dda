"""What a user starts: the program by its own command, in a process of its own, on a fresh HOME."""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtGui import QImage

ROOT = Path(__file__).parents[2]
sys.path.insert(0, str(ROOT / "tools"))

from staged import show

DESK = ROOT / "docs/screenshots/desk.png"
#: Where a Debian machine with fonts has them; a machine without has an empty folder.
FONTS = {"no system fonts": None, "other system fonts": "/usr/share/fonts/truetype/dejavu"}


def shades(picture: Path) -> np.ndarray:
    image = QImage(str(picture)).convertToFormat(QImage.Format.Format_RGB888)
    bits = image.constBits()
    assert bits is not None
    rows = np.frombuffer(bytes(bits.asarray(image.sizeInBytes())), np.uint8)
    rows = rows.reshape(image.height(), image.bytesPerLine())[:, : 3 * image.width()]
    return np.asarray(rows, dtype=float)


def font_settings(folder: Path, fonts: str | None) -> dict[str, str]:
    """System fonts of a folder and no others."""
    if fonts is not None and not any(Path(fonts).glob("*.ttf")):
        pytest.skip("fonts-dejavu-core is not installed")
    where = fonts or folder / "none"
    settings = folder / "fonts.conf"
    settings.write_text(f"<fontconfig><dir>{where}</dir><cachedir>{folder}</cachedir></fontconfig>")
    return {"FONTCONFIG_FILE": str(settings)}


@pytest.mark.parametrize("fonts", FONTS.values(), ids=list(FONTS))
@pytest.mark.parametrize("", [pytest.param(), pytest.param(marks=pytest.mark.screen)])
def test_what_is_started_is_what_is_shown(tmp_path: Path, fonts: str | None) -> None:
    showing = show(tmp_path, environment=font_settings(tmp_path, fonts))
    assert showing.found == {
        "families": ["Cabin", "B612"], "family": "Cabin", "icon": True, "style": "fusion",
        "size": [1280, 800],
    }  # fmt: skip
    assert "WARNING" not in showing.log
    started, expected = shades(showing.picture), shades(DESK)
    assert started.shape == expected.shape
    difference = np.abs(started - expected).mean()
    assert difference < 4.0, f"differs from docs/screenshots/desk.png by {difference:.2f} of 255"
