"""The sheet view: steps, drawing, numbers over the tape."""

from __future__ import annotations

from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtGui import QResizeEvent, QShowEvent
from PySide6.QtWidgets import (
    QBoxLayout,
    QHBoxLayout,
    QStackedLayout,
    QVBoxLayout,
    QWidget,
)

from nonna.bench.session.sheet.open_sheet import OpenSheet
from nonna.desk.forms.figure_view import FigureView
from nonna.desk.forms.file_dialog import ask_file
from nonna.desk.forms.folding import FoldingRow, Frame
from nonna.desk.forms.widgets import ANY_PX, Card, ClearArea, GivesWay, button, card, label, scrolled
from nonna.desk.pages.sheet.numbers import NumbersPanel
from nonna.desk.pages.sheet.setup_form import SetupForm
from nonna.desk.pages.sheet.steps import StepsPanel
from nonna.desk.pages.sheet.tape import TapeStrip
from nonna.wording.lengths import Units, length

NARROW_PX, TITLE_PX, HEAD_PX = 960, 190, 720  #: below the last one the keys stand under the title
STEPS_PX, NUMBERS_PX, MARGIN_PX, GAP_PX = 252, 420, 20, 12
LEAST_FORM_PX = 340  #: width of the form beside the numbers
FORM_PX = 320  #: height of the form where it stands between the others
DRAWING_PX = 260  #: a narrower drawing cuts its own words and numbers


