"""What waits for a turn of the event loop of its own, so that keys get through between the pieces of long work."""

from __future__ import annotations

from collections import deque
from collections.abc import Callable

from PySide6.QtCore import QCoreApplication, QObject, QTimer
from shiboken6 import isValid

_HELD = "_nonna_turns"


class _Turns(QObject):
    """Does one piece a turn, in the order they came."""

    def __init__(self, app: QObject) -> None:
        super().__init__(app)
        self._waiting: deque[Callable[[], None]] = deque()
        self._timer = QTimer(self)
        self._timer.setInterval(0)
        self._timer.timeout.connect(self._do_one)

    def add(self, act: Callable[[], None]) -> None:
        self._waiting.append(act)
        self._timer.start()

    def _do_one(self) -> None:
        act = self._waiting.popleft()
        if not self._waiting:
            self._timer.stop()
        act()


def next_turn(owner: QObject, act: Callable[[], object]) -> None:
    """Do something in a later turn that nothing else is done in, unless its owner has gone by then."""
    turns = _turns()

    def do_it() -> None:
        if isValid(owner):
            QTimer.singleShot(0, owner, act)

    # Not at once: a timer set while a key is handled still rings in the turn of that key.
    QTimer.singleShot(0, owner, lambda: turns.add(do_it))


def _turns() -> _Turns:
    app = QCoreApplication.instance()
    if app is None:
        raise RuntimeError("there is no application to wait in")
    held: _Turns | None = getattr(app, _HELD, None)
    if held is None:
        held = _Turns(app)
        setattr(app, _HELD, held)
    return held
