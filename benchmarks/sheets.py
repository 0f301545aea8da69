"""The sheets under a live indicator: how long a repaint takes, and the longest the window stood still."""

from __future__ import annotations

import time
from collections.abc import Iterator
from functools import partial
from itertools import pairwise

from PySide6.QtCore import QTimer

from benchmarks.opened import desk, until
from nonna.bench.session.sheet.open_sheet import OpenSheet
from nonna.desk.commands.ids import CommandId
from nonna.shop.links.subjects import PROBE

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
    with desk() as (app, window):
        ticks: list[float] = []
        timer = QTimer(window)
        timer.timeout.connect(lambda: ticks.append(time.perf_counter()))
        timer.start(2)
        worst: dict[str, float] = {}
        for name in SHEETS:
            for turn in ("first", "again"):
                ticks.clear()
                window.open_sheets([(name, PROBE)], CommandId.LOOP)
                until(app, lambda: window.sheet is not None and window.sheets.in_front)
                assert window.sheet is not None
                controller = window.sheet.controller
                window.do(CommandId.STANDIN)
                until(app, partial(_idle, controller))
                for _ in range(5):
                    app.processEvents()
                    time.sleep(0.005)
                worst[f"{name} {turn}"] = max((b - a for a, b in pairwise(ticks)), default=0.0)
                window.sheets.throw_away()
        first = max((v, k) for k, v in worst.items() if k.endswith("first"))
        again = max((v, k) for k, v in worst.items() if k.endswith("again"))
        yield (
            f"longest stall while a sheet opens and measures: {first[0] * 1e3:.0f} ms the first time ({first[1]}), "
            f"{again[0] * 1e3:.0f} ms after that ({again[1]}); wanted 50"
        )
        window.open_sheets([("tip-runout", PROBE)], CommandId.LOOP)
        until(app, lambda: window.sheet is not None and window.sheets.in_front)
        assert window.sheet is not None
        sheet = window.sheet
        sheet.controller.go_live("")
        until(app, lambda: sheet.controller.dial.value_mm is not None)
        paints = []
        for _ in range(60):
            begun = time.perf_counter()
            sheet.controller.lived.emit(0.0123)
            sheet.refresh()
            sheet.repaint()
            paints.append(time.perf_counter() - begun)
        sheet.controller.stop_live()
        paints.sort()
        yield (
            f"repaint of the whole sheet for one live reading: {paints[30] * 1e3:.1f} ms, worst "
            f"{paints[-1] * 1e3:.1f} ms; wanted 16"
        )


def _idle(controller: OpenSheet) -> bool:
    return not controller.busy
