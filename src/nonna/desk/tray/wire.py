"""The way to a machine and back without a question: programs go to a folder, what it prints comes in by itself."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from nonna.wiring import printed_at

if TYPE_CHECKING:
    from nonna.bench.control.runs import CameBack
    from nonna.desk.frame.window import DeskWindow

SOURCE = "the control"


def is_wired(window: DeskWindow) -> bool:
    """Whether both ways are known: where programs go, and where what is printed comes in."""
    return bool(window.settings.programs and window.settings.printed)


def place_of(window: DeskWindow, purpose: str, run: str) -> Path:
    """Return the file a program goes to: named after its run, so that none is taken for another."""
    return Path(window.settings.programs, f"{window.machine_name.lower()}-{purpose}-{run}.ngc".replace(" ", "-"))


def watch(window: DeskWindow, run: str) -> None:
    """Watch for a run's lines, where they come in by themselves."""
    place = window.settings.printed
    if place:
        window.tools.controller.control.watch.begin(run, lambda: printed_at(Path(place)))


def take_what_came(window: DeskWindow, otherwise: Callable[[], object]) -> None:
    """Take the newest run of what was printed, whole or not; where nothing came of ours, do something else."""
    place, control = window.settings.printed, window.tools.controller.control

    def take(came: CameBack | None) -> None:
        if came is None:
            otherwise()
        else:
            control.take(came, SOURCE)

    control.watch.look(lambda: printed_at(Path(place)), take)
