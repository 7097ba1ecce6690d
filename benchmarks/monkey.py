"""Wild keys in the window, in a folder of its own: no error, no long turn of the event loop, no file elsewhere.

    .venv/bin/python benchmarks/monkey.py [KEYS] [SEED]

Keys are those of every command, letters, digits and arrows, sent as fast as the window takes them, on the demo by
link and by hand in turns. No dialog that it can open may change a file.
"""

import os
import random
import subprocess
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path
from typing import Any, cast

_SANDBOX = "AEQUITONE_MONKEY"
# Elsewhere: what a program of this person could write to.
_WATCHED = ("/etc", "/home", "/opt", "/root", "/srv", "/usr", "/var", "/work")
_EVERY, _LONG_SECONDS = 5_000, 1.0
_TYPED = [
    *"abcdefghijklmnopqrstuvwxyz0123456789",
    "Up",
    "Down",
    "Left",
    "Right",
    "Tab",
    "Space",
    "Return",
    "Esc",
    "Backspace",
]


def outside(since: float) -> list[str]:
    """Files elsewhere that were changed since, but for what the machine itself keeps there."""
    there = [path for path in _WATCHED if Path(path).is_dir()]
    found = subprocess.run(
        ["find", *there, "-xdev", "-type", "f", "-newermt", f"@{since:.0f}", "-not", "-path", "*/__pycache__/*"],
        capture_output=True,
        text=True,
        check=False,
    )
    return [line for line in found.stdout.splitlines() if not line.startswith(("/var/log", "/var/lib/systemd"))]


def play(count: int, seed: int, folder: Path) -> Counter[str]:
    """Send keys; what went wrong is counted."""
    from PySide6.QtCore import QTimer
    from PySide6.QtGui import QKeySequence
    from PySide6.QtTest import QTest
    from PySide6.QtWidgets import QApplication, QDialog
    from tests.desktop.test_keys import every_command

    from aequitone.desktop.app import application, window_on
    from aequitone.desktop.demo.demo import demo_logbook
    from aequitone.diagnosis import listen_for_errors, start_log

    start_log(folder / "aequitone.log")
    app, told, rng = application(), Counter[str](), random.Random(seed)
    listen_for_errors(lambda words: told.update([f"FAULT {words}"[:300]]))
    keys = sorted({key for command in every_command() for key in command.keys} | set(_TYPED))
    turns: list[tuple[float, str]] = []
    last, pressed = [time.monotonic()], [""]

    def beat() -> None:
        now = time.monotonic()
        turns.append((now - last[0], pressed[0]))
        last[0] = now

    heart = QTimer()
    heart.timeout.connect(beat)
    for part, begin in enumerate(range(0, count, _EVERY)):
        window = window_on(
            demo_logbook(folder / f"part-{part}" / "logbook.sqlite", by_hand=part % 2 == 1), pace=200.0
        )
        window.show()
        app.processEvents()
        # A start is measured elsewhere (benchmarks/window.py).
        last[0] = time.monotonic()
        heart.start(0)
        for _ in range(min(_EVERY, count - begin)):
            target = QApplication.activeModalWidget() or QApplication.focusWidget() or window
            pressed[0] = rng.choice(keys)
            # The sequence has one key; its type says nothing of its parts.
            combination = cast(Any, QKeySequence(pressed[0]))[0]
            QTest.keyClick(target, combination.key(), combination.keyboardModifiers())
            app.processEvents()
            if rng.random() < 0.01:
                QTest.qWait(20)
            for dialog in window.findChildren(QDialog):
                if rng.random() < 0.1:
                    dialog.close()
            told["keys"] += 1
            if not window.isVisible() and QApplication.activeModalWidget() is None:
                window.show()
        heart.stop()
        window.close()
        app.processEvents()
        print(
            f"{told['keys']} keys, longest turn {max(turns)[0] * 1000.0:.0f} ms after {max(turns)[1]}", flush=True
        )
    for seconds, key in turns:
        if seconds > _LONG_SECONDS:
            told[f"FAULT a turn of {seconds:.1f} s after {key}"] += 1
    text = (folder / "aequitone.log").read_text("utf-8")
    told["FAULT tracebacks in the log"] += text.count("not caught") + text.count(
        "stopped by an error of the program"
    )
    return told


def main() -> None:
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 2_000
    seed = int(sys.argv[2]) if len(sys.argv) > 2 else 1
    if _SANDBOX not in os.environ:
        # A home of its own, before anything asks where home is.
        with tempfile.TemporaryDirectory(prefix="monkey-") as name:
            home = {f"XDG_{what}_HOME": f"{name}/{what.lower()}" for what in ("DATA", "STATE", "CONFIG", "CACHE")}
            environment = os.environ | home | {"HOME": name, _SANDBOX: name, "QT_QPA_PLATFORM": "offscreen"}
            environment |= {"PYTHONDONTWRITEBYTECODE": "1", "DBUS_SESSION_BUS_ADDRESS": "unix:path=/nowhere"}
            began = time.time()
            code = subprocess.run([sys.executable, *sys.argv], env=environment, cwd=name, check=False).returncode
            written = outside(began)
            print(f"files written elsewhere: {len(written)} {written[:5]}")
            raise SystemExit(code or bool(written))
    told = play(count, seed, Path(os.environ[_SANDBOX]))
    faults = sum(number for words, number in told.items() if words.startswith("FAULT"))
    print("; ".join(f"{number} {words}" for words, number in told.most_common() if number))
    print(f"faults: {faults}")
    raise SystemExit(1 if faults else 0)


if __name__ == "__main__":
    main()
