"""Every page of the guide: the program's own, then that of each procedure, which lies in its folder."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from importlib import resources

from nonna.guide import Topic, own_pages
from nonna.procedures.listing import PROCEDURES


@cache
def topics() -> tuple[Topic, ...]:
    """Return every page: those of the program first, then those of the sheets by title."""
    sheets = (
        Topic.of(name, resources.files(listed.package).joinpath("guide.md").read_text(encoding="utf-8"))
        for name, listed in PROCEDURES.items()
        if resources.files(listed.package).joinpath("guide.md").is_file()
    )
    return (*own_pages(), *sorted(sheets, key=lambda page: page.title))


def topic(key: str) -> Topic | None:
    """Return a page by its key."""
    return next((t for t in topics() if t.key == key), None)


def about(words: str) -> Sequence[Topic]:
    """Return the pages that hold every word, those with a word in their title first."""
    wanted = words.lower().split()
    found = [t for t in topics() if all(w in f"{t.title}\n{t.text}".lower() for w in wanted)]
    return sorted(found, key=lambda t: not any(w in t.title.lower() for w in wanted)) if wanted else found
