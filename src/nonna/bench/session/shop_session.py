"""A shop at one of its stations, as it is worked with: what is known of it, what is open, what waits."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Protocol

from nonna.bench.job import rounds
from nonna.bench.session.machine_tables import MachineTables
from nonna.bench.session.sheet.in_hand import SheetsInHand
from nonna.bench.session.shop_reader import Seen, ShopReader
from nonna.bench.session.signals import Signal
from nonna.bench.station.worlds import Worlds
from nonna.procedures.listing import measuring
from nonna.shop.links.loop import LinkSort

if TYPE_CHECKING:
    from nonna.bench.ports import ShopFiles
    from nonna.bench.session.front import Front
    from nonna.bench.session.sheet.stage import SheetStage
    from nonna.bench.session.tray.open_tray import OpenTray
    from nonna.bench.station.site import Site
    from nonna.bench.station.state import ShopState
    from nonna.errors import NonnaError
    from nonna.shop.links.subjects import Subject
    from nonna.standin.world import World
    from nonna.wording.lengths import Units
if TYPE_CHECKING:
    from nonna.bench.session.machine_tables import MachineTables
    from nonna.bench.session.sheet.open_sheet import OpenSheet
    from nonna.bench.session.tray.open_tray import OpenTray


def unfinished_for(
    tray: OpenTray | None, tables: MachineTables, sheets: Sequence[OpenSheet], machine: str, *, storing: bool
) -> str:
    """Say what is at work, or waits to be signed, for the machine shown; "" where it may be left.

    Parameters: storing, whether a card is on its way to the disk.
    """
    if tray is not None and (tray.busy or tray.tray.results):
        return f"The tray's results are of {machine}. Sign them, or throw them away with Ctrl+Z, first."
    if tray is not None and tray.arrivals.listening:
        return f"The presetter is listened to for {machine}. F12 in the tray stops it, then again."
    if storing:
        return "A card is on its way to the disk. One moment, then again."
    if tables.busy:
        return "A table is on its way to the disk. One moment, then again."
    if any(sheet.running for sheet in sheets):
        return "The stand-in is at work for a sheet. Let it end, or stop it with Esc, first."
    if any(sheet.signer.busy for sheet in sheets):
        return "A sheet is being signed. One moment, then again."
    return ""


def unfinished_at_close(tables: MachineTables, unsigned: Sequence[OpenSheet]) -> str:
    """Say what is not done yet when a window is to be closed, "" where all is."""
    if tables.unwritten:
        return "What was changed in the tray is not written: the disk would not take it. The next change tries again."
    names = "; ".join(sheet.session.procedure.title.lower() for sheet in unsigned)
    return f"Not signed yet: {names}. It is kept and taken up at the next start." if names else ""


class Remembered(Protocol):
    """What is known from one start to the next."""

    operator: str
    units: Units

    def station(self, shop: Path) -> str:
        """Return the station of a shop that was shown last, "" for the first."""

    def set_station(self, shop: Path, station: str) -> None:
        """Remember the station shown."""

    def remember_shop(self, shop: Path) -> None:
        """Remember a shop among those opened last."""


class ShopSession:
    """One shop, one station. Slow parts load behind the first picture; wishes made meanwhile are kept."""

    def __init__(self, front: Front, stage: SheetStage, folder: ShopFiles, remembered: Remembered) -> None:
        self.front, self.folder, self.remembered = front, folder, remembered
        self.station = remembered.station(folder.root)  #: name of the files of the machine shown; "" for the first
        self.units = remembered.units
        self.state: ShopState | None = None
        self.shown: Signal[[ShopState]] = Signal()
        self.said: Signal[[str, str]] = Signal()  #: words and tone: something that concerns the whole shop
        self.wanted: Signal[[str]] = Signal()  #: a place to be gone to
        self.stored: Callable[[], bool] = lambda: True  #: whether no page has a card on its way to the disk
        self.tray: OpenTray | None = None  #: None while nobody looked at it
        self.tables, self._reader = MachineTables(front), ShopReader(front)
        self.tables.written.connect(self.look_again)
        self.tables.refused.connect(self._on_refused)
        self._reader.read.connect(self._on_read)
        self._reader.once_more.connect(self.look_again)
        self._reader.moved.connect(self._on_moved)
        self._reader.not_moved.connect(self._on_not_moved)
        self._reader.failed.connect(self._on_failed)
        self.sheets = SheetsInHand(front, stage)
        self._home = stage.home
        self._worlds = Worlds()
        self._wish: Callable[[], None] | None = None
        self._told_of_closing = ""  #: what would be left

    def begin(self) -> bool:
        """Read at a glance; says whether it is there already."""
        there = self._reader.begin(self.folder, self.station)
        if not there:
            self.tell("The shop's disk is slow. One moment…", "plain")
        return there

    @property
    def site(self) -> Site | None:
        """The machine shown with all its files say and hands changed; None while loading."""
        return self.tables.site

    @property
    def machine_name(self) -> str:
        """The machine shown here."""
        return self.state.machine if self.state else ""

    @property
    def operator(self) -> str:
        """Who signs."""
        names = self.state.operators if self.state else ("nobody",)
        return self.remembered.operator if self.remembered.operator in names else names[0]

    @property
    def settled(self) -> bool:
        """Whether what is shown is what there is: nothing is being read, written or signed."""
        sheets = self.sheets
        return not (
            self._reader.busy or sheets.opening or self.tables.busy
            or any(sheet.reads.busy or sheet.signer.busy for sheet in sheets.all)
            or (self.tray is not None and self.tray.signer.busy)
        )  # fmt: skip

    def open_tray(self) -> OpenTray:
        """Return the tray, made when it is first wanted."""
        from nonna.bench.session.tray.open_tray import OpenTray  # late: the first picture needs none

        if self.tray is None:
            self.tray = OpenTray(self)
        return self.tray

    def tell(self, words: str, tone: str) -> None:
        """Say something that concerns the whole shop."""
        self.said.emit(words, tone)

    def world(self) -> World:
        """Return the stand-in machine of this shop; what hands change on it lasts while the shop is open."""
        if self.site is None:
            raise RuntimeError("no shop is loaded yet")
        return self._worlds.of(self.site)

    def look_again(self) -> None:
        """Read the shop afresh, behind, where anything changed; it is shown when it is there."""
        shown = self.state.key if self.state else self.station
        self._reader.look_again(self.folder, self.station, shown, self.tables.of_files)

    def _on_refused(self, error: NonnaError) -> None:
        del error  # the tray says why
        self.look_again()

    def _on_failed(self, error: NonnaError) -> None:
        self.tell(error.message, "bad")

    def _on_read(self, seen: Seen) -> None:
        had = self.state
        self.tables.take(seen.state.site or self.tables.of_files)
        self.show(seen.state)
        if had is None:
            self.tell("", "plain")  # nothing is waited for any more
        else:
            self.look_again()  # somebody may have signed while it was read

    def show(self, state: ShopState) -> None:
        """Have a state of the shop looked at."""
        self.state = state
        self.sheets.state_changed()
        self.shown.emit(state)

    def take(self, site: Site) -> None:
        """Take the station, checked whole, with all that a sheet needs loaded; what was wished meanwhile is done."""
        self.tables.take(site)
        self._remember(site)
        if self.state is not None:
            self.tell("", "plain")
        wish, self._wish = self._wish, None
        if wish is not None:
            wish()

    def move_to(self, folder: ShopFiles, station: str = "") -> None:
        """Show another shop, or another machine: nothing that is at work, or waits to be signed, is taken along.

        A tray with results, or a stand-in at work, keeps the window where it is; unsigned sheets stay as drafts.
        """
        if not self._is_held():
            self._reader.move(folder, station)

    def _is_held(self) -> bool:
        """Say what keeps the session where it is, if anything does."""
        words = unfinished_for(
            self.tray, self.tables, self.sheets.all, self.machine_name, storing=not self.stored()
        )  # fmt: skip
        if words:
            self.tell(words, "due")
        return bool(words)

    def _on_moved(self, seen: Seen) -> None:
        site = seen.state.site
        if site is None or self._is_held():  # something was begun meanwhile
            self.look_again()
            return
        left = [
            f"{sheet.session.procedure.title.lower()} on {sheet.site.machine.name}" for sheet in self.sheets.unsigned
        ]
        self.sheets.let_go()
        self.folder, self.station = seen.folder, site.key
        self.tables.take(site)
        self.remembered.set_station(self.folder.root, self.station)
        self._remember(site)
        self.tell(f"Left unsigned: {'; '.join(left)}. It waits there." if left else "", "due")
        self._reader.take(seen)
        self.wanted.emit(self._home)

    def _on_not_moved(self, folder: ShopFiles, error: NonnaError) -> None:
        self.tell(f"{folder.root.name} is not opened: {error.message}", "bad")
        self.look_again()

    def _remember(self, site: Site) -> None:
        if not site.shop.invented:  # a copy of the demo shop is gone tomorrow
            self.remembered.remember_shop(site.folder.root)

    def may_close(self) -> bool:
        """Say what would be left behind, if anything is; asked again, it may be left."""
        tray = self.tray
        if tray is not None and (tray.tray.results or tray.busy):
            self.tell("The tray's results are not signed yet. Sign, or throw them away with Ctrl+Z, then close.", "due")
            return False
        words = unfinished_at_close(self.tables, self.sheets.unsigned)
        if words and words != self._told_of_closing:
            self.tell(f"{words} Close again to leave it so.", "due")
            self._told_of_closing = words
            return False
        return True

    def open_link(self, key: str, tools: str, certificates: str) -> None:
        """Open what a link stands for: a sheet, or one of two places."""
        if self.state is None:
            return
        link = self.state.kind.loop.link(key)
        if link.sort is LinkSort.EACH:
            self.wanted.emit(tools)
        elif link.sort is LinkSort.CERTIFICATE:
            self.wanted.emit(certificates)
        else:
            self.open_sheets([(link.procedure, link.subject)], self._home)

    def open_sheets(self, wanted: Sequence[tuple[str, Subject]], origin: str, *, in_round: bool = False) -> None:
        """Open sheets (procedure, subject) one after another."""
        if self.site is None:
            self._wish = lambda: self.open_sheets(wanted, origin, in_round=in_round)
            self.tell("One moment, the rest is still loading…", "plain")
            return
        self.sheets.open(wanted, origin, in_round=in_round)

    def start_round(self) -> None:
        """Do all that the loop needs now, sheet after sheet; it stops at the first link that fails."""
        if self.state is not None and (sheets := rounds.wanted(self.state.jobs)):
            self.open_sheets(sheets, self._home, in_round=True)

    def measure(self, subjects: Sequence[Subject], origin: str) -> None:
        """Measure tools one after another, each on its sheet."""
        each = self.state.kind.loop.each if self.state else None
        name = each.procedure if each is not None else measuring("length")
        self.open_sheets([(name, subject) for subject in subjects], origin)