class SheetView(QWidget):
    """One open sheet on the screen. Making and dressing one takes long, so it is lent to one sheet after another."""

    left = Signal()  #: what is on its tape waits

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.controller: OpenSheet
        self.steps, self._numbers, self.tape = StepsPanel(), NumbersPanel(), TapeStrip()
        self.figure, self._form_area = FigureView(), ClearArea()
        self.form: SetupForm | None = None  #: made when first asked for
        self._source = label("", "strong", tone="accent")
        self._notice, inside = card(tone="due", margins=(14, 8, 14, 8), spacing=0)
        self._notice_words = label("", wrap=True)
        self._standin = button(
            self.tr("Stand-in F7"),
            lambda: self.controller.run_standin(),
            self.tr("Take readings from the stand-in"),
            focus=False,
        )
        inside.addWidget(self._notice_words)
        self._middle = QStackedLayout()
        self._striking = -1
        self._behind = False  #: it shows something older
        self.live_url = ""  #: of the indicator; "" is the stand-in's
        self._arrange()
        self._numbers.entered.connect(self._on_entered)
        self._numbers.taken_as_typed.connect(lambda: self._clear_if(self.controller.take_as_typed()))
        self._numbers.strike_asked.connect(self.strike_last)
        self._numbers.undo_asked.connect(lambda: self.controller.undo())
        self._numbers.redo_asked.connect(lambda: self.controller.redo())
        self._numbers.reason_given.connect(self._on_reason)
        self._numbers.reason_left.connect(self._numbers.hide_reason)
        self.tape.strike_asked.connect(self._ask_strike)
        self.tape.again_asked.connect(self._read_again)
        self.tape.left.connect(self.take_keyboard)
        self._numbers.tape_asked.connect(self.tape.take_keyboard)
        self._hear(False)  # until it shows its first sheet

    def take(self, controller: OpenSheet, front: QObject) -> None:
        """Show this sheet from now on. One view shows one sheet at a time: `let_go` comes in between."""
        self.controller, self._front = controller, front
        self._hear(True)
        front.setParent(self)
        controller.changed.connect(self.refresh)
        controller.said.connect(self._numbers.say)
        controller.lived.connect(self._on_live)
        controller.standin.working.connect(self._numbers.show_progress)
        self._title.setText(controller.session.procedure.title)
        self.refresh()

    def let_go(self) -> None:
        """End with the sheet shown: nothing of it is left here for the next one."""
        c = self.controller
        for signal in (c.changed, c.said, c.lived, c.standin.working):
            signal.disconnect()
        self._front.deleteLater()  # with all that is under way
        self._hear(False)
        self._striking = -1
        self._numbers.clear()
        self._middle.setCurrentWidget(self.figure)
        self._share_out()
        if self.form is not None:
            self.form.deleteLater()  # not taken out first: that has it dressed once more
            self.form = None

    def _hear(self, on: bool) -> None:
        """Between two sheets a late key or click has nobody to go to."""
        self._numbers.blockSignals(not on)
        self.tape.blockSignals(not on)

    @property
    def numbers(self) -> NumbersPanel:
        """The panel that readings are typed into."""
        return self._numbers

    @property
    def form_open(self) -> bool:
        """Whether the form stands where the drawing was."""
        return self._middle.currentWidget() is self._form_area

    def resizeEvent(self, event: QResizeEvent) -> None:
        """A long title takes two lines where there is little room, and the drawing gives way to the numbers."""
        self._title.setWordWrap(self.width() < NARROW_PX)
        self._share_out()
        super().resizeEvent(event)

    def _share_out(self) -> None:
        """Give the middle what the columns beside it leave; where that is too little, to the form or to the numbers."""
        room = self.width() - 2 * MARGIN_PX - STEPS_PX - NUMBERS_PX - 2 * GAP_PX
        narrow = room < DRAWING_PX
        stacked = room < -GAP_PX or (self.form_open and room + STEPS_PX < LEAST_FORM_PX)
        self._steps_area.setVisible(not (narrow and self.form_open))
        self._card.setVisible(not narrow or self.form_open)
        self._numbers.setMinimumWidth(min(NUMBERS_PX, self.width() - 2 * MARGIN_PX))
        if stacked:
            self._numbers.setMaximumWidth(ANY_PX)
        else:
            self._numbers.setFixedWidth(NUMBERS_PX + (room + GAP_PX if narrow and not self.form_open else 0))
        self._stack(stacked)

    def _stack(self, on: bool) -> None:
        """In a small window the caution and the readings stand first, what the hands do below; head and tape scroll
        along.
        """
        down = QBoxLayout.Direction.TopToBottom
        if on is (self._body.direction() is down):
            return
        self._body.setDirection(down if on else QBoxLayout.Direction.LeftToRight)
        order = (self._numbers, self._card, self._steps_area) if on else (self._steps_area, self._card, self._numbers)
        for widget in order:
            self._body.removeWidget(widget)
            self._body.addWidget(widget, 1 if widget is self._card else 0)
        if on:
            self._body.insertWidget(0, self.steps.caution)
        else:
            self.steps.take_caution_back()
        self._steps_area.setMinimumWidth(0 if on else STEPS_PX)
        self._steps_area.setMaximumWidth(ANY_PX if on else STEPS_PX)
        self._card.setMinimumHeight(FORM_PX if on else 0)
        for area in (self._steps_area, self._around, self._numbers.below):
            area.unroll(on)

    def _arrange(self) -> None:
        self._title = label("", "headline")
        self._title.setMinimumWidth(TITLE_PX)
        self._about = GivesWay("", "quiet", "")
        named, keys = QWidget(), QWidget()
        left, head = QHBoxLayout(named), QHBoxLayout(keys)
        for layout in (left, head):
            layout.setContentsMargins(0, 0, 0, 0)
        left.addWidget(self._title)
        left.addSpacing(12)
        left.addWidget(self._about, 1)
        left.addWidget(self._source)
        head.addStretch()
        head.addWidget(self._standin)
        for words, pressed, name in (
            ("File F8", self.choose_file, "Take readings from a file"),
            ("Setup F9", self.toggle_setup, "Show what this sheet starts from"),
        ):
            head.addWidget(button(words, pressed, name, focus=False))
        self._speed = button("", self._toggle_speed, "Speed of the stand-in", focus=False)
        head.addWidget(self._speed)
        self._card = Card()
        self._card.setLayout(self._middle)
        self._middle.addWidget(self.figure)
        # A long form scrolls instead of making the window taller.
        self._form_area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._middle.addWidget(self._form_area)
        self._steps_area = scrolled(self.steps, STEPS_PX)
        self._numbers.setFixedWidth(NUMBERS_PX)
        body = QWidget()
        self._body = QBoxLayout(QBoxLayout.Direction.LeftToRight, body)
        self._body.setContentsMargins(0, 0, 0, 0)
        self._body.setSpacing(GAP_PX)
        for widget, stretch in ((self._steps_area, 0), (self._card, 1), (self._numbers, 0)):
            self._body.addWidget(widget, stretch)
        self._around = scrolled(body)  # on a small screen the middle scrolls; head and tape stay
        column = QVBoxLayout(self)
        column.setContentsMargins(MARGIN_PX, 14, MARGIN_PX, 14)
        column.setSpacing(10)
        column.addWidget(FoldingRow((Frame(named, 1), Frame(keys)), stacks_below=HEAD_PX))
        column.addWidget(self._notice)
        column.addWidget(self._around, 1)
        column.addWidget(self.tape)

    def refresh(self) -> None:
        """Paint everything from the controller's state."""
        c = self.controller
        self._behind = False
        shown = c.picture()
        self.steps.show_steps(shown.steps, shown.caution)
        self.figure.show_figure(shown.figure)
        self._numbers.show_picture(shown, c.units, c.running)
        keys = "" if c.receipt else " · Backspace strikes the last · ↑ goes into the tape · Ctrl+Z undoes"
        if shown.again:
            keys = " · Ctrl+Enter signs it as it is · Ctrl+Z undoes"
        self.tape.show_tape(shown.tiles, "" if c.running or c.receipt else shown.wanted, f"{shown.tape_note}{keys}")
        self._source.setText(
            {"typed": "typed in", "indicator": "live, Enter takes it"}.get(c.source, f"from the {c.source}")
        )
        self._speed.setText(self.tr("Fast forward") if c.standin.fast else self.tr("Real speed"))
        notice = c.notices.words(c)
        self._notice.setVisible(bool(notice) and not c.receipt)
        self._notice_words.setText(notice)
        real = not c.site.shop.invented
        self._standin.setText(self.tr("Rehearse F7") if real else self.tr("Stand-in F7"))
        name = self.tr("Rehearse on the stand-in: never signed") if real else self.tr("Take readings from the stand-in")
        self._standin.setAccessibleName(name)
        way = c.session.procedure.variant(c.session.facts.variant)
        variant = way.title if way else ""
        self._about.setText(" · ".join(w for w in (c.called, variant) if w))
        if self.form_open and self.form is not None:
            self.form.refresh()

    def show_units(self, units: Units) -> None:
        """Change the unit; what is being typed stays."""
        self.controller.units = units
        if self.isVisible():
            self.refresh()
        else:
            self._behind = True

    def showEvent(self, event: QShowEvent) -> None:
        """What changed while the sheet was behind is shown when it comes to the front."""
        super().showEvent(event)
        if self._behind:
            self.refresh()

    def choose_file(self) -> None:
        """Ask for a readings file."""
        kinds = self.tr("Readings (*.json);;All files (*)")
        dialog = ask_file(self, self.tr("Readings file"), kinds, lambda path: self.controller.from_file(path))
        dialog.finished.connect(self._on_chosen)  # a method: it is let go with the sheet

    def toggle_setup(self) -> None:
        """Drawing or form."""
        if self.form_open:
            self._middle.setCurrentWidget(self.figure)
            self._share_out()
            self._numbers.reading.setFocus()
            return
        if self.form is None:
            self.form = SetupForm(self.controller)
            self._form_area.setWidget(self.form)
        self.form.refresh()
        self._middle.setCurrentWidget(self._form_area)
        self._share_out()
        self.form.setFocus()
        self.form.focusNextChild()

    def take_keyboard(self) -> None:
        """Give the keyboard to the line that readings are typed into."""
        self._numbers.reading.setFocus()

    def toggle_live(self) -> None:
        """Read the indicator live, or stop."""
        if not self.controller.has_dial:
            self._numbers.say(self.tr("This sheet has no indicator."), "plain")
        elif not self.controller.stop_live():
            self.controller.go_live(self.live_url)

    def strike_last(self) -> None:
        """Ask why the last reading that counts is to be struck out."""
        live = [i for i, row in enumerate(self.controller.session.rows) if not row.struck]
        if live and self.controller.receipt is None:
            self._ask_strike(live[-1])

    def back(self) -> None:
        """Esc: stop the run, leave a question, leave the form, or leave the sheet, in that order."""
        if self._numbers.asking:
            self._numbers.hide_reason()
            return
        if self.controller.standin.cancel() or self.controller.correct():
            return
        if self.form_open:
            self.toggle_setup()
        else:
            self.left.emit()

    def _read_again(self, index: int) -> None:
        """Strike a reading, so that its place is the next one that is read."""
        if self.controller.strike(index, self.tr("read again")):
            self.take_keyboard()

    def _ask_strike(self, index: int) -> None:
        if self.controller.receipt is None:
            self._striking = index
            self._numbers.ask_reason()

    def _on_reason(self, reason: str) -> None:
        if self.controller.strike(self._striking, reason):
            self._numbers.hide_reason()

    def _on_chosen(self, _result: int) -> None:
        self._numbers.reading.setFocus()

    def _on_entered(self, text: str) -> None:
        self._clear_if(self.controller.enter(text))

    def _clear_if(self, taken: bool) -> None:
        if taken:
            self._numbers.reading.clear()
        else:
            self._numbers.reading.selectAll()  # what is typed next takes its place

    def _on_live(self, value_mm: float) -> None:
        c = self.controller
        if c.session.next_slot is not None and c.receipt is None:
            self._numbers.reading.setPlaceholderText(length(value_mm, c.units, unit=False))

    def _toggle_speed(self) -> None:
        self.controller.standin.fast = not self.controller.standin.fast
        self.refresh()
