"""Dialogs inside the window they belong to, so that keys reach them on any window server."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, QRect, QRectF, Qt
from PySide6.QtGui import QAction, QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPalette
from PySide6.QtWidgets import QApplication, QDialog, QLabel, QLineEdit, QPlainTextEdit, QTextEdit, QWidget
from shiboken6 import isValid

from nonna.desk.forms.widgets import Room, press_main
from nonna.desk.look import style
from nonna.desk.look.palette import Palette
from nonna.desk.look.style import current
from nonna.desk.threads.event_turns import next_turn

MARGIN, EDGE = 24, 8
_LAYERS = "_nonna_layers"
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
        self._layers = layers(window)
        self._layers.append(self)
        self._in: QWidget | None = None  #: what had the keyboard in it last
        app = QApplication.instance()
        if isinstance(app, QApplication):
            app.focusChanged.connect(self._hold)
        self._before = QApplication.focusWidget()
        self._room: Room | None = None  #: what scrolls a dialog that is larger than the window
        self._shade = _Shade(window)
        style.dress(self._shade)
        rows = [a for a in window.actions() if isinstance(a, QAction) and a.isEnabled()]
        self._actions = [a for a in rows if not a.property(ANYWHERE)]
        for action in self._actions:
            action.setEnabled(False)  # the window's keys are not the dialog's
        window.installEventFilter(self)
        dialog.installEventFilter(self)
        dialog.finished.connect(self._on_finished)

    def place(self) -> None:
        """Put the dialog in the middle, as large as it asks for and the window allows."""
        room = self._window.size()
        self._shade.setGeometry(self._window.rect())
        wanted = self._dialog.sizeHint().expandedTo(self._dialog.size())
        width = min(wanted.width(), room.width() - 2 * MARGIN)
        height = min(max(wanted.height(), self._dialog.heightForWidth(width)), room.height() - 2 * MARGIN)
        x, y = (room.width() - width) // 2, max(MARGIN, (room.height() - height) // 3)
        place = QRect(x, y, width, height)
        for _ in range(2):  # what is below each other at this width needs another height
            if self._room is None and not self._has_room(place):
                self._give_room()
            self.around.setGeometry(place)
        self._shade.show_paper(place.adjusted(-EDGE, -EDGE, EDGE, EDGE))

    def _has_room(self, place: QRect) -> bool:
        """Whether all of the dialog can be seen there without scrolling."""
        least, laid_out = self._dialog.minimumSizeHint(), self._dialog.layout()
        high = least.height()
        if laid_out is not None and laid_out.hasHeightForWidth():
            high = max(high, laid_out.totalMinimumHeightForWidth(place.width()))
        return least.width() <= place.width() and high <= place.height()

    def _give_room(self) -> None:
        held = self._dialog.focusWidget()
        self._room = Room(self._dialog)
        self._room.setParent(self._window)
        self._room.setAutoFillBackground(True)
        self._room.setBackgroundRole(QPalette.ColorRole.Base)
        self._room.show()
        self._dialog.show()
        (held or _first_to_type_in(self._dialog)).setFocus()  # it lost the keyboard as it moved in

    def show(self) -> None:
        """Show shade and dialog, but for one that was closed before it could be seen."""
        if self._gone:
            return
        self._shade.show()
        self._shade.raise_()
        self._dialog.show()
        self.place()
        self.around.raise_()
        (self._dialog.focusWidget() or _first_to_type_in(self._dialog)).setFocus()

    @property
    def asks(self) -> tuple[type[QDialog], str]:
        """What tells one dialog from another: its kind, and what stands on top of it."""
        return asks(self._dialog)

    @property
    def around(self) -> QWidget:
        """What stands over the window: the dialog, or what scrolls it."""
        return self._room or self._dialog

    def _hold(self, _: QWidget | None, now: QWidget | None) -> None:
        """Keep the keyboard in the topmost dialog, whatever the page behind it does."""
        if self._gone or now is None or self._layers[-1] is not self or not self._dialog.isVisible():
            return
        if now.window() is not self._window:
            return  # a list that dropped down, a menu: windows of their own
        if now is self.around or self.around.isAncestorOf(now):
            self._in = now
            return
        there = self._in is not None and isValid(self._in) and self._in.isVisible() and self._in.isEnabled()
        (self._in if there and self._in is not None else _first_to_type_in(self._dialog)).setFocus()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Follow the window's size; Enter that nothing in the dialog took presses the button that promises it."""
        if watched is self._window and event.type() == QEvent.Type.Resize:
            self.place()
        if watched is self._dialog and event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent):
            return self._takes(event)
        return super().eventFilter(watched, event)

    def _takes(self, event: QKeyEvent) -> bool:
        plain = not event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
        if event.key() not in (Qt.Key.Key_Return, Qt.Key.Key_Enter) or not plain or event.isAutoRepeat():
            return False
        on = self._dialog.focusWidget()
        if isinstance(on, (QLineEdit, QPlainTextEdit, QTextEdit)):
            return False  # a text is being edited; a choice that dropped down is a window of its own
        return press_main(self._dialog)

    def _on_finished(self, _: int) -> None:
        self._gone = True
        self._layers.remove(self)
        app = QApplication.instance()
        if isinstance(app, QApplication):
            app.focusChanged.disconnect(self._hold)
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


def layers(window: QWidget) -> list[_Overlay]:
    """Return the dialogs over a window, the topmost last; only that one has the keys."""
    found: list[_Overlay] | None = getattr(window, _LAYERS, None)
    if found is None:
        found = []
        setattr(window, _LAYERS, found)
    return found


def asks(dialog: QDialog) -> tuple[type[QDialog], str]:
    """Return what tells one dialog from another: its kind, and what stands on top of it."""
    top = dialog.findChild(QLabel)
    return type(dialog), top.text() if top is not None else ""


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
    """Open a dialog inside a window; closed it is deleted. One that is there already is not opened once more."""
    home = window.window()
    if any(overlay.asks == asks(dialog) for overlay in layers(home)):  # a key held down, or pressed twice
        dialog.deleteLater()
        return
    dialog.setParent(home, Qt.WindowType.Widget)
    dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    dialog.finished.connect(dialog.deleteLater)
    dialog.setAutoFillBackground(True)  # nothing behind it is painted again while somebody types into it
    dialog.setBackgroundRole(QPalette.ColorRole.Base)
    style.dress(dialog)
    overlay = _Overlay(dialog, home)
    next_turn(dialog, overlay.show)  # made and painted in one go, a large one would hold the keyboard up
