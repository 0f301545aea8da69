"""The Tools view: tray, the chosen tool as it will be touched, what is next; rehearsal below, program behind."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from nonna.bench.session.tray import tips
from nonna.bench.session.tray.open_tray import OpenTray
from nonna.bench.session.tray.picture import measured_length, panel, setter_notice, total, value_of
from nonna.bench.session.tray.row_words import row_words
from nonna.bench.session.tray.touch_figure import METHODS, measured_figure, touch_figure
from nonna.bench.station.state import ShopState
from nonna.bench.tables.tool_table import has_offsets, rows
from nonna.bench.tray.doubtful_tools import doubtful
from nonna.desk.forms.figure_view import FigureView
from nonna.desk.forms.file_dialog import ask_where
from nonna.desk.forms.folding import FoldingRow, Frame, Front
from nonna.desk.forms.widgets import ANY_PX, GivesWay, card, label, scrolled
from nonna.desk.look.style import dress, worn
from nonna.desk.pages.tools.empty_tray import EmptyTray
from nonna.desk.pages.tools.model import ShownTools, ToolModel
from nonna.desk.pages.tools.rehearsal_page import RehearsalPage
from nonna.desk.pages.tools.strip import RehearsalStrip
from nonna.desk.pages.tools.table import TrayTable
from nonna.desk.pages.tools.table_file import write_table
from nonna.desk.pages.tools.touch_panel import TouchPanel
from nonna.procedures.listing import measuring
from nonna.procedures.telling import words_of
from nonna.shop.cards.job import Measure
from nonna.shop.cards.machine import Tool
from nonna.shop.cards.seen import ToolSeen
from nonna.shop.links.loop import LinkSort
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.bench.tray.doubtful_tools import Doubtful

DRAWING_PX, PANEL_PX, TABLE_PX = 304, 258, 280  #: widths, and how high a table is at least that others stand below
LETTERS: Mapping[str, Measure] = {"l": "length", "d": "diameter", "b": "breakage", "i": "teeth"}


class ToolsView(QWidget):
    """Paints the tray controller's state; says what is wanted of the rest of the desk."""

    measure_asked = Signal(object)  #: tuple of subjects, to be measured by hand one after another
    table_written = Signal(object)  #: Path
    asked = Signal(str)  #: a wish that needs a dialog: "edit", "add", "touch", "program", "results"

    def __init__(self, controller: OpenTray, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.controller = controller
        self.units = Units.MM
        self._state: ShopState | None = None
        self._rows_of: tuple[Tool, ...] = ()  #: the tools whose rows are shown
        self._questions: Mapping[int, Doubtful] = {}
        self._progress: tuple[int, int, str] | None = None
        self._differing = 0  #: offsets that are not what the table holds
        self._page: RehearsalPage | None = None
        self._about = GivesWay("", "quiet", "")
        self.search = worn(QLineEdit())
        self.search.setPlaceholderText(self.tr("Find, or 2-9, 14"))
        self.search.setAccessibleName(self.tr("Find tools, by words or by numbers"))
        self.search.setToolTip(self.tr("Only tools that hold every word typed stay in sight, or those of a range."))
        self.search.setFixedWidth(200)
        self.model = ToolModel()
        self.shown = ShownTools(self.model)
        self.table = TrayTable(self.shown, self)
        self._empty = EmptyTray()
        self._figure = FigureView()
        self._how, self._why = label("", "title", wrap=True), label("", "quiet", wrap=True)
        self.panel = TouchPanel()
        self.strip = RehearsalStrip()
        self._strip_words = label("", "quiet", wrap=True)
        self._strip_words.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.said_frame, inside = card(tone="plain", margins=(14, 7, 14, 7))
        self.said = label("", wrap=True)
        inside.addWidget(self.said)
        self.said_frame.hide()
        self._pages = Front()
        self._arrange()
        self._connect()

    def _arrange(self) -> None:
        head = QHBoxLayout()
        head.addWidget(label(self.tr("Tools"), "headline"))
        head.addSpacing(12)
        head.addWidget(self._about, 1)
        head.addWidget(self.search)
        tray, column = card(margins=(8, 6, 8, 6))
        column.addWidget(self.table)
        column.addWidget(self._empty)
        middle, inside = card(margins=(6, 6, 6, 12), spacing=4)
        inside.addWidget(self._figure, 1)
        lines = QVBoxLayout(words := QWidget())
        lines.setContentsMargins(12, 0, 12, 0)
        lines.addWidget(self._how)
        lines.addWidget(self._why)
        inside.addWidget(words)
        drawing, panel = scrolled(middle, DRAWING_PX), scrolled(self.panel, PANEL_PX)
        least = self.table.least + PANEL_PX + 30
        body = FoldingRow(
            (Frame(tray, 1, TABLE_PX), Frame(drawing), Frame(panel)),
            folds=drawing, folds_below=least + DRAWING_PX + 12, stacks_below=least,
        )  # fmt: skip
        body.folded.connect(lambda narrow, under=column: (under if narrow else inside).addWidget(words))
        self._below, column = card(margins=(16, 8, 16, 8), spacing=2)
        column.addLayout(top := QHBoxLayout())
        top.addWidget(label(self.tr("Rehearsal"), "strong"))
        top.addWidget(self._strip_words, 1)
        column.addWidget(self.strip)
        first = QWidget()
        whole = QVBoxLayout(first)
        whole.setContentsMargins(24, 14, 20, 14)
        whole.setSpacing(10)
        whole.addLayout(head)
        whole.addWidget(self.said_frame)
        whole.addWidget(body, 1)
        whole.addWidget(self._below)
        self._pages.addWidget(first)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(self._pages)

    def _connect(self) -> None:
        c = self.controller
        c.changed.connect(self.refresh)
        c.planned.connect(self.refresh)
        c.said.connect(self.say)
        c.progress.connect(self._on_progress)
        self.table.moved.connect(lambda: self.controller.arrivals.ask(self.table.number))
        self.table.moved.connect(self.refresh_tool)
        self._empty.asked.connect(self.asked)
        self.table.space_pressed.connect(self._toggle)
        self.table.enter_pressed.connect(self._on_enter)
        self.table.letter_pressed.connect(self._on_letter)
        self.search.textChanged.connect(self.shown.show_filter)
        self.search.returnPressed.connect(lambda: self.table.setFocus())
        self.panel.acted.connect(lambda: self._on_enter(False))
        self.panel.second_acted.connect(self._on_second)

    @property
    def rehearsal(self) -> RehearsalPage:
        """The program and its rehearsal, made when first wanted."""
        if self._page is None:
            self._page = RehearsalPage(self.controller)
            self._page.closed.connect(self.show_tray)
            self._page.program_asked.connect(lambda: self.asked.emit("program"))
            self._pages.addWidget(self._page)
            dress(self._page)
        return self._page

    def show_state(self, state: ShopState, units: Units) -> None:
        """Show the tools of a shop's machine."""
        self._state, self.units = state, units
        self.controller.units = units
        self.controller.load_from_site()
        self._show_rows()
        self._look_for_doubts()
        self.refresh()

    def _show_rows(self) -> None:
        """Show the tools as hands left them, with what the book says; before they are loaded, as they were read."""
        if self._state is None:
            return
        self._rows_of, tools = self.controller.tray.tools, self._state.tools
        if self.controller.is_here:
            tools = tuple(map(ToolSeen.of_tool, self._rows_of))
        link = next((s for s in self._state.links if s.link.sort is LinkSort.EACH), None)
        made = rows(tools, self._state.standing, link) if link is not None else ()
        self.model.show_rows(made, self.units)
        self.table.show_lengths(not self.controller.by_program)
        self._differing = tips.to_write(self.controller, self._state, made)
        self._empty.setVisible(not tools)
        self.table.setMaximumHeight(ANY_PX if tools else 0)  # not hidden: it keeps the keyboard
        holding = sum(r.state.value == "holds" for r in made)
        self._about.setText(f"{self._state.machine}: {len(made)} in the tray, {holding} measured and holding")

    def show_rehearsal(self) -> None:
        """Show the program and its rehearsal."""
        self.rehearsal.show_answer()
        self._pages.setCurrentWidget(self.rehearsal)
        self.rehearsal.strip.setFocus()

    def take_keyboard(self) -> None:
        """Come to the tray with the keyboard."""
        self.show_tray()

    def show_tray(self) -> None:
        """Come back to the tray."""
        self._pages.setCurrentIndex(0)
        self.table.setFocus()

    @property
    def rehearsing(self) -> bool:
        """Whether the program stands in front of the tray."""
        return self._pages.currentIndex() != 0

    def refresh(self) -> None:
        """Paint everything from the controller's state."""
        c = self.controller
        if c.tray.tools != self._rows_of:  # the book is read behind; what hands changed is shown at once
            self._show_rows()
        words = row_words(c.tray, self._questions, self.units, c.one_by_one, self._state)
        self.model.show_marks(c.tray.marked, *words)
        machine = c.machine
        self._below.setVisible(not c.one_by_one)  # nothing is planned there
        plane = machine.setter.trigger_plane_mm if machine and machine.setter else 0.0
        self.strip.show_course(c.answer.course if c.answer else None, plane)
        now = c.arrivals.now
        if now is not None and not now.named and now.asked != self.table.number and c.tray.tool(now.asked or 0):
            self.table.go_to(now.asked or 0)
        self._strip_words.setText(total(c.answer, c.by_hand_minutes))
        self.refresh_tool()

    def refresh_tool(self) -> None:
        """Paint what concerns the tool under the cursor."""
        c, number = self.controller, self.table.number
        tool = c.tray.tool(number) if number is not None else None
        plan = c.plan_of(tool) if tool is not None else None
        row = self.shown.row(self.table.currentIndex().row())
        pad = self._state.pad_mm if self._state else 14.0
        now = measured_length(row, c.tray.results)  # the drawing says what stands in large beside it
        each = self._state.kind.loop.each if self._state else None
        if tool is not None and each is not None and each.procedure != measuring("length"):
            self._figure.show_figure(measured_figure(each.procedure, tool, self.units))
        else:
            self._figure.show_figure(touch_figure(tool, plan, pad, self.units, now) if tool else None)
        question = self._questions.get(number or 0)
        if question is not None:
            self._how.setText(self.tr("Is that right?"))
            take = "  T takes it." if question.suggestion_mm is not None else "  E edits it."
            self._why.setText(words_of(question.words, self.units) + take)
        elif plan is None:
            self._how.setText("")
            self._why.setText("")
        else:
            self._how.setText(METHODS[plan.choice.method] if not plan.refused else self.tr("Cannot be touched here"))
            known = tips.known_of(self._state, tool, self.units)
            self._why.setText(plan.refused or " ".join((*((known,) if known else ()), *plan.reasons[:3])))
        self.panel.show_state(
            panel(
                c.tray, c.answer, plan, c.machine, self.units, planning=c.plans.told if c.plans.busy else None,
                busy=c.busy, progress=self._progress, standin=c.standin_is_home,
                unwritten=c.unwritten if any(r.accepted for r in self.model.rows) else 0,
                notice=setter_notice(self._state.links) if self._state else "",
                value=value_of(row, c.tray.results, self.units), arriving=c.arrivals.now, asking=c.asking,
                one_by_one=c.one_by_one, offsets=tips.offsets_shown(c, self._state, tool, self.units),
                by_program=c.by_program, differing=self._differing,
            )
        )  # fmt: skip

    def mark(self, numbers: Iterable[int]) -> None:
        """Mark tools by the numbers of their pockets."""
        c = self.controller
        c.change(c.tray.with_marks(numbers))

    def mark_shown(self) -> None:
        """Mark all tools that are shown; none, where all are marked."""
        c, numbers = self.controller, {r.number for r in self.shown.rows}
        c.change(c.tray.with_marks(c.tray.marked - numbers if numbers <= c.tray.marked else c.tray.marked | numbers))

    def mark_open(self) -> None:
        """Mark the tools that were never measured or no longer hold."""
        c = self.controller
        c.change(c.tray.with_marks(r.number for r in self.model.rows if r.state.value != "holds"))

    def measure_by_hand(self, *, here: bool = False) -> None:
        """Open the sheets of the marked tools, or of the one under the cursor, one after another.

        Parameters: here, take the one under the cursor, whatever is marked.
        """
        numbers = (() if here else self.controller.marked) or (
            (self.table.number,) if self.table.number is not None else ()
        )
        tools = [self.controller.tray.tool(n) for n in sorted(numbers)]
        subjects = tuple(t.subject for t in tools if t is not None)
        if subjects:
            self.measure_asked.emit(subjects)

    def ask_where(self) -> None:
        """Ask where the table goes."""
        if not has_offsets(self.controller.tray.tools) and not any(r.accepted for r in self.model.rows):
            self.say(self.tr("Nothing measured holds yet, so there is nothing new to write."), "due")
            return
        kinds = "Tables (*.csv *.json *.xml)"
        ask_where(self, self.tr("Write the tool table"), "tool-table.csv", kinds, self.write_table)

    def write_table(self, path: Path) -> None:
        """Write the table by its file's ending; says what was written, or why not."""
        c, unwritten = self.controller, self.controller.unwritten
        machine = self._state.machine if self._state else ""

        def written(words: str) -> None:
            c.unwritten = max(0, c.unwritten - unwritten)  # more may have been accepted meanwhile
            self.refresh_tool()
            self.say(words, "good")
            self.table_written.emit(path)

        refused = partial(self.say, tone="bad")
        write_table(self.window(), path, self.model.rows, c.tray.tools, machine, written, refused)

    def say(self, words: str, tone: str) -> None:
        """Say something that concerns the tray."""
        self.said.setText(words)
        self.said_frame.setVisible(bool(words))
        self.said_frame.show_tone(tone)

    def _look_for_doubts(self) -> None:
        c = self.controller
        machine = c.machine
        if machine is not None:
            self._questions = {q.number: q for q in reversed(doubtful(c.tray.tools, machine, c.changer_mm))}
            if not c.tray.marked and not c.touched:
                self.mark_open()

    def _toggle(self) -> None:
        if self.table.number is not None:
            self.controller.change(self.controller.tray.toggled(self.table.number))

    def _on_enter(self, control: bool) -> None:
        c = self.controller
        if c.busy:
            c.cancel()
        elif control and self.table.number is not None:
            c.accept({row.subject} if (row := self.shown.row(self.table.currentIndex().row())) else set())
        elif c.tray.results:
            c.accept()
        elif c.one_by_one:
            self.measure_by_hand(here=True)
        elif c.asking:
            self.asked.emit("machine")
        elif not c.tray.marked and c.unwritten:
            self.asked.emit("store") if c.stores else self.ask_where()
        elif not c.tray.marked:
            self.measure_by_hand()
        elif c.standin_is_home:
            c.measure_on_standin()
        else:
            self.asked.emit("program")

    def _on_second(self) -> None:
        c = self.controller
        if c.tray.results:
            return
        if not c.one_by_one:
            self.show_rehearsal()
        elif c.marked and c.standin_is_home:
            c.measure_on_standin()
        else:
            self.asked.emit("program" if c.marked else "offsets")

    def _on_letter(self, letter: str) -> None:
        c, number = self.controller, self.table.number
        if letter in LETTERS and number is not None:
            chosen = c.tray.marked if number in c.tray.marked else {number}  # an unmarked tool is meant alone
            c.change(c.tray.with_measure(chosen, LETTERS[letter]))
        elif letter == "h":
            self.measure_by_hand()
        elif letter == "u":
            self.mark_open()
        elif letter == "t" and number is not None:
            self._take_suggestion(number)
        elif letter == "delete" and number is not None:
            before = c.tray
            c.change(c.tray.without({number}))
            gone = c.tray != before
            self.say(
                f"T{number} taken out. Ctrl+Z brings it back." if gone else f"T{number} stays: probe and masters do.",
                "due",
            )
        else:
            wish = {"e": "edit", "n": "add", "o": "touch", "p": "program", "w": "ways"}.get(letter)
            if wish:
                self.asked.emit(wish)

    def _take_suggestion(self, number: int) -> None:
        question, tool = self._questions.get(number), self.controller.tray.tool(number)
        if question is None or question.suggestion_mm is None or tool is None:
            return
        changed = tool.model_copy(update={question.field: question.suggestion_mm})
        self.controller.change(self.controller.tray.with_tool(changed, number))

    def _on_progress(self, progress: tuple[int, int, str] | None) -> None:
        self._progress = progress
        self.refresh_tool()
