"""The demo: its visit, its driver, and the remote of the simulated screen."""
