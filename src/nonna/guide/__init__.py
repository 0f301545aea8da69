"""The program's own pages of the guide, a file of Markdown each: one source for its help and for `docs/guide`.

Data, and how a page is read; it imports nothing of ours. The page of a sheet lies in the folder of
its procedure, that of a place in the window in its folder.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from importlib import resources

FIRST = (
    "first-hour",
    "ten-keys",
    "loop",
    "sheet",
    "tools",
    "rehearsal",
    "stations",
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

    @classmethod
    def of(cls, key: str, text: str) -> Topic:
        """Make a page from a file of Markdown whose first line is its title."""
        title, _, rest = text.partition("\n")
        return cls(key, title.removeprefix("# ").strip(), rest.strip())


def own_pages(of_places: Mapping[str, str]) -> Iterator[Topic]:
    """Give the program's own pages in their order, with those of the places in the window (by key), new ones last."""
    folder = resources.files(__name__)
    for key in dict.fromkeys((*FIRST, *of_places)):
        text = of_places.get(key)
        yield Topic.of(key, text if text is not None else folder.joinpath(f"{key}.md").read_text(encoding="utf-8"))
