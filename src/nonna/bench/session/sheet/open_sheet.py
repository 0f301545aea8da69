"""What happens on a sheet: entries, questions, strikes, undo, sources, signing."""

from __future__ import annotations

import secrets
from collections.abc import Callable, Sequence
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from nonna.bench import clock
from nonna.bench.book.chain import Receipt
from nonna.bench.session.sheet.dial import Dial
from nonna.bench.session.sheet.notices import Notices
from nonna.bench.session.sheet.one_read import OneRead
from nonna.bench.session.sheet.picture import SheetPicture, picture
from nonna.bench.session.sheet.standin_run import NO_TRIGGER, StandinRun
from nonna.bench.session.sheet.tape_keeper import TapeKeeper
from nonna.bench.session.sheet.thermometer import Thermometer
from nonna.bench.session.sheet.turned_keys import TurnedKeys
from nonna.bench.session.signals import Signal
from nonna.bench.session.signer import Signer
from nonna.bench.sheet.changed_start import with_master, with_way
from nonna.bench.sheet.drafts import Started
from nonna.bench.sheet.instruments import instrument_of, not_meant
from nonna.bench.sheet.opening import Opening
from nonna.bench.sheet.signing import STANDIN, is_rehearsal, recorded, sign
from nonna.bench.sheet.standin_jobs import job_of, turned_by_hand
from nonna.bench.station.site import Site
from nonna.bench.undo import History
from nonna.errors import NonnaError
from nonna.procedures.doubt import Question, doubted
from nonna.procedures.entry import parse_length
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.from_file import with_file
from nonna.procedures.session import TYPED, Session, SetupField
from nonna.shop.links.judge import LinkState
from nonna.shop.texts.given import Plain
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.bench.session.front import Front
    from nonna.procedures.instrument_line import LineReading
    from nonna.standin.wishes import Measured
    from nonna.standin.world import World


