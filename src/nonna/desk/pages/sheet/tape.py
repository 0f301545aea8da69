"""The tape: every reading in order; struck ones stay to be seen."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, QTimer, Signal, SignalInstance
from PySide6.QtGui import QColor, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from nonna.bench.session.sheet.picture import Tile
from nonna.desk.forms.widgets import Card, ClearArea, label
from nonna.desk.look.style import current, font

TILE_WIDTH, TILE_HEIGHT, GAP = 136, 76, 8
STEP = TILE_WIDTH + GAP
SMALLEST = 13  #: pixels
PAD = STEP  #: room behind the last tile, so that any tile can stand at the left edge


class TapeStrip(Card):
    """The tape in its card, scrolled to the newest reading."""

    strike_asked = Signal(int)
    again_asked = Signal(int)  #: read this one again
    left = Signal()  #: the keyboard goes back to the readings

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._note = label("", "quiet", wrap=True)
        self.tiles = _Tiles()
        self.tiles.clicked.connect(self.strike_asked)
        self.tiles.again_asked.connect(self.again_asked)
        self.tiles.left.connect(self.left)
        self.tiles.moved.connect(self._show_tile)
        self.area = ClearArea()
        self.area.setWidget(self.tiles)
        self.area.setWidgetResizable(False)
        self.area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setFixedHeight(TILE_HEIGHT + 12)
        head = QHBoxLayout()
        self._note.setAlignment(Qt.AlignmentFlag.AlignRight)
        self._note.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)  # never widens the window
        head.addWidget(label(self.tr("Tape"), "strong"))
        head.addWidget(self._note, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 10, 16, 8)
        column.setSpacing(6)
        column.addLayout(head)
        column.addWidget(self.area)

    def show_tape(self, tiles: Sequence[Tile], wanted: str, note: str) -> None:
        """Show the readings and the place of the next one."""
        self._note.setText(note)
        self.tiles.show_tiles(tuple(tiles), wanted)
        QTimer.singleShot(0, self, self._show_newest)

    def take_keyboard(self) -> bool:
        """Give the keyboard to the newest reading that counts; says whether there is one."""
        return self.tiles.begin()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Keep the newest reading in sight."""
        super().resizeEvent(event)
        QTimer.singleShot(0, self, self._show_newest)

    def _show_newest(self) -> None:
        if not self.tiles.hasFocus():
            self._scroll_to(self.tiles.last)

    def _show_tile(self, index: int) -> None:
        bar, room = self.area.horizontalScrollBar(), max(1, self.area.viewport().width() // STEP)
        first = bar.value() // STEP
        if index < first:
            bar.setValue(index * STEP)
        elif index >= first + room:
            self._scroll_to(index)

    def _scroll_to(self, last: int) -> None:
        """Scroll so that a tile is seen whole and none is cut in half at the left."""
        room = max(1, self.area.viewport().width() // STEP)
        self.area.horizontalScrollBar().setValue(max(0, last - room + 1) * STEP)


class _Tiles(QWidget):
    """Paints the tiles side by side."""

    clicked = Signal(int)
    again_asked = Signal(int)
    moved = Signal(int)
    left = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.tiles: tuple[Tile, ...] = ()
        self._wanted = ""
        self.at = -1  #: the tile under the keyboard
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.setAccessibleName(self.tr("Tape"))

    def show_tiles(self, tiles: tuple[Tile, ...], wanted: str) -> None:
        self.tiles, self._wanted = tiles, wanted
        count = len(tiles) + bool(wanted)
        self.at = min(self.at, len(tiles) - 1)
        self.setFixedSize(max(1, count * STEP) + PAD, TILE_HEIGHT)
        self.setAccessibleDescription(
            "; ".join(f"{t.label} {' '.join(t.values)}{' struck' if t.struck else ''}" for t in tiles)
        )
        self.update()

    @property
    def last(self) -> int:
        """Number of the last tile there is, the place of the next reading included."""
        return len(self.tiles) + bool(self._wanted) - 1

    def begin(self) -> bool:
        """Take the keyboard at the newest reading that counts."""
        live = [i for i, tile in enumerate(self.tiles) if not tile.struck]
        if not live:
            return False
        self._go(live[-1])
        self.setFocus()
        return True

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Left and right walk, Backspace strikes, Enter reads again, Down and Esc go back to the readings."""
        key = Qt.Key(event.key())
        steps = {
            Qt.Key.Key_Left: self.at - 1,
            Qt.Key.Key_Right: self.at + 1,
            Qt.Key.Key_Home: 0,
            Qt.Key.Key_End: len(self.tiles) - 1,
        }
        if key in steps:
            self._go(max(0, min(len(self.tiles) - 1, steps[key])))
        elif event.isAutoRepeat():
            return
        elif key in (Qt.Key.Key_Backspace, Qt.Key.Key_Delete):
            self._ask(self.clicked)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._ask(self.again_asked)
        elif key in (Qt.Key.Key_Down, Qt.Key.Key_Escape, Qt.Key.Key_Up):
            self.left.emit()
        else:
            super().keyPressEvent(event)

    def event(self, event: QEvent) -> bool:
        """Esc here leaves the tape, not the sheet."""
        if (
            event.type() == QEvent.Type.ShortcutOverride
            and isinstance(event, QKeyEvent)
            and event.key() == Qt.Key.Key_Escape
        ):
            event.accept()
            return True
        return super().event(event)

    def focusOutEvent(self, event: QFocusEvent) -> None:
        """No tile stands out without the keyboard."""
        super().focusOutEvent(event)
        self.at = -1
        self.update()

    def _go(self, index: int) -> None:
        self.at = index
        self.update()
        self.moved.emit(index)

    def _ask(self, signal: SignalInstance) -> None:
        if 0 <= self.at < len(self.tiles) and not self.tiles[self.at].struck:
            signal.emit(self.at)

    def sizeHint(self) -> QSize:
        return QSize(TILE_WIDTH, TILE_HEIGHT)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        index = int(event.position().x()) // STEP
        if index < len(self.tiles) and not self.tiles[index].struck:
            self.clicked.emit(index)

    def paintEvent(self, event: QPaintEvent) -> None:
        with QPainter(self) as painter:  # ended whatever happens: one left open takes the program along
            self._paint(painter)

    def _paint(self, p: QPainter) -> None:
        palette = current()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        for i, tile in enumerate(self.tiles):
            box = QRectF(i * STEP, 0, TILE_WIDTH, TILE_HEIGHT)
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(palette.ground))
            p.drawRoundedRect(box, 7, 7)
            if i == self.at and self.hasFocus():
                p.setPen(QPen(QColor(palette.accent), 3))
                p.drawRoundedRect(box.adjusted(1.5, 1.5, -1.5, -1.5), 7, 7)
            ink = palette.muted if tile.struck else palette.ink
            _text(p, box.adjusted(12, 6, -12, 0), tile.label, palette.muted, 13, Qt.AlignmentFlag.AlignLeft)
            several = len(tile.values) > 1
            for row, words in enumerate(tile.values):
                _text(
                    p, box.adjusted(6, (21 if several else 24) + 17 * row, -10, 0), words, ink, 17 if several else 22,
                    Qt.AlignmentFlag.AlignRight, bold=not tile.struck,
                )  # fmt: skip
            foot = palette.bad if tile.struck else palette.muted
            _text(p, box.adjusted(12, 56, -8, 0), tile.foot, foot, 13, Qt.AlignmentFlag.AlignLeft)
            if tile.struck:
                p.setPen(QPen(QColor(palette.bad), 3))
                p.drawLine(QPointF(box.left() + 20, box.top() + 40), QPointF(box.right() - 8, box.top() + 38))
        if self._wanted:
            box = QRectF(len(self.tiles) * STEP + 1, 1, TILE_WIDTH - 2, TILE_HEIGHT - 2)
            p.setPen(QPen(QColor(palette.accent), 2))
            p.setBrush(QColor(palette.wash))
            p.drawRoundedRect(box, 7, 7)
            _text(p, box.adjusted(12, 8, -12, 0), self.tr("next"), palette.muted, 13, Qt.AlignmentFlag.AlignLeft)
            _text(
                p, box.adjusted(12, 28, -8, 0), self._wanted, palette.accent, 17, Qt.AlignmentFlag.AlignLeft, bold=True
            )


def _text(
    p: QPainter, box: QRectF, words: str, colour: str, pixels: int, align: Qt.AlignmentFlag, *, bold: bool = False
) -> None:
    p.setFont(font(pixels, bold=bold))
    p.setPen(QColor(colour))
    if bold and p.fontMetrics().horizontalAdvance(words) > box.width():  # a number is never cut, rather smaller
        p.setFont(font(max(SMALLEST, int(pixels * box.width() / p.fontMetrics().horizontalAdvance(words))), bold=bold))
    shown = p.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(box.width()))
    p.drawText(box, align | Qt.AlignmentFlag.AlignTop, shown)
