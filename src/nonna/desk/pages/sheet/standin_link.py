"""A sheet's stand-in machine: what it is told of the sheet, and a run of it off the Qt thread."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, Signal

from nonna.bench.sheet.standin_jobs import measured
from nonna.desk.threads.work import Task, Work
from nonna.errors import NonnaError

if TYPE_CHECKING:
    from nonna.standin.wishes import Measured, SheetWish
    from nonna.standin.world import World

NO_TRIGGER = "The setter never triggered. Is it awake, and is this the right tool?"


class StandinLink(QObject):
    """Runs one job at a time; a cancelled one gives nothing."""

    done = Signal(object)  #: Measured
    failed = Signal(object)  #: NonnaError, also when it was stopped
    working = Signal(object)  #: (block, of, seconds), or None at the end

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self.fast = True
        self._work: Work | None = None

    @property
    def running(self) -> bool:
        """Whether it is at work."""
        return self._work is not None

    def start(self, job: Callable[[], SheetWish], world: Callable[[], World]) -> None:
        """Measure what a sheet wants; the job is made in the worker, it may take a moment."""

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

        self._work = Work(work, self)
        self._work.progress.connect(self.working)
        self._work.done.connect(self._on_done)
        self._work.failed.connect(self._on_failed)
        self._work.cancelled.connect(
            lambda: self._on_failed(NonnaError("cancelled", "Stopped. Nothing was put on the tape."))
        )
        self._work.start()

    def cancel(self) -> bool:
        """Stop; says whether it was at work."""
        if self._work is None:
            return False
        self._work.cancel()
        return True

    def _on_done(self, measured: Measured) -> None:
        self._work = None
        self.working.emit(None)
        self.done.emit(measured)

    def _on_failed(self, error: NonnaError) -> None:
        self._work = None
        self.working.emit(None)
        self.failed.emit(error)
