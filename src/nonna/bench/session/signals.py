"""Tells whoever wants to hear that something changed; the model does not know who looks at it."""

from __future__ import annotations

import inspect
from collections.abc import Callable
from typing import Generic, ParamSpec
from weakref import WeakMethod

P = ParamSpec("P")


class Signal(Generic[P]):
    """One thing that can be told. Being told keeps no method's owner alive; a function is kept."""

    def __init__(self) -> None:
        self._heard: list[Callable[[], Callable[P, object] | None]] = []

    def connect(self, act: Callable[P, object]) -> None:
        """Call this whenever it is told, after those that asked before."""
        self._heard.append(WeakMethod(act) if inspect.ismethod(act) else lambda: act)

    def disconnect(self) -> None:
        """Tell nobody any more."""
        self._heard.clear()

    def emit(self, *args: P.args, **kwargs: P.kwargs) -> None:
        """Tell it to all who want to hear it."""
        for each in tuple(self._heard):
            if (act := each()) is not None:
                act(*args, **kwargs)
            elif each in self._heard:
                self._heard.remove(each)
