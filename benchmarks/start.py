"""How long starting takes, against what cannot be avoided: ratios of the best of several runs in turn."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

from nonna.adapters.shop_files.practice import make

ROUNDS = 15
TOOL = {
    "format": "nonna-readings/1",
    "procedure": "tool-length",
    "setup": {"trigger_plane_mm": -452.4, "trigger_plane_u_mm": 0.0006, "expected_mm": 112.418, "limit_mm": 0.02},
    "readings": [{"position_mm": -339.981}, {"position_mm": -339.9805}, {"position_mm": -339.9812}],
}
BARE_WINDOW = (
    "from PySide6.QtWidgets import QApplication, QWidget\n"
    "class W(QWidget):\n"
    "    def paintEvent(self, event):\n"
    "        super().paintEvent(event); app.quit()\n"
    "app = QApplication([]); w = W(); w.resize(1280, 800); w.show(); app.exec()\n"
)
LOOP = (
    "import sys\n"
    "from pathlib import Path\n"
    "import nonna.desk\n"
    "from PySide6.QtWidgets import QApplication\n"
    "from PySide6.QtCore import QTimer\n"
    "from nonna.desk.look import style\n"
    "from nonna.desk.look.palette import LIGHT\n"
    "from nonna.desk.start.window_making import make_window\n"
    "from nonna.desk.frame.settings import DeskSettings\n"
    "from nonna.adapters.shop_files.shop_folder import ShopFolder\n"
    "app = QApplication([]); style.load_fonts(); style.apply(app, LIGHT)\n"
    "window = make_window(ShopFolder(Path(sys.argv[1])), DeskSettings(Path(sys.argv[1]) / 'desk.ini'))\n"
    "window.show(); window.repaint()\n"
    "app.processEvents()\n"
    "states = [s.accessibleName() for s in window.loop.stations]\n"
    "assert len(states) == 10 and 'Setter: broken' in states, states\n"
    "import os; os._exit(0)\n"
)


def best_in_turn(commands: list[list[str]]) -> list[float]:
    """Return the best time of each command, run in turn so that all meet the same machine."""
    best = [float("inf")] * len(commands)
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    for _ in range(ROUNDS):
        for i, command in enumerate(commands):
            begun = time.perf_counter()
            subprocess.run(command, check=True, capture_output=True, env=environment)
            best[i] = min(best[i], time.perf_counter() - begun)
    return best


def figures() -> Iterator[str]:
    """Give the three start-up ratios."""
    python = sys.executable
    with tempfile.TemporaryDirectory() as place:
        readings = Path(place) / "t2.json"
        readings.write_text(json.dumps(TOOL))
        make(Path(place) / "shop")
        bare, told = best_in_turn([[python, "-c", "pass"], [str(Path(python).with_name("nonna")), "--help"]])
        yield f"nonna --help / bare Python: {told / bare:.2f} (wanted <= 2)"
        libraries = "import numpy, scipy.special, GTC, pydantic"
        needed, one = best_in_turn(
            [[python, "-c", libraries], [str(Path(python).with_name("nonna")), "evaluate", str(readings)]]
        )
        yield f"one evaluate / importing its libraries: {one / needed:.2f} (wanted <= 1.3)"
        window, loop = best_in_turn([[python, "-c", BARE_WINDOW], [python, "-c", LOOP, str(Path(place) / "shop")]])
        yield f"Loop painted with its states / bare window: {loop / window:.2f} (wanted <= 2.2)"
