"""Throughput: evaluations, stand-in runs, and how long the window stalls while the rest loads."""

from __future__ import annotations

import json
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from tempfile import TemporaryDirectory

from benchmarks.start import TOOL
from nonna.programs.touches import tool_lengths
from nonna.programs.writer import write
from nonna.records.practice import make
from nonna.shop.machine import Tool, Tools
from nonna.standin.mill import Mill
from nonna.standin.session import run_program
from nonna.standin.truth import make as make_truth

OBJECTS = 20_000


def figures() -> Iterator[str]:
    """Give the throughput figures."""
    yield _evaluations()
    yield _standin()


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
    begun = time.perf_counter()
    plan = tool_lengths(machine, [(t, t.length_mm or 0.0) for t in tools], -452.4, 3)
    table = Tools(format="nonna-tools/1", tools=tools)
    report = run_program(write(plan), plan, Mill(machine, make_truth(machine, tools, 1), table))
    taken = time.perf_counter() - begun
    return f"stand-in, 30 tools: {report.seconds / taken:,.0f} times real time, writing and reading included (wanted >= 500)"
