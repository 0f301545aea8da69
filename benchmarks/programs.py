"""Programs: blocks a second, a long rehearsal, planning many tools, and random programs without a crash or a hang."""

from __future__ import annotations

import random
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator

from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.errors import NonnaError
from nonna.programs.language.blocks import parse
from nonna.programs.language.interpreter import run
from nonna.programs.writing.writer import write
from nonna.shop.cards.job import JobTool
from nonna.shop.cards.machine import Machine, Tools
from nonna.stations.mill.planning.plan import plan_job
from nonna.stations.mill.standin.mill import Mill
from nonna.stations.mill.standin.rehearsing import rehearse
from nonna.stations.mill.standin.truth import make

BLOCKS = 200_000
RANDOM = 1_000_000
_PIECES = (
    "G0 ", "G1 ", "G38.2 ", "G31 ", "G53 ", "G90 ", "G91 ", "G20 ", "G21 ", "G43 ", "G54 ", "X", "Y", "Z", "F", "S",
    "T", "M6 ", "M3 ",
    "M5 ", "M2 ", "N", "H", "#", "[", "]", "=", "5", "1 ", "-2.5 ", "1e9", "*", "/", "+", "abs", "atan", "sqrt", "IF ",
    "GOTO ", " LT ",
    "(", ")", ";", "%", "\n", "\n", "\n", "Ω", " ", "mod ", "99999",
)  # fmt: skip


def figures() -> Iterator[str]:
    """Give the figures."""
    from nonna import demo

    folder = ShopFolder(demo.FOLDER)
    machine, tools = folder.machine("larch"), folder.tools("larch")
    yield _blocks(machine, tools)
    yield _long()
    yield _rehearsal(machine, tools)
    yield _planning(machine)
    yield _random(machine, tools)


def _blocks(machine: Machine, tools: Tools) -> str:
    text = "G21 G90 G53 G0 Z0\nF1000\n" + "".join(f"G1 X{300 + i % 90} Y{200 + i % 7}\n" for i in range(BLOCKS))
    drive = Mill(machine, make(machine, list(tools.tools), 1), tools)
    begun = time.perf_counter()
    blocks = parse(text)
    read = time.perf_counter()
    run(blocks, drive)
    done = time.perf_counter()
    return (
        f"simple blocks a second: {BLOCKS / (done - read):,.0f} run, {BLOCKS / (read - begun):,.0f} read "
        "(wanted >= 100,000 interpreted)"
    )


LONG = """
import resource, time
import sys
from pathlib import Path
from nonna.adapters.shop_files.practice import make
from nonna.bench.job.planning import try_text
from nonna.bench.station.site import Site
from nonna.bench.tray.tray import Tray
make(Path(sys.argv[1]) / "shop")
from nonna.adapters.shop_files.shop_folder import ShopFolder
site = Site.load(ShopFolder(Path(sys.argv[1]) / "shop"), "larch")
moves = "".join(f"G1 X{300 + i % 90}.{i % 1000:03d} Y{200 + i % 7} Z-{i % 30}\\n" for i in range(1_000_000))
text = "G21 G90 G94\\nT2 M6\\nG53 G0 Z0\\nF1000\\n" + moves + "M2\\n"
begun = time.perf_counter()
found = try_text("long", text.encode(), site.machine, Tray(tools=site.tools), lambda: None, site.results())
took, most = time.perf_counter() - begun, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
print(took, len(found.rehearsal.problems), most / 1024)
"""


def _long() -> str:
    """A million blocks in a process of its own: its memory is the figure."""
    with tempfile.TemporaryDirectory() as place:
        done = subprocess.run([sys.executable, "-c", LONG, place], check=True, capture_output=True, text=True)
    seconds, problems, memory = done.stdout.split()
    return (
        f"1,000,000 blocks rehearsed at three lengths, as the desk does: {float(seconds):.0f} s, "
        f"{float(memory):.0f} MB at most (wanted < 1,000), {problems} problems"
    )


def _many(count: int) -> list[JobTool]:
    kinds = ("drill", "tap", "end-mill", "ball-mill", "face-mill", "bull-mill", "slitting-saw", "chamfer-mill")
    return [
        JobTool.model_validate(
            {
                "number": i + 1, "kind": kinds[i % len(kinds)], "diameter_mm": 4.0 + i % 50, "length_mm": 60.0 + i % 70,
                "length_uncertainty_mm": 0.5, "measure": ["length"],
            }
        )
        for i in range(count)
    ]  # fmt: skip


def _rehearsal(machine: Machine, _: Tools) -> str:
    wanted = _many(60)
    text = write(plan_job(machine, wanted, 3, 0.002).program)
    rows = [
        t.model_dump(exclude={"measure", "reference_mm", "tolerance_short_mm", "tolerance_long_mm"}) for t in wanted
    ]
    held = Tools.model_validate({"format": "nonna-tools/1", "tools": rows})
    begun = time.perf_counter()
    found = rehearse(text, machine, held, sweep=True)
    return (
        f"rehearsal of 60 tools, three lengths each: {time.perf_counter() - begun:.2f} s, "
        f"{len(found.problems)} problems (wanted < 1 s, 0)"
    )


def _planning(machine: Machine) -> str:
    wanted = _many(1000)
    begun = time.perf_counter()
    plan_job(machine, wanted, 3, 0.002)
    return f"planning 1,000 tools: {time.perf_counter() - begun:.2f} s (wanted < 2 s)"


def _random(machine: Machine, tools: Tools) -> str:
    dice, refused, longest = random.Random(7), 0, 0.0
    truth, begun = make(machine, list(tools.tools), 1), time.perf_counter()
    for _ in range(RANDOM):
        text = "".join(dice.choices(_PIECES, k=dice.randrange(1, 14)))
        start = time.perf_counter()
        try:
            run(parse(text, jumps=True), Mill(machine, truth, tools), skip=5061)
        except NonnaError:
            refused += 1
        longest = max(longest, time.perf_counter() - start)
    return (
        f"{RANDOM:,} random programs: {refused:,} refused with line and column, none crashed; longest "
        f"{longest * 1e3:.0f} ms, "
        f"{time.perf_counter() - begun:.0f} s in all"
    )
