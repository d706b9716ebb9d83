"""Sends a notification through the desktop's own service (org.freedesktop.Notifications on the session bus)."""

from __future__ import annotations

from PyQt6.QtCore import QMetaType, QObject, pyqtSignal
from PyQt6.QtDBus import (
    QDBusArgument,
    QDBusConnection,
    QDBusMessage,
    QDBusPendingCallWatcher,
    QDBusPendingReply,
)

SERVICE, PATH = "org.freedesktop.Notifications", "/org/freedesktop/Notifications"
ANSWER_MS = 3000


class Desktop(QObject):
    """Sends, and says once when nobody listens; what is told on the desktop stands in the window too."""

    failed = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None, bus: QDBusConnection | None = None) -> None:
        super().__init__(parent)
        self._bus = bus
        self._calls: list[QDBusPendingCallWatcher] = []
        self.sent = 0

    def send(self, title: str, body: str) -> None:
        """One notification; it does not wait for the answer."""
        bus = self._bus or QDBusConnection.sessionBus()
        if not bus.isConnected():
            self.failed.emit("this desktop has no service for notifications")
            return
        call = QDBusMessage.createMethodCall(SERVICE, PATH, SERVICE, "Notify")
        # name, replaces nothing, icon, title, body, no buttons, no hints, shown for as long as the desktop likes
        call.setArguments(["Ravden", _typed(0, "UInt"), "ravden", title, body, _typed([], "QStringList"), {},
                           _typed(-1, "Int")])  # fmt: skip
        watcher = QDBusPendingCallWatcher(bus.asyncCall(call, ANSWER_MS), self)
        watcher.finished.connect(self._answered)
        self._calls.append(watcher)

    def _answered(self, watcher: QDBusPendingCallWatcher) -> None:
        reply = QDBusPendingReply(watcher)
        if reply.isError():
            self.failed.emit(f"the desktop did not take a notification: {reply.error().message().rstrip('.')}")
        else:
            self.sent += 1
        self._calls = [c for c in self._calls if c is not watcher]
        watcher.deleteLater()


def _typed(value: object, kind: str) -> QDBusArgument:
    out = QDBusArgument()
    out.add(value, getattr(QMetaType.Type, kind).value)
    return out
