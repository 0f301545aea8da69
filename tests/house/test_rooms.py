"""Each room says what belongs there and stays small enough to look over; what the documents name is there."""

import re
from pathlib import Path

import nonna

ROOT = Path(nonna.__file__).parent
PROJECT = Path(__file__).parents[2]
MOST = 20  #: files side by side


def test_no_room_has_more_files_than_can_be_looked_over_and_each_says_what_belongs_there():
    crowded, silent = {}, []
    for room in {file.parent for file in ROOT.rglob("*.py")}:
        files = [file for file in room.glob("*.py") if file.name != "__init__.py"]
        place = room.relative_to(ROOT).as_posix()
        if len(files) > MOST:
            crowded[place] = len(files)
        if not (room / "__init__.py").read_text().startswith('"""') and not place.endswith("procedures"):
            silent.append(place)
    assert crowded == {}
    assert silent == []


def test_each_path_that_a_document_names_is_there():
    roots = [ROOT.parent, PROJECT / "tests", PROJECT / "docs"]
    there = {f"/{path.relative_to(PROJECT).as_posix()}" for root in roots for path in (root, *root.rglob("*"))}
    whole = {*there, *(path.rpartition(".")[0] for path in there)}
    missing = []
    for page in (PROJECT / "docs").glob("*.md"):
        for path in re.findall(r"`([a-z_]+(?:/[a-z_]+)+/?(?:\.[a-z_]+)?)`", page.read_text()):
            named = f"/{path.rstrip('/')}"
            stem = named.rpartition(".")[0] or named
            if not any(known.endswith((named, stem)) for known in whole):
                missing.append(f"{page.name}: {path}")
    assert missing == []
