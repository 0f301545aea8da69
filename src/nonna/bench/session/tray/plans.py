"""The tray's plan and rehearsal, worked out off the Qt thread; only the latest answer counts."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

from nonna.bench.job.planning import asked_of, try_text, work_out
from nonna.bench.session.signals import Signal
from nonna.errors import NonnaError

if TYPE_CHECKING:
    from nonna.bench.book.results_that_hold import HeldResults
    from nonna.bench.job.planning import Answer, Tried
    from nonna.bench.ports import ShopFiles
    from nonna.bench.session.front import Front, Running, Task
    from nonna.bench.tray.tray import Tray
    from nonna.shop.cards.machine import Machine

SETTLE_MS = 150  #: marks changed quickly one after another are planned once
TOLD_EVERY = 100  #: tools planned between two words about it


@dataclass(frozen=True, slots=True)
class Wanted:
    """What a plan is made of."""

    tray: Tray
    machine: Machine  #: as its file has it
    results: HeldResults
    folder: ShopFiles  #: whose templates are written with


class Plans:
    """Plans and rehearses what is wanted, a moment after it last changed."""

    def __init__(
        self,
        front: Front,
        wanted: Callable[[], Wanted | None],
        stands: Callable[[], tuple[Callable[[], Machine], Tray, HeldResults] | None],
    ) -> None:
        self._front = front
        self.planned: Signal[[]] = Signal()  #: an answer is there, or is no longer
        self.said: Signal[[str, str]] = Signal()
        self._wanted, self._stands = wanted, stands
        self.answer: Answer | None = None
        self.told = ""  #: how far planning has come, in words
        self.foreign: Tried | None = None  #: a program that is not ours, being looked at
        self.foreign_name = ""
        self._asked = 0
        self._work: Running | None = None
        self._soon: Running | None = None

    @property
    def busy(self) -> bool:
        """Whether a plan is on its way."""
        return self._soon is not None or (self._work is not None and self._work.busy)

    def soon(self) -> None:
        """Plan once nothing has changed for a moment."""
        if self._soon is not None:
            self._soon.cancel()
        self._soon = self._front.later(SETTLE_MS, self.now)

    def now(self) -> None:
        """Plan at once; an older plan under way is dropped."""
        if self._soon is not None:
            self._soon.cancel()
            self._soon = None
        self._asked += 1
        if self._work is not None:
            self._work.cancel()
            self._work = None
        wanted = self._wanted()
        if wanted is None or not wanted.tray.marked:
            self._take(None)
            return

        tray, number = wanted.tray, self._asked

        def plan(work: Task) -> Answer | NonnaError:
            try:
                asked = asked_of(tray, tray.marked, wanted.machine, wanted.results, wanted.folder)
            except NonnaError as error:
                return error  # something is to be measured first: nothing went wrong

            def told(done: int, of: int) -> None:
                if done % TOLD_EVERY == 0:
                    work.tell((number, done, of))

            return work_out(number, asked, wanted.results, work.check, told)

        self.told = ""
        self._work = self._front.behind(
            plan,
            lambda found: self._on_planned(found, number),
            lambda error: self._on_failed(error, number),
            progress=self._on_progress,
        )
        self.planned.emit()

    def open_program(self, path: Path) -> None:
        """Rehearse any program's text on this machine with the tools of the tray."""
        if (stands := self._stands()) is None:
            return
        (machine, tray, results), front = stands, self._front

        def run(work: Task) -> Tried | NonnaError:
            try:
                found = machine()
            except NonnaError as error:
                return error  # its setter is to be calibrated first
            return try_text(path.name, front.read_bytes(path), found, tray, work.check, results)

        def done(found: Tried | NonnaError) -> None:
            if isinstance(found, NonnaError):
                self.said.emit(found.message, "due")
            else:
                self._look_at(found, path.name)

        front.behind(run, done, lambda error: self.said.emit(error.message, "bad"))

    def close_program(self) -> None:
        """Look at the tray's own program again."""
        self._look_at(None, "")

    def _look_at(self, tried: Tried | None, name: str) -> None:
        self.foreign, self.foreign_name = tried, name
        self.planned.emit()

    def _on_progress(self, progress: tuple[int, int, int]) -> None:
        number, done, of = progress
        if number == self._asked:
            self.told = f"{done:,} of {of:,} tools planned."
            self.planned.emit()

    def _on_planned(self, found: Answer | NonnaError, number: int) -> None:
        if number != self._asked:
            return
        self._work = None
        if isinstance(found, NonnaError):
            self._take(None)
            self.said.emit(found.message, "due")
        else:
            self._take(found)

    def _on_failed(self, error: NonnaError, number: int) -> None:
        if number != self._asked:
            return  # an older wish went wrong late: the newer answer stands
        self._work = None
        self._take(None)
        self.said.emit(error.message, "bad")

    def _take(self, answer: Answer | None) -> None:
        self.answer = answer
        self.planned.emit()