class OpenSheet:
    """One open sheet. Views listen to ``changed`` and call the methods."""

    def __init__(
        self, front: Front, site: Site, started: Started, operator: str, units: Units, links: Sequence[LinkState] = (),
        world: Callable[[], World] | None = None,
    ) -> None:  # fmt: skip
        self.front = front
        self.changed: Signal[[]] = Signal()
        self.said: Signal[[str, str]] = Signal()  #: message, tone: what went wrong with an entry
        self.signed: Signal[[Receipt]] = Signal()
        self.left: Signal[[]] = Signal()
        self.lived: Signal[[float]] = Signal()  #: what the live indicator shows, mm
        self.site, self.opening, self.operator, self.units = site, started.opening, operator, units
        self.session = started.session
        self.called = site.called(self.session.facts.subject)  #: what is measured, as it is called here
        self.question: Question | None = None
        self.receipt: Receipt | None = None
        self.source = self.session.rows[-1].source if self.session.rows else TYPED
        self.program = started.program
        self.in_round = False  #: signing goes straight on to the next sheet
        self._world, self.links = world, links
        self.keeper = TapeKeeper(front, started.place, self.said)
        self.changed.connect(self._keep)
        self.draft = started.draft or secrets.token_hex(12)  #: its record knows the tape by it, never signed twice
        self._keys, self._typed_mm = TurnedKeys(), 0.0
        self.history: History[tuple[Session, Opening]] = History()
        self.thermometer = Thermometer(self)
        self.reads = OneRead(front)
        self.reads.failed.connect(self._fail)
        self.standin = StandinRun(front)
        self.standin.done.connect(self._on_standin_done)
        self.standin.failed.connect(lambda e: self._fail(NO_TRIGGER if e.code == "no-trigger" else e.message))
        self.signer = Signer(front)
        self.signer.signed.connect(self._on_signed)
        self.signer.refused.connect(lambda e: self.said.emit(f"Not signed, nothing is lost: {e.message}", "bad"))
        self.dial = Dial(front)
        self.dial.shown.connect(self._on_live)
        self.dial.begun.connect(self._on_live_begun)
        self.dial.refused.connect(self._fail)
        self.dial.lost.connect(self._fail)
        self.dial.unread.connect(lambda words: self.said.emit(words, "due"))
        self.notices = Notices()
        self.notices.found.connect(self.changed.emit)
        self.notices.look(self)

    @property
    def running(self) -> bool:
        """Whether the stand-in is at work."""
        return self.standin.running

    @property
    def busy(self) -> bool:
        """Whether nothing may be changed: the stand-in is at work, or the record is being signed."""
        return self.running or self.signer.busy or self.reads.busy

    @property
    def unsigned(self) -> bool:
        """Whether there is something on the tape that no record holds yet."""
        return self.receipt is None and not all(row.from_book for row in self.session.rows)

    def _keep(self) -> None:
        card = self.opening.cards.get(self.session.procedure.role, {})
        tape = (self.session, str(card.get("id", "")), self.program)
        self.keeper.keep(tape if self.unsigned else None, id=self.draft, station=self.site.machine.name)

    def picture(self) -> SheetPicture:
        """Return what to paint."""
        receipt = f"Signed as record {self.receipt.number}." if self.receipt else ""
        shown = picture(self.session, self.units, self.question, receipt, is_rehearsal(self.site, self.session))
        first = not self.session.rows and self.thermometer.asked
        if not (asking := self.thermometer if first else self._keys).asked:
            return shown
        todo = asking.todo or shown.todo
        return replace(shown, prompt=asking.prompt, expected=asking.expected, todo=todo, wanted="", again=False)

    def enter(self, text: str) -> bool:
        """Take what was typed; an empty line signs when all is there. Says whether the line may be cleared."""
        if self.busy:
            return False
        if self.receipt is not None:
            self.left.emit()
            return True
        if self.question is not None:
            return self._answer(self.question.suggestion_mm)
        if not self.session.rows and self.thermometer.asked:
            return self.thermometer.enter(text.strip())
        if self._keys.asked:
            return self._note_turn(text.strip())
        if self.session.first:
            return self._confirm(text.strip())
        if not text.strip():
            self._enter_nothing()
            return True
        try:
            value = parse_length(text, self.units)
        except NonnaError as error:
            self.said.emit(error.message, "bad")
            return False
        if self._ask_about(value):
            return False
        self._take(value)
        return True

    def _ask_about(self, value: float, axis: str = "") -> bool:
        """Ask whether a reading is meant, where anything speaks against it; says whether it was asked."""
        asked = doubted(self.session, value, self.units)
        if asked is not None and self.session.slot_on(axis) == self.session.next_slot:
            self.question, self._typed_mm = asked, value
            self.changed.emit()
        return self.question is not None

    def take_as_typed(self) -> bool:
        """Answer a question: it was meant as typed. Without a question: sign it as it is."""
        if self.question is None and self.session.next_slot is None and self.receipt is None:
            self._keys = TurnedKeys()
            self.sign()
        return self.question is not None and self._answer(self._typed_mm, self.question.words)

    def correct(self) -> bool:
        """Answer a question: let me correct it. Says whether there was one (half a reading is one, too)."""
        if self._keys.asked or self.session.pending:
            self._keys = TurnedKeys()
            self.session = self.session.drop_pending()
        elif self.question is None:
            return False
        else:
            self.question = None
        self.changed.emit()
        return True

    def strike(self, index: int, reason: str) -> bool:
        """Strike a reading out with a reason; says whether it could be."""
        if self.receipt is not None or self.busy:
            return False
        try:
            self._remember(self.session.strike(index, reason))
        except (NonnaError, IndexError) as error:
            self.said.emit(str(error), "bad")
            return False
        self.notices.look(self)  # its reason goes into the record
        return True

    def undo(self) -> None:
        """Go back one change; a signed record stays."""
        if self.receipt is not None:
            self.said.emit("A signed record stays. Measure again and sign a new one.", "due")
        elif self.history.can_undo and not self.busy:
            self._put_back(self.history.undo((self.session, self.opening)))

    def redo(self) -> None:
        """Do again what was undone last."""
        if self.history.can_redo and not self.busy and self.receipt is None:
            self._put_back(self.history.redo((self.session, self.opening)))

    def _put_back(self, step: tuple[Session, Opening]) -> None:
        (self.session, self.opening), self.question, self._keys = step, None, TurnedKeys()
        self.notices.look(self)
        self.changed.emit()

    def _locked(self) -> bool:
        """Whether nothing may be changed now; says why."""
        for locked, words, tone in (
            (self.receipt is not None, "It is signed. Open a fresh sheet for another master or way.", "due"),
            (self.signer.busy, "It is being signed.", "plain"),
            (self.reads.busy, "One moment, what was chosen before is still being read.", "plain"),
            (self.running, "The stand-in is at work with what stands here. Esc stops it first.", "due"),
        ):
            if locked:
                self.said.emit(words, tone)
                return True
        return False

    def set_field(self, field: SetupField, value: Plain) -> None:
        """Change a field of the setup by hand; it no longer comes from a record."""
        if not self._locked():
            carried = {k: v for k, v in self.opening.carried.items() if k != str(field)}
            self._remember(self.session.with_field(field, value), replace(self.opening, carried=carried))

    def set_temperature(self, celsius: float) -> None:
        """Change the temperature the master is used at."""
        if not self._locked():
            self._remember(self.session.with_temperature(celsius))

    def choose_master(self, master_id: str) -> None:
        """Measure with another master; readings already taken belong to the other one and are struck."""
        self._start_from(partial(with_master, self.site, self.opening, self.session, master_id))

    def choose_variant(self, key: str) -> None:
        """Do it another way; readings already taken belong to the old way and are struck."""
        self._start_from(partial(with_way, self.site, self.opening, self.session, key))

    def _start_from(self, other: Callable[[], tuple[Session, Opening]]) -> None:
        if not self._locked():
            self.reads.start(other, lambda found: self._remember(*found))

    def from_file(self, path: Path) -> None:
        """Take readings, setup and masters of a readings file; nothing is taken when anything is wrong with it."""
        if self.receipt is None and not self.busy:
            before, stamp, front = self.session, clock.stamp(), self.front
            read = lambda _: with_file(before, path.name, front.read_bytes(path), stamp)  # noqa: E731
            front.behind(read, partial(self._take_file, path.name, before), self._fail, file=True)

    def _take_file(self, name: str, before: Session, found: Session) -> None:
        if self.session is not before or self.busy or self.receipt is not None:
            return self.said.emit("The sheet was changed while the file was read: take it once more.", "due")
        self.source = f"file {name}"
        self._remember(found, replace(self.opening, carried={}, cards={}))

    def run_standin(self) -> None:
        """Write the program, run it on the stand-in machine and put what it found on the tape."""
        if self.busy or self.receipt is not None:
            return
        if self._world is None:
            return self.said.emit("There is no stand-in machine here.", "bad")
        self.question = None
        self.source = STANDIN
        self.standin.start(lambda: job_of(self.site, self.session), self._world)
        self.changed.emit()

    @property
    def has_dial(self) -> bool:
        """Whether readings of this sheet come from an instrument."""
        return instrument_of(self.site, self.session) is not None

    def go_live(self, url: str) -> None:
        """Read an indicator, where its card or ``url`` says (“press” behind: its button sends), or the stand-in."""
        self.stop_live()
        if (instrument := instrument_of(self.site, self.session)) is None:
            return
        site, session, world = self.site, self.session, self._world if self.site.shop.invented else None
        self.dial.begin(instrument, url, self.reads, world and (lambda: (job_of(site, session), world())))

    def _on_live_begun(self) -> None:
        self.source = "indicator"
        self.dial.follow(self.session.next_slot)
        self.changed.emit()

    def stop_live(self) -> bool:
        """Stop reading the indicator; says whether it was read."""
        if was := self.dial.close():
            self.changed.emit()
        return was

    def _on_live(self, line: LineReading) -> None:
        if self.dial.presses and self.session.next_slot is not None and self.receipt is None and not self.busy:
            if words := self.session.first or not_meant(self.session, line.axis, line.tool, self.site.tools):
                return self.said.emit(words, "due")
            if self.question is None and not (line.axis and self._ask_about(float(line), line.axis)):
                self._take(float(line), axis=line.axis)
        self.lived.emit(float(line))

    def _fail(self, why: str | NonnaError) -> None:
        self.changed.emit()
        self.said.emit(str(why), "bad")

    def sign(self) -> None:
        """Sign the sheet into the book; `signed` says when it is safely stored."""
        result = self.session.evaluate()
        if self.receipt is not None or self.busy:
            return
        if not isinstance(result, Evaluation):
            return self.said.emit(result.message, "due")
        made = partial(recorded, self.site, self.session, self.opening, result, self.operator, self.program, self.draft)
        folder = self.site.folder
        self.signer.sign(lambda: sign(folder, [made()]), folder.book)

    def _on_signed(self, receipts: tuple[Receipt, ...]) -> None:
        (self.receipt,) = receipts
        self.changed.emit()
        self.signed.emit(self.receipt)
        if self.in_round:
            self.left.emit()

    def again(self) -> None:
        """Turn what is advised and begin the next pass; on the stand-in its own hands turn, then it measures."""
        result = self.session.evaluate()
        if not isinstance(result, Evaluation) or self.receipt is not None or self.busy:
            return
        moves = self.session.procedure.next_moves(self.session.facts, self.session.passes, result)
        if self.source == STANDIN and self._world is not None:
            site, session, world = self.site, self.session, self._world

            def turned(keys: dict[str, float]) -> None:
                self._remember(session.next_pass(keys))
                self.run_standin()

            self.reads.start(lambda: turned_by_hand(job_of(site, session), world(), moves), turned)
        elif self.session.procedure.learns_turns:
            self._keys = TurnedKeys(tuple(move.screw for move in moves))
            self.changed.emit()
        else:
            self._remember(self.session.next_pass({}))

    def _confirm(self, typed: str) -> bool:
        if typed:
            self.said.emit(f"{self.session.first} Enter when it is so, then the reading.", "due")
        else:
            self._remember(replace(self.session, confirmed=True))
        return not typed

    def _note_turn(self, text: str) -> bool:
        try:
            self._keys = self._keys.noted(text)
        except NonnaError as error:
            self.said.emit(error.message, "bad")
            return False
        if not self._keys.asked:
            self._remember(self.session.next_pass(self._keys.degrees))
        self.changed.emit()
        return True

    def _enter_nothing(self) -> None:
        if self.session.next_slot is None:
            self.again() if self.picture().again else self.sign()
        elif self.dial.value_mm is not None:
            self._take(self.dial.value_mm)
        elif not self.session.live and self.source == STANDIN:
            self.run_standin()
        else:
            self.said.emit("Type a reading, or F7 for the stand-in.", "plain")

    def _answer(self, value: float | None, insisted: str = "") -> bool:
        if value is None:
            self.said.emit("Esc lets you correct it. Ctrl+Enter takes it all the same.", "due")
        else:
            self.question = None
            self._take(value, insisted)
        return value is not None

    def _take(self, value: float, insisted: str = "", axis: str = "") -> None:
        self.source = "indicator" if self.dial.open else TYPED
        self._remember(self.session.take(value, self.source, clock.stamp(), insisted, axis))
        if self.dial.open:
            self.dial.follow(self.session.next_slot)

    def _remember(self, session: Session, opening: Opening | None = None) -> None:
        self.history.remember((self.session, self.opening))
        self.session = session
        self._keys = TurnedKeys()  # what was asked belongs to the readings as they were
        self.opening = opening or self.opening
        if opening is not None:
            self.notices.look(self)
        self.changed.emit()

    def _on_standin_done(self, measured: Measured) -> None:
        if self.receipt is not None:
            return
        self.program = measured.program
        session = self.session.with_setup(**measured.setup) if measured.setup else self.session
        self._remember(session.take_all(measured.readings, STANDIN, clock.stamp()))
