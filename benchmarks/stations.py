"""Changing between the stations of a shop, as long as the window takes for it."""

from __future__ import annotations

import time
from collections.abc import Iterator

from benchmarks.opened import desk, until

TIMES = 15  #: the first few come while the pages are still being loaded


def figures() -> Iterator[str]:
    """Give how long a change takes until the other station's loop stands there."""
    with desk() as (app, window):
        spent: dict[str, list[float]] = {}
        for _ in range(TIMES):
            for station in ("alder", "rowan", "larch"):
                begun = time.perf_counter()
                window.show_station(station)
                until(app, lambda: window.settled)
                spent.setdefault(station, []).append(time.perf_counter() - begun)
    words = ", ".join(f"{name} {1e3 * sorted(each)[len(each) // 2]:.0f} ms" for name, each in spent.items())
    yield f"changing the station (median of {TIMES}): {words} (wanted <= 100)"
