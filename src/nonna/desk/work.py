"""Long work off the Qt thread: one frozen request, progress, polite cancel, answer on the Qt thread."""

from __future__ import annotations

import threading
import traceback
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, Signal

from nonna.metrology.errors import NonnaError


class CancelledError(Exception):
    """The work was asked to stop and did."""


class Work(QObject):
    """Runs a function in a thread of its own; signals arrive on the thread that made it."""

    done = Signal(object)
    failed = Signal(object)  #: a NonnaError
    cancelled = Signal()
    progress = Signal(object)

    def __init__(self, function: Callable[[Work], Any], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._function = function
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._run, daemon=True)

    def start(self) -> None:
        """Begin."""
        self._thread.start()

    def cancel(self) -> None:
        """Ask it to stop at the next chance."""
        self._stop.set()

    def wait(self, seconds: float) -> None:
        """Wait for its end, at most so long."""
        self._thread.join(seconds)

    def pause(self, seconds: float) -> None:
        """Sleep inside the work. Raises: CancelledError as soon as it is asked to stop."""
        if self._stop.wait(seconds):
            raise CancelledError

    def check(self) -> None:
        """Raise CancelledError if asked to stop."""
        if self._stop.is_set():
            raise CancelledError

    def _run(self) -> None:
        try:
            answer = self._function(self)
        except CancelledError:
            self._tell(self.cancelled)
        except NonnaError as error:
            self._tell(self.failed, error)
        except Exception as error:  # noqa: BLE001 - a fault of ours: shown in words, with the trace on stderr
            traceback.print_exc()
            self._tell(self.failed, NonnaError("internal", f"This went wrong inside Nonna: {error!r}."))
        else:
            self._tell(self.done, answer)

    @staticmethod
    def _tell(signal: Any, *values: object) -> None:
        try:
            signal.emit(*values)
        except RuntimeError:
            return  # the window closed while the work was under way; nobody is left to tell
