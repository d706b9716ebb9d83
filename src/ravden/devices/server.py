"""A simulated instrument: one local socket, any number of listeners, a line at a time."""

import argparse
import contextlib
import os
import selectors
import socket
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path

from ravden.devices.protocol import greeting


def socket_path(kind: str) -> Path:
    """Where an instrument of a kind listens by default: the user's run-time folder, or RAVDEN_HOME."""
    home = os.environ.get("RAVDEN_HOME") or os.environ.get("XDG_RUNTIME_DIR") or "/tmp"
    return Path(home) / f"ravden-{kind}.sock"


def parser(kind: str, about: str) -> argparse.ArgumentParser:
    """The options every simulated instrument has."""
    out = argparse.ArgumentParser(prog=f"ravden-sim-{kind}", description=about)
    out.add_argument("--socket", type=Path, default=socket_path(kind), help="where to listen (default: %(default)s)")
    out.add_argument("--every", type=float, default=2.0, metavar="SECONDS", help="between readings (default: 2)")
    out.add_argument("--name", default="simulated", help="what it calls itself")
    out.add_argument("--lie", action="store_true", help="send readings that cannot be, as a broken sensor does")
    return out


def serve(path: Path, kind: str, name: str, every_s: float, lines: Callable[[], Iterator[str]]) -> int:
    """Listen at path and send a line to everybody every so often, until interrupted."""
    if (path.exists() or path.is_symlink()) and not path.is_socket():
        print(f"ravden-sim-{kind}: {path} is there already and is no socket", file=sys.stderr)
        return 2
    if path.exists() and not _dead(path):
        print(f"ravden-sim-{kind}: something listens at {path} already", file=sys.stderr)
        return 2
    path.unlink(missing_ok=True)
    listener = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
    try:
        listener.bind(str(path))
    except OSError as error:
        print(f"ravden-sim-{kind}: {path}: {error.strerror}", file=sys.stderr)
        return 2
    listener.listen()
    listener.setblocking(False)
    print(f"listening at {path}", flush=True)
    chooser = selectors.DefaultSelector()
    chooser.register(listener, selectors.EVENT_READ)
    clients: list[socket.socket] = []
    source = lines()
    due = time.monotonic()
    try:
        while True:
            for _ in chooser.select(max(due - time.monotonic(), 0.0)):
                client, _address = listener.accept()
                client.sendall(greeting(kind, name).encode())
                clients.append(client)
            if time.monotonic() >= due:
                due += every_s
                _tell(clients, next(source))
    except KeyboardInterrupt:
        return 0
    finally:
        with contextlib.suppress(OSError):
            path.unlink()


def _tell(clients: list[socket.socket], line: str) -> None:
    for client in list(clients):
        try:
            client.sendall(line.encode())
        except OSError:
            clients.remove(client)
            client.close()


def _dead(path: Path) -> bool:
    probe = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
    try:
        probe.connect(str(path))
    except OSError:
        return True
    finally:
        probe.close()
    return False
