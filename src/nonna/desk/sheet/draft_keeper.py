"""Keeps the tape of the open sheet on disk until it is signed or left, and takes it up again."""

from __future__ import annotations

import json
import re
import threading
from pathlib import Path

from PySide6.QtCore import QObject

from nonna.desk.sheet.controller import SheetController
from nonna.desk.work import Work
from nonna.metrology.errors import NonnaError
from nonna.procedures.draft import document_of, taken_up
from nonna.procedures.listing import PROCEDURES
from nonna.procedures.session import Session
from nonna.records.opening import open_sheet
from nonna.shop.folder import ShopFolder
from nonna.shop.safe_write import write_text

FOLDER = "drafts"


class DraftKeeper(QObject):
    """Follows one controller. A draft that cannot be kept is no reason to disturb the work."""

    def __init__(self, controller: SheetController) -> None:
        super().__init__(controller)
        self._controller = controller
        site, session = controller.site, controller.session
        self._path = path_of(site.folder, site.machine.name, session.name, session.bench.subject)
        self._latest, self._kept, self._writing = "", "", threading.Lock()
        controller.changed.connect(self._on_changed)

    def take_up(self) -> str:
        """Put a draft that was left back on the sheet; says so in words, "" where there is none."""
        c = self._controller
        if not self._path.exists():
            return ""
        try:
            draft = c.site.folder.document(FOLDER, self._path.name)
            opening = open_sheet(
                c.site, c.session.name, c.session.bench.subject, str(draft["master"]), str(draft["variant"])
            )
            session = taken_up(Session(opening.name, opening.bench), draft, opening.carried)
        except (NonnaError, KeyError, TypeError) as error:
            return f"A sheet was left unsigned here, but it cannot be read: {error}"
        c.opening, c.session, c.program = opening, session, str(draft.get("program", ""))
        c.source = session.rows[-1].source if session.rows else c.source
        c.changed.emit()
        when = session.rows[-1].at[11:16] if session.rows else ""
        return (
            f"Taken up where it was left, {len(session.live)} readings, the last at {when}. Esc twice throws them away."
        )

    @property
    def safe(self) -> bool:
        """Whether the disk has everything that was read."""
        return self._kept == self._latest

    def forget(self) -> None:
        """Throw the draft away: signed, or left on purpose."""
        self._latest = self._kept = ""
        with self._writing:
            self._path.unlink(missing_ok=True)

    def _on_changed(self) -> None:
        c = self._controller
        if c.receipt is not None or not c.session.rows:
            self.forget()
            return
        card = c.opening.cards.get(c.session.procedure.role, {})
        text = json.dumps(document_of(c.session, str(card.get("id", "")), c.program), ensure_ascii=False)
        self._latest = text
        work = Work(lambda _: self._write(text), self)  # a disk takes its time to have it for certain
        work.failed.connect(lambda error: c.said.emit(f"Readings are not kept safe meanwhile: {error.message}", "due"))
        work.done.connect(work.deleteLater)
        work.start()

    def _write(self, text: str) -> None:
        with self._writing:
            if text is not self._latest:
                return  # overtaken by a newer one, or no longer wanted
            try:
                self._path.parent.mkdir(exist_ok=True)
            except OSError as error:
                raise NonnaError("unreadable", f"{self._path.parent.name}: {error.strerror}.") from error
            write_text(self._path, text)
            self._kept = text


def path_of(folder: ShopFolder, machine: str, procedure: str, subject: str) -> Path:
    """Return where the draft of a sheet lies."""
    name = re.sub(r"[^a-z0-9]+", "-", f"{machine} {procedure} {subject}".lower())
    return folder.root / FOLDER / f"{name}.json"


def left_behind(folder: ShopFolder) -> tuple[str, ...]:
    """Return what the unsigned sheets of a shop are called, such as "setter calibration, Setter"."""
    names = []
    for path in sorted((folder.root / FOLDER).glob("*.json")):
        try:
            draft = folder.document(FOLDER, path.name)
            names.append(f"{PROCEDURES[draft['procedure']].title.lower()}, {draft['subject']}")
        except (NonnaError, KeyError, TypeError):
            names.append(f"{path.name}, which cannot be read")
    return tuple(names)
