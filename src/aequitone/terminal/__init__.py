"""Visits from the command line: the same procedures as in the window, with a person or a link at the controls."""
