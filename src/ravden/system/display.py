"""Whether a window can be shown, and by which of the toolkit's platforms; asked before the toolkit, which would abort.

Wayland is asked by its socket, X11 by the X library itself, which knows of remote displays and of who may connect.
"""

from __future__ import annotations

import ctypes
import os
import socket
from collections.abc import Mapping
from pathlib import Path

from ravden.core.errors import InputError

WITHOUT_SCREEN = ("offscreen", "minimal", "vnc", "linuxfb", "eglfs")
LIBRARY = "libxcb.so.1"


def platform_for(env: Mapping[str, str]) -> str:
    """What QT_QPA_PLATFORM is to be; empty: the toolkit's own choice is right.

    Raises InputError with a sentence for the user where no display answers.
    """
    wished = [name.split(":")[0] for name in env.get("QT_QPA_PLATFORM", "").split(";") if name]
    if any(name in WITHOUT_SCREEN for name in wished):
        return ""
    wayland_first = env.get("XDG_SESSION_TYPE") == "wayland"
    names = wished or (["wayland", "xcb"] if wayland_first else ["xcb", "wayland"])
    for name in (*names, *(n for n in ("xcb", "wayland") if n not in names)):
        if wayland_answers(env) if name.startswith("wayland") else x_answers(env):
            return "" if name == names[0] and (wished or name == "xcb" or wayland_first) else name
    said = [f"DISPLAY is {env['DISPLAY']}"] if env.get("DISPLAY") else []
    said += [f"WAYLAND_DISPLAY is {env['WAYLAND_DISPLAY']}"] if env.get("WAYLAND_DISPLAY") else []
    raise InputError(
        "", f"{' and '.join(said)}, but nothing answers there" if said else "there is no display to open a window on"
    )


def wayland_answers(env: Mapping[str, str]) -> bool:
    """Whether a compositor listens."""
    name, folder = env.get("WAYLAND_DISPLAY") or "wayland-0", env.get("XDG_RUNTIME_DIR", "")
    if not folder and not name.startswith("/"):
        return False
    with socket.socket(socket.AF_UNIX) as line:
        line.settimeout(2.0)
        try:
            line.connect(str(Path(folder) / name))
        except OSError:
            return False
    return True


def x_answers(env: Mapping[str, str]) -> bool:
    """Whether an X server lets us in; taken as so where the library that would tell is missing."""
    display = env.get("DISPLAY", "")
    if not display:
        return False
    try:
        xcb = ctypes.CDLL(LIBRARY)
    except OSError:
        return True
    xcb.xcb_connect.restype = ctypes.c_void_p
    xcb.xcb_connect.argtypes = [ctypes.c_char_p, ctypes.POINTER(ctypes.c_int)]
    xcb.xcb_connection_has_error.argtypes = [ctypes.c_void_p]
    xcb.xcb_disconnect.argtypes = [ctypes.c_void_p]
    found = xcb.xcb_connect(os.fsencode(display), None)
    try:
        return xcb.xcb_connection_has_error(found) == 0
    finally:
        xcb.xcb_disconnect(found)
