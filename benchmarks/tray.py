"""The tray with 5,000 tools: the longest the window stood still while it is scrolled and filtered."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from benchmarks.opened import desk, until
from nonna.desk.do import Do
from nonna.shop.machine import Tool

TOOLS = 5000
ROUNDS = 9  #: of filtering; in which letter the next painting falls is chance


def figures() -> Iterator[str]:
    """Give the longest stall of scrolling, of filtering, and how long a plan of all takes behind the screen."""
    with desk() as (app, window):
        window.do(Do.TOOLS)
        view, c = window.tools, window.tools.controller
        kinds = ("drill", "face-mill", "end-mill")
        many = [
            Tool.model_validate({"number": i + 1, "kind": kinds[i % 3], "diameter_mm": 3.0 + i % 40, "length_mm": 60.0 + i % 90,
                                 "description": f"Tool {i}"})
            for i in range(TOOLS)
        ]  # fmt: skip
        c.change(c.tray.merged(many))
        until(app, lambda: not c.plans.busy)

        def timed(act: Callable[[], object]) -> float:
            begun = time.perf_counter()
            act()
            app.processEvents()
            return time.perf_counter() - begun

        keys = [Qt.Key.Key_PageDown] * 20 + [Qt.Key.Key_End, Qt.Key.Key_Home] + [Qt.Key.Key_Down] * 20
        scrolled = max(timed(partial(QTest.keyClick, view.table, key)) for key in keys)
        texts = ("f", "fa", "face", "face 6", "", "1", "10", "100-2000", "tool 49", "")
        rounds = [max(timed(partial(view.search.setText, text)) for text in texts) for _ in range(ROUNDS)]
        filtered = sorted(rounds)[ROUNDS // 2]
        yield f"tray of {TOOLS:,} tools: longest stall {scrolled * 1e3:.0f} ms scrolling, {filtered * 1e3:.0f} ms filtering (wanted 50)"
