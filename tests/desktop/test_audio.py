"""A move that is heard: two tones that meet, on a device that is there, breaks or is not there at all."""

import sys
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from pytestqt.qtbot import QtBot

from aequitone.advice.by_hand.pitch import REFERENCE_HZ, pitch_of
from aequitone.advice.by_hand.watching import Left, Watched
from aequitone.advice.moves import Change, Move
from aequitone.advice.roles import Role
from aequitone.desktop.session.audio import AudioFeedback
from aequitone.desktop.session.tone_generator import RATE, NoSoundError, ToneGenerator, open_device
from aequitone.desktop.session.worker import Desk

MOVE = Move((Change(Role.GAIN_R, "R", 50, 55), Change(Role.GAIN_B, "B", 50, 46)))


def seen(*left: tuple[float, bool]) -> Watched:
    """A glance at which each control has so many steps left, and is to go up or down."""
    each = tuple(Left(name, steps, 0.1, up) for name, (steps, up) in zip("RB", left, strict=False))
    return Watched(MOVE, 80.0, np.ones(3), 1.0, 0.1, each)


class Device:
    """Keeps what it is asked to play with; the driver's thread is this one."""

    def __init__(self, fill: Callable[[Any, int], None]) -> None:
        self._fill = fill
        self.started = self.closed = False

    def start(self) -> None:
        self.started = True

    def close(self) -> None:
        self.closed = True

    def played(self, seconds: float) -> np.ndarray:
        out = np.zeros((int(seconds * RATE), 1), dtype=np.float32)
        self._fill(out, len(out))
        return out[:, 0]


def tones(samples: np.ndarray) -> list[float]:
    """The frequencies (Hz) that stand out of a sound, low to high."""
    spectrum = np.abs(np.fft.rfft(samples * np.hanning(len(samples))))
    peaks = np.flatnonzero((spectrum[1:-1] > spectrum[:-2]) & (spectrum[1:-1] > spectrum[2:])) + 1
    strong = peaks[spectrum[peaks] > 0.3 * spectrum.max()]
    return [float(peak * RATE / len(samples)) for peak in strong]


def test_steps_left_lie_a_semitone_each_below_the_reference_and_too_many_above() -> None:
    assert pitch_of(seen((3.0, True))) == pytest.approx(440.0 * 2 ** (-3 / 12))
    assert pitch_of(seen((-2.0, True))) == pytest.approx(440.0 * 2 ** (2 / 12))
    # A control that goes down is no other way round for the ear.
    assert pitch_of(seen((-3.0, False))) == pytest.approx(440.0 * 2 ** (-3 / 12))
    assert pitch_of(seen((40.0, True))) == pytest.approx(220.0)
    # One after the other, in the order of the move.
    assert pitch_of(seen((0.1, True), (-2.0, False))) == pytest.approx(440.0 * 2 ** (-2 / 12))
    assert pitch_of(seen((0.1, True), (0.2, False))) == REFERENCE_HZ


def test_two_tones_are_heard_and_meet() -> None:
    voice = ToneGenerator(pitch=330.0)
    voice.block(RATE // 2)
    assert tones(voice.block(RATE)) == pytest.approx([330.0, 440.0], abs=1.5)
    voice.pitch = 440.0
    voice.block(RATE // 2)
    met = voice.block(RATE)
    assert tones(met) == pytest.approx([440.0], abs=1.5)
    assert np.abs(met).max() < 0.5
    voice.pitch = None
    voice.block(RATE // 2)
    assert np.abs(voice.block(RATE // 10)).max() < 1e-3


def test_blocks_join_without_a_crack() -> None:
    voice = ToneGenerator(pitch=350.0)
    blocks = []
    for pitch in (350.0, 415.0, 440.0, None, 300.0):
        voice.pitch = pitch
        blocks += [voice.block(512) for _ in range(12)]
    steps = np.abs(np.diff(np.concatenate(blocks)))
    # No step is larger than two sines of an octave up make by themselves.
    assert steps.max() < 0.12 * 2 * 2 * np.pi * 880.0 / RATE
    assert len(voice.block(0)) == 0


def test_the_device_is_opened_when_it_is_first_needed(qtbot: QtBot) -> None:
    desk, devices = Desk(), list[Device]()

    def device(fill: Callable[[Any, int], None]) -> Device:
        devices.append(Device(fill))
        return devices[-1]

    hearing = AudioFeedback(desk, device)
    hearing.hear(seen((3.0, True)))
    assert not devices
    hearing.toggle()
    hearing.hear(seen((3.0, True)))
    qtbot.waitUntil(lambda: bool(devices) and devices[0].started, timeout=3000)
    hearing.hear(seen((5.0, True)))
    devices[0].played(0.5)
    assert tones(devices[0].played(1.0)) == pytest.approx([440.0 * 2 ** (-5 / 12), 440.0], abs=1.5)
    assert len(devices) == 1
    hearing.hear(None)
    devices[0].played(0.5)
    assert np.abs(devices[0].played(0.1)).max() < 1e-3
    qtbot.waitUntil(lambda: hearing._stream is not None, timeout=3000)
    hearing.close()
    assert devices[0].closed
    desk.close()


@pytest.mark.parametrize("error", [NoSoundError("There is no sound device here."), RuntimeError("unplugged")])
def test_without_a_device_it_is_silent_and_says_so(qtbot: QtBot, error: Exception) -> None:
    def device(_fill: Callable[[Any, int], None]) -> Device:
        raise error

    desk = Desk()
    hearing = AudioFeedback(desk, device)
    said: list[str] = []
    hearing.said.connect(said.append)
    hearing.toggle()
    hearing.hear(seen((3.0, True)))
    qtbot.waitUntil(lambda: bool(said), timeout=3000)
    assert str(error) in said[0]
    assert not hearing.on
    hearing.close()
    desk.close()


@pytest.mark.parametrize("trouble", ["library", "device"])
def test_the_real_device_is_asked_and_its_absence_is_a_sentence(
    monkeypatch: pytest.MonkeyPatch, trouble: str
) -> None:
    import sounddevice

    def none(**_given: object) -> object:
        raise sounddevice.PortAudioError("Error querying device -1")

    if trouble == "library":
        monkeypatch.setitem(sys.modules, "sounddevice", None)
    else:
        monkeypatch.setattr(sounddevice, "OutputStream", none)
    with pytest.raises(NoSoundError, match=f"There is no sound {trouble} here"):
        open_device(lambda out, frames: None)
