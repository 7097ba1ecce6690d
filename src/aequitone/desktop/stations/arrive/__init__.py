"""Arrive: who, which screen and memory, target, instruments, and every control as found."""
