"""Inputs: memories of other inputs that are to be as the finished one: what each needs, and a look at it."""
