"""What happens in the tray: marks, edits, undo, planning, measuring, accepting. Knows no widget."""

from __future__ import annotations

from collections.abc import Callable, Collection, Sequence
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING

from nonna.bench.founding.open_questions import questions_of
from nonna.bench.job.arriving import arrivals
from nonna.bench.job.measuring import judged_of, must_be_clean, on_standin, planned_now, read_back
from nonna.bench.job.planning import calibrated, look_at, tried_on
from nonna.bench.job.programs_run import note_run
from nonna.bench.session.signals import Signal
from nonna.bench.session.signer import Signer
from nonna.bench.session.tray.control_back import ControlBack
from nonna.bench.session.tray.plans import Plans, Wanted
from nonna.bench.session.tray.presetter_lines import PresetterLines
from nonna.bench.sheet.judging import LENGTHS, sign_all
from nonna.bench.tray.table_change import TableChange
from nonna.bench.tray.tool_identity import taken_apart
from nonna.bench.tray.tray import Tray
from nonna.bench.undo import History
from nonna.errors import NonnaError
from nonna.procedures.listing import measuring
from nonna.shop.cards.machine import Tool
from nonna.shop.links.history import Standing
from nonna.stations.kind import kind_of
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.bench.book.chain import Receipt
    from nonna.bench.book.results_that_hold import HeldResults
    from nonna.bench.job.planning import Answer
    from nonna.bench.session.front import Running, Task
    from nonna.bench.session.tray.tray_host import TrayHost
    from nonna.bench.sheet.judging import Judged
    from nonna.bench.tray.tool_identity import Doubted
    from nonna.programs.writing.results import Touched
    from nonna.shop.cards.machine import Machine
    from nonna.shop.links.subjects import Subject
    from nonna.stations.tool_fields import ToolFields
    from nonna.stations.touched_tools import ToolPlan

BY_HAND_MINUTES = 2.7  #: a tool, until somebody says otherwise


