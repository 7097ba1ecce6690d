"""What goes wrong in a way that a person can do something about."""


class AequitoneError(Exception):
    """An error whose message is a sentence for the person: what happened, what was kept, what to do."""
