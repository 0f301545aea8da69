"""What happened, for whoever has to mend the program: a log in the user's state folder, and reports of crashes.

No measured value is ever written here: readings live on the tape, in drafts and in the book.
"""

from __future__ import annotations

import faulthandler
import fcntl
import json
import logging
import os
from collections.abc import Callable
from datetime import datetime
from logging.handlers import RotatingFileHandler
from pathlib import Path
from typing import IO

from nonna.bench.ports import Crash

LOG, MOST_BYTES, KEPT_FILES = "nonna.log", 500_000, 4
LINES_IN_A_REPORT, MOST_REPORTS = 80, 20


class Journal:
    """Fills the port `bench.ports.Journal`: keeps the log of one run. A folder that cannot be written is no reason not
    to measure.
    """

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._mark: IO[str] | None = None
        self._trace: IO[str] | None = None
        self._handler: logging.Handler | None = None

    def begin(self, shop: Path, now: Callable[[], datetime]) -> tuple[Crash, ...]:
        """Begin to write; return the runs that ended unexpectedly since the last time, each with a report made of
        it.
        """
        try:
            self._folder.mkdir(parents=True, exist_ok=True)
            crashed = self._reports(now())
            self._handler = RotatingFileHandler(
                self._folder / LOG, maxBytes=MOST_BYTES, backupCount=KEPT_FILES, encoding="utf-8"
            )
            self._handler.setFormatter(logging.Formatter("%(asctime)s %(process)d %(levelname)s %(message)s"))
            log = logging.getLogger("nonna")
            log.setLevel(logging.INFO)
            log.propagate = False
            log.addHandler(self._handler)
            path = self._folder / f"running-{os.getpid()}.json"
            self._mark = path.open("w", encoding="utf-8")
            fcntl.flock(self._mark, fcntl.LOCK_EX | fcntl.LOCK_NB)
            json.dump({"shop": str(shop), "begun": now().isoformat(timespec="seconds")}, self._mark)
            self._mark.flush()
            if not faulthandler.is_enabled():  # whoever enabled it wants the trace
                self._trace = path.with_suffix(".trace").open("w", encoding="utf-8")
                faulthandler.enable(self._trace)
        except OSError:
            return ()
        return crashed

    def end(self) -> None:
        """End as a program does that was closed."""
        log = logging.getLogger("nonna")
        if self._handler is not None:
            log.removeHandler(self._handler)
            self._handler.close()
        if self._trace is not None:
            faulthandler.disable()
            self._trace.close()
            Path(self._trace.name).unlink(missing_ok=True)
        if self._mark is not None:
            Path(self._mark.name).unlink(missing_ok=True)
            self._mark.close()
        self._handler = self._trace = self._mark = None

    def _reports(self, now: datetime) -> tuple[Crash, ...]:
        found: list[Crash] = []
        for path in sorted(self._folder.glob("running-*.json")):
            if _held(path):
                continue  # another window of this user is at work
            try:
                mark = json.loads(path.read_text("utf-8"))
                shop, begun = Path(str(mark["shop"])), datetime.fromisoformat(str(mark["begun"]))
            except (OSError, ValueError, KeyError, TypeError):
                path.unlink(missing_ok=True)
                continue
            number = path.stem.removeprefix("running-")
            report = self._folder / f"crash-{now:%Y%m%d-%H%M%S}-{number}.txt"
            trace = path.with_suffix(".trace")
            report.write_text(self._told(shop, begun, number, trace), "utf-8")
            for each in (path, trace):
                each.unlink(missing_ok=True)
            found.append(Crash(shop, begun, report))
        for old in sorted(self._folder.glob("crash-*.txt"))[:-MOST_REPORTS]:
            old.unlink(missing_ok=True)
        return tuple(found)

    def _told(self, shop: Path, begun: datetime, process: str, trace: Path) -> str:
        lines = (self._folder / LOG).read_text("utf-8", "replace").splitlines() if (self._folder / LOG).exists() else []
        own = [line for line in lines if f" {process} " in line[:40]][-LINES_IN_A_REPORT:]
        last = trace.read_text("utf-8", "replace").strip() if trace.exists() else ""
        return "\n".join(
            [
                f"Nonna, begun {begun:%d %b %Y %H:%M} on {shop.name}, did not end by itself.",
                "", "What it did last:", *own, "", "Where it was:", last or "nothing is known", "",
            ]
        )  # fmt: skip


def _held(path: Path) -> bool:
    try:
        with path.open("r", encoding="utf-8") as handle:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return True
    except OSError:
        return False
    return False
