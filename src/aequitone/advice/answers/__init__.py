"""How a screen answers to a signal: the law it follows, its upper end, and what that does to a picture."""
