"""Procedures: generators that yield steps and get results, and the runner that carries the steps out."""
