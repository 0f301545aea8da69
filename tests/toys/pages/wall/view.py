"""What hangs on the wall."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QVBoxLayout, QWidget

from nonna.desk.forms.widgets import label


class Wall(QWidget):
    def __init__(self, host):
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.host, self.name = host, label("", "headline")
        QVBoxLayout(self).addWidget(self.name)

    def show_state(self, state, units):
        self.name.setText(f"This is {state.machine}")

    def take_keyboard(self):
        self.setFocus()

    def keyPressEvent(self, event):
        if event.key() == Qt.Key.Key_Return:
            self.host.do("loop")


def made(host):
    return Wall(host)
