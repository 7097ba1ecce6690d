"""Help for a person who turns controls: the steps that are left, a tone to follow, where it really stands."""

WAS_NOTED_WRONG = "was noted wrong"
"""What is said of a control, after its name, whose figure as found seems to be wrong."""
