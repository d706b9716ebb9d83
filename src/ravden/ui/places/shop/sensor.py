"""Listens to one sensor on its local socket; comes back by itself when the sensor dies and returns."""

from PyQt6.QtCore import QObject, QTimer, pyqtSignal
from PyQt6.QtNetwork import QLocalSocket

from ravden.devices import protocol

AGAIN_MS = 2000
MOST_BYTES = 4096
MOST_LINES = 12  # taken of what came at once


class Sensor(QObject):
    """Emits each reading it can believe, and a sentence whenever its state changes or it hears nonsense."""

    reading = pyqtSignal(object)
    told = pyqtSignal(str)

    def __init__(self, path: str, parent: QObject | None = None, again_ms: int = AGAIN_MS) -> None:
        super().__init__(parent)
        self.path = path
        self.wanted = False
        self.name = ""
        self._buffer = b""
        self._socket = QLocalSocket(self)
        self._socket.setReadBufferSize(16 * MOST_BYTES)
        self._socket.readyRead.connect(self._heard)
        self._socket.disconnected.connect(self._lost)
        self._socket.errorOccurred.connect(lambda _: self._lost())
        self.again = QTimer(self)
        self.again.setSingleShot(True)
        self.again.setInterval(again_ms)
        self.again.timeout.connect(self._try)

    @property
    def connected(self) -> bool:
        """Whether somebody is at the other end."""
        return self._socket.state() == QLocalSocket.LocalSocketState.ConnectedState

    def start(self) -> None:
        """Listen from now on."""
        self.wanted = True
        self.told.emit(f"Looking for a sensor at {self.path} …")
        self._try()

    def stop(self) -> None:
        """Listen no more."""
        self.wanted = False
        self.again.stop()
        self._socket.abort()
        self.told.emit("No sensor is listened to.")

    def _try(self) -> None:
        if self.wanted and self._socket.state() == QLocalSocket.LocalSocketState.UnconnectedState:
            self._buffer = b""
            self._socket.connectToServer(self.path)

    def _lost(self) -> None:
        if not self.wanted or self.again.isActive():
            return
        self.told.emit(f"The sensor {self.name} has gone; looking for it again." if self.name else
                       f"No sensor at {self.path} yet; looking for it again.")  # fmt: skip
        self.again.start()

    def _heard(self) -> None:
        self._buffer += bytes(self._socket.readAll().data())
        *lines, self._buffer = self._buffer.split(b"\n")
        if len(self._buffer) > MOST_BYTES:
            self._buffer = b""
            lines.append(b"a line without an end")
        if len(lines) > MOST_LINES:
            # A sensor that floods says the same a thousand times: the greeting may be first, the newest counts.
            lines = [*lines[:1], *lines[1 - MOST_LINES :]]
        for raw in lines:
            self._take(raw.decode("utf-8", errors="replace").strip())

    def _take(self, text: str) -> None:
        try:
            line = protocol.parse(text)
        except ValueError as error:
            self.told.emit(f"The sensor {self.name} is not believed: {error}.")
            return
        if isinstance(line, protocol.Greeting):
            self.name = line.name
            self.told.emit(f"Listening to {line.kind} {line.name}.")
        else:
            self.reading.emit(line)
