"""A socket that speaks as an instrument."""

from PySide6.QtCore import Qt


def listen(desk, hands, *numbers):
    hands.press(Qt.Key.Key_F3)
    hands.until(lambda: desk.tools.controller.tray.tools != ())
    c = desk.tools.controller
    c.change(c.tray.with_marks(numbers))
    desk.tools.table.setFocus()
    hands.press(Qt.Key.Key_F12)
    return c
