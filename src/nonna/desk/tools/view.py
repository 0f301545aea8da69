"""The Tools view: tray on the left, the chosen tool drawn, what changes before it is written."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QItemSelectionModel, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QHeaderView, QTableView, QVBoxLayout, QWidget

from nonna.desk.figure_view import FigureView
from nonna.desk.state import ShopState
from nonna.desk.tools.model import NAME, SHAPE, STATE, ShapeDelegate, ToolModel
from nonna.desk.widgets import button, card, label, plain_rows, set_property
from nonna.metrology.words import Units, length, small
from nonna.procedures.drawings.setter import over_setter
from nonna.records.tool_table import ToolRow, rows, write_csv
from nonna.shop.staleness import State


class ToolsView(QWidget):
    """Marks tools, starts their sheets one after another, writes the table."""

    measure_asked = Signal(object)  #: tuple of subjects
    table_written = Signal(object)  #: Path

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("page")
        self._units = Units.MM
        self._pad = 0.0
        self._title, self._about = label(self.tr("Tools"), "headline"), label("", "quiet")
        self.model = ToolModel()
        self.table = _Table(self)
        self.table.setModel(self.model)
        self.table.setItemDelegateForColumn(SHAPE, ShapeDelegate(self.table))
        self._figure = FigureView()
        self._how, self._why = label("", "title", wrap=True), label("", "quiet", wrap=True)
        self._now, self._now_doubt = label("", "figure"), label("", "doubt")
        self._change = label("", "strong", wrap=True)
        self._measure = button("", self.measure, self.tr("Measure the marked tools"), main=True)
        self._write = button(self.tr("Write the table   Ctrl+S"), self.ask_where, self.tr("Write the tool table"))
        self._said_frame, inside = card(tone="plain", margins=(14, 10, 14, 10))
        self._said = label("", wrap=True)
        inside.addWidget(self._said)
        self._arrange()
        self.table.selectionModel().currentRowChanged.connect(lambda *_: self._show_tool())
        self.table.space_pressed.connect(self._toggle)
        self.table.enter_pressed.connect(self.measure)

    def _arrange(self) -> None:
        head = QHBoxLayout()
        head.addWidget(self._title)
        head.addSpacing(12)
        head.addWidget(self._about)
        head.addStretch()
        head.addWidget(label(self.tr("Space marks · Enter measures"), "quiet"))
        tray, column = card(margins=(8, 8, 8, 8))
        column.addWidget(self.table)
        right, inside = card(margins=(6, 6, 6, 14))
        inside.addWidget(self._figure, 1)
        for words in (self._how, self._why):
            line = QHBoxLayout()
            line.setContentsMargins(12, 0, 12, 0)
            line.addWidget(words)
            inside.addLayout(line)
        stack = QVBoxLayout()
        stack.setContentsMargins(14, 6, 14, 0)
        stack.setSpacing(8)
        inside.addLayout(stack)
        stack.addWidget(label(self.tr("Measured length"), "quiet"))
        row = QHBoxLayout()
        row.addWidget(self._now)
        row.addStretch()
        row.addWidget(self._now_doubt, 0, Qt.AlignmentFlag.AlignBottom)
        stack.addLayout(row)
        stack.addWidget(self._change)
        for part in (self._said_frame, self._measure, self._write):
            stack.addWidget(part)
        right.setFixedWidth(380)
        body = QHBoxLayout()
        body.setSpacing(12)
        for frame, stretch in ((tray, 1), (right, 0)):
            body.addWidget(frame, stretch)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(24, 16, 20, 16)
        outer.setSpacing(10)
        outer.addLayout(head)
        outer.addLayout(body, 1)

    def show_state(self, state: ShopState, units: Units) -> None:
        """Show the tools of a shop's machine."""
        self._units, self._pad = units, state.pad_mm
        link = next(s for s in state.links if s.link.key == "tools")
        before = self.table.currentIndex().row()
        made = rows(state.tools, state.standing, link)
        self.model.show_rows(made, units)
        self.table.fit()
        if not self.model.marked:
            self.model.mark({r.subject for r in made if r.state is not State.HOLDS and _centre(r, self._pad)})
        chosen = max(0, before)
        if made:
            self.table.selectionModel().setCurrentIndex(
                self.model.index(chosen, 0),
                QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows,
            )
        holding = sum(r.state is State.HOLDS for r in made)
        self._about.setText(f"{state.machine}: {len(made)} in the table, {holding} measured and holding")
        changed = [r for r in made if r.accepted and r.change]
        kept = len(made) - len(changed)
        self._say(
            f"{len(changed)} lengths would change, {kept} stay as they are." if made else "No tools in the table.",
            "plain",
        )
        self._write.setEnabled(bool(changed))
        self._show_marks()
        self._show_tool()

    def mark(self, subjects: tuple[str, ...]) -> None:
        """Choose tools to measure."""
        self.model.mark(set(subjects))
        self._show_marks()

    def measure(self) -> None:
        """Start the sheets of the marked tools, or of the one under the cursor."""
        marked = self.model.marked
        if not marked and self.table.currentIndex().isValid():
            marked = (self.model.rows[self.table.currentIndex().row()].subject,)
        if marked:
            self.measure_asked.emit(marked)

    def ask_where(self) -> None:
        """Ask where the table goes."""
        if not self._write.isEnabled():
            self._say(self.tr("Nothing measured holds yet, so there is nothing new to write."), "due")
            return
        dialog = QFileDialog(self, self.tr("Write the tool table"), "tool-table.csv", "CSV (*.csv)")
        dialog.setOption(QFileDialog.Option.DontUseNativeDialog)
        dialog.setAcceptMode(QFileDialog.AcceptMode.AcceptSave)
        dialog.setDefaultSuffix("csv")
        dialog.fileSelected.connect(lambda name: self.write_table(Path(name)))
        dialog.open()

    def write_table(self, path: Path) -> None:
        """Write the table; says what was written, or why not."""
        try:
            write_csv(self.model.rows, path)
        except OSError as error:
            self._say(f"{path.name} was not written: {error.strerror}. Choose another place.", "bad")
            return
        new = sum(r.accepted for r in self.model.rows)
        self._say(f"{path.name} written: {new} measured lengths, {len(self.model.rows) - new} kept.", "good")
        self.table_written.emit(path)

    def _say(self, words: str, tone: str) -> None:
        self._said.setText(words)
        set_property(self._said_frame, "tone", tone)

    def _toggle(self) -> None:
        if self.table.currentIndex().isValid():
            self.model.toggle(self.table.currentIndex().row())
            self._show_marks()

    def _show_marks(self) -> None:
        marked = self.model.marked
        self._measure.setText(
            f"Measure {' '.join(marked[:3])}{' …' if len(marked) > 3 else ''}   Enter" if marked else "Measure   Enter"
        )

    def _show_tool(self) -> None:
        index = self.table.currentIndex()
        if not index.isValid():
            return
        row = self.model.rows[index.row()]
        u = self._units
        long = row.now or row.was or 100.0
        words = f"{length(long, u)}"
        self._figure.show_figure(
            over_setter(f"{row.subject} over the setter", row.kind, row.diameter, long, pad=self._pad, gap=12.0,
                        plane="trigger plane", length_words=words)
        )  # fmt: skip
        centre = _centre(row, self._pad)
        self._how.setText(
            self.tr("At its centre, not turning") if centre else self.tr("Not with its centre on the pad")
        )
        self._why.setText(
            self.tr("Point or end lies whole on the pad.")
            if centre
            else self.tr(
                "Open or wider than the pad's safe part: it must turn backwards over the rim. The stand-in does not do that yet; readings can be typed."
            )
        )
        self._now.setText("–" if row.now is None else length(row.now, u, unit=False))
        self._now_doubt.setText("" if row.expanded is None else f"± {small(row.expanded, u)}")
        if row.change is None:
            self._change.setText(self.tr("Not measured yet."))
        elif row.accepted:
            self._change.setText(f"{small(row.change, u, sign=True)} against the table. Record {row.record}.")
        else:
            self._change.setText(f"Record {row.record} no longer counts: {row.state.value}. Measure it again.")


def _centre(row: ToolRow, pad: float) -> bool:
    """Whether the tool may be touched standing still at its centre."""
    from nonna.programs.choose import centre_will_do

    return centre_will_do(row.kind, row.diameter, pad)


class _Table(QTableView):
    """A table that marks with Space and starts with Enter."""

    space_pressed = Signal()
    enter_pressed = Signal()

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setAccessibleName(self.tr("Tools"))
        plain_rows(self)
        self.verticalHeader().setDefaultSectionSize(56)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)

    def fit(self) -> None:
        """Give each column its room; the name takes the rest."""
        header = self.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        header.setSectionResizeMode(NAME, QHeaderView.ResizeMode.Stretch)
        header.setMinimumSectionSize(26)
        header.setSectionResizeMode(STATE, QHeaderView.ResizeMode.ResizeToContents)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Space and Enter are wishes; the rest moves the cursor."""
        if event.key() == Qt.Key.Key_Space:
            self.space_pressed.emit()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.enter_pressed.emit()
        else:
            super().keyPressEvent(event)
