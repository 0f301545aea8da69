"""Where breakage checks pay: a list of operations, the cost with none, with all, and with the best."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QColor
from PySide6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from nonna.bench.job.breakage_checks import CheckPlan, Operation, best_checks
from nonna.desk.forms.folding import FoldingRow, Frame
from nonna.desk.forms.plain_rows import wrapped_heads
from nonna.desk.forms.widgets import button, label
from nonna.desk.look.style import current, worn
from nonna.errors import NonnaError
from nonna.procedures.entry import parse_number

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

HEADERS = ("Tool", "Minutes", "Breaks, %", "Loss after break", "Feature", "Check after it?")
ADVICE = 5


KEYS_PX = 660  #: width below which the buttons stand under the cost


class ChecksDialog(QDialog):
    """Cells are typed into; every change is worked out at once. Enter keeps the list, Esc leaves."""

    kept = Signal(object, float)  #: list of operations, cost of one check

    def __init__(self, operations: Sequence[Operation], check_cost: float, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Dialog | Qt.WindowType.FramelessWindowHint)
        self.table = worn(QTableWidget(0, len(HEADERS)))
        self.table.setHorizontalHeaderLabels([self.tr(h) for h in HEADERS])
        self.table.setAccessibleName(self.tr("Operations in their order"))
        self.table.verticalHeader().hide()
        self.table.setShowGrid(False)
        self.table.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        wrapped_heads(self.table)
        self.table.horizontalHeader().setSectionResizeMode(ADVICE, QHeaderView.ResizeMode.Fixed)
        self.table.setColumnWidth(ADVICE, 190)
        self.cost = worn(QLineEdit(f"{check_cost:g}"))
        self.cost.setAccessibleName(self.tr("Cost of one check"))
        self.cost.setFixedWidth(110)
        self._verdict, self._words = label("", "title", wrap=True), label("", "", wrap=True)
        self.plan: CheckPlan | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 18, 24, 18)
        column.setSpacing(8)
        column.addWidget(label(self.tr("Where do breakage checks pay?"), "title"))
        column.addWidget(
            label(
                self.tr(
                    "Operations in the order of the program. Costs in any one unit, money or minutes. A break harms "
                    "what follows "
                    "on the same feature; an empty feature means all."
                ),
                "quiet",
                wrap=True,
            )
        )
        costs, keys = QWidget(), QWidget()
        left, row = QHBoxLayout(costs), QHBoxLayout(keys)
        for each in (left, row):
            each.setContentsMargins(0, 0, 0, 0)
        left.addWidget(label(self.tr("One check costs")))
        left.addWidget(self.cost)
        left.addStretch()
        row.addWidget(
            button(
                self.tr("Add an operation"),
                lambda: self._add(Operation("T", 1.0, 0.001, 10.0)),
                self.tr("Add an operation"),
            )
        )
        row.addWidget(button(self.tr("Take it out"), self.remove, self.tr("Take the operation out")))
        column.addWidget(FoldingRow((Frame(costs, 1), Frame(keys)), stacks_below=KEYS_PX))
        column.addWidget(self.table, 1)
        column.addWidget(self._verdict)
        column.addWidget(self._words)
        column.addWidget(button(self.tr("Keep the list   Enter"), self.keep, self.tr("Keep the list"), main=True))
        for operation in operations:
            self._add(operation)
        self.table.itemChanged.connect(lambda item: self._work_out() if item.column() != ADVICE else None)
        self.cost.textChanged.connect(lambda _: self._work_out())
        self.cost.returnPressed.connect(self.keep)
        self.resize(820, 520)
        self._work_out()

    def operations(self) -> list[Operation]:
        """Return the list as it stands. Raises: NonnaError naming the row and the column."""
        made = []
        for row in range(self.table.rowCount()):
            texts = [self._text(row, column) for column in range(ADVICE)]
            numbers = [parse_number(texts[i], f"Row {row + 1}, {HEADERS[i]}", HEADERS[i]) for i in (1, 2, 3)]
            made.append(Operation(texts[0], numbers[0], numbers[1] / 100.0, numbers[2], texts[4]))
        return made

    def _add(self, operation: Operation) -> None:
        self.table.blockSignals(True)
        row = self.table.rowCount()
        self.table.insertRow(row)
        texts = (
            operation.tool, f"{operation.minutes:g}", f"{operation.break_probability * 100:g}", f"{operation.loss:g}",
            operation.feature, "",
        )  # fmt: skip
        for column, text in enumerate(texts):
            item = QTableWidgetItem(text)
            if column == ADVICE:
                item.setFlags(item.flags() & ~Qt.ItemFlag.ItemIsEditable)
            self.table.setItem(row, column, item)
        self.table.blockSignals(False)
        if self.isVisible():
            self._work_out()

    def remove(self) -> None:
        """Take the operation under the cursor out."""
        if self.table.currentRow() >= 0:
            self.table.removeRow(self.table.currentRow())
            self._work_out()

    def _work_out(self) -> None:
        try:
            operations = self.operations()
            self.plan = best_checks(operations, self._check_cost())
        except NonnaError as error:
            self.plan = None
            self._verdict.setText(self.tr("Something is still to be put right."))
            self._words.setText(error.message)
            self._words.show_tone("bad")
            return
        plan = self.plan
        self._words.show_tone("")
        self.table.blockSignals(True)
        for row in range(len(operations)):
            here = row in plan.after
            item = self.table.item(row, ADVICE)
            if item is not None:
                item.setText(f"check here, it saves {plan.saved[row]:.2g}" if here else "–")
                item.setForeground(QColor(current().accent if here else current().muted))
        self.table.blockSignals(False)
        where = ", ".join(f"{operations[i].tool} ({i + 1})" for i in plan.after)
        self._verdict.setText(f"Check after {where}." if plan.after else self.tr("No check pays here."))
        self._words.setText(
            f"Expected cost of one part: {plan.cost:.3g} so; {plan.cost_without:.3g} without any check; "
            f"{plan.cost_with_all:.3g} with one after every operation. Cut in vain after a break: "
            f"{plan.vain_minutes:.2g} min a part so, {plan.vain_minutes_without:.2g} min without any check."
        )

    def keep(self) -> None:
        """Keep the list as it stands."""
        if self.plan is None:
            return  # what is wrong stands there already
        self.kept.emit(self.operations(), self._check_cost())
        self.accept()

    def _text(self, row: int, column: int) -> str:
        item = self.table.item(row, column)
        return item.text().strip() if item is not None else ""

    def _check_cost(self) -> float:
        return parse_number(self.cost.text(), self.tr("One check costs"), "check_cost")
