"""Throughput: evaluations, stand-in runs, and how long the window stalls while the rest loads."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from tempfile import TemporaryDirectory

from benchmarks.start import TOOL
from nonna.adapters.shop_files.practice import make
from nonna.programs.writing.writer import write
from nonna.shop.cards.job import JobTool
from nonna.shop.cards.machine import Tool, Tools
from nonna.stations.mill.planning.plan import plan_job
from nonna.stations.mill.standin.mill import Mill
from nonna.stations.mill.standin.program_run import run_program
from nonna.stations.mill.standin.truth import make as make_truth

OBJECTS, STANDIN_RUNS, STALLS = 20_000, 5, 7


def figures() -> Iterator[str]:
    """Give the throughput figures."""
    yield _evaluations()
    yield _standin()
    yield _stall()


def _evaluations() -> str:
    line = json.dumps(TOOL).encode() + b"\n"
    times = []
    for count in (1, OBJECTS):
        begun = time.perf_counter()
        command = [sys.executable, "-m", "nonna", "evaluate", "-", "--jsonl"]
        subprocess.run(command, input=line * count, check=True, capture_output=True)
        times.append(time.perf_counter() - begun)
    rate = (OBJECTS - 1) / (times[1] - times[0])
    return f"evaluate --jsonl: {rate:,.0f} tool lengths a second after start (wanted >= 1,000)"


def _standin() -> str:
    with TemporaryDirectory() as place:
        folder = make(Path(place) / "shop")
        machine = folder.machine("larch")
    machine = machine.model_copy(update={"pocket_count": 40})
    tools = [
        Tool(number=i, kind="drill", diameter_mm=3 + i / 10, length_mm=80.0 + i, length_uncertainty_mm=0.02)
        for i in range(1, 31)
    ]
    taken = []
    for _ in range(
        STANDIN_RUNS
    ):  # the best: a full collection of garbage, which the desk never makes meanwhile, takes as long again
        begun = time.perf_counter()
        jobs = [JobTool.model_validate({**t.model_dump(), "measure": ["length"]}) for t in tools]
        plan = plan_job(machine, jobs, 3, 0.002).program
        table = Tools(format="nonna-tools/1", tools=tools)
        report = run_program(write(plan), plan, Mill(machine, make_truth(machine, tools, 1), table))
        taken.append(time.perf_counter() - begun)
    return (
        f"stand-in, 30 tools: {report.seconds / min(taken):,.0f} times real time, writing and reading "
        "included (wanted >= 500)"
    )


STALL = (
    "import sys, time\n"
    "from pathlib import Path\n"
    "import nonna.desk\n"
    "from PySide6.QtCore import QTimer\n"
    "from PySide6.QtWidgets import QApplication\n"
    "from nonna.desk.start.window_making import make_window\n"
    "from nonna.desk.look import style\n"
    "from nonna.desk.look.palette import LIGHT\n"
    "from nonna.desk.frame.settings import DeskSettings\n"
    "from nonna.adapters.shop_files.shop_folder import ShopFolder\n"
    "app = QApplication([]); style.load_fonts(); style.apply(app, LIGHT)\n"
    "window = make_window(ShopFolder(Path(sys.argv[1])), DeskSettings(Path(sys.argv[1]) / 'desk.ini'))\n"
    "window.show(); window.repaint(); app.processEvents()\n"
    "begun = last = time.perf_counter(); worst = 0.0\n"
    "def tick():\n"
    "    global last, worst\n"
    "    now = time.perf_counter(); worst = max(worst, now - last); last = now\n"
    "    if window.site is not None: app.quit()\n"
    "timer = QTimer(); timer.timeout.connect(tick); timer.start(5); app.exec()\n"
    "print(worst / (time.perf_counter() - begun))\n"
)


def _stall() -> str:
    """The longest time a key would have to wait while the rest loads, as a share of that loading."""
    with TemporaryDirectory() as place:
        folder = make(Path(place) / "shop")
        environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
        command = [sys.executable, "-c", STALL, str(folder.root)]
        runs = [
            subprocess.run(command, check=True, capture_output=True, text=True, env=environment) for _ in range(STALLS)
        ]
    shares = sorted(float(done.stdout) for done in runs)
    return f"longest wait of a key while the rest loads / loading time: {shares[STALLS // 2]:.3f} (median of {STALLS})"
