"""Holds the screensaver off while patterns are shown (org.freedesktop.ScreenSaver on the session bus)."""

from collections.abc import Callable

from PySide6.QtDBus import QDBusConnection, QDBusMessage, QDBusPendingCallWatcher

_SERVICE, _PATH = "org.freedesktop.ScreenSaver", "/org/freedesktop/ScreenSaver"
_BUS = "aequitone-patterns"


class Inhibitor:
    """Asks without waiting; its own connection is closed when patterns are over, which takes the wish back."""

    def __init__(self) -> None:
        self._connected = False
        self._waiting: QDBusPendingCallWatcher | None = None

    def begin(self, then: Callable[[bool], None]) -> None:
        """Ask the desktop to hold its screensaver off; `then` is called with whether it does."""
        if self._connected:
            then(True)
            return
        bus = QDBusConnection.connectToBus(QDBusConnection.BusType.SessionBus, _BUS)
        if not bus.isConnected():
            QDBusConnection.disconnectFromBus(_BUS)
            then(False)
            return
        self._connected = True
        message = QDBusMessage.createMethodCall(_SERVICE, _PATH, _SERVICE, "Inhibit")
        message.setArguments(["Aequitone", "patterns are being measured"])

        def answered(watcher: QDBusPendingCallWatcher) -> None:
            self._waiting = None
            then(not watcher.isError())

        self._waiting = QDBusPendingCallWatcher(bus.asyncCall(message))
        self._waiting.finished.connect(answered)

    def end(self) -> None:
        """Allow the screensaver again."""
        self._waiting = None
        if self._connected:
            self._connected = False
            QDBusConnection.disconnectFromBus(_BUS)
