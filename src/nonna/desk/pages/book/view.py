"""The Book view: records on the left; the one chosen, its history and its certificate on the right."""

from __future__ import annotations

from PySide6.QtCore import QItemSelectionModel, Qt, Signal
from PySide6.QtGui import QFontMetrics, QResizeEvent, QShowEvent
from PySide6.QtWidgets import QHBoxLayout, QHeaderView, QLineEdit, QTableView, QVBoxLayout, QWidget

from nonna.bench.station.state import ShopState
from nonna.desk.forms.cells import CellDelegate
from nonna.desk.forms.figure_view import FigureView
from nonna.desk.forms.file_dialog import ask_where
from nonna.desk.forms.folding import FoldingRow, Frame
from nonna.desk.forms.plain_rows import plain_rows
from nonna.desk.forms.widgets import GivesWay, button, card, label, scrolled
from nonna.desk.look.style import font, worn
from nonna.desk.pages.book.model import VERDICT, WHAT, BookModel, ShownRecords, is_scatter, title
from nonna.figures.figure import Figure
from nonna.figures.plots import history_chart
from nonna.shop.links.history import Entry, standing
from nonna.wording.lengths import Units, length, small

DETAILS_PX, CARDS_PX, TABLE_PX = 360, 380, 280  #: of the record; of the list as cards; how high it is over a record
LEAST_WHAT = 150  #: of what was done, before the list becomes cards
LOOKED_AT, LONGEST = 40, 4  #: rows looked at for the columns' widths; so many of the longest words are measured
CELL_MARGIN, ROW_PX, CARD_PX = 15, 38, 54


