"""Long work off the Qt thread: one frozen request, progress, polite cancel, answer on the Qt thread."""

from __future__ import annotations

import logging
import threading
import traceback
from collections.abc import Callable
from queue import SimpleQueue
from typing import TypeVar

from PySide6.QtCore import QObject, Signal

from nonna.desk.threads.handover import Post
from nonna.errors import NonnaError

LOG = logging.getLogger("nonna")
T = TypeVar("T")


class CancelledError(Exception):
    """The work was asked to stop and did."""


class Task:
    """What the function at work is given: it tells how far it is, and is told to stop."""

    def __init__(self, box: SimpleQueue[tuple[str, object]]) -> None:
        self._box, self._stop = box, threading.Event()

    def tell(self, progress: object) -> None:
        """Tell how far it is."""
        self._box.put(("progress", progress))

    def pause(self, seconds: float) -> None:
        """Sleep inside the work. Raises: CancelledError as soon as it is asked to stop."""
        if self._stop.wait(seconds):
            raise CancelledError

    def check(self) -> None:
        """Raise CancelledError if asked to stop."""
        if self._stop.is_set():
            raise CancelledError

    def cancel(self) -> None:
        """Ask it to stop at the next chance."""
        self._stop.set()

    def run(self, function: Callable[[Task], object]) -> None:
        """Do the work and tell how it ended."""
        try:
            answer = function(self)
        except CancelledError:
            self._box.put(("cancelled", None))
        except NonnaError as error:
            self._box.put(("failed", error))
        except Exception as error:
            traceback.print_exc()
            LOG.exception("a worker failed")
            self._box.put(("failed", NonnaError("internal", "This went wrong inside Nonna: {error!r}.", error=error)))
        else:
            self._box.put(("done", answer))


class Work(QObject):
    """Runs a function in a thread of its own; signals arrive on the thread that made it. Once it ended it goes."""

    done = Signal(object)
    failed = Signal(object)  #: a NonnaError
    cancelled = Signal()
    progress = Signal(object)

    def __init__(self, function: Callable[[Task], object], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._post = Post(self._on_letter, self)
        self._task = Task(self._post.box)
        self._begun = self._ended = False
        self._thread = threading.Thread(target=self._task.run, args=(function,), daemon=True)

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

    @property
    def worker(self) -> threading.Thread:
        """The thread it runs in."""
        return self._thread

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
