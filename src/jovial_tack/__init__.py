"""Jovial Tack: lay out accessory and supercharger belt drives for engine swaps."""

import os
import sys

__version__ = "0.2.0"


def _end_at_once(_signal: int, _frame: object) -> None:
    """An interrupt while the program is still being loaded: a sentence, and no traceback."""
    os.write(2, b"jovial-tack: interrupted\n")
    os._exit(2)


if os.path.basename(sys.argv[0] if sys.argv else "") in ("jovial-tack", "__main__.py"):  # noqa: PTH119
    # the part in C: the other takes as long to load as an impatient hand
    import _signal as signal  # type: ignore[import-not-found]

    if signal.getsignal(signal.SIGINT) is signal.default_int_handler:
        signal.signal(signal.SIGINT, _end_at_once)
