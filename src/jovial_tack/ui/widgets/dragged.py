"""What is dragged from one part of the window to another."""

from __future__ import annotations

PART_MIME = "application/x-jovial-tack-part"
