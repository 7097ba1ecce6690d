"""Aequitone: measure a screen, say what to turn next, prove it, write it down."""

import os

# Before anything imports NumPy. All matrices here are small: a second thread of the linear algebra brings nothing
# and takes a third more of the processor, beside a window that must not wait.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

__version__ = "0.1.0"
