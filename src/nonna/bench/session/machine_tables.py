"""The machine that a window shows, with its tables as hands left them: what changed is on its way to the disk."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from nonna.bench.session.signals import Signal

if TYPE_CHECKING:
    from nonna.bench.session.front import Front
    from nonna.bench.station.site import Site
    from nonna.bench.tray.table_change import TableChange
    from nonna.errors import NonnaError


class MachineTables:
    """Holds a station as its files have it and, over that, what is not written yet: one write at a time.

    What cannot be written stays as hands left it and is tried again with the next change; what another window changed
    first is theirs.
    """

    def __init__(self, front: Front) -> None:
        self._front = front
        self.written: Signal[[]] = Signal()  #: the files hold what was changed here
        self.refused: Signal[[NonnaError]] = Signal()  #: why they do not
        self._site: Site | None = None  #: as the files have it
        self._shown: Site | None = None
        self._writing: TableChange | None = None
        self._waiting: TableChange | None = None

    @property
    def site(self) -> Site | None:
        """The station as it is shown, with all that was changed here; None while loading."""
        return self._shown

    @property
    def of_files(self) -> Site | None:
        """The station as its files have it."""
        return self._site

    @property
    def busy(self) -> bool:
        """Whether a table is on its way to the disk."""
        return self._writing is not None

    @property
    def unwritten(self) -> bool:
        """Whether something changed here that the disk would not take."""
        return self._waiting is not None and not self.busy

    def take(self, site: Site | None) -> None:
        """Take the station as its files were read; what waits for another one is dropped, its reason was told."""
        there = self._site
        if site is None or there is None or (site.folder, site.key) != (there.folder, there.key):
            self._waiting = None
        self._site = site
        self._lay_over()

    def take_cards(self, site: Site) -> None:
        """Take a station as it was read for a card that was stored; its tables may be older than those known here."""
        there = self._site
        if there is not None and (site.folder, site.key) == (there.folder, there.key):
            site = replace(site, tools=there.tools, wishes=there.wishes, marks=())  # read once more with the next look
        self.take(site)

    def _lay_over(self) -> None:
        self._shown = self._site
        for change in (self._writing, self._waiting):
            if self._shown is not None and change is not None:
                self._shown = change.laid_over(self._shown)

    def put(self, change: TableChange) -> None:
        """Have a change written as soon as the one before is."""
        self._waiting = self._waiting.followed_by(change) if self._waiting is not None else change
        if self._writing is None:
            self._write()
        self._lay_over()

    def _write(self) -> None:
        site, change = self._site, self._waiting
        if site is None or not change:
            self._waiting = None
            return
        self._writing, self._waiting = change, None
        self._front.behind(lambda _: change.write(site), self._on_written, self._on_refused, file=True)

    def _on_written(self, stored: Site) -> None:
        there, self._writing = self._site, None
        if there is not None and (there.folder, there.key) == (stored.folder, stored.key):
            self._site = replace(there, tools=stored.tools, wishes=stored.wishes)
        self._write()
        self._lay_over()
        self.written.emit()

    def _on_refused(self, error: NonnaError) -> None:
        from nonna.bench.tray.table_change import ChangedElsewhere

        change, self._writing = self._writing, None
        if isinstance(error, ChangedElsewhere):
            self._write()
        elif change is not None:  # it waits, and is what stands here
            self._waiting = change.followed_by(self._waiting) if self._waiting is not None else change
        self._lay_over()
        self.refused.emit(error)
