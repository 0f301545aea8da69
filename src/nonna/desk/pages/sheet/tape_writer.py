"""Brings the disk to what an open sheet's tape is now."""

from __future__ import annotations

import threading
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from nonna.bench.ports import DraftPlace


class TapeWriter:
    """What threads hold of a tape: each of them writes what is wanted last, one at a time."""

    def __init__(self, place: DraftPlace) -> None:
        self.place = place
        self.wanted = ""  #: the tape in words, "" for none
        self.kept: str | None = None  #: what the disk has, None where nobody looked
        self._alone = threading.Lock()

    @property
    def safe(self) -> bool:
        """Whether the disk has what is wanted."""
        return self.kept == self.wanted

    def catch_up(self) -> None:
        """Write what is wanted, or throw away what is kept. Raises: NonnaError (it cannot be written)."""
        with self._alone:
            self._catch_up()

    def let_go(self) -> None:
        """Write what is wanted and leave it to whoever opens the sheet next. Raises: NonnaError."""
        with self._alone:
            try:
                self._catch_up()
            finally:
                self.place.let_go()

    def _catch_up(self) -> None:
        while (wanted := self.wanted) != self.kept and self.place.held:  # it may be changed meanwhile, and back
            if wanted:
                self.place.write(wanted)
            else:
                self.place.forget()
            self.kept = wanted
