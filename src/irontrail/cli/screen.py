"""Whether there is a screen to open a window on: Qt ends the process where there is none."""

import ctypes
import importlib.util
import os
import socket
from pathlib import Path

REMEDY = "Sit at the machine's desktop, or use a command without a window: irontrail --help"


def problem() -> tuple[str, str, str] | None:
    """What is wrong with the screen, where, and what to do; None if a window can be opened.

    A Wayland desktop that does not answer is passed over for an X display that does.
    """
    if os.environ.get("QT_QPA_PLATFORM"):
        return None
    wayland, display = os.environ.get("WAYLAND_DISPLAY", ""), os.environ.get("DISPLAY", "")
    if wayland and _wayland_answers(wayland):
        return None
    if display and _x_answers(display):
        if (missing := _missing()) is not None:
            return missing, "Qt", "Start it with ./start, which names the package to install."
        if wayland:
            os.environ["QT_QPA_PLATFORM"] = "xcb"
        return None
    if wayland:
        return "the desktop there does not answer", f"WAYLAND_DISPLAY={wayland}", REMEDY
    if display:
        return "the display there does not answer", f"DISPLAY={display}", REMEDY
    return "there is no screen to open a window on", "DISPLAY", REMEDY


def _missing() -> str | None:
    """What keeps Qt from speaking to an X display, in the system's words: mostly a library that is not there."""
    found = importlib.util.find_spec("PySide6")
    if found is None or found.origin is None:
        return None
    plugin = Path(found.origin).parent / "Qt" / "plugins" / "platforms" / "libqxcb.so"
    try:
        ctypes.CDLL(str(plugin))
    except OSError as error:
        return f"a system library is missing ({error})"
    return None


def _wayland_answers(name: str) -> bool:
    path = Path(os.environ.get("XDG_RUNTIME_DIR", "/nowhere")) / name
    with socket.socket(socket.AF_UNIX) as there:
        there.settimeout(2.0)
        try:
            there.connect(str(path))
        except OSError:
            return False
    return True


def _x_answers(display: str) -> bool:
    """Asked as Qt asks, so that a display that lets nobody in counts as none."""
    try:
        xcb = ctypes.CDLL("libxcb.so.1")
    except OSError:
        # What is missing is told of Qt, which needs it.
        return True
    xcb.xcb_connect.restype = ctypes.c_void_p
    xcb.xcb_connect.argtypes = (ctypes.c_char_p, ctypes.c_void_p)
    xcb.xcb_connection_has_error.argtypes = (ctypes.c_void_p,)
    xcb.xcb_disconnect.argtypes = (ctypes.c_void_p,)
    connection = xcb.xcb_connect(display.encode(), None)
    refused = xcb.xcb_connection_has_error(connection)
    xcb.xcb_disconnect(connection)
    return not refused
