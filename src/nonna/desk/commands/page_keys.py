"""Which keys do something on each page, beside the commands' own."""

from __future__ import annotations

from collections.abc import Iterator

from nonna.desk.commands.listed import CommandGroup, commands
from nonna.desk.commands.page import Keys, pages

TRAY = ("tools", "rehearsal")  #: where the keys of the tray are shown; they go there from anywhere
EVERYWHERE = (CommandGroup.GO, CommandGroup.SHOP, CommandGroup.DESK)
SET_UP: Keys = (
    ("Enter", "Take the answer and go on"),
    ("Page down", "I do not know yet"),
    ("Page up", "Back"),
)


def own_keys() -> dict[str, Keys]:
    """Return the keys of each page's own, by its topic in the guide."""
    return {"set-up": SET_UP} | {topic: keys for page in pages() for topic, keys in page.own_keys.items()}


def keys_of(topic: str) -> Iterator[tuple[str, str]]:
    """Yield the keys of a page with what they do: its own first, then the commands that mean something there."""
    yield from own_keys().get(topic, ())
    for group in (CommandGroup.SHEET, CommandGroup.TOOLS, *EVERYWHERE):
        if group is not CommandGroup.TOOLS or topic in TRAY:
            yield from ((c.keys, c.words) for c in commands() if c.keys and c.group is group and c.holds(topic))
