"""The program and its rehearsal: text, machine from the front and from above, problems by block, time to scrub."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QDragEnterEvent, QDropEvent, QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from nonna.bench.job.unseen import not_looked_at
from nonna.bench.session.tray.machine_picture import close_up, gap_at, nearest_words, whole
from nonna.bench.session.tray.open_tray import OpenTray
from nonna.desk.forms.figure_view import FigureView
from nonna.desk.forms.folding import FoldingRow, Frame
from nonna.desk.forms.widgets import GivesWay, button, card, label
from nonna.desk.look.style import worn
from nonna.desk.pages.tools.program_text import ProgramText
from nonna.desk.pages.tools.strip import RehearsalStrip
from nonna.wording.lengths import length

if TYPE_CHECKING:
    from nonna.shop.cards.machine import Tool
    from nonna.standin.rehearsal import Rehearsal

TEXT_PX, CLOSE_PX, STACKS_PX = 220, 340, 860  #: heights where they stand below each other; below which width
INSET = 104  #: px, the height of the whole machine beside the close-up


class RehearsalPage(QWidget):
    """Shows the tray's program, or any program dropped in; arrows scrub, Esc goes back."""

    closed = Signal()
    program_asked = Signal()  #: the program shall be written to a file

    def __init__(self, controller: OpenTray, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setAcceptDrops(True)
        self._controller = controller
        self._title = label("", "headline")
        self._about = GivesWay("", "quiet", "")
        self.text = ProgramText()
        self.close_up, self._front, self._above = FigureView(), FigureView(captions=False), FigureView(captions=False)
        self._gap, self._gap_words = label("", "figure"), label("", "quiet", wrap=True)
        self.strip = RehearsalStrip()
        self._frame, inside = card(tone="plain", margins=(14, 10, 14, 10), spacing=4)
        self._verdict, self._where = label("", "finding", wrap=True), label("", "", wrap=True)
        inside.addWidget(self._verdict)
        inside.addWidget(self._where)
        self.problems = worn(QListWidget())
        self.problems.setAccessibleName(self.tr("Problems by block"))
        self.problems.setWordWrap(True)
        self.problems.setTextElideMode(Qt.TextElideMode.ElideNone)
        self.problems.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.write = button(
            self.tr("Write the program   Ctrl+E"), self.program_asked.emit, self.tr("Write the program"), main=True
        )
        self._arrange()
        self.strip.moved.connect(self._on_moved)
        self.strip.playing_changed.connect(
            lambda on: self._play.setText(self.tr("Stop   Space" if on else "Play   Space"))
        )
        self.problems.currentItemChanged.connect(self._on_problem)
        controller.planned.connect(self._on_planned)

    def _arrange(self) -> None:
        head = QHBoxLayout()
        head.addWidget(self._title)
        head.addSpacing(12)
        head.addWidget(self._about, 1)
        head.addWidget(button(self.tr("Back   Esc"), self.closed.emit, self.tr("Back to the tray"), focus=False))
        left, column = card(margins=(12, 10, 6, 10))
        column.addWidget(self.text)
        left.setFixedWidth(340)
        middle, column = card(margins=(6, 8, 6, 6), spacing=2)
        row = QHBoxLayout()
        row.setContentsMargins(14, 0, 14, 0)
        row.addWidget(self._gap)
        row.addSpacing(10)
        row.addWidget(self._gap_words, 1, Qt.AlignmentFlag.AlignVCenter)
        column.addLayout(row)
        column.addWidget(self.close_up, 1)
        row = QHBoxLayout()
        for inset in (self._front, self._above):
            inset.setFixedHeight(INSET)
            row.addWidget(inset)
        column.addLayout(row)
        right = QVBoxLayout()
        right.setSpacing(10)
        right.addWidget(self._frame)
        found, column = card(margins=(8, 8, 8, 8))
        column.addWidget(self.problems)
        right.addWidget(found, 1)
        right.addWidget(self.write)
        side = QWidget()
        side.setLayout(right)
        right.setContentsMargins(0, 0, 0, 0)
        side.setFixedWidth(290)
        body = FoldingRow((Frame(left, 0, TEXT_PX), Frame(middle, 1, CLOSE_PX), Frame(side)), stacks_below=STACKS_PX)
        self._below, column = card(margins=(16, 8, 16, 8), spacing=2)
        top = QHBoxLayout()
        self._play = button(self.tr("Play   Space"), self.strip.play, self.tr("Play or stop"), focus=False)
        self.speed = button(f"× {self.strip.speed}", self._on_speed, self.tr("How fast it plays"), focus=False)
        top.addWidget(self._play)
        top.addWidget(self.speed)
        top.addSpacing(10)
        top.addWidget(GivesWay(self.tr("Every tool has room here: its seconds say how long it takes."), "quiet", ""), 1)
        self._clock = label("", "quiet")
        top.addWidget(self._clock)
        column.addLayout(top)
        column.addWidget(self.strip)
        whole = QVBoxLayout(self)
        whole.setContentsMargins(24, 14, 20, 14)
        whole.setSpacing(10)
        whole.addLayout(head)
        whole.addWidget(body, 1)
        whole.addWidget(self._below)

    def show_answer(self) -> None:
        """Show what the controller has: the tray's own program, or one dropped in."""
        c = self._controller
        foreign = c.plans.foreign
        shown = foreign or c.answer
        machine = c.machine
        if shown is None or machine is None:
            self._title.setText(self.tr("No program"))
            self._about.setText(self.tr("Mark tools in the tray, or drop a program here."))
            self.text.show_text("")
            self.problems.clear()
            self._verdict.setText("")
            self._where.setText("")
            return
        found = shown.rehearsal
        self._title.setText(c.plans.foreign_name if foreign else self.tr("Program"))
        dialect = foreign.dialect if foreign else c.tray.dialect
        kind = dialect.words.split(",")[0]
        self._about.setText(f"{len(shown.text.splitlines())} blocks, {kind} dialect, {found.duration_s:.0f} s")
        self.text.show_text(shown.text)
        self.strip.show_course(shown.course, machine.setter.trigger_plane_mm if machine.setter else 0.0)
        self.problems.clear()
        for p in found.problems:
            row = QListWidgetItem(f"Block {p.line}{f', T{p.tool}' if p.tool else ''}: {p.message}  ({p.code})")
            row.setData(Qt.ItemDataRole.UserRole, p.line)
            self.problems.addItem(row)
        if not found.problems:
            for number, measured in found.results.items():
                said = [
                    f"{title} {length(value, c.units)}"
                    for title, value in (("L", measured["length_mm"]), ("Ø", measured["diameter_mm"]))
                    if value
                ]
                row = QListWidgetItem(f"T{number}: {', '.join(said)}")
                row.setData(Qt.ItemDataRole.UserRole, shown.course.line_of(number) if shown.course else 0)
                self.problems.addItem(row)
        stops = sum(p.severity == "stop" for p in found.problems)
        tone = "bad" if stops else "due" if found.problems else "good"
        self._frame.show_tone(tone)
        self._verdict.show_tone(tone if tone != "good" else "")
        warnings = len(found.problems) - stops
        words = f"{stops} {'stop' if stops == 1 else 'stops'}, {warnings} {'warning' if warnings == 1 else 'warnings'}."
        self._verdict.setText(words if found.problems else self.tr("Rehearsed: clean."))
        self._where.setText(
            self.tr("Nothing that stands in the machine is met.")
            if not found.problems and found.figure is not None
            else " ".join(
                w
                for w in (
                    self.tr("Each tool at its stated, longest and shortest length."),
                    nearest_words(shown.course),
                    not_looked_at(machine, _tools_of(found, c.tray.tools)),
                )
                if w
            )
            if not found.problems
            else self.tr("The first one is the one to mend: what follows may come of it.")
        )
        self.write.setVisible(foreign is None)
        self._below.setVisible(found.figure is None)  # there is nothing to scrub
        for view in (self._front, self._above) if found.figure is not None else ():
            view.show_figure(None)
        if found.figure is not None:
            self.close_up.show_figure(found.figure)
        self._on_moved(self.strip.at)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Arrows scrub wherever the keyboard is."""
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown, Qt.Key.Key_Space):
            self.strip.keyPressEvent(event)
        else:
            super().keyPressEvent(event)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """A program may be dropped in."""
        if event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Rehearse what was dropped."""
        for url in event.mimeData().urls()[:1]:
            self._controller.plans.open_program(Path(url.toLocalFile()))

    def _on_planned(self) -> None:
        if self.isVisible():
            self.show_answer()

    def _on_moved(self, at: int) -> None:
        shown, machine = self._controller.plans.foreign or self._controller.answer, self._controller.machine
        here = self.strip.point
        if shown is None or machine is None or shown.course is None or here is None:
            return
        path, kinds = shown.course.path, {tool.number: tool.kind for tool in self._controller.tray.tools}
        self.close_up.show_figure(close_up(machine, shown.course, at, here, kinds))
        front, above = whole(machine, shown.course, at, here, kinds, shown.rehearsal.problems)
        self._front.show_figure(front)
        self._above.show_figure(above)
        gap_mm, words = gap_at(here, machine)
        self._gap.setText("" if gap_mm is None else length(gap_mm, self._controller.units))
        self._gap_words.setText(words)
        self.text.mark_line(max(1, here.line))
        held = f"T{here.tool}" if here.tool else self.tr("no tool")
        self._clock.setText(
            f"block {here.line} of {len(shown.text.splitlines())} · {here.at_s:.0f} s of {path[-1].at_s:.0f} s · "
            f"{held} · {here.way}"
        )

    def _on_speed(self) -> None:
        self.speed.setText(f"× {self.strip.next_speed()}")

    def _on_problem(self, item: QListWidgetItem | None) -> None:
        shown = self._controller.plans.foreign or self._controller.answer
        if item is None or shown is None or shown.course is None:
            return
        line = int(item.data(Qt.ItemDataRole.UserRole))
        self.strip.go(shown.course.path.index_of_line(line))
        self.text.mark_line(line)


def _tools_of(found: Rehearsal, tools: Sequence[Tool]) -> list[Tool]:
    """Return the tools that a rehearsed program touched with."""
    touched = {contact.tool for contact in found.contacts} | set(found.results)
    return [tool for tool in tools if tool.number in touched]
