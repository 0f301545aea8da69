"""Random hands at the desk: keys, clicks, dialogs, files, two windows, kills. Nothing may be lost, aborted or signed
wrongly.

``python -m benchmarks.monkey`` runs the whole; one child at a time is a desk on the same shop, killed now and then.
"""

from __future__ import annotations

import json
import os
import random
import signal
import subprocess
import sys
import tempfile
import time
from collections import Counter
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from typing import Any

from nonna.shop.records.values import Measurement

EVENTS, EVENTS_A_DESK, KILLED = 10_000, 600, 0.5
SETTLE_S, HUNG_S, TURNS = 0.002, 300.0, 8
TAKES_BACK = ("throw away", "key Backspace", "Ctrl+Z", "click Undo", "click Throw")  #: readings, on purpose


def figures() -> Iterator[str]:
    """Give how the hands fared: events, tracebacks, aborts, ledgers that verify, readings kept, longest stalls."""
    from tests.support.ledgers import Ledger

    from nonna.adapters.shop_files.practice import make

    dice = random.Random(20261126)
    traces = aborts = lost = kept = done = over = 0
    stalls: Counter[str] = Counter()
    yards: list[float] = []
    with tempfile.TemporaryDirectory() as place:
        shop = Path(place) / "shop"
        make(shop)
        number = -1
        while done < EVENTS:
            number += 1
            log = Path(place) / f"log-{number}"
            command = [
                sys.executable,
                "-m",
                "benchmarks.monkey",
                "child",
                str(shop),
                str(number),
                str(EVENTS_A_DESK),
                str(log),
            ]
            paths = os.pathsep.join((str(Path.cwd()), os.environ.get("PYTHONPATH", "")))
            here = {**os.environ, "QT_QPA_PLATFORM": "offscreen", "PYTHONPATH": paths}
            child = subprocess.Popen(command, stderr=subprocess.PIPE, env=here, cwd=place)  # it saves files where it is
            if dice.random() < KILLED:
                try:
                    child.wait(dice.uniform(6.0, 25.0))
                except subprocess.TimeoutExpired:
                    child.send_signal(signal.SIGKILL)
            try:
                _, err = child.communicate(timeout=HUNG_S)
            except subprocess.TimeoutExpired:
                child.send_signal(signal.SIGABRT)  # it says where it hangs, and counts as an abort
                _, err = child.communicate()
            printed = err.decode("utf-8", "replace").splitlines()
            text = "\n".join(row for row in printed if "This plugin does not support" not in row)
            traces += text.count("Traceback")
            if text.count("Traceback") or child.returncode not in (0, -signal.SIGKILL):
                print(f"child {number} ended with {child.returncode}:\n{text[-3000:]}", file=sys.stderr)
            aborts += child.returncode not in (0, -signal.SIGKILL)
            safe, events, worst, slow = _told(log, yards)
            done, over = done + events, over + slow
            for name, spent in worst.items():
                stalls[name] = max(stalls[name], spent)
            there = _readings_of(shop)
            kept += len(safe)
            gone = [reading for reading in safe if reading not in there]
            lost += len(gone)
            if gone:
                print(f"child {number} lost {gone}", file=sys.stderr)
            book = Ledger(shop / "ledger.sqlite")
            found = book.verify()
            if not found.sound:
                yield f"monkey: the ledger is DAMAGED after child {number}: {found.reason}"
    usual = {n: v for n, v in stalls.items() if not n.startswith("first ")}
    first = {n: v for n, v in stalls.items() if n.startswith("first ")}
    yield (
        f"monkey: {done:,} events in {number + 1} desks on one shop, {traces} tracebacks, {aborts} aborts, {lost} of "
        f"{kept} readings "
        f"that were safe lost, every ledger verifies, {found.count} records"
    )
    yield f"monkey: {over} events, {100 * over / done:.2f} %, took longer of the Qt thread's own time than wanted"
    yards.sort()
    if yards:
        usual_ms = yards[len(yards) // 2]
        yield (
            f"monkey: a piece of work that is always the same took {usual_ms:.1f} ms between events, one in a thousand "
            f"{yards[-1 - len(yards) // 1000] / usual_ms:.2f} times that, the longest {yards[-1] / usual_ms:.2f} "
            "times: so unevenly does this machine work"
        )
    for words, rows, wanted in (("an event", usual, 50), ("the first opening of a page", first, 100)):
        top = sorted(rows.items(), key=lambda row: -row[1])[:4]
        yield (
            f"monkey: longest own time of the Qt thread in {words}: {', '.join(f'{n} {v} ms' for n, v in top)} "
            f"(wanted {wanted})"
        )


def _told(log: Path, yards: list[float]) -> tuple[set[str], int, dict[str, int], int]:
    safe: set[str] = set()
    dropped: set[str] = set()
    doing: dict[str, Any] = {}
    events = 0
    worst: dict[str, int] = {}
    over = 0
    for line in log.read_text().splitlines() if log.exists() else ():
        try:
            row = json.loads(line)
        except ValueError:
            continue  # the last line of one that was killed
        if "yards" in row:
            yards.extend(row["yards"])
            continue
        if "doing" in row:
            doing = row
            continue
        doing = {}
        safe |= set(row.get("safe", ()))
        dropped |= set(row.get("dropped", ()))
        events = max(events, row["event"])
        worst[row["what"]] = max(worst.get(row["what"], 0), row["ms"])
        over += row["ms"] > (100 if row["what"].startswith("first ") else 50)
    if doing and doing["doing"].startswith(TAKES_BACK):  # killed in that very event: what it took back is not told
        print(f"killed in {doing['doing']!r} with {len(doing['hand'])} readings in hand", file=sys.stderr)
        dropped |= set(doing["hand"])
    return safe - dropped, events, worst, over


def _readings_of(shop: Path) -> set[str]:
    """Every reading that a record or a draft holds, by its time and value."""
    from tests.support.ledgers import Ledger

    found: set[str] = set()
    book = Ledger(shop / "ledger.sqlite")
    for record in book.all():
        if isinstance(record, Measurement):
            found |= {_name(row.at, row.values) for row in record.tape}
    for path in (shop / "drafts").glob("*.json"):
        found |= {_name(row["at"], row["values"]) for row in json.loads(path.read_text())["rows"]}
    return found


def _name(at: str, values: Any) -> str:
    return f"{at} {json.dumps(values, sort_keys=True)}"


def yardstick() -> float:
    """Return the own time, ms, of a piece of work that is always the same: how evenly this machine works."""
    begun = time.thread_time()
    total = 0
    for i in range(60_000):
        total += i * i % 7
    return (time.thread_time() - begun) * 1e3


class Hands:
    """One desk and what random hands do to it."""

    def __init__(self, shop: Path, seed: int, log: Path) -> None:
        from PySide6.QtWidgets import QApplication

        from nonna.desk.look import style
        from nonna.desk.look.palette import LIGHT

        self.app = QApplication.instance() or QApplication([])
        style.load_fonts()
        style.apply(self.app, LIGHT)  # type: ignore[arg-type]
        self.dice, self.shop, self.out = random.Random(seed), shop, log.open("a")
        from tests.support.documents import REPEAT, SETTER, TOOL

        self.documents = [json.dumps(d) for d in (REPEAT, SETTER, TOOL)]
        self.seen: set[str] = set()
        self.yards: list[float] = []
        self.known: set[tuple[int, str]] = set()
        self.windows = [self.window(0), self.window(1)] if seed % 3 == 0 else [self.window(0)]

    def window(self, number: int) -> Any:
        from nonna.adapters.shop_files.shop_folder import ShopFolder
        from nonna.desk.frame.settings import DeskSettings
        from nonna.desk.start.window_making import make_window

        made = make_window(ShopFolder(self.shop), DeskSettings(self.shop.parent / f"desk-{number}.ini"))
        made.resize(1280, 800)
        made.show()
        while made.site is None:
            self.app.processEvents()
            time.sleep(0.005)
        return made

    def run(self, events: int) -> None:
        for event in range(1, events + 1):
            w = self.dice.choice(self.windows)
            w.activateWindow()
            name, act = self.choose(w)
            before = {id(c): [_name(r.at, r.values) for r in c.session.rows] for c in self.controllers()}
            hand = [r for rows in before.values() for r in rows] if name.startswith(TAKES_BACK) else []
            self.write({"doing": name, "hand": hand})
            spent = max(self.spent(each) for each in (act if isinstance(act, list) else [act]))
            time.sleep(SETTLE_S)
            # What was put off until there is time may not take long either.
            spent = max(spent, *(self.spent(lambda: None) for _ in range(TURNS)))
            new = self.in_sight() - self.known  # a page of another window is made anew
            self.known |= new
            self.yards.append(yardstick())
            self.tell(event, f"first {', '.join(sorted({kind for _, kind in new}))}" if new else name, spent, before)
        self.write({"yards": self.yards})
        for w in self.windows:
            w.close()
            w.close()

    def spent(self, act: Callable[[], Any]) -> float:
        """Return the Qt thread's own time in something done to the desk and in all that follows from it at once."""
        begun = time.thread_time()
        act()
        self.turn()
        return time.thread_time() - begun

    def in_sight(self) -> set[tuple[int, str]]:
        """Return what stands in front of each window, pages and dialogs by what they are; a procedure's sheet is a page
        of its own.
        """
        from PySide6.QtWidgets import QWidget

        found: set[tuple[int, str]] = set()
        for i, w in enumerate(self.windows):
            kinds = {type(widget).__name__ for widget in w.findChildren(QWidget) if widget.isVisible()}
            found |= {(i, kind) for kind in kinds if kind.endswith(("View", "Page", "Form", "Dialog", "Finder"))}
            if w.sheets.in_front:
                found.add((i, f"sheet of {w.sheet.controller.session.name}"))
        return found

    def turn(self) -> None:
        """One turn of the event loop, deleting what is to be deleted as a running loop does."""
        from PySide6.QtCore import QCoreApplication, QEvent

        self.app.processEvents()
        QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)

    def controllers(self) -> list[Any]:
        return [sheet for w in self.windows for sheet in w.sheets.all]

    def tell(self, event: int, name: str, spent: float, before: dict[int, list[str]]) -> None:
        """Log what is safe now, and what was taken back on purpose (undone, thrown away)."""

        after = {id(c): [_name(r.at, r.values) for r in c.session.rows] for c in self.controllers()}
        dropped = [r for key, rows in before.items() for r in rows if r not in after.get(key, [])]
        signed = [c for c in self.controllers() if c.receipt is not None]
        safe = [
            _name(r.at, r.values)
            for c in self.controllers()
            if (keeper := c.keeper) is not None and keeper.safe and keeper.holds
            for r in c.session.rows
        ]
        safe += [_name(r.at, r.values) for c in signed for r in c.session.rows]
        row = {
            "event": event,
            "what": name,
            "ms": round(spent * 1e3),
            "safe": [s for s in safe if s not in self.seen],
            "dropped": dropped,
        }
        self.seen |= set(safe)
        self.seen -= set(dropped)
        self.write(row)

    def write(self, row: dict[str, Any]) -> None:
        """Log a row; what is written stays when the desk is killed."""
        self.out.write(json.dumps(row) + "\n")
        self.out.flush()

    def typed(self, at: Callable[[], Any], text: str) -> list[Callable[[], Any]]:
        """Each key is an event of its own, for whatever has the keyboard then."""
        from PySide6.QtTest import QTest

        return [partial(lambda letter: QTest.keyClicks(at(), letter), letter) for letter in text]

    def choose(self, w: Any) -> tuple[str, Callable[[], Any] | list[Callable[[], Any]]]:
        """Return what is done next, and the one or several things that hands do for it."""
        from PySide6.QtCore import Qt
        from PySide6.QtTest import QTest
        from PySide6.QtWidgets import QAbstractButton, QDialog, QFileDialog

        dice = self.dice
        at = w.focusWidget() or w
        dialog = next((d for d in reversed(w.findChildren(QDialog)) if d.isVisible()), None)
        if dialog is not None and dice.random() < 0.6:
            if isinstance(dialog, QFileDialog) or dice.random() < 0.3:
                return "close a dialog", dialog.reject
            kind = type(dialog).__name__
            if dice.random() < 0.5:
                word = dice.choice(["level", "setter", "t2", "crash", "a note", "3", "0.2in", "nan", "x" * 80])
                return f"type into {kind}", self.typed(lambda: w.focusWidget() or w, word)
            return f"Enter in {kind}", lambda: QTest.keyClick(dialog.focusWidget() or dialog, Qt.Key.Key_Return)
        way = dice.random()
        if way < 0.34:
            keys = [Qt.Key.Key_F2, Qt.Key.Key_F3, Qt.Key.Key_F4, Qt.Key.Key_F5, Qt.Key.Key_F6, Qt.Key.Key_F7,
                Qt.Key.Key_F9, Qt.Key.Key_F10,
                    Qt.Key.Key_F11, Qt.Key.Key_F12, Qt.Key.Key_Escape, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Left,
                    Qt.Key.Key_Right,
                    Qt.Key.Key_Space, Qt.Key.Key_Backspace, Qt.Key.Key_Tab, Qt.Key.Key_Delete, Qt.Key.Key_B,
                    Qt.Key.Key_D, Qt.Key.Key_H]  # fmt: skip
            key = dice.choice(keys)
            return f"key {key.name.removeprefix('Key_')}", lambda: QTest.keyClick(at, key)
        if way < 0.50:
            return "Enter", lambda: QTest.keyClick(at, Qt.Key.Key_Return)
        if way < 0.66:
            text = self.entry(w)
            return "type a reading", [
                *self.typed(lambda: w.focusWidget() or w, text),
                lambda: QTest.keyClick(w.focusWidget() or w, Qt.Key.Key_Return),
            ]
        if way < 0.72:
            key = dice.choice(
                [
                    Qt.Key.Key_K,
                    Qt.Key.Key_Z,
                    Qt.Key.Key_R,
                    Qt.Key.Key_A,
                    Qt.Key.Key_L,
                    Qt.Key.Key_J,
                    Qt.Key.Key_W,
                    Qt.Key.Key_F,
                ]
            )
            return f"Ctrl+{key.name.removeprefix('Key_')}", lambda: QTest.keyClick(
                at, key, Qt.KeyboardModifier.ControlModifier
            )
        if way < 0.82:
            buttons = [b for b in w.findChildren(QAbstractButton) if b.isVisible() and b.isEnabled()]
            if not buttons:
                return "nothing", lambda: None
            button = dice.choice(buttons)
            return f"click {button.accessibleName() or button.text()}"[:40], button.click
        if way < 0.86 and w.sheet is not None:
            return "a readings file", lambda: w.sheet and w.sheet.controller.from_file(self.file(w))
        if way < 0.90:
            link = dice.choice(
                ["level", "setter", "repeatability", "runout", "ring", "probe", "closure", "proof", "tools", "master"]
            )
            return f"open {link}", lambda: w.open_link(link)
        if way < 0.92:
            size = dice.choice([(900, 600), (1280, 800), (1366, 768)])
            return "resize", lambda: w.resize(*size)
        if way < 0.94:
            return "throw away", w.sheets.throw_away
        if way < 0.96:
            return "bring back", w.sheets.bring_back
        return "coming back to the window", w.look_again

    def entry(self, w: Any) -> str:
        dice = self.dice
        c = w.sheet.controller if w.sheet is not None else None
        about = c.session.expected_mm() if c is not None and c.session.next_slot is not None else None
        if about is not None and dice.random() < 0.8:
            return f"{about + dice.gauss(0.0, 0.001):.4f}"
        return dice.choice(
            ["0.001", "-0.002", "0.3in", "5um", "12,5", "-312.4", "abc", "1e309", "nan", "3 thou", "0.0005", ""]
        )

    def file(self, w: Any) -> Path:
        documents = [*self.documents, "{", "", "[]", '{"format": "x"}']
        path = self.shop.parent / f"readings-{os.getpid()}.json"
        path.write_text(self.dice.choice(documents))
        return path


if __name__ == "__main__":
    if sys.argv[1:2] == ["child"]:
        _, _, place, seed, count, told = sys.argv
        import faulthandler

        faulthandler.enable()
        Hands(Path(place), int(seed), Path(told)).run(int(count))
    else:
        for figure in figures():
            print(figure, flush=True)
