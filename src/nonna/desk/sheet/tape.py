"""The tape: every reading in order; struck ones stay to be seen."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from nonna.desk.look.style import current, font
from nonna.desk.sheet.picture import Tile
from nonna.desk.widgets import label

TILE_WIDTH, TILE_HEIGHT, GAP = 136, 76, 8


class TapeStrip(QFrame):
    """The tape in its card, scrolled to the newest reading."""

    strike_asked = Signal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setProperty("card", True)
        self._note = label("", "quiet")
        self._tiles = _Tiles()
        self._tiles.clicked.connect(self.strike_asked)
        self._area = QScrollArea()
        self._area.setWidget(self._tiles)
        self._area.setWidgetResizable(False)
        self._area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._area.setFixedHeight(TILE_HEIGHT + 12)
        self._area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        head = QHBoxLayout()
        head.addWidget(label(self.tr("Tape"), "strong"))
        head.addStretch()
        head.addWidget(self._note)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 10, 16, 8)
        column.setSpacing(6)
        column.addLayout(head)
        column.addWidget(self._area)

    def show_tape(self, tiles: Sequence[Tile], wanted: str, note: str) -> None:
        """Show the readings and the place of the next one."""
        self._note.setText(note)
        self._tiles.show_tiles(tuple(tiles), wanted)
        bar = self._area.horizontalScrollBar()
        QTimer.singleShot(0, self, lambda: bar.setValue(bar.maximum()))


class _Tiles(QWidget):
    """Paints the tiles side by side."""

    clicked = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self._tiles: tuple[Tile, ...] = ()
        self._wanted = ""
        self.setAccessibleName(self.tr("Tape"))

    def show_tiles(self, tiles: tuple[Tile, ...], wanted: str) -> None:
        self._tiles, self._wanted = tiles, wanted
        count = len(tiles) + bool(wanted)
        self.setFixedSize(max(1, count * (TILE_WIDTH + GAP)), TILE_HEIGHT)
        self.setAccessibleDescription(
            "; ".join(f"{t.label} {' '.join(t.values)}{' struck' if t.struck else ''}" for t in tiles)
        )
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(TILE_WIDTH, TILE_HEIGHT)

    def mousePressEvent(self, event: QMouseEvent) -> None:
        index = int(event.position().x()) // (TILE_WIDTH + GAP)
        if index < len(self._tiles) and not self._tiles[index].struck:
            self.clicked.emit(index)

    def paintEvent(self, event: QPaintEvent) -> None:
        p, palette = QPainter(self), current()
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        for i, tile in enumerate(self._tiles):
            box = QRectF(i * (TILE_WIDTH + GAP), 0, TILE_WIDTH, TILE_HEIGHT)
            p.setPen(Qt.PenStyle.NoPen)
            p.setBrush(QColor(palette.ground))
            p.drawRoundedRect(box, 7, 7)
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
            box = QRectF(len(self._tiles) * (TILE_WIDTH + GAP) + 1, 1, TILE_WIDTH - 2, TILE_HEIGHT - 2)
            p.setPen(QPen(QColor(palette.accent), 2))
            p.setBrush(QColor(palette.wash))
            p.drawRoundedRect(box, 7, 7)
            _text(p, box.adjusted(12, 8, -12, 0), self.tr("next"), palette.muted, 13, Qt.AlignmentFlag.AlignLeft)
            _text(
                p, box.adjusted(12, 28, -8, 0), self._wanted, palette.accent, 17, Qt.AlignmentFlag.AlignLeft, bold=True
            )
        p.end()


def _text(
    p: QPainter, box: QRectF, words: str, colour: str, pixels: int, align: Qt.AlignmentFlag, *, bold: bool = False
) -> None:
    p.setFont(font(pixels, bold=bold))
    p.setPen(QColor(colour))
    shown = p.fontMetrics().elidedText(words, Qt.TextElideMode.ElideRight, int(box.width()))
    p.drawText(box, align | Qt.AlignmentFlag.AlignTop, shown)
