"""The tray with 5,000 tools: the longest the window stood still while they come in, are scrolled and filtered."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from benchmarks.opened import desk, until
from nonna.desk.commands.ids import CommandId
from nonna.shop.cards.machine import Tool

TOOLS = 5000
ROUNDS = 9  #: of filtering; in which letter the next painting falls is chance


def figures() -> Iterator[str]:
    """Give the longest stall while the tools are taken in and stored, of scrolling, and of filtering."""
    with desk() as (app, window):
        window.do(CommandId.TOOLS)
        view, c = window.tools, window.tools.controller
        kinds = ("drill", "face-mill", "end-mill")
        many = [
            Tool.model_validate({"number": i + 1, "kind": kinds[i % 3], "diameter_mm": 3.0 + i % 40,
                "length_mm": 60.0 + i % 90,
                                 "description": f"Tool {i}"})
            for i in range(TOOLS)
        ]  # fmt: skip
        until(app, lambda: not c.plans.busy and window.settled)

        def timed(act: Callable[[], object]) -> float:
            begun = time.perf_counter()
            act()
            app.processEvents()
            return time.perf_counter() - begun

        taken = [timed(lambda: c.change(c.tray.merged(many)))]
        while c.plans.busy or not window.settled:
            taken.append(timed(lambda: time.sleep(0.001)))
        keys = [Qt.Key.Key_PageDown] * 20 + [Qt.Key.Key_End, Qt.Key.Key_Home] + [Qt.Key.Key_Down] * 20
        scrolled = max(timed(partial(QTest.keyClick, view.table, key)) for key in keys)
        texts = ("f", "fa", "face", "face 6", "", "1", "10", "100-2000", "tool 49", "")
        rounds = [max(timed(partial(view.search.setText, text)) for text in texts) for _ in range(ROUNDS)]
        filtered = sorted(rounds)[ROUNDS // 2]
        yield (
            f"tray of {TOOLS:,} tools: longest stall {scrolled * 1e3:.0f} ms scrolling, {filtered * 1e3:.0f} ms "
            "filtering "
            f"(wanted 50); {max(taken) * 1e3:.0f} ms while they come in and are stored"
        )
