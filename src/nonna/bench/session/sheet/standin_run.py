"""A sheet's stand-in machine: what it is told of the sheet, and a run of it behind the screen."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from nonna.bench.session.signals import Signal
from nonna.bench.sheet.standin_jobs import measured
from nonna.errors import NonnaError

if TYPE_CHECKING:
    from nonna.bench.session.front import Front, Running, Task
    from nonna.standin.wishes import Measured, SheetWish
    from nonna.standin.world import World

NO_TRIGGER = "The setter never triggered. Is it awake, and is this the right tool?"


class StandinRun:
    """Runs one job at a time; a cancelled one gives nothing."""

    def __init__(self, front: Front) -> None:
        self._front, self.fast = front, True
        self.running = False  #: whether it is at work
        self._work: Running | None = None
        self.done: Signal[[Measured]] = Signal()
        self.failed: Signal[[NonnaError]] = Signal()  #: also when it was stopped
        self.working: Signal[[tuple[int, int, float] | None]] = Signal()  #: (block, of, seconds), None at the end

    def start(self, job: Callable[[], SheetWish], world: Callable[[], World]) -> None:
        """Measure what a sheet wants; the job is made behind the screen, it may take a moment."""

        def work(work: Task) -> Measured:
            clock = [0.0, -1.0]

            def watch(line: int, of: int, seconds: float) -> None:
                work.check()
                if not self.fast:
                    work.pause(max(0.0, seconds - clock[0]))
                clock[0] = seconds
                if line - clock[1] >= 5 or not self.fast:
                    clock[1] = line
                    work.tell((line, of, seconds))

            return measured(job(), world(), watch)

        self.running = True
        self._work = self._front.behind(
            work, self._on_done, self._on_failed, progress=self.working.emit,
            cancelled=lambda: self._on_failed(NonnaError("cancelled", "Stopped. Nothing was put on the tape.")),
        )  # fmt: skip

    def cancel(self) -> bool:
        """Stop; says whether it was at work."""
        if self.running and self._work is not None:
            self._work.cancel()
        return self.running

    def _on_done(self, measured: Measured) -> None:
        self.running = False
        self.working.emit(None)
        self.done.emit(measured)

    def _on_failed(self, error: NonnaError) -> None:
        self.running = False
        self.working.emit(None)
        self.failed.emit(error)
