"""The engine's front view: shapes kept as items, so that a drag repaints only what moved."""

from jovial_tack.ui.front_view.view import FrontView

__all__ = ["FrontView"]
