"""Puts Ravden into the user's own menu: its entry, icon and file type, in the folders of the desktop standard.

For a checkout and for pipx; a package of the system brings the same files in the system's folders.
"""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

from ravden.catalogue.shipped_files import DATA
from ravden.core.errors import InputError
from ravden.system.files import put_text

# What is shipped, and where it goes below the data folder.
FILES = (
    ("desktop/ravden.desktop", "applications/ravden.desktop"),
    ("icons/ravden.svg", "icons/hicolor/scalable/apps/ravden.svg"),
    ("desktop/ravden-shop.xml", "mime/packages/ravden-shop.xml"),
)
# What makes a running desktop look again; wanting ones are passed over, since it looks at the next login anyway.
REFRESHERS = (
    ("update-desktop-database", "applications"),
    ("update-mime-database", "mime"),
    ("gtk-update-icon-cache", "icons/hicolor", "--ignore-theme-index", "--quiet"),
)


def data_home() -> Path:
    """The user's own data folder, as the desktop standard has it."""
    return Path(os.environ.get("XDG_DATA_HOME") or os.path.expanduser("~/.local/share"))


def install() -> list[Path]:
    """Write the entry (it starts this very program), the icon and the file type; returns what was written."""
    out = []
    for source, target in FILES:
        path = data_home() / target
        text = (DATA / source).read_text(encoding="utf-8")
        if path.suffix == ".desktop":
            text = text.replace("Exec=ravden %f", f"Exec={command_line()} %f")
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise InputError(str(path), f"cannot be written: {error.strerror}") from None
        put_text(path, text)
        out.append(path)
    _refresh()
    return out


def remove() -> list[Path]:
    """Take them away again; returns what was there."""
    out = []
    for _, target in FILES:
        path = data_home() / target
        try:
            path.unlink()
        except FileNotFoundError:
            continue
        except OSError as error:
            raise InputError(str(path), f"cannot be removed: {error.strerror}") from None
        out.append(path)
    _refresh()
    return out


def command_line() -> str:
    """This program as ``Exec`` wants it: an absolute path, quoted.

    The standard quotes twice: once for the command line, once for a string of the file.
    """
    started = Path(sys.argv[0]).absolute()
    words = (
        [str(started)] if started.name == "ravden" and os.access(started, os.X_OK) else [sys.executable, "-m", "ravden"]
    )
    return " ".join(quoted(word) for word in words)


def quoted(word: str) -> str:
    """One word of an ``Exec`` line.

    >>> quoted("/home/a b/ravden")
    '"/home/a b/ravden"'
    >>> quoted("/opt/50%/ravden")
    '"/opt/50%%/ravden"'
    """
    inner = "".join(f"\\{c}" if c in '"`$\\' else c for c in word).replace("%", "%%")
    return '"' + inner.replace("\\", "\\\\") + '"'


def _refresh() -> None:
    for program, folder, *options in REFRESHERS:
        where = data_home() / folder
        if shutil.which(program) and where.is_dir():
            subprocess.run([program, *options, str(where)], capture_output=True, check=False)
