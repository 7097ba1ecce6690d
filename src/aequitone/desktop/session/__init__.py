"""What rooms share: the visit in view, the running pass, the instruments, threads, the operator."""
