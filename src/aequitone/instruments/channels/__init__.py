"""Ways to an instrument: a socket, a serial line, a program. Every exchange has a deadline and a bound."""

from aequitone.instruments.channels.channel import Channel, EndlessError
from aequitone.instruments.channels.opening import open_channel

__all__ = ["Channel", "EndlessError", "open_channel"]
