"""Deletes a procedure, a kind of station or a dialect from a copy, and says which tests miss it.

``python -m benchmarks.deleted tooth-runout`` (``presetter``, ``branch``): what fails should be that thing's own tests.
"""

from __future__ import annotations

import os
import re
import shutil
import subprocess
import sys
import tempfile
from collections import Counter
from pathlib import Path

HOME = Path(__file__).parent.parent
PATIENCE_MS = "15000"  #: a window that waits for what is not there waits no longer
THINGS = {
    "tooth-runout": ("procedures/tooth_runout", r'^ *"tooth_runout",\n'),
    "presetter": ("stations/presetter", ""),
    "branch": ("programs/dialects/branch", ""),
}


def without(thing: str, place: Path) -> None:
    """Copy the project without a thing's folder and its line in a list."""
    folder, line = THINGS[thing]
    for part in ("src", "tests", "docs", "benchmarks"):
        shutil.copytree(HOME / part, place / part, ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    for part in ("pyproject.toml", "README.md", "CHANGELOG.md", "Makefile", "constraints.txt", "LICENSE"):
        shutil.copy(HOME / part, place / part)
    shutil.rmtree(place / "src/nonna" / folder)
    listing = place / "src/nonna/procedures/listing.py"
    if line:
        listing.write_text(re.sub(line, "", listing.read_text(), flags=re.M))


def main() -> None:
    """Print the tests that fail, by file."""
    with tempfile.TemporaryDirectory() as made:
        place = Path(made)
        without(sys.argv[1], place)
        here = {**os.environ, "PYTHONPATH": str(place / "src"), "QT_QPA_PLATFORM": "offscreen"}
        run = subprocess.run(
            [sys.executable, "-m", "pytest", "-q", "-n", "2", "-p", "no:cacheprovider"], cwd=place, check=False,
            env={**here, "NONNA_PATIENCE_MS": PATIENCE_MS}, capture_output=True, text=True,
        )  # fmt: skip
    failed = re.findall(r"^(?:FAILED|ERROR) tests/(\S+?)(?:::(\S+))?(?: - .*)?$", run.stdout, flags=re.M)
    for file, count in sorted(Counter(file for file, _ in failed).items()):
        print(
            f"{file}: {count}: {', '.join(sorted({name.partition('[')[0] for each, name in failed if each == file}))}"
        )
    print(f"without {sys.argv[1]}: {len(failed)} tests fail")


if __name__ == "__main__":
    main()
