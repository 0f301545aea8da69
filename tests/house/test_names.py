"""No procedure is named outside its own folder but in lists and data: who needs something asks who offers it."""

import ast
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


def test_signatures_say_what_they_take():
    """What a file may hold is read at its edge; behind that, values have types."""
    loose = [
        f"{path.name}: {node.name}"
        for path in ROOT.rglob("*.py")
        for node in ast.walk(ast.parse(path.read_text()))
        if isinstance(node, ast.FunctionDef) and "Any" in _names_in_signature(node)
    ]
    assert len(loose) <= 25, loose
    rooms = ("bench", "procedures", "stations", "desk", "cli")
    files = [path for room in rooms for path in (ROOT / room).rglob("*.py")]
    assert [path.name for path in files if re.search(r"(dict|Mapping)\[str, Any\]", path.read_text())] == []


def _names_in_signature(node):
    given = (*node.args.posonlyargs, *node.args.args, *node.args.kwonlyargs, node.args.vararg, node.args.kwarg)
    said = [each.annotation for each in given if each is not None] + [node.returns]
    return {name.id for each in said if each is not None for name in ast.walk(each) if isinstance(name, ast.Name)}
