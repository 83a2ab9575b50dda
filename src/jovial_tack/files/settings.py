"""Settings of the window, kept as JSON in the config folder; a damaged entry counts as none."""

from __future__ import annotations

import contextlib
import json
from collections.abc import Callable, Mapping
from dataclasses import asdict, dataclass, field, replace
from pathlib import Path
from typing import Any, Literal

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
    """The settings kept, entry by entry: one that cannot be read is as if it were not there."""
    kept = _kept()
    fresh = Settings()

    def entry(name: str, read: Callable[[Any], Any]) -> Any:
        if name not in kept:
            return getattr(fresh, name)
        try:
            return read(kept[name])
        except (ValueError, TypeError, AttributeError, OverflowError, KeyError):
            return getattr(fresh, name)

    return Settings(
        recent=entry("recent", _texts),
        night=entry("night", _flag),
        size=entry("size", _size),
        both_units=entry("both_units", _flag),
        station=entry("station", _text),
        unit=entry("unit", _unit),
        views=entry("views", _views),
    )


def _kept() -> dict[str, Any]:
    """What stands in the file; nothing where there is none, or it is damaged."""
    try:
        raw = read_regular(config_folder() / "settings.json", _MOST_BYTES)
        kept = json.loads(raw.decode("utf-8"))
    except (OSError, ValueError, RecursionError):
        return {}
    return kept if isinstance(kept, dict) else {}


def _flag(kept: Any) -> bool:
    if not isinstance(kept, bool):
        raise TypeError
    return kept


def _text(kept: Any) -> str:
    if not isinstance(kept, str):
        raise TypeError
    return kept


def _texts(kept: Any) -> tuple[str, ...]:
    if not isinstance(kept, list):
        raise TypeError
    return tuple(name for name in kept if isinstance(name, str))[:_MOST_RECENT]


def _size(kept: Any) -> tuple[int, int]:
    width, height = (min(max(int(side), 400), 20_000) for side in kept)
    return width, height


def _unit(kept: Any) -> Literal["mm", "in"]:
    return "in" if kept == "in" else "mm"


def _views(kept: Any) -> dict[str, ViewState]:
    views: dict[str, ViewState] = {}
    for name, numbers in kept.items():
        with contextlib.suppress(ValueError, TypeError):
            scale, x, y = map(float, numbers)
            if 1e-4 < scale < 1e4 and max(abs(x), abs(y)) < 1e6:  # NaN is neither
                views[str(name)] = (scale, x, y)
    return views


def save_settings(settings: Settings) -> None:
    """Keep the settings, and what a newer version keeps beside them; a place that cannot be written is
    no reason to stop.
    """
    others = {name: value for name, value in _kept().items() if name not in asdict(settings)}
    with contextlib.suppress(OSError, SaveError):
        write_whole(config_folder() / "settings.json", {**others, **asdict(settings)})