class OpenTray:
    """One machine's tray. Views listen to ``changed`` and call the methods."""

    def __init__(self, host: TrayHost) -> None:
        self._host, self._front = host, host.front
        self.changed: Signal[[]] = Signal()
        self.planned: Signal[[]] = Signal()  #: a plan with its rehearsal is there, or is no longer
        self.said: Signal[[str, str]] = Signal()  #: message, tone
        self.progress: Signal[[tuple[int, int, str] | None]] = Signal()  #: (done, of, words), None at the end
        self.exchanged: Signal[[]] = Signal()  #: `doubts` may be other tools than their records are of
        self.tray = Tray()
        self.plans = Plans(self._front, self._wanted, self._stands)
        self.plans.planned.connect(self.planned.emit)
        self.plans.said.connect(self.said.emit)
        self.by_hand_minutes = BY_HAND_MINUTES
        self.units = Units.MM
        self.unwritten = 0  #: lengths signed here since the table was last written
        self._root: Path | None = None  #: of the shop and machine these tools belong to
        self.history: History[Tray] = History()
        self.doubts: tuple[Doubted, ...] = ()
        self._measuring: Running | None = None
        self._accepted: tuple[Judged, ...] = ()  #: being signed
        self.control = ControlBack(host, self)
        self._left_out = ""  #: what of a run could not be taken, to be said with what was
        self.arrivals = PresetterLines(self._front)
        self.arrivals.changed.connect(self.changed.emit)
        self.arrivals.said.connect(self.said.emit)
        self.arrivals.came.connect(self._on_came)
        self.arrivals.judged.connect(self._on_arrived)
        host.tables.written.connect(self.load_from_site)
        host.tables.refused.connect(self._on_unwritten)
        self.signer = Signer(self._front)
        self.signer.signed.connect(self._on_signed)
        self.signer.refused.connect(lambda e: self.said.emit(f"Not signed, nothing is lost: {e.message}", "bad"))

    @property
    def answer(self) -> Answer | None:
        """The plan of the marked tools with its rehearsal, once it is there."""
        return self.plans.answer

    def _wanted(self) -> Wanted | None:
        site, state = self._host.site, self._host.state
        if site is None or state is None or self.one_by_one:
            return None
        return Wanted(self.tray, site.machine, state.results, site.folder)

    def _stands(self) -> tuple[Callable[[], Machine], Tray, HeldResults] | None:
        """Return what gives the machine any program is tried on, the tray and the book, None while loading."""
        site, state = self._host.site, self._host.state
        if site is None or state is None:
            return None
        machine, results = site.machine, state.results
        return (lambda: tried_on(machine, results)), self.tray, results

    @property
    def busy(self) -> bool:
        """Whether a job is being measured, or results are being signed."""
        return (self._measuring is not None and self._measuring.busy) or self.signer.busy

    @property
    def marked(self) -> tuple[int, ...]:
        """Marked tools by number."""
        return tuple(sorted(self.tray.marked))

    @property
    def machine(self) -> Machine | None:
        """The machine as it was calibrated last, or as its papers have it, to be looked at; None while loading."""
        site, state = self._host.site, self._host.state
        if site is None or state is None:
            return None
        try:
            return calibrated(site.machine, state.known)
        except NonnaError:
            return site.machine  # a plan is refused in words, see `_wanted`

    @property
    def asking(self) -> bool:
        """Whether nothing can be planned before somebody says where the machine's setter stands."""
        site = self._host.site
        return site is not None and site.machine.setter is None and bool(questions_of(site.machine.model_dump()))

    @property
    def one_by_one(self) -> bool:
        """Whether the machine shown measures each tool on a sheet of its own: nothing is planned there."""
        each = self._host.state.kind.loop.each if self._host.state is not None else None
        return each is not None and each.procedure != measuring("length")

    @property
    def by_program(self) -> bool:
        """Whether those sheets can also be filled by a program of the machine's own kind."""
        state = self._host.state
        return self.one_by_one and state is not None and state.kind.tool_program() is not None

    @property
    def tool_fields(self) -> ToolFields:
        """What is asked of a tool of the machine shown."""
        machine = self._host.site.machine if self._host.site is not None else None
        return kind_of(machine.kind if machine else "").asks_of_tools(machine)

    @property
    def changer_mm(self) -> float:
        """The largest diameter the machine's changer takes, 0 where nobody said."""
        site = self._host.site
        return site.gear.changer_mm(site.machine.name) if site is not None else 0.0

    @property
    def standin_is_home(self) -> bool:
        """Whether Enter may measure on the stand-in: only in an invented shop, never where real tools hang on it."""
        return self._host.site is not None and self._host.site.shop.invented

    @property
    def stores(self) -> bool:
        """Whether the card of the machine's control says how it stores anything."""
        card = self._host.site.machine.control if self._host.site is not None else None
        return card is not None and bool(card.stores)

    @property
    def touched(self) -> bool:
        """Whether anything was changed here yet."""
        return self.history.can_undo

    @property
    def results(self) -> HeldResults | None:
        """What holds on the station shown, None while loading."""
        return self._host.state.results if self._host.state is not None else None

    def plan_of(self, tool: Tool) -> ToolPlan | None:
        """Return a tool's plan: the job's, or one made for a look at it."""
        machine, state = self.machine, self._host.state
        planned = self.answer.of(tool.number) if self.answer else None
        if planned is not None and not self.plans.busy:
            return planned
        return None if machine is None or state is None else look_at(self.tray, tool.number, machine, state.known)

    def load_from_site(self) -> None:
        """Take the machine's tools as the shop's file has them; another shop begins afresh."""
        site = self._host.site
        if site is None:
            return
        if not self.is_here:
            self._root, self.tray, self.unwritten = site.folder.root / site.key, Tray(), 0
            self.history.clear()
        if self._follow():
            self.changed.emit()
            self.plans.soon()

    @property
    def is_here(self) -> bool:
        """Whether the tray is of the machine shown: not before it was loaded."""
        site = self._host.site
        return site is not None and site.folder.root / site.key == self._root

    def _follow(self) -> bool:
        """Have the tray hold what the tables hold, its history too; says whether it held anything else."""
        site, tray = self._host.site, self.tray
        if site is None or (site.tools, site.wishes) == (tray.tools, tray.wishes):
            return False
        theirs = TableChange.between(tray, site)
        self.tray = tray.loaded(site.tools, site.wishes)
        if theirs:
            self.history.change_all(theirs.laid_over)
        return True

    def change(self, tray: Tray, *, undo: bool = True) -> None:
        """Take a changed tray over; what was before can be had back."""
        if tray == self.tray:
            return
        self.doubts = ()
        if undo:
            self.history.remember(self.tray)
            tray, self.doubts = taken_apart(self.tray, tray, self._standing())
        before, self.tray = self.tray, tray
        plan_changed = replace(tray, results=()) != replace(before, results=())
        if self.is_here and (change := TableChange.between(before, tray)):
            self._host.tables.put(change)
            self._follow()
        self.changed.emit()
        if plan_changed:
            self.plans.soon()
        if self.doubts:
            self.exchanged.emit()

    def _standing(self) -> Standing:
        return self._host.state.standing if self._host.state is not None else Standing()

    def _on_unwritten(self, error: NonnaError) -> None:
        self.load_from_site()
        self.said.emit(error.message, "bad")

    def undo(self) -> None:
        """Go back one change; what is signed stays."""
        if not self.history.can_undo:
            self.said.emit("Nothing to undo here. A signed record is taken back in the book (F4).", "plain")
            return
        self.change(self.history.undo(self.tray), undo=False)
        self.said.emit("Undone. Ctrl+Y does it again.", "plain")

    def redo(self) -> None:
        """Do again what was undone last."""
        if self.history.can_redo:
            self.change(self.history.redo(self.tray), undo=False)
        else:
            self.said.emit("Nothing was undone here.", "plain")

    def measure_on_standin(self) -> None:
        """Measure the marked tools on the stand-in machine; a program that does not rehearse clean is not run."""
        if self.busy:
            return
        answer = None if self.one_by_one else self.answer  # what another station was planned for is not run here
        site, state, tray = self._host.site, self._host.state, self.tray
        if site is None or state is None or not (tray.marked if self.one_by_one else answer):
            by = " by program" if self.one_by_one else ""
            self.said.emit(f"Mark tools with Space first; then F7 measures them{by} on the stand-in.", "plain")
            return
        try:
            if answer is not None:
                must_be_clean(answer)
        except NonnaError as error:
            self.said.emit(error.message, "bad")
            return
        world, results = self._host.world(), state.results

        def run(work: Task) -> tuple[Judged, ...]:
            def told(done: int, of: int, words: str) -> None:
                work.check()
                work.tell((done, of, words))

            plan = answer.plan if answer is not None else planned_now(site, tray, tray.marked, results)
            return on_standin(plan, site, world, tray.go_on, told)

        self._start(run)

    def listen(self) -> None:
        """Take tools from the shop's presetter, line by line, or stop that."""
        site, tray = self._host.site, self.tray
        if self.arrivals.close() or site is None or self.busy:
            return
        wide = frozenset(t.number for t in tray.tools if "diameter" in tray.measures_of(t.number))
        marked, world = self.marked, self._host.world if site.shop.invented else None
        self.arrivals.find(lambda: arrivals(site, tray.tools, marked, wide), world)

    def _on_came(self, number: int) -> None:
        """A tool that only the presetter knew comes into the tray with its first line."""
        now = self.arrivals.now
        if self.tray.tool(number) is None and now is not None:
            self.change(self.tray.with_tool(now.tools[number].model_copy(update={"length_mm": None})))

    def _on_arrived(self, row: Judged) -> None:
        self.change(self.tray.arrived(row, self._standing()), undo=False)

    def take_results(self, touches: Sequence[Touched], source: str) -> None:
        """Take what a machine measured for the marked tools, and judge it: lengths, or what each tool's sheet takes."""
        site = self._host.site
        if site is None or self.busy:
            return
        if self.one_by_one and not self.by_program:
            self.said.emit("Tools are measured on their sheets here: F8 on a sheet takes a readings file.", "due")
            return
        entries = self._standing()
        try:
            found = read_back(touches, self.answer, site)
        except NonnaError as error:
            self.said.emit(error.message, "bad")
            return

        def judged(_: object) -> tuple[Judged, ...]:
            note_run(site.folder, site.machine)
            return judged_of(found, site, source, entries)

        self._start(judged)

    def take_judged(self, judge: Callable[[Task], tuple[Judged, ...]], left_out: str) -> None:
        """Judge what came back of a run behind the screen; what of it is left out is said with the results."""
        self._left_out = left_out
        self._start(judge)

    def cancel(self) -> bool:
        """Stop measuring, or listening to the presetter; says whether anything was under way."""
        if self._measuring is None:
            return self.arrivals.close()
        self._measuring.cancel()
        return True

    def accept(self, subjects: Collection[Subject] | None = None) -> None:
        """Sign results: all that are sound, or those named."""
        site = self._host.site
        rows = self.tray.sound() if subjects is None else self.tray.of(subjects)
        if site is None or not rows:
            words = "Nothing here can be accepted all at once. Look at each, Ctrl+Enter accepts that one."
            self.said.emit(words, "due")
            return
        if not self.signer.busy:
            self._accepted, operator = rows, self._host.operator
            self.signer.sign(lambda: sign_all(rows, operator), site.folder.book)

    def _on_signed(self, receipts: tuple[Receipt, ...]) -> None:
        rows = self._accepted
        self.tray = self.tray.signed(rows)
        left = self.tray.results
        self.history.change_all(lambda tray: replace(tray, results=()))
        self.unwritten += sum(r.name in LENGTHS for r in rows)
        self.plans.soon()
        self._host.look_again()
        self.changed.emit()
        more = f" {len(left)} wait: look at each." if left else ""
        first, last = receipts[0].number, receipts[-1].number
        names = f"record {first}" if first == last else f"records {first} to {last}"
        self.said.emit(f"Signed as {names}.{more}", "good" if not left else "due")

    def _start(self, run: Callable[[Task], tuple[Judged, ...]]) -> None:
        self._measuring = self._front.behind(
            run, self._on_measured, self._on_stopped, progress=self.progress.emit,
            cancelled=lambda: self._on_stopped(NonnaError("cancelled", "Stopped. Nothing was taken.")),
        )  # fmt: skip
        self.changed.emit()

    def _on_measured(self, rows: tuple[Judged, ...]) -> None:
        self._measuring = None
        self.progress.emit(None)
        self.change(replace(self.tray, results=rows))
        failed = [r for r in rows if r.failed]
        doubtful = [r for r in rows if r.doubtful]
        count = len(rows) - len(failed)
        some = f"{count} result{'' if count == 1 else 's'}."
        words = f"{some} Enter accepts those that are sound, Ctrl+Z throws them away."
        if failed:
            where = failed[0].site.called(failed[0].subject) if failed[0].site else failed[0].subject.words
            words = f"{where}: {failed[0].failed} " + words
        words, left, self._left_out = f"{words} {self._left_out}".strip(), self._left_out, ""
        self.said.emit(words, "bad" if failed else "due" if doubtful or left else "good")

    def _on_stopped(self, error: NonnaError) -> None:
        self._measuring = None
        self.progress.emit(None)
        self.changed.emit()
        self.said.emit(error.message, "due")
