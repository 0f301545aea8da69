"""Every page of the guide: the program's own, those of the window's places, then that of each procedure."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from importlib import resources
from importlib.util import find_spec
from pathlib import Path

from nonna.guide import Topic, own_pages
from nonna.procedures.listing import PROCEDURES

PLACES = "nonna.desk.pages"


@cache
def topics() -> tuple[Topic, ...]:
    """Return every page: those of the program first, then those of the sheets by title."""
    sheets = (
        Topic.of(name, resources.files(listed.package).joinpath("guide.md").read_text(encoding="utf-8"))
        for name, listed in PROCEDURES.items()
        if resources.files(listed.package).joinpath("guide.md").is_file()
    )
    return (*own_pages(_of_places()), *sorted(sheets, key=lambda page: page.title))


def _of_places() -> dict[str, str]:
    """Return the texts that lie in the folders of the window's places; nothing there is imported."""
    spec = find_spec(PLACES)
    found = {}
    for home in tuple(spec.submodule_search_locations or ()) if spec else ():
        for file in sorted(Path(home).glob("*/*.md")):
            found[file.parent.name if file.stem == "guide" else file.stem] = file.read_text(encoding="utf-8")
    return found


def topic(key: str) -> Topic | None:
    """Return a page by its key."""
    return next((t for t in topics() if t.key == key), None)


def about(words: str) -> Sequence[Topic]:
    """Return the pages that hold every word, those with a word in their title first."""
    wanted = words.lower().split()
    found = [t for t in topics() if all(w in f"{t.title}\n{t.text}".lower() for w in wanted)]
    return sorted(found, key=lambda t: not any(w in t.title.lower() for w in wanted)) if wanted else found
