"""Knows what is dressed, and dresses it anew when the theme changes.

A style sheet set on the application, or on a page, is worked through for every widget there is: up to seconds. Here
only what needs one wears one, a short one of its own; the rest takes its colours from the palette. A change of theme
then takes 60 ms in one go (all pages made, two cores).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QApplication, QWidget
from shiboken6 import isValid

WHOLE = {"QComboBox", "QAbstractItemView", "QLineEdit"}  #: by name: to be met they need not be imported
_HELD = "_nonna_wardrobe"


class Wardrobe(QObject):
    """What is dressed, by its roots."""

    def __init__(self, app: QApplication, worn: Callable[[QWidget], QWidget]) -> None:
        super().__init__(app)
        self._worn = worn
        self._roots: list[QWidget] = []

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
        self._roots = [r for r in self._roots if isValid(r) and r is not root] + [root]
        for piece in pieces(root):
            self._worn(piece)

    def change(self) -> None:
        """Take on another theme everywhere."""
        self._roots = [r for r in self._roots if isValid(r)]
        for root in self._roots:
            for piece in pieces(root):
                self._worn(piece)


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
