"""Cards that were changed outside the desk: said at the start, looked at on demand, taken over or put back, signed."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget

from nonna.bench.book.writing import Signature
from nonna.bench.ports import ShopFiles
from nonna.bench.shelf.card_signing import put_back, take_over
from nonna.bench.shelf.card_trail import changed_outside
from nonna.desk.forms.overlay import show_over
from nonna.desk.forms.widgets import button, label, scrolled
from nonna.desk.frame.window import DeskWindow
from nonna.desk.signing.event_signing import sign_behind, signature_here
from nonna.desk.threads.work import Work, behind
from nonna.shop.records.values import CardChange

MOST_LINES = 200


class OutsideDialog(QDialog):
    """Shows what changed; which of the two is right, only a person knows, so Enter is neither."""

    def __init__(
        self, changes: Sequence[CardChange], take: Callable[[], None], back: Callable[[], None], parent: QWidget
    ) -> None:
        super().__init__(parent)
        self._keys = {Qt.Key.Key_T: take, Qt.Key.Key_B: back}
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 20, 24, 18)
        column.setSpacing(12)
        column.addWidget(label(self.tr("Changed outside the desk, and not signed"), "title", wrap=True))
        words = self.tr("As signed → as it stands in the file now. Ask who changed it before you choose.")
        column.addWidget(label(words, "quiet", wrap=True))
        lines = [change.words for change in changes[:MOST_LINES]]
        if len(changes) > MOST_LINES:
            lines.append(self.tr("and {} more").format(len(changes) - MOST_LINES))
        listed = label("\n".join(lines), wrap=True)
        listed.setAlignment(Qt.AlignmentFlag.AlignTop)
        column.addWidget(scrolled(listed), 1)
        row = QHBoxLayout()
        row.addStretch()
        row.addWidget(button(self.tr("Leave it   Esc"), self.reject, self.tr("Leave it"), focus=False))
        row.addWidget(
            button(self.tr("Put back as signed   B"), lambda: self._do(back), self.tr("Put back"), focus=False)
        )
        row.addWidget(
            button(self.tr("It is right now, sign it   T"), lambda: self._do(take), self.tr("Sign"), focus=False)
        )
        column.addLayout(row)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.resize(760, 340)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """T and B, pressed afresh; Esc leaves all as it is."""
        if event.isAutoRepeat():
            return
        act = self._keys.get(Qt.Key(event.key()))
        if act is not None:
            self._do(act)
        elif event.key() == Qt.Key.Key_Escape:
            self.reject()

    def _do(self, act: Callable[[], None]) -> None:
        self.accept()
        act()


def tell_of_changes(window: DeskWindow) -> None:
    """Say at the start what somebody changed outside since it was signed."""
    folder = window.folder
    work = Work(lambda _: changed_outside(folder), window)  # nobody asked for it: closing does not wait for it

    def told(found: tuple[CardChange, ...]) -> None:
        if found:
            more = f" And {len(found) - 1} more." if len(found) > 1 else ""
            words = f"Changed outside the desk, and not signed: {found[0].words}.{more}"
            window.tell(f"{words} Find “changed outside” (Ctrl+K) to look at it.", "bad")

    work.done.connect(told)
    work.failed.connect(lambda error: window.tell(error.message, "bad"))
    work.start()


def look_at_changes(window: DeskWindow) -> None:
    """Show what was changed outside, to be taken over or put back."""
    folder = window.folder

    def show(found: tuple[CardChange, ...]) -> None:
        if not found:
            window.tell("Every card is as it was signed last.", "good")
            return
        signature = signature_here(window)
        if signature is not None:
            take = _settled(window, folder, found, signature, take_over, "Signed as it stands now.")
            back = _settled(window, folder, found, signature, put_back, "Put back as it was signed.")
            show_over(OutsideDialog(found, take, back, window), window)

    behind(window, lambda: changed_outside(folder), show, lambda error: window.tell(error.message, "bad"))


def _settled(
    window: DeskWindow,
    folder: ShopFiles,
    found: Sequence[CardChange],
    signature: Signature,
    act: Callable[[ShopFiles, Sequence[CardChange], Signature], object],
    words: str,
) -> Callable[[], None]:
    def done(_: object) -> None:
        window.look_again()
        window.tell(words, "good")

    return lambda: sign_behind(
        window, lambda: act(folder, found, signature), done, lambda error: window.tell(error.message, "bad")
    )
