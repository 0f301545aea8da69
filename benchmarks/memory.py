"""Memory of the open desk, in a process of its own."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Iterator

CODE = (
    "import sys, tempfile\n"
    "from pathlib import Path\n"
    "from nonna.desk.start.tour import Tour\n"
    "def resident(what):\n"
    "    words = dict(line.split(':', 1) for line in Path('/proc/self/status').read_text().splitlines())\n"
    "    print('figure', what, int(words['VmRSS'].split()[0]) / 1024, sep=';')\n"
    "tour = Tour(Path(tempfile.mkdtemp()), False)\n"
    "tour.main_job(); resident('desk with sheet, tools and stand-in used')\n"
    "tour.rest(); resident('and after a certificate and everything else')\n"
)


def figures() -> Iterator[str]:
    """Give the resident memory in MB."""
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    done = subprocess.run([sys.executable, "-c", CODE], check=True, capture_output=True, text=True, env=environment)
    for line in done.stdout.splitlines():
        if line.startswith("figure;"):
            _, what, resident = line.split(";")
            yield f"memory, {what}: {float(resident):.0f} MB (wanted <= 220)"
