"""Whose turn it is: kernels of two threads are run by one drape at a time."""

from threading import RLock

TURN = RLock()
