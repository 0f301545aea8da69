"""Memory that is no longer used goes back to the system.

The C library opens a heap for each thread, and the more large pictures came and went the more it keeps: a desk that was
used for a while holds a tenth more than it needs. Python lets one thread at a time allocate anyway: one heap is enough.
"""

from __future__ import annotations

import ctypes

_TRIM_THRESHOLD, _ARENA_MAX = -1, -8  # <malloc.h> of the GNU C library
KEPT_BYTES = 128 * 1024  #: the library's own beginning; it would grow with each large picture


def trim() -> None:
    """Give back what is free between what is used, which takes less than a millisecond; elsewhere nothing happens."""
    give_back = getattr(ctypes.CDLL(None), "malloc_trim", None)
    if give_back is not None:
        give_back(0)


def give_memory_back() -> None:
    """Have freed memory given back; where another C library allocates, nothing is changed."""
    adjust = getattr(ctypes.CDLL(None), "mallopt", None)
    if adjust is not None:
        adjust(_ARENA_MAX, 1)
        adjust(_TRIM_THRESHOLD, KEPT_BYTES)
