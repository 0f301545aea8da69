"""A run of ours on a control, watched until all of its lines have come."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from nonna.bench.control.runs import CameBack, newest_in, runs_of
from nonna.bench.session.signals import Signal

if TYPE_CHECKING:
    from nonna.bench.session.tray.tray_host import TrayHost
    from nonna.bench.station.site import Site
    from nonna.errors import NonnaError

LOOK_MS = 2000  #: between two looks
Read = Callable[[], str]  #: gives what was printed; raises NonnaError


class ControlWatch:
    """Looks again and again; one run at a time, that of the program written last."""

    def __init__(self, host: TrayHost, busy: Callable[[], bool]) -> None:
        self._host, self._busy = host, busy
        self.came: Signal[[CameBack]] = Signal()  #: all lines of the run
        self.told: Signal[[str, str]] = Signal()  #: message, tone
        self.run = ""  #: that is awaited, "" for none
        self._seen = -1

    def begin(self, run: str, read: Read) -> None:
        """Watch for a run; the one before is watched no more."""
        site = self._host.site
        if site is None:
            return
        self.run, self._seen = run, -1
        self._soon(site, run, read)

    def look(self, read: Read, take: Callable[[CameBack | None], object]) -> None:
        """Look once, for the newest run that anything came of."""
        site = self._host.site
        if site is not None:
            folder, machine = site.folder, site.machine.name
            self._host.front.behind(
                lambda _: newest_in(read(), runs_of(folder, machine)), take, lambda e: self.told.emit(e.message, "bad")
            )

    def _soon(self, site: Site, run: str, read: Read) -> None:
        def look() -> None:
            folder, machine = site.folder, site.machine.name
            self._host.front.behind(
                lambda _: newest_in(read(), runs_of(folder, machine)), lambda found: self._take(site, run, read, found),
                self._lost,
            )  # fmt: skip

        self._host.front.later(LOOK_MS, look)

    def _lost(self, error: NonnaError) -> None:
        self.run = ""
        self.told.emit(f"{error.message} F8 looks again.", "bad")

    def _take(self, site: Site, run: str, read: Read, came: CameBack | None) -> None:
        if run != self.run:
            return  # another program was written since
        here = self._host.site
        same = here is not None and (here.folder, here.machine.name) == (site.folder, site.machine.name)
        if not same or came is None or came.run.name != run:
            self._soon(site, run, read)
            return
        count, of = len(came.printed.values), len(came.run.program.touches)
        if came.printed.ended is not None and count == of and not self._busy():
            self.run = ""
            self.came.emit(came)
            return
        if count != self._seen:
            self._seen = count
            words = f"{site.machine.name} works: {count} of {of} lines have come. F8 takes what is there."
            self.told.emit(words, "plain")
        self._soon(site, run, read)
