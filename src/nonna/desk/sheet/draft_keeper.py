"""Keeps the tape of an open sheet on disk until it is signed or thrown away."""

from __future__ import annotations

import json
import threading

from PySide6.QtCore import QObject

from nonna.bench.ports import DraftPlace
from nonna.desk.sheet.controller import SheetController
from nonna.desk.work import Work
from nonna.procedures.draft import document_of


class DraftKeeper(QObject):
    """Follows one controller. A draft that cannot be kept is no reason to disturb the work.

    Each open sheet has a place of its own and holds it: two windows on one shop never take up each other's.
    """

    def __init__(self, controller: SheetController, place: DraftPlace) -> None:
        super().__init__(controller)
        self._controller, self.place = controller, place
        self._latest, self._kept, self._writing = "", "", threading.Lock()
        controller.changed.connect(self._on_changed)

    @property
    def safe(self) -> bool:
        """Whether the disk has everything that was read."""
        return self._kept == self._latest

    def forget(self) -> None:
        """Throw the draft away: signed, or thrown away on purpose."""
        self._latest = self._kept = ""
        with self._writing:
            self.place.forget()

    def release(self) -> None:
        """Let go of the sheet; what is on its tape stays on the disk for whoever opens it next."""
        with self._writing:
            c = self._controller
            if self._latest and not self.safe and c.receipt is None:
                self.place.write(self._latest)
                self._kept = self._latest
        self.place.let_go()

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
        text = json.dumps(draft, ensure_ascii=False)
        self._latest = text
        work = Work(lambda _: self._write(text), self)  # a disk takes its time to have it for certain
        work.failed.connect(lambda error: c.said.emit(f"Readings are not kept safe meanwhile: {error.message}", "due"))
        work.done.connect(work.deleteLater)
        work.start()

    def _write(self, text: str) -> None:
        with self._writing:
            if text is self._latest and self.place.held:  # else overtaken by a newer one, or no longer wanted
                self.place.write(text)
                self._kept = text
