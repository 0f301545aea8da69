"""Long work off the Qt thread: one frozen request, progress, polite cancel, answer on the Qt thread."""

from __future__ import annotations

import logging
import threading
import traceback
from collections.abc import Callable
from queue import SimpleQueue
from typing import TypeVar

from PySide6.QtCore import QObject, Signal

from nonna.bench.session.front import CancelledError, Task
from nonna.desk.threads.handover import Post
from nonna.errors import NonnaError

LOG = logging.getLogger("nonna")
T = TypeVar("T")


def _run(task: Task, function: Callable[[Task], object], box: SimpleQueue[tuple[str, object]]) -> None:
    """Do the work and put into a box how it ended."""
    try:
        answer = function(task)
    except CancelledError:
        box.put(("cancelled", None))
    except NonnaError as error:
        box.put(("failed", error))
    except Exception as error:
        traceback.print_exc()
        LOG.exception("a worker failed")
        box.put(("failed", NonnaError("internal", "This went wrong inside Nonna: {error!r}.", error=error)))
    else:
        box.put(("done", answer))


class Work(QObject):
    """Runs a function in a thread of its own; signals arrive on the thread that made it. Once it ended it goes."""

    done = Signal(object)
    failed = Signal(object)  #: a NonnaError
    cancelled = Signal()
    progress = Signal(object)

    def __init__(self, function: Callable[[Task], object], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._post = Post(self._on_letter, self)
        box = self._post.box
        self._task = Task(lambda progress: box.put(("progress", progress)))
        self._begun = self._ended = False
        self._thread = threading.Thread(target=_run, args=(self._task, function, box), daemon=True)

    def start(self) -> None:
        """Begin."""
        self._begun = True
        self._post.open()
        self._thread.start()

    @property
    def busy(self) -> bool:
        """Whether it was begun and its end was not told yet."""
        return self._begun and not self._ended

    def cancel(self) -> None:
        """Ask it to stop at the next chance."""
        self._task.cancel()

    def ended(self) -> None:
        """Wait until it is done; for another thread."""
        self._thread.join()

    def hand_over(self, seconds: float) -> bool:
        """Wait for its end, at most so long, and tell at once what it told; says whether it ended."""
        self._thread.join(seconds)
        if not self._thread.is_alive():
            self._post.read_all()
        return self._ended

    def _on_letter(self, letter: tuple[str, object]) -> None:
        what, value = letter
        if what == "progress":
            self.progress.emit(value)
            return
        self._post.close()
        self._ended = True
        if what == "cancelled":
            self.cancelled.emit()
        elif what == "failed":
            self.failed.emit(value)
        else:
            self.done.emit(value)
        self.deleteLater()  # with all that it was given and gave


class FileWork(Work):
    """Reads or writes files for somebody who waits for it: a window that is closed waits too."""


class LastWork(Work):
    """Does what the program itself does not end without; no window has to wait for it."""

    def __init__(self, function: Callable[[Task], object], parent: QObject) -> None:
        super().__init__(function, parent)
        self._thread.daemon = False


def behind(
    parent: QObject, function: Callable[[], T], done: Callable[[T], object], failed: Callable[[NonnaError], object]
) -> None:
    """Read or write behind the screen, and go on with what came of it: a disk, or a stick, takes its time."""
    work = FileWork(lambda _: function(), parent)
    work.done.connect(done)
    work.failed.connect(failed)
    work.start()
