"""The pass over grey, its first look at the signal, and drift."""
