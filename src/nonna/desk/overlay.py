"""Dialogs inside the window they belong to, so that keys reach them on any window server."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, QRect, QRectF, Qt
from PySide6.QtGui import QAction, QColor, QMouseEvent, QPainter, QPaintEvent, QPalette
from PySide6.QtWidgets import QApplication, QDialog, QWidget
from shiboken6 import isValid

from nonna.desk.look import style
from nonna.desk.look.palette import Palette
from nonna.desk.look.style import current
from nonna.desk.turns import next_turn
from nonna.desk.widgets import Room

MARGIN, EDGE = 24, 8
ANYWHERE = "anywhere"  #: property of an action that works over a dialog too


class _Shade(QWidget):
    """Covers the window while a dialog is open: nothing behind it can be pressed."""

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self.setGeometry(window.rect())
        self._paper = QRect()

    def show_paper(self, place: QRect) -> None:
        """Lay paper under the dialog, a little larger than it."""
        self._paper = place
        self.update()

    def wear(self, palette: Palette) -> None:
        """Take the colours of a theme."""
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        palette = current()
        with QPainter(self) as painter:
            painter.fillRect(self.rect(), QColor(20, 24, 28, 70))
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QColor(palette.muted))
            painter.setBrush(QColor(palette.card))
            painter.drawRoundedRect(QRectF(self._paper).adjusted(0.5, 0.5, -0.5, -0.5), 12, 12)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        event.accept()


class _Overlay(QObject):
    """Keeps one dialog over its window; gives the keyboard back when it goes, and lets the dialog be deleted."""

    def __init__(self, dialog: QDialog, window: QWidget) -> None:
        super().__init__(dialog)
        self._dialog, self._window, self._gone = dialog, window, False
        self._before = QApplication.focusWidget()
        self._room: Room | None = None  #: what scrolls a dialog that is larger than the window
        self._shade = _Shade(window)
        style.dress(self._shade)
        rows = [a for a in window.actions() if isinstance(a, QAction) and a.isEnabled()]
        self._actions = [a for a in rows if not a.property(ANYWHERE)]
        for action in self._actions:
            action.setEnabled(False)  # the window's keys are not the dialog's
        window.installEventFilter(self)
        dialog.finished.connect(self._on_finished)

    def place(self) -> None:
        """Put the dialog in the middle, as large as it asks for and the window allows."""
        room = self._window.size()
        self._shade.setGeometry(self._window.rect())
        wanted = self._dialog.sizeHint().expandedTo(self._dialog.size())
        width = min(wanted.width(), room.width() - 2 * MARGIN)
        height = min(max(wanted.height(), self._dialog.heightForWidth(width)), room.height() - 2 * MARGIN)
        x, y = (room.width() - width) // 2, max(MARGIN, (room.height() - height) // 3)
        place, least = QRect(x, y, width, height), self._dialog.minimumSizeHint()
        if self._room is None and (least.width() > width or least.height() > height):
            self._room = Room(self._dialog)
            self._room.setParent(self._window)
            self._room.setAutoFillBackground(True)
            self._room.setBackgroundRole(QPalette.ColorRole.Base)
            self._room.show()
            self._dialog.show()
        (self._room or self._dialog).setGeometry(place)
        self._shade.show_paper(place.adjusted(-EDGE, -EDGE, EDGE, EDGE))

    def show(self) -> None:
        """Show shade and dialog, but for one that was closed before it could be seen."""
        if self._gone:
            return
        self._shade.show()
        self._shade.raise_()
        self._dialog.show()
        self.place()
        (self._room or self._dialog).raise_()
        (self._dialog.focusWidget() or _first_to_type_in(self._dialog)).setFocus()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Follow the window's size."""
        if event.type() == QEvent.Type.Resize:
            self.place()
        return super().eventFilter(watched, event)

    def _on_finished(self, _: int) -> None:
        self._gone = True
        self._window.removeEventFilter(self)
        for action in self._actions:
            action.setEnabled(True)
        self._shade.hide()
        self._shade.deleteLater()
        if self._room is not None:
            self._room.takeWidget()
            self._room.hide()
            self._room.deleteLater()
        before = self._before
        try:
            if before is not None and before.isVisible():
                before.setFocus()
        except RuntimeError:
            return  # it went while the dialog was open


def _first_to_type_in(dialog: QDialog) -> QWidget:
    """Return the first of a dialog's widgets that takes the keyboard, or the dialog."""
    for child in dialog.findChildren(QWidget):
        if child.isVisible() and child.isEnabled() and child.focusPolicy() & Qt.FocusPolicy.TabFocus:
            return child
    return dialog


def is_open(dialog: QDialog) -> bool:
    """Say whether a dialog still stands there: what was worked out for it may come after it was left."""
    return bool(isValid(dialog)) and dialog.isVisible()


def show_over(dialog: QDialog, window: QWidget) -> None:
    """Open a dialog inside a window; closed it is deleted."""
    home = window.window()
    dialog.setParent(home, Qt.WindowType.Widget)
    dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    dialog.finished.connect(dialog.deleteLater)
    dialog.setAutoFillBackground(True)  # nothing behind it is painted again while somebody types into it
    dialog.setBackgroundRole(QPalette.ColorRole.Base)
    style.dress(dialog)
    overlay = _Overlay(dialog, home)
    next_turn(dialog, overlay.show)  # made and painted in one go, a large one would hold the keyboard up
