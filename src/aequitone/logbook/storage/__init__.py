"""The file of a logbook: opened, made, copied and locked, and what cannot be read of it."""