class _Records(QTableView):
    """The list of records."""

    resized = Signal()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Columns have another room."""
        super().resizeEvent(event)
        self.resized.emit()


class BookView(QWidget):
    """Lists every record; nothing here changes one."""

    certificate_asked = Signal(int, object)  #: record number, Path
    withdrawal_asked = Signal(int)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._units = Units.MM
        self._entries: tuple[Entry, ...] = ()
        self._waiting: tuple[ShopState, Units] | None = None
        self._standing: frozenset[int] = frozenset()
        self._home = ""
        self._about = GivesWay("", "quiet", "")
        self.search = worn(QLineEdit())
        self.search.setPlaceholderText(self.tr("Find in the book"))
        self.search.setAccessibleName(self.tr("Find in the book"))
        self.search.setToolTip(self.tr("Only records that hold every word typed stay in sight."))
        self.search.setFixedWidth(240)
        self.model = BookModel()
        self.shown = ShownRecords(self.model)
        self.table = worn(_Records())
        self.table.resized.connect(self._share_out)
        self._widths: dict[int, int] = {}
        self._dress_table()
        self._what, self._signed = label("", "title", wrap=True), label("", "quiet", wrap=True)
        self._value, self._doubt = label("", "figure"), label("", "doubt")
        self._note = label("", "", wrap=True)
        self._history = FigureView()
        self._history.setFixedHeight(270)
        self._certificate = button(
            self.tr("Certificate   Ctrl+P"), self.ask_where, self.tr("Write the certificate"), main=True
        )
        self.withdraw = button(self.tr("Take this record back…"), self._on_withdraw)
        self._said_frame, inside = card(tone="plain", margins=(14, 10, 14, 10))
        self._said = label("", wrap=True)
        inside.addWidget(self._said)
        self._arrange()
        self.search.textChanged.connect(self._on_search)
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._show_entry())

    def _dress_table(self) -> None:
        t = self.table
        t.setModel(self.shown)
        t.setAccessibleName(self.tr("Records"))
        plain_rows(t)
        t.setItemDelegate(CellDelegate(t, 15))
        t.verticalHeader().setDefaultSectionSize(ROW_PX)
        t.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        t.horizontalHeader().setDefaultAlignment(Qt.AlignmentFlag.AlignLeft)

    def _arrange(self) -> None:
        head = QHBoxLayout()
        head.addWidget(label(self.tr("Book"), "headline"))
        head.addSpacing(12)
        head.addWidget(self._about, 1)
        head.addWidget(self.search)
        left, column = card(margins=(8, 8, 8, 8))
        column.addWidget(self.table)
        right, stack = card(margins=(18, 14, 18, 14))
        stack.addWidget(self._what)
        stack.addWidget(self._signed)
        row = QHBoxLayout()
        row.addWidget(self._value)
        row.addStretch()
        row.addWidget(self._doubt, 0, Qt.AlignmentFlag.AlignBottom)
        stack.addLayout(row)
        stack.addWidget(self._note)
        stack.addWidget(self._history)
        stack.addStretch(1)
        for widget in (self._said_frame, self._certificate, self.withdraw):
            stack.addWidget(widget)
        body = FoldingRow(
            (Frame(left, 1, TABLE_PX), Frame(scrolled(right, DETAILS_PX))), stacks_below=DETAILS_PX + CARDS_PX + 12
        )
        outer = QVBoxLayout(self)
        outer.setContentsMargins(24, 16, 20, 16)
        outer.setSpacing(10)
        outer.addLayout(head)
        outer.addWidget(body, 1)

    def take_keyboard(self) -> None:
        """Give the keyboard to the list of records."""
        self.table.setFocus()

    def show_state(self, state: ShopState, units: Units) -> None:
        """Show every record of a shop."""
        self._waiting = (state, units)
        if self.isVisible():
            self.show_waiting()

    def showEvent(self, event: QShowEvent) -> None:
        """What came while the book was behind is shown when it comes to the front."""
        super().showEvent(event)
        self.show_waiting()

    def show_waiting(self) -> None:
        """Show what came while the book was behind."""
        if self._waiting is None:
            return
        (state, units), self._waiting = self._waiting, None
        newest_changed = state.entries != self._entries
        unchanged = not newest_changed and units == self._units and self.model.rowCount() > 0
        self._units, self._entries = units, state.entries
        self._home = state.home
        withdrawn = {e.refers_to for e in state.entries if e.kind == "withdrawal"}
        self._standing = frozenset(
            e.number for e in state.entries if e.kind != "withdrawal" and e.number not in withdrawn
        )
        chosen = self.table.currentIndex().row()
        if not unchanged:
            self.model.show_entries(state.entries, units, state.machine, practice=state.practice)
            self._fit_columns()
        self._about.setText(f"{len(state.entries)} records, never changed, only added to")
        self._select(0 if newest_changed else max(0, chosen))
        if newest_changed:  # what was said is of the records as they were
            self.say("", "plain")

    def _fit_columns(self) -> None:
        """Give columns the room that the newest records ask for; looking at all of them takes a second in a long
        book.
        """
        header = self.table.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        header.setSectionResizeMode(WHAT, QHeaderView.ResizeMode.Stretch)
        plain, bold = QFontMetrics(font(15)), QFontMetrics(font(15, bold=True))
        looked_at = [self.model.words(entry) for entry in self.model.newest(LOOKED_AT)]
        for column, name in enumerate(self.model.HEADERS):
            metrics = bold if column in (2, 5) else plain
            words = sorted({row[column] for row in looked_at}, key=len)[-LONGEST:]
            self._widths[column] = max(map(metrics.horizontalAdvance, [name, *words])) + CELL_MARGIN
            self.table.setColumnWidth(column, self._widths[column])
        self._share_out()

    def _share_out(self) -> None:
        """Where the columns have no room, each record becomes a card: what it is, the rest of it below."""
        if not self._widths:
            return
        wide = sum(width for column, width in self._widths.items() if column != WHAT)
        cards = wide + LEAST_WHAT > self.table.viewport().width()
        self.model.show_cards(cards)
        for column in self._widths:
            self.table.setColumnHidden(column, cards and column not in (WHAT, VERDICT))
        self.table.horizontalHeader().setVisible(not cards)
        high = CARD_PX if cards else ROW_PX
        if self.table.verticalHeader().defaultSectionSize() != high:
            self.table.verticalHeader().setDefaultSectionSize(high)

    def current_entry(self) -> Entry | None:
        """Return the record under the cursor."""
        index = self.table.currentIndex()
        return self.shown.entry(index.row()) if index.isValid() else None

    def ask_where(self) -> None:
        """Ask where the certificate goes."""
        entry = self.current_entry()
        if entry is None or entry.kind != "measurement":
            self.say(self.tr("Choose a measurement; an event has no certificate."), "due")
            return
        name, number = f"certificate-{entry.number}.pdf", entry.number
        ask_where(
            self, self.tr("Write the certificate"), name, "PDF (*.pdf)",
            lambda path: self.certificate_asked.emit(number, path),
        )  # fmt: skip

    def say(self, words: str, tone: str) -> None:
        """Say how a certificate or a withdrawal went."""
        self._said.setText(words)
        self._said_frame.setVisible(bool(words))
        self._said_frame.show_tone(tone)

    def _on_search(self, text: str) -> None:
        self.shown.show_filter(text)
        self._select(0)

    def _select(self, row: int) -> None:
        if count := self.shown.rowCount():
            flags = QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows
            self.table.selectionModel().setCurrentIndex(self.shown.index(min(row, count - 1), 0), flags)
        self._show_entry()

    def _on_withdraw(self) -> None:
        entry = self.current_entry()
        if entry is not None:
            self.withdrawal_asked.emit(entry.number)

    def _show_entry(self) -> None:
        entry = self.current_entry()
        measured = entry is not None and entry.kind == "measurement"
        self._certificate.setEnabled(measured)
        self.withdraw.setEnabled(entry is not None and entry.number in self._standing)
        if entry is None:
            self._what.setText(self.tr("Nothing found") if self.search.text() else self.tr("The book is empty"))
            words = (
                self.tr("Try fewer letters.") if self.search.text() else self.tr("The first record signed stands here.")
            )
            self._signed.setText(words)
            for widget in (self._value, self._doubt, self._note):
                widget.setText("")
            self._history.show_figure(None)
            return
        self._what.setText(" · ".join(w for w in (title(entry), entry.subject.words, entry.machine) if w))
        self._signed.setText(f"Record {entry.number}, {entry.operator}, {entry.signed_at:%d %b %Y %H:%M}")
        u = self._units
        self._value.setText("" if entry.value_mm is None else _main_value(entry, u))
        self._doubt.setText(f"± {small(entry.expanded_mm, u)}" if entry.expanded_mm and not is_scatter(entry) else "")
        taken_back = measured and entry.number not in self._standing
        self._note.setText(self.tr("Taken back: it no longer counts.") if taken_back else entry.note)
        self._history.show_figure(self._chart(entry) if measured else None)

    def _chart(self, entry: Entry) -> Figure | None:
        """Return the history of a value; None where no record of it stands."""
        here = [
            e
            for e in standing(self._entries, entry.machine or self._home, self._home)
            if e.value_mm is not None or e.kind == "event"
        ]
        same = [e for e in here if e.kind == "measurement" and (e.name, e.subject) == (entry.name, entry.subject)]
        events = [e.signed_at.timestamp() for e in here if e.kind == "event"]
        points = [(e.signed_at.timestamp(), e.value_mm or 0.0, e.expanded_mm or 0.0) for e in same]
        if not points:
            return None
        return history_chart(self.tr("History of this value"), points, events, entry.signed_at.timestamp(), self._units)


def _main_value(entry: Entry, units: Units) -> str:
    if is_scatter(entry):
        return f"scatter, 2 s: {small(entry.value_mm or 0.0, units)}"
    return length(entry.value_mm or 0.0, units)


def made(_: object) -> BookView:
    """Return the page for a window."""
    return BookView()
