"""From an address, as a person types it, to the way it names."""

import re

from aequitone.instruments.channels.channel import Channel
from aequitone.instruments.channels.sockets import SocketChannel

PROGRAM = "EXEC::"
_SOCKET = re.compile(r"TCPIP\d*::(?P<host>[^:]+)::(?P<port>\d{1,5})::SOCKET", re.IGNORECASE)


def is_program(address: str) -> bool:
    """Whether an address names a program that speaks the bench protocol."""
    return address.upper().startswith(PROGRAM)


def open_channel(address: str, seconds: float) -> Channel:
    """Open the way to an address within so many seconds. Raises OSError or ValueError, or what PyVISA raises."""
    if is_program(address):
        # Only where a person starts programs is what runs them needed.
        from aequitone.instruments.channels.program import ProgramChannel

        return ProgramChannel(address[len(PROGRAM) :])
    socket = _SOCKET.fullmatch(address.strip())
    if socket is not None:
        return SocketChannel(socket["host"], int(socket["port"]), seconds)
    from aequitone.instruments.channels.visa import VisaChannel

    return VisaChannel(address, seconds)
