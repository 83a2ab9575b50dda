"""Settings of the window, kept as JSON in the config folder; a damaged file counts as none."""

from __future__ import annotations

import contextlib
import json
from dataclasses import asdict, dataclass, replace
from pathlib import Path

from jovial_tack.io.places import config_folder
from jovial_tack.io.recovery import write_whole

_MOST_RECENT = 8


@dataclass(frozen=True)
class Settings:
    """What is remembered from one start to the next. size: width and height of the window, px."""

    recent: tuple[str, ...] = ()
    night: bool = False
    size: tuple[int, int] = (1280, 800)

    def opened(self, path: Path) -> Settings:
        """With a file put first among the recent ones."""
        name = str(path.resolve())
        rest = [other for other in self.recent if other != name]
        return replace(self, recent=(name, *rest)[:_MOST_RECENT])


def load_settings() -> Settings:
    """The settings kept, or fresh ones."""
    try:
        kept = json.loads((config_folder() / "settings.json").read_text("utf-8"))
        width, height = (int(side) for side in kept.get("size", Settings.size))
        recent = tuple(str(name) for name in kept.get("recent", ()))
        return Settings(recent, bool(kept.get("night")), (width, height))
    except (OSError, ValueError, TypeError, AttributeError):
        return Settings()


def save_settings(settings: Settings) -> None:
    """Keep the settings; a place that cannot be written is no reason to stop."""
    with contextlib.suppress(OSError):
        write_whole(config_folder() / "settings.json", asdict(settings))
