"""No procedure is named outside its own folder but in lists and data: who needs something asks who offers it."""

import re
from pathlib import Path

import nonna
from nonna.procedures.listing import PROCEDURES

ROOT = Path(nonna.__file__).parent
#: Lists: the loop of a kind of station, and its chains.
LISTS = ("loop.py", "stations/lathe/__init__.py", "stations/mill/__init__.py", "stations/router/__init__.py",
         "stations/presetter/__init__.py")  # fmt: skip
#: Words that mean something else too: what the tray wants of a tool, a link of the loop, a hidden fault, a field's
#: help.
OTHERWISE = {"breakage": "", "repeatability": "", "probe-length": "diagnosis_document.py"}


def test_no_procedure_is_named_outside_its_folder_but_in_lists_and_data():
    named = re.compile(f'"({"|".join(map(re.escape, sorted(PROCEDURES, key=len, reverse=True)))})"')
    found = []
    for file in sorted(ROOT.rglob("*.py")):
        place = file.relative_to(ROOT).as_posix()
        if place.endswith(LISTS):
            continue
        for line in file.read_text().splitlines():
            for name in named.findall(line):
                own = PROCEDURES[name].package.removeprefix("nonna.").replace(".", "/")
                if not place.startswith(f"{own}/") and not (name in OTHERWISE and place.endswith(OTHERWISE[name])):
                    found.append(f"{place}: {line.strip()}")
    assert found == []
