"""What can be selected, by name."""

from __future__ import annotations

Target = tuple[str, ...]
