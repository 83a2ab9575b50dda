"""Settings of the window, kept as JSON in the config folder; a damaged file counts as none."""

from __future__ import annotations

import contextlib
import json
from collections.abc import Mapping
from dataclasses import asdict, dataclass, field, replace
from pathlib import Path
from typing import Literal

from jovial_tack.core.errors import SaveError
from jovial_tack.files.places import config_folder
from jovial_tack.files.reading import read_regular
from jovial_tack.files.recovery import write_whole

_MOST_RECENT = 8
_MOST_BYTES = 1_000_000


#: How the front view lies: px per mm, and the point in its middle, mm (y down). None: all fits.
ViewState = tuple[float, float, float]


@dataclass(frozen=True)
class Settings:
    """What is remembered from one start to the next. size: width and height of the window, px.

    unit: of length, in which builds are begun. views: how the front view of a recent file was left, by
    its path.
    """

    recent: tuple[str, ...] = ()
    night: bool = False
    size: tuple[int, int] = (1280, 800)
    both_units: bool = False
    station: str = "lay_out"
    unit: Literal["mm", "in"] = "mm"
    views: Mapping[str, ViewState] = field(default_factory=dict)

    def opened(self, path: Path) -> Settings:
        """With a file put first among the recent ones."""
        name = str(path.resolve())
        rest = [other for other in self.recent if other != name]
        return replace(self, recent=(name, *rest)[:_MOST_RECENT])

    def looked_at(self, path: Path, view: ViewState | None) -> Settings:
        """With the view a file was left in; views of files no longer recent are dropped."""
        views = {name: old for name, old in self.views.items() if name in self.recent}
        views.pop(str(path.resolve()), None)
        if view is not None:
            views[str(path.resolve())] = view
        return replace(self, views=views)


def load_settings() -> Settings:
    """The settings kept, or fresh ones."""
    try:
        raw = read_regular(config_folder() / "settings.json", _MOST_BYTES)
        kept = json.loads(raw.decode("utf-8"))
        width, height = (min(max(int(s), 400), 20_000) for s in kept.get("size", Settings.size))
        recent = tuple(str(name) for name in kept.get("recent", ()))
        views: dict[str, ViewState] = {}
        for name, numbers in dict(kept.get("views", {})).items():
            scale, x, y = map(float, numbers)
            if 1e-4 < scale < 1e4 and max(abs(x), abs(y)) < 1e6:  # NaN is neither
                views[str(name)] = (scale, x, y)
        return Settings(
            recent,
            bool(kept.get("night")),
            (width, height),
            bool(kept.get("both_units")),
            str(kept.get("station", Settings.station)),
            "in" if kept.get("unit") == "in" else "mm",
            views,
        )
    except (OSError, ValueError, TypeError, AttributeError, OverflowError, RecursionError):
        return Settings()


def save_settings(settings: Settings) -> None:
    """Keep the settings; a place that cannot be written is no reason to stop."""
    with contextlib.suppress(OSError, SaveError):
        write_whole(config_folder() / "settings.json", asdict(settings))
