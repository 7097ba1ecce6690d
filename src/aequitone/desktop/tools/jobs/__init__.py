"""Jobs: the memories of the screen that are brought to a target on this visit, each with what it still takes."""
