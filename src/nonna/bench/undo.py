"""What was before, and what was after it: one undo for sheets and tray, with redo."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

T = TypeVar("T")
MOST = 500  #: steps kept


class History(Generic[T]):
    """Steps of one frozen value; the value itself stays with its owner."""

    def __init__(self) -> None:
        self._before: list[T] = []
        self._after: list[T] = []

    @property
    def can_undo(self) -> bool:
        """Whether there is something to go back to."""
        return bool(self._before)

    @property
    def can_redo(self) -> bool:
        """Whether something was undone that may be done again."""
        return bool(self._after)

    def remember(self, value: T) -> None:
        """Keep what is about to be changed; what was undone before cannot be done again."""
        self._before = [*self._before[1 - MOST :], value]
        self._after = []

    def undo(self, now: T) -> T:
        """Return what was before. Raises: IndexError (nothing was)."""
        before = self._before.pop()
        self._after.append(now)
        return before

    def redo(self, now: T) -> T:
        """Return what was undone last. Raises: IndexError (nothing was)."""
        after = self._after.pop()
        self._before.append(now)
        return after

    def change_all(self, change: Callable[[T], T]) -> None:
        """Change every step: what is signed may come back by no undo."""
        self._before = [change(value) for value in self._before]
        self._after = [change(value) for value in self._after]

    def clear(self) -> None:
        """Forget every step."""
        self._before, self._after = [], []
