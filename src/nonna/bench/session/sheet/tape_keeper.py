"""Keeps the tape of an open sheet on disk until it is signed or thrown away."""

from __future__ import annotations

import json
import threading
from typing import TYPE_CHECKING

from nonna.procedures.draft import document_of

if TYPE_CHECKING:
    from nonna.bench.ports import DraftPlace
    from nonna.bench.session.front import Front
    from nonna.bench.session.signals import Signal
    from nonna.procedures.session import Session


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


class TapeKeeper:
    """Keeps one sheet's tape. A draft that cannot be kept is no reason to disturb the work.

    Each open sheet has a place of its own and holds it: two windows on one shop never take up each other's.
    """

    def __init__(self, front: Front, place: DraftPlace, said: Signal[[str, str]]) -> None:
        self._front, self._said, self.tape = front, said, TapeWriter(place)

    @property
    def safe(self) -> bool:
        """Whether the disk has everything that was read."""
        return self.tape.safe

    @property
    def holds(self) -> bool:
        """Whether there is anything to be kept."""
        return bool(self.tape.wanted)

    def forget(self) -> None:
        """Throw the draft away: signed, or thrown away on purpose."""
        self._want("")

    def keep(self, tape: tuple[Session, str, str] | None, **more: str) -> None:
        """Have the disk hold a tape: the sheet, its master's id and its program; None where nothing is to be kept.

        Parameters: more, what else its draft says.
        """
        self._want("" if tape is None else json.dumps({**document_of(*tape), **more}, ensure_ascii=False))

    def _want(self, text: str) -> None:
        tape, said = self.tape, self._said
        tape.wanted = text
        if not tape.safe:  # a disk takes its time to have it for certain
            self._front.behind(
                lambda _: tape.catch_up(),
                lambda _: None,
                lambda error: said.emit(f"Readings are not kept safe meanwhile: {error.message}", "due"),
            )
