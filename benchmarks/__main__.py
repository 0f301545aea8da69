"""Run every benchmark and print its figure beside what is wanted of it."""

from __future__ import annotations

from benchmarks import (
    circles,
    coverage,
    lathe,
    memory,
    programs,
    racks,
    sheets,
    speed,
    start,
    stations,
    tray,
    unlike,
    walk,
)


def main() -> None:
    """Print a line a figure."""
    for line in (
        *start.figures(),
        *speed.figures(),
        *memory.figures(),
        *circles.figures(),
        *programs.figures(),
        *racks.figures(),
        *stations.figures(),
        *sheets.figures(),
        *tray.figures(),
        *coverage.figures(),
        *unlike.figures(),
        *lathe.figures(),
        *walk.figures(),
    ):
        print(line, flush=True)


if __name__ == "__main__":
    main()
