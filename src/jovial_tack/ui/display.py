"""Whether a window can be opened at all: Qt ends the process where it finds no display that answers."""

from __future__ import annotations

import ctypes
import os
import socket
from collections.abc import Mapping
from pathlib import Path

#: What Qt needs of the system to open a window under X, and the package that brings each on Debian.
_X_LIBRARIES = {
    "libxcb.so.1": "libxcb1",
    "libxcb-cursor.so.0": "libxcb-cursor0",
    "libxcb-icccm.so.4": "libxcb-icccm4",
    "libxcb-image.so.0": "libxcb-image0",
    "libxcb-keysyms.so.1": "libxcb-keysyms1",
    "libxcb-render-util.so.0": "libxcb-render-util0",
    "libxcb-shape.so.0": "libxcb-shape0",
    "libxkbcommon-x11.so.0": "libxkbcommon-x11-0",
    "libGL.so.1": "libgl1",
    "libEGL.so.1": "libegl1",
}


def why_no_window(environment: Mapping[str, str] = os.environ) -> str:
    """Why no window can be opened, in words; "" if one can, as far as can be told."""
    asked = environment.get("QT_QPA_PLATFORM", "").partition(":")[0].partition(";")[0]
    if asked and asked not in ("xcb", "wayland"):
        return ""
    names = [environment.get(name, "") for name in ("WAYLAND_DISPLAY", "DISPLAY")]
    wayland, x = names
    if asked != "xcb" and wayland and _wayland_answers(wayland, environment):
        return ""
    if asked != "wayland" and x:
        missing = _missing_libraries()
        if missing:
            return f"the window needs of the system: {', '.join(missing)} (Debian's names)"
        if _x_answers():
            return ""
    named = " or ".join(f"“{name}”" for name in names if name)
    return f"the display {named} does not answer" if named else "there is no display for a window"


def _wayland_answers(name: str, environment: Mapping[str, str]) -> bool:
    place = Path(environment.get("XDG_RUNTIME_DIR", "/")) / name
    with socket.socket(socket.AF_UNIX) as tried:
        tried.settimeout(1.0)
        try:
            tried.connect(str(place))
        except OSError:
            return False
    return True


def _missing_libraries() -> list[str]:
    """The packages of libraries that cannot be loaded."""
    missing = []
    for library, package in _X_LIBRARIES.items():
        try:
            ctypes.CDLL(library)
        except OSError:
            missing.append(package)
    return missing


def _x_answers() -> bool:
    """Whether the X server takes a connection: asked as Qt will ask it."""
    xcb = ctypes.CDLL("libxcb.so.1")
    xcb.xcb_connect.restype = ctypes.c_void_p
    xcb.xcb_connection_has_error.argtypes = [ctypes.c_void_p]
    xcb.xcb_disconnect.argtypes = [ctypes.c_void_p]
    connection = xcb.xcb_connect(None, None)
    error: int = xcb.xcb_connection_has_error(connection)
    xcb.xcb_disconnect(connection)
    return error == 0
