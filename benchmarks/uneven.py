"""The whole suite with workers that are too quick, too slow, or uneven: faults of timing that no quiet machine shows.

``python -m benchmarks.uneven`` runs it three times; what follows is given to pytest (files, ``-k``). Each time pytest
takes this module as a plugin, by ``-p``.
"""

from __future__ import annotations

import os
import random
import subprocess
import sys
import time
from collections.abc import Iterator
from typing import Any

MODE = "NONNA_WORKERS"  #: the environment's word for how workers behave
EARLY, LATE, UNEVEN = "early", "late", "uneven"
LATE_S, JOIN_S = 0.12, 0.5
DELAYS_S, HELD_S = (0.0, 0.0, 0.02, 0.1, 0.25), (0.03, 0.1)
JOINED = 0.4  #: share of works that end before they are asked for
HELD = 0.1  #: share of looks into the post before which Qt's thread stops


def pytest_configure() -> None:
    """Have every worker of this process behave as the environment says."""
    mode = os.environ.get(MODE, "")
    if mode in (EARLY, LATE, UNEVEN):
        _bend(mode, random.Random(mode))


def _bend(mode: str, dice: random.Random) -> None:
    from nonna.desk.threads import work
    from nonna.desk.threads.handover import Post
    from nonna.desk.threads.work import Work

    run, start, read = work._run, Work.start, Post._read_some

    def delayed(*given: Any) -> None:
        time.sleep(LATE_S if mode == LATE else dice.choice(DELAYS_S))
        run(*given)

    def joined(self: Work) -> None:
        start(self)
        if mode == EARLY or dice.random() < JOINED:
            self._thread.join(JOIN_S)

    def held(self: Post[Any]) -> None:
        if dice.random() < HELD:
            time.sleep(dice.choice(HELD_S))
        read(self)

    if mode != EARLY:
        work._run = delayed  # type: ignore[assignment]
    if mode != LATE:
        Work.start = joined  # type: ignore[method-assign]
    if mode == UNEVEN:
        Post._read_some = held  # type: ignore[method-assign]


def figures(*chosen: str) -> Iterator[str]:
    """Give how the suite, or what is chosen of it, fared with each sort of workers."""
    for mode in (EARLY, LATE, UNEVEN):
        environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen", MODE: mode}
        command = [sys.executable, "-m", "pytest", "-p", "benchmarks.uneven", "-n", "2", *chosen]
        done = subprocess.run(command, capture_output=True, text=True, env=environment, check=False)
        rows = done.stdout.splitlines()
        for row in rows:
            if row.startswith(("FAILED", "ERROR")):
                yield f"{mode} workers: {row}"
        yield f"{mode} workers: {rows[-1] if rows else done.stderr[-300:]} (wanted: none failed)"


if __name__ == "__main__":
    for figure in figures(*sys.argv[1:]):
        print(figure, flush=True)
