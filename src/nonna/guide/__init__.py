"""The guide: a page of Markdown a topic, the one source for the program's help and for `docs/guide`.

Sheets have a page by the name of their procedure. It is data and how to find something in it: it imports nothing of ours.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib import resources

FIRST = (
    "first-hour",
    "ten-keys",
    "loop",
    "sheet",
    "tools",
    "rehearsal",
    "shelf",
    "book",
    "set-up",
    "settings",
    "keep-safe",
    "safety",
    "doubt",
    "glossary",
)


@dataclass(frozen=True, slots=True)
class Topic:
    """One page."""

    key: str  #: name of its file; of a procedure for its sheet
    title: str
    text: str  #: Markdown, without the title


@cache
def topics() -> tuple[Topic, ...]:
    """Return every page: those of the program first, then those of the sheets by title."""
    found = {}
    for file in resources.files(__name__).iterdir():
        if file.name.endswith(".md"):
            title, _, text = file.read_text(encoding="utf-8").partition("\n")
            found[file.name.removesuffix(".md")] = (title.removeprefix("# ").strip(), text.strip())
    rest = sorted(found.keys() - set(FIRST), key=lambda key: found[key][0])
    return tuple(Topic(key, *found[key]) for key in (*FIRST, *rest))


def topic(key: str) -> Topic | None:
    """Return a page by its key."""
    return next((t for t in topics() if t.key == key), None)


def about(words: str) -> Sequence[Topic]:
    """Return the pages that hold every word, those with a word in their title first."""
    wanted = words.lower().split()
    found = [t for t in topics() if all(w in f"{t.title}\n{t.text}".lower() for w in wanted)]
    return sorted(found, key=lambda t: not any(w in t.title.lower() for w in wanted)) if wanted else found
