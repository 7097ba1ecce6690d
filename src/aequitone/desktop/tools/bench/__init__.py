"""The Bench: the instruments, their health, and what is read beside every pass."""
