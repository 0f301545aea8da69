"""The sheets under a live indicator: how long a repaint takes, and the longest the window stood still."""

from __future__ import annotations

import time
from collections.abc import Iterator
from itertools import pairwise
from pathlib import Path
from tempfile import TemporaryDirectory

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication

from nonna.desk.commands import Do
from nonna.desk.doing import make_window
from nonna.desk.look import style
from nonna.desk.look.palette import LIGHT
from nonna.desk.settings import DeskSettings
from nonna.records.practice import make

SHEETS = (
    "face-level",
    "tip-runout",
    "beam-level",
    "probe-length",
    "probe-ring",
    "loop-closure",
    "artefact-check",
    "repeatability",
)


def figures() -> Iterator[str]:
    """Give the longest repaint at 50 readings a second, and the longest stall while each sheet is used."""
    app = QApplication.instance() or QApplication([])
    assert isinstance(app, QApplication)
    style.load_fonts()
    style.apply(app, LIGHT)
    with TemporaryDirectory() as place:
        window = make_window(make(Path(place) / "shop"), DeskSettings(Path(place) / "desk.ini"))
        window.resize(1280, 800)
        window.show()
        _until(app, lambda: window.site is not None)
        ticks: list[float] = []
        timer = QTimer(window)
        timer.timeout.connect(lambda: ticks.append(time.perf_counter()))
        timer.start(2)
        worst: dict[str, float] = {}
        for name in SHEETS:
            for turn in ("first", "again"):
                ticks.clear()
                window.open_sheets([(name, "Probe")], Do.LOOP)
                _until(app, lambda: window.sheet is not None)
                assert window.sheet is not None
                controller = window.sheet.controller
                window.do(Do.STANDIN)
                _until(app, lambda c=controller: not c.running)
                for _ in range(5):
                    app.processEvents()
                    time.sleep(0.005)
                worst[f"{name} {turn}"] = max((b - a for a, b in pairwise(ticks)), default=0.0)
                window.sheet.back()
                if window.sheet is not None:
                    window.sheet.back()
        first = max((v, k) for k, v in worst.items() if k.endswith("first"))
        again = max((v, k) for k, v in worst.items() if k.endswith("again"))
        yield (
            f"longest stall while a sheet opens and measures: {first[0] * 1e3:.0f} ms the first time ({first[1]}), "
            f"{again[0] * 1e3:.0f} ms after that ({again[1]}); wanted 50"
        )
        window.open_sheets([("tip-runout", "Probe")], Do.LOOP)
        _until(app, lambda: window.sheet is not None)
        assert window.sheet is not None
        sheet = window.sheet
        sheet.controller.go_live("")
        _until(app, lambda: sheet.controller.dial.value_mm is not None)
        paints = []
        for _ in range(60):
            begun = time.perf_counter()
            sheet.controller.lived.emit(0.0123)
            sheet.refresh()
            sheet.repaint()
            paints.append(time.perf_counter() - begun)
        sheet.controller.stop_live()
        paints.sort()
        yield f"repaint of the whole sheet for one live reading: {paints[30] * 1e3:.1f} ms, worst {paints[-1] * 1e3:.1f} ms; wanted 16"
        window.hide()


def _until(app: QApplication, true: object) -> None:
    end = time.monotonic() + 60
    while not true():  # type: ignore[operator]
        if time.monotonic() > end:
            raise TimeoutError
        app.processEvents()
        time.sleep(0.001)
