"""Dresses widgets one by one, so that a change of theme never holds the keyboard up.

A style sheet set on the application, or on a page, is worked through for every widget there is, in one go: up to
seconds. Here only what needs one wears one, a short one of its own; the rest takes its colours from the palette.
"""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Callable, Iterator

from PySide6.QtCore import QCoreApplication, QEvent, QObject, Qt, QTimer
from PySide6.QtWidgets import QApplication, QWidget
from shiboken6 import isValid

WHOLE = {"QComboBox", "QAbstractItemView", "QLineEdit"}  #: by name: to be met they need not be imported
_HELD = "_nonna_wardrobe"
SLICE_S = 0.004  #: of work between two looks at the events


class Wardrobe(QObject):
    """Knows what is dressed."""

    def __init__(self, app: QApplication, worn: Callable[[QWidget], QWidget]) -> None:
        super().__init__(app)
        self._worn = worn
        self._roots: list[QWidget] = []
        self._waiting: deque[QWidget] = deque()  #: whole roots
        self._pieces: Iterator[QWidget] = iter(())  #: of the root that is being dressed
        self._held: list[QWidget] = []  #: windows that are painted once they are dressed, one a turn
        self._dressed = False  #: the first of them
        self._timer = QTimer(self)
        self._timer.setInterval(0)
        self._timer.timeout.connect(self._go_on)

    @classmethod
    def of(cls, app: QApplication, worn: Callable[[QWidget], QWidget]) -> Wardrobe:
        """Return the application's; it is told what puts on one widget what that wears."""
        found = getattr(app, _HELD, None)  # not by findChild: that makes half of the binding's classes, at start-up
        if not isinstance(found, cls):
            found = cls(app, worn)
            setattr(app, _HELD, found)
        return found

    def dress(self, root: QWidget) -> None:
        """Dress a widget with all that is in it now, and again whenever the theme changes."""
        self._know(root)
        for piece in pieces(root):
            self._worn(piece)

    def dress_soon(self, root: QWidget) -> None:
        """Dress a widget that nobody sees yet, between events."""
        self._know(root)
        self._waiting.append(root)
        self._timer.start()

    def change(self) -> None:
        """Take on another theme everywhere: what is seen first, window by window, the rest between events."""
        self._release()
        self._roots = [r for r in self._roots if isValid(r)]
        windows = [w for w in dict.fromkeys(root.window() for root in self._roots) if w.isVisible()]
        windows.sort(key=lambda window: not window.isActiveWindow())

        def turn_of(root: QWidget) -> int:
            return windows.index(root.window()) if root.isVisible() else len(windows)

        self._waiting = deque(sorted(self._roots, key=turn_of))
        self._pieces = iter(())
        self._timer.start()
        self._held = windows
        for window in windows:  # two painted in one turn, and half dressed, would hold the keyboard up
            window.setUpdatesEnabled(False)

    @property
    def busy(self) -> bool:
        """Whether something still wears the theme before."""
        return self._timer.isActive()

    def _know(self, root: QWidget) -> None:
        self._roots = [r for r in self._roots if isValid(r) and r is not root] + [root]

    def _go_on(self) -> None:
        if self._dressed:
            self._release(1)
            return
        begun = time.perf_counter()
        while time.perf_counter() - begun < SLICE_S:
            piece = next(self._pieces, None)
            if piece is not None:
                self._put_on(piece)
            elif self._held and not self._waiting:
                self._dressed = True
                return
            elif not self._waiting:
                self._timer.stop()
                return
            else:
                root = self._waiting.popleft()
                self._pieces = pieces(root)
                if isValid(root) and self._held and not (root.isVisible() and root.window() is self._held[0]):
                    self._dressed = True
                    return

    def _put_on(self, piece: QWidget) -> None:
        try:
            self._worn(piece)
        except BaseException:
            self._release()  # half dressed is better than never painted again
            raise

    def _release(self, number: int | None = None) -> None:
        """Paint again what has been held for being dressed, the first ones or all."""
        for window in self._held[:number]:
            if isValid(window):
                inside = window.findChildren(QWidget)
                for piece in inside:  # or each asks for itself, and is painted twice, with the window and alone
                    piece.setAttribute(Qt.WidgetAttribute.WA_UpdatesDisabled, False)
                window.setUpdatesEnabled(True)
                for piece in inside:
                    if piece.autoFillBackground() or piece.testAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent):
                        piece.update()  # what covers the window is not painted with it
                # A wish to be painted from before was lost while held, and another would wait for it.
                QCoreApplication.postEvent(window, QEvent(QEvent.Type.UpdateRequest))
        self._held = self._held[number:] if number is not None else []
        self._dressed = False


def pieces(root: QWidget) -> Iterator[QWidget]:
    """Give a widget and all that is in it, but for what goes while others are dressed."""
    if not isValid(root):
        return
    inside = (
        [] if WHOLE & {cls.__name__ for cls in type(root).__mro__} else root.children()
    )  # what those are made of wears what they wear
    yield root
    for child in inside:
        if isValid(child) and isinstance(child, QWidget) and not child.isWindow():
            yield from pieces(child)
