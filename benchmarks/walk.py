"""How far a reader walks: files and changes of room when a key updates a sheet, and when a sheet is signed."""

from __future__ import annotations

import sys
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from types import FrameType

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

import nonna
from benchmarks.opened import desk, until
from nonna.desk.commands.ids import CommandId
from nonna.shop.links.subjects import PROBE

LEAST = 3  #: readings that make a result
ROOT = str(Path(nonna.__file__).parent)


class Walk:
    """Which of our files were entered, on whichever thread; a change of room is one on the way of one thread."""

    def __init__(self) -> None:
        self.files: dict[str, int] = {}
        self.changes = 0
        self._rooms: dict[int, str] = {}

    def step(self, frame: FrameType, event: str, _: object) -> None:
        """Note a call into one of our files."""
        path = frame.f_code.co_filename
        if event != "call" or not path.startswith(ROOT):
            return
        place = path.removeprefix(f"{ROOT}/")
        self.files[place] = self.files.get(place, 0) + 1
        room, thread = place.split("/")[0], threading.get_ident()
        if room != self._rooms.get(thread):
            self.changes += 1
            self._rooms[thread] = room

    @contextmanager
    def walked(self) -> Iterator[None]:
        """Note what runs meanwhile, on threads that begin meanwhile too."""
        threading.setprofile(self.step)
        sys.setprofile(self.step)
        try:
            yield
        finally:
            sys.setprofile(None)
            threading.setprofile(None)


def figures() -> Iterator[str]:
    """Give files and changes of room of a reading typed, and of a signature."""
    with desk() as (app, window):
        window.open_sheets([("probe-length", PROBE)], CommandId.LOOP)
        until(app, lambda: window.sheet is not None and window.sheets.in_front)
        assert window.sheet is not None
        sheet = window.sheet
        window.do(CommandId.STANDIN)
        controller = sheet.controller
        until(app, lambda: not controller.busy and controller.session.live)
        assert len(controller.session.live) >= LEAST, controller.session.live
        read = [row["position_mm"] for row in controller.session.live]
        controller.undo()
        walks = [_taken(lambda value=value: _enter(app, sheet.numbers.reading, f"{value}")) for value in read]  # type: ignore[misc]
        yield _told("a reading typed", walks[1], 30, 40)
        signed = Walk()
        with signed.walked():
            controller.sign()
            until(app, lambda: controller.receipt is not None)
        yield _told("a sheet signed", signed, 45, 120)


def _enter(app: QApplication, line: QWidget, text: str) -> None:
    QTest.keyClicks(line, text)
    QTest.keyClick(line, Qt.Key.Key_Return)
    app.processEvents()


def _taken(act: Callable[[], None]) -> Walk:
    walk = Walk()
    with walk.walked():
        act()
    return walk


def _told(what: str, walk: Walk, files: int, changes: int) -> str:
    return f"{what}: {len(walk.files)} files, {walk.changes} changes of room; wanted {files} and {changes}"
