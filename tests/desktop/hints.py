"""What the panel offers, for tests that drive the window."""

from aequitone.desktop.states import Act
from aequitone.desktop.window import MainWindow


def shows(window: MainWindow, act: Act) -> bool:
    """Whether a key for that is shown on the panel now."""
    return any(hint.act is act for hint in window.presenter.view().panel.keys)
