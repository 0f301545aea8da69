"""What comes back from a machine's control: a measuring run to be judged, a load to be proved and signed."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING, Protocol

from nonna.bench.control.proving import Proved, events_of, proofs
from nonna.bench.control.taking import not_signed_yet, taken_of
from nonna.bench.job.measuring import judged_of
from nonna.bench.job.programs_run import note_run
from nonna.bench.session.signals import Signal
from nonna.bench.session.signer import Signer
from nonna.bench.session.tray.control_watch import ControlWatch
from nonna.bench.sheet.signing import sign, signature_of
from nonna.errors import NonnaError
from nonna.shop.links.subjects import ANY

if TYPE_CHECKING:
    from nonna.bench.book.chain import Receipt
    from nonna.bench.control.runs import CameBack
    from nonna.bench.session.front import Task
    from nonna.bench.session.tray.tray_host import TrayHost
    from nonna.bench.sheet.judging import Judged
    from nonna.bench.station.site import Site

MOST_NAMED = 6
LENGTHS = ("length",)  #: what of a table the tray counts as written


class Tray(Protocol):
    """The tray that runs come back to."""

    said: Signal[[str, str]]
    unwritten: int  #: lengths signed that are nowhere else yet

    @property
    def busy(self) -> bool:
        """Whether it is measuring or signing."""

    def take_judged(self, judge: Callable[[Task], tuple[Judged, ...]], left_out: str) -> None:
        """Judge behind the screen what came back."""


class ControlBack:
    """Takes runs for one tray."""

    def __init__(self, host: TrayHost, tray: Tray) -> None:
        self._host, self._tray = host, tray
        self.watch = ControlWatch(host, lambda: tray.busy or self._signer.busy)
        self.watch.told.connect(tray.said.emit)
        self.watch.came.connect(lambda came: self.take(came, "the control"))
        self._signer = Signer(host.front)
        self._found: tuple[Proved, ...] = ()
        self._signer.signed.connect(self._on_signed)
        self._signer.refused.connect(lambda e: tray.said.emit(f"Not signed, nothing is lost: {e.message}", "bad"))

    def take(self, came: CameBack, source: str) -> None:
        """Take what came of a run: readings to be judged, or the proof of what was stored."""
        site, tray = self._host.site, self._tray
        if site is None or tray.busy or self._signer.busy:
            tray.said.emit("One moment, something else is being done. Then F8 again.", "plain")
            return
        try:
            self._measured(came, source, site) if came.run.purpose == "measure" else self._stored(came, site)
        except NonnaError as error:
            tray.said.emit(error.message, "bad")

    def _measured(self, came: CameBack, source: str, site: Site) -> None:
        found, state = taken_of(came, site.machine, site.tools), self._host.state
        if not found.outcomes:
            self._tray.said.emit(f"Nothing of this run can be taken. {found.words}", "bad")
            return
        past = state.standing if state is not None else None

        def judged(_: Task) -> tuple[Judged, ...]:
            new = not_signed_yet(found.outcomes, came.run.name, site)
            note_run(site.folder, site.machine)
            return judged_of(new, site, source, past)

        self._tray.take_judged(judged, found.words)

    def _stored(self, came: CameBack, site: Site) -> None:
        state, card = self._host.state, site.machine.control
        if state is None or card is None:
            return
        signed = {entry.subject for entry in state.entries if f"run {came.run.name})" in entry.note}
        subjects = {tool.number: tool.subject for tool in site.tools if tool.subject not in signed}
        self._found = found = proofs(card, site.machine.name, came)
        if signed and not any(each.row.tool in subjects for each in found):
            self._tray.said.emit(f"What run {came.run.name} stored is in the book already.", "plain")
            return
        records = events_of(found, subjects, signature_of(site, self._host.operator, ANY), came.run)
        if not records:
            self._tray.said.emit(said_of(found), "bad")
            return
        self._signer.sign(lambda: sign(site.folder, records), site.folder.book)

    def _on_signed(self, receipts: tuple[Receipt, ...]) -> None:
        first, last = receipts[0].number, receipts[-1].number
        names = f"record {first}" if first == last else f"records {first} to {last}"
        words, bad = said_of(self._found), any(each.state != "stored" for each in self._found)
        there = sum(each.state == "stored" and each.row.what in LENGTHS for each in self._found)
        self._tray.unwritten = max(0, self._tray.unwritten - there)
        self._host.look_again()
        self._tray.said.emit(f"{words} Signed as {names}.", "bad" if bad else "good")


def said_of(found: tuple[Proved, ...]) -> str:
    """Say what a load came to: what differs first, then what nothing proves, then what is there."""
    parts = []
    for state, words in (("differs", "DIFFERS"), ("unproved", "Not proved")):
        rows = [each.words for each in found if each.state == state]
        if rows:
            more = f" and {len(rows) - MOST_NAMED} more" if len(rows) > MOST_NAMED else ""
            parts.append(f"{words}: {'; '.join(rows[:MOST_NAMED])}{more}.")
    there = sum(each.state == "stored" for each in found)
    if there:
        parts.append(f"{there} number{'' if there == 1 else 's'} in the control's table, read back and proved.")
    return " ".join(parts)
