"""The guide over the window: a line to search in, the pages found, and the one chosen."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent, QPalette, QTextCharFormat, QTextCursor
from PySide6.QtWidgets import (
    QDialog,
    QFrame,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from nonna.bench.guide_pages import about, topics
from nonna.desk.forms.figure_view import FigureView
from nonna.desk.forms.folding import FoldingRow, Frame
from nonna.desk.forms.widgets import label
from nonna.desk.look.palette import Palette
from nonna.desk.look.style import current, font, worn
from nonna.figures.figure import Figure

LIST_PX, FIGURE_PX, WIDE, HIGH = 250, 210, 980, 640
STACKS_PX, LIST_HIGH_PX, PAGE_HIGH_PX = 720, 170, 480  #: width below which the list stands over the page; heights then
HEADING_PX, HEADING_GAP_PX, GAP_PX = 17, 14, 3
_KEY = Qt.ItemDataRole.UserRole
_SCROLLING = (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown)


class Page(QTextBrowser):
    """A page of the guide, in the window's own type and colours."""

    def __init__(self) -> None:
        super().__init__()
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setOpenLinks(False)
        self.setAccessibleName(self.tr("Page of the guide"))

    def show_text(self, text: str) -> None:
        """Show Markdown."""
        self.setMarkdown(text)
        block = self.document().begin()
        while block.isValid():
            form = block.blockFormat()
            form.setBottomMargin(GAP_PX)
            if form.headingLevel():
                form.setTopMargin(HEADING_GAP_PX if block.blockNumber() else 0)
                letters = QTextCharFormat()
                letters.setFont(font(HEADING_PX, bold=True))
                whole = QTextCursor(block)
                whole.movePosition(QTextCursor.MoveOperation.EndOfBlock, QTextCursor.MoveMode.KeepAnchor)
                whole.setCharFormat(letters)
            QTextCursor(block).setBlockFormat(form)
            block = block.next()
        self.moveCursor(QTextCursor.MoveOperation.Start)

    def wear(self, palette: Palette) -> None:
        """Take the colours of a theme."""
        colours = self.palette()
        colours.setColor(QPalette.ColorRole.Base, palette.card)
        colours.setColor(QPalette.ColorRole.Text, palette.ink)
        self.setPalette(colours)


class HelpDialog(QDialog):
    """Esc leaves; typing searches, arrows choose, Page down reads on."""

    def __init__(
        self,
        key: str,
        parent: QWidget,
        *,
        field: str = "",
        drawn: Callable[[str], Figure | None] = lambda key: None,
        more: Callable[[str], str] = lambda key: "",
    ) -> None:
        super().__init__(parent, Qt.WindowType.Dialog | Qt.WindowType.FramelessWindowHint)
        self._drawn, self._more = drawn, more
        self.search, self.list, self.page = worn(QLineEdit()), worn(QListWidget()), Page()
        self.page.wear(current())
        self.search.setPlaceholderText(self.tr("Search the guide"))
        self.search.setAccessibleName(self.tr("Search the guide"))
        self.search.setToolTip(self.tr("Only pages that hold every word stay in the list."))
        self.list.setAccessibleName(self.tr("Pages of the guide"))
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.setWordWrap(True)  # no title is cut
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._title, self._field = label("", "headline", wrap=True), label(field, wrap=True)
        self._figure = FigureView()
        self._figure.setFixedHeight(FIGURE_PX)
        lists, pages, row = QWidget(), QWidget(), QHBoxLayout(self)
        left, right = QVBoxLayout(lists), QVBoxLayout(pages)
        for each in (left, right):
            each.setContentsMargins(0, 0, 0, 0)
        lists.setFixedWidth(LIST_PX)
        left.addWidget(self.search)
        left.addWidget(self.list)
        for widget in (self._field, self._title, self._figure):
            right.addWidget(widget)
        right.addWidget(self.page, 1)
        keys = label(self.tr("Type to search, Up and Down choose, Page down reads on, Esc leaves."), "quiet", wrap=True)
        right.addWidget(keys)
        row.setContentsMargins(24, 20, 24, 20)
        frames = (Frame(lists, 0, LIST_HIGH_PX), Frame(pages, 1, PAGE_HIGH_PX))
        row.addWidget(FoldingRow(frames, stacks_below=STACKS_PX, gap=18))
        self._field.setVisible(bool(field))  # not before it has its place: it would be a window of its own
        self.resize(WIDE, HIGH)
        self.search.textChanged.connect(self._find)
        self.search.installEventFilter(self)
        self.list.currentItemChanged.connect(lambda item, _: self._show(item))
        self._fill(key)

    @property
    def key(self) -> str:
        """Key of the page that is shown."""
        item = self.list.currentItem()
        return str(item.data(_KEY)) if item is not None else ""

    def _find(self, words: str) -> None:
        found = about(words)
        self.list.clear()
        for topic in found:
            self._add(topic.key, topic.title)
        self.list.setCurrentRow(0)
        if not found:
            self._title.setText(self.tr("Nothing holds all these words"))
            self._figure.hide()
            self.page.show_text(self.tr("Try fewer letters."))

    def _fill(self, key: str) -> None:
        for topic in topics():
            self._add(topic.key, topic.title)
        rows = [self.list.item(i).data(_KEY) for i in range(self.list.count())]
        self.list.setCurrentRow(rows.index(key) if key in rows else 0)

    def _add(self, key: str, title: str) -> None:
        item = QListWidgetItem(title)
        item.setData(_KEY, key)
        self.list.addItem(item)

    def _show(self, item: QListWidgetItem | None) -> None:
        if item is None:
            return
        key = str(item.data(_KEY))
        topic = next(t for t in topics() if t.key == key)
        self._title.setText(topic.title)
        figure = self._drawn(key)
        self._figure.show_figure(figure)
        self._figure.setVisible(figure is not None)
        self.page.show_text(topic.text + self._more(key))

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Arrows move in the list and pages scroll while the typing stays in the line."""
        if event.type() == QEvent.Type.KeyPress and isinstance(event, QKeyEvent):
            step = {Qt.Key.Key_Down: 1, Qt.Key.Key_Up: -1}.get(Qt.Key(event.key()))
            if step is not None:
                self.list.setCurrentRow(max(0, min(self.list.count() - 1, self.list.currentRow() + step)))
                return True
            if event.key() in _SCROLLING:
                bar = self.page.verticalScrollBar()
                bar.setValue(bar.value() + (bar.pageStep() if event.key() == Qt.Key.Key_PageDown else -bar.pageStep()))
                return True
        return super().eventFilter(watched, event)
