"""Keeps the tape of an open sheet on disk until it is signed or thrown away."""

from __future__ import annotations

import json

from PySide6.QtCore import QObject

from nonna.bench.ports import DraftPlace
from nonna.desk.pages.sheet.controller import SheetController
from nonna.desk.pages.sheet.tape_writer import TapeWriter
from nonna.desk.threads.work import Work
from nonna.procedures.draft import document_of


class DraftKeeper(QObject):
    """Follows one controller. A draft that cannot be kept is no reason to disturb the work.

    Each open sheet has a place of its own and holds it: two windows on one shop never take up each other's.
    """

    def __init__(self, controller: SheetController, place: DraftPlace) -> None:
        super().__init__(controller)
        self._controller, self.tape = controller, TapeWriter(place)
        controller.changed.connect(self._on_changed)

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

    def _on_changed(self) -> None:
        c = self._controller
        if not c.unsigned:
            self.forget()
            return
        card = c.opening.cards.get(c.session.procedure.role, {})
        draft = document_of(c.session, str(card.get("id", "")), c.program) | {
            "id": c.draft,
            "station": c.site.machine.name,
        }
        self._want(json.dumps(draft, ensure_ascii=False))

    def _want(self, text: str) -> None:
        tape, c = self.tape, self._controller
        tape.wanted = text
        if tape.safe:
            return
        work = Work(lambda _: tape.catch_up(), self)  # a disk takes its time to have it for certain
        work.failed.connect(lambda error: c.said.emit(f"Readings are not kept safe meanwhile: {error.message}", "due"))
        work.start()
