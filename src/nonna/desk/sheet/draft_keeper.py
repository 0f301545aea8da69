"""Keeps the tape of an open sheet on disk until it is signed or thrown away, and takes it up again."""

from __future__ import annotations

import fcntl
import hashlib
import json
import os
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
from nonna.records.glance import record_of_draft
from nonna.records.opening import open_sheet
from nonna.shop.folder import ShopFolder
from nonna.shop.safe_write import write_text
from nonna.shop.subjects import Subject

FOLDER = "drafts"
MOST_AT_ONCE = 50  #: windows on one sheet of one shop


class DraftKeeper(QObject):
    """Follows one controller. A draft that cannot be kept is no reason to disturb the work.

    Each open sheet has a file of its own and holds its lock: two windows on one shop never take up each other's.
    """

    def __init__(self, controller: SheetController) -> None:
        super().__init__(controller)
        self._controller = controller
        site, session = controller.site, controller.session
        first = path_of(site.folder, site.machine.name, session.name, session.bench.subject)
        self._path, self._lock = _own_place(first)
        self._latest, self._kept, self._writing = "", "", threading.Lock()
        controller.changed.connect(self._on_changed)

    def take_up(self) -> str:
        """Put a draft that was left back on the sheet; says so in words, "" where there is none."""
        c = self._controller
        if not self._path.exists():
            return ""
        try:
            draft = c.site.folder.document(FOLDER, self._path.name)
            signed = record_of_draft(c.site.folder.ledger, str(draft.get("id", "")))
            if signed is not None:  # the program ended between the signature and putting the draft away
                self.forget()
                return f"What was left here is signed already, as record {signed}. This is a fresh sheet."
            opening = open_sheet(
                c.site, c.session.name, c.session.bench.subject, str(draft["master"]), str(draft["variant"])
            )
            session = taken_up(Session(opening.name, opening.bench), draft, opening.carried)
        except (NonnaError, KeyError, TypeError, AttributeError) as error:
            return f"A sheet was left unsigned here, but it cannot be read: {error}"
        c.opening, c.session, c.program = opening, session, str(draft.get("program", ""))
        c.draft = str(draft.get("id") or c.draft)
        c.source = session.rows[-1].source if session.rows else c.source
        c.changed.emit()
        when = session.rows[-1].at[11:16] if session.rows else ""
        return f"Taken up where it was left, {len(session.live)} readings, the last at {when}."

    @property
    def safe(self) -> bool:
        """Whether the disk has everything that was read."""
        return self._kept == self._latest

    def forget(self) -> None:
        """Throw the draft away: signed, or thrown away on purpose."""
        self._latest = self._kept = ""
        with self._writing:
            self._path.unlink(missing_ok=True)

    def release(self) -> None:
        """Let go of the sheet; what is on its tape stays on the disk for whoever opens it next."""
        with self._writing:
            c = self._controller
            if self._latest and not self.safe and c.receipt is None:
                write_text(self._path, self._latest)
                self._kept = self._latest
        if self._lock >= 0:
            os.close(self._lock)
            self._lock = -1
            lock = _lock_of(self._path)
            if not self._path.exists():
                lock.unlink(missing_ok=True)

    def _on_changed(self) -> None:
        c = self._controller
        if c.receipt is not None or not c.session.rows:
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
            if text is not self._latest or self._lock < 0:
                return  # overtaken by a newer one, or no longer wanted
            try:
                self._path.parent.mkdir(exist_ok=True)
            except OSError as error:
                raise NonnaError("unreadable", f"{self._path.parent.name}: {error.strerror}.") from error
            write_text(self._path, text)
            self._kept = text


def path_of(folder: ShopFolder, machine: str, procedure: str, subject: Subject) -> Path:
    """Return where the draft of a sheet lies: readable, and its own for every name."""
    whole = f"{machine}\n{procedure}\n{subject}"
    words = re.sub(r"[^a-z0-9]+", "-", f"{machine} {procedure} {subject}".lower()).strip("-")[:60]
    return (
        folder.root
        / FOLDER
        / f"{words}-{hashlib.sha256(whole.encode('utf-8', 'surrogateescape')).hexdigest()[:8]}.json"
    )


def left_behind(folder: ShopFolder) -> tuple[str, ...]:
    """Return what the unsigned sheets of a shop are called, such as "setter calibration, Setter"; not those in hand."""
    names = []
    for path in sorted((folder.root / FOLDER).glob("*.json")):
        if _is_held(path):
            continue
        try:
            draft = folder.document(FOLDER, path.name)
            if record_of_draft(folder.ledger, str(draft.get("id", ""))) is None:
                names.append(
                    f"{PROCEDURES[draft['procedure']].title.lower()}, {Subject.of(str(draft['subject'])).words}"
                )
        except (NonnaError, KeyError, TypeError, AttributeError):
            names.append(f"{path.name}, which cannot be read")
    return tuple(names)


def _lock_of(path: Path) -> Path:
    return path.with_suffix(".lock")


def _own_place(first: Path) -> tuple[Path, int]:
    """Return the first place that nobody else holds, and the handle that holds it (-1: the folder cannot be written)."""
    try:
        first.parent.mkdir(parents=True, exist_ok=True)
        for number in range(MOST_AT_ONCE):
            path = first.with_name(f"{first.stem}{f'-{number + 1}' if number else ''}.json")
            handle = os.open(_lock_of(path), os.O_CREAT | os.O_RDWR, 0o666)
            try:
                fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except OSError:
                os.close(handle)
                continue
            return path, handle
    except OSError:
        return first, -1
    return first, -1


def _is_held(path: Path) -> bool:
    try:
        handle = os.open(_lock_of(path), os.O_RDWR)
    except OSError:
        return False
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return True
    finally:
        os.close(handle)
    return False
