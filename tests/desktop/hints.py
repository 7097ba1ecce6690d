"""What the panel offers, for tests that drive the window."""

from aequitone.desktop.commands import Command
from aequitone.desktop.window import MainWindow


def shows(window: MainWindow, command: Command) -> bool:
    """Whether a key for that is shown on the panel now."""
    return any(hint.command == command for hint in window.presenter.view().panel.keys)
