"""Dresses the window piece by piece, so that a change of theme never holds the keyboard up.

A style sheet set on the application is worked through for every widget there is, in one go: up to seconds. Set on small
pieces, one after another between events, it takes a moment for what is seen and is done behind for the rest.
"""

from __future__ import annotations

import time
from collections import deque
from collections.abc import Iterator

from PySide6.QtCore import QObject, QTimer
from PySide6.QtWidgets import QApplication, QWidget
from shiboken6 import isValid

MOST_AT_ONCE = 10  #: widgets of one piece
SLICE_S = 0.004  #: of work between two looks at the events


class Wardrobe(QObject):
    """Knows what is dressed and in what."""

    def __init__(self, app: QApplication) -> None:
        super().__init__(app)
        self.sheet = ""
        self._roots: list[QWidget] = []
        self._waiting: deque[QWidget] = deque()  #: whole roots
        self._pieces: Iterator[QWidget] = iter(())  #: of the root that is being dressed
        self._timer = QTimer(self)
        self._timer.setInterval(0)
        self._timer.timeout.connect(self._go_on)

    @classmethod
    def of(cls, app: QApplication) -> Wardrobe:
        """Return the application's."""
        found = app.findChild(cls)
        return found if isinstance(found, cls) else cls(app)

    def dress(self, root: QWidget) -> None:
        """Dress a widget with all that is in it now, and again whenever the theme changes."""
        self._know(root)
        for piece in pieces(root):
            self._put_on(piece)

    def dress_soon(self, root: QWidget) -> None:
        """Dress a widget that nobody sees yet, between events."""
        self._know(root)
        self._waiting.append(root)
        self._timer.start()

    def change(self, sheet: str) -> None:
        """Take another style sheet for everything: what is seen first, the rest between events."""
        if sheet == self.sheet:
            return
        self.sheet = sheet
        self._roots = [r for r in self._roots if isValid(r)]
        self._waiting = deque(sorted(self._roots, key=lambda root: not root.isVisible()))
        self._pieces = iter(())
        self._timer.start()
        for root in self._roots:
            root.update()  # painted ones look their colours up by themselves

    @property
    def busy(self) -> bool:
        """Whether something still wears the theme before."""
        return self._timer.isActive()

    def _know(self, root: QWidget) -> None:
        self._roots = [r for r in self._roots if isValid(r) and r is not root] + [root]

    def _go_on(self) -> None:
        begun = time.perf_counter()
        while time.perf_counter() - begun < SLICE_S:
            piece = next(self._pieces, None)
            if piece is not None:
                self._put_on(piece)
            elif self._waiting:
                self._pieces = pieces(self._waiting.popleft())
            else:
                self._timer.stop()
                return

    def _put_on(self, piece: QWidget) -> None:
        if piece.styleSheet() != self.sheet:
            piece.setStyleSheet(self.sheet)
            for widget in (piece, *piece.findChildren(QWidget)):
                widget.update()  # painted ones look their colours up by themselves


def pieces(root: QWidget) -> Iterator[QWidget]:
    """Cut a widget into pieces of few widgets. One that says so (``whole``) is never cut: it wears something itself."""
    if not isValid(root):
        return  # it went while others were dressed
    inside = root.findChildren(QWidget)
    if len(inside) <= MOST_AT_ONCE or root.property("whole") or _wears(root):
        yield root
        return
    for child in root.children():
        if isValid(child) and isinstance(child, QWidget) and not child.isWindow():
            yield from pieces(child)


def _wears(widget: QWidget) -> bool:
    """Whether the style sheet has looks for the widget itself, which its pieces could not give it."""
    return any(widget.property(name) for name in ("tone", "overlay")) or widget.objectName() in (
        "bar",
        "rail",
        "shade",
    )
