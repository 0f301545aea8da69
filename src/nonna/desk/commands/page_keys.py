"""Which keys do something on each page, beside the commands' own."""

from __future__ import annotations

from collections.abc import Iterator

from nonna.desk.commands.listed import COMMANDS, CommandGroup

EVERYWHERE = (CommandGroup.GO, CommandGroup.SHOP, CommandGroup.DESK)
OWN: dict[str, tuple[tuple[str, str], ...]] = {
    "loop": (
        ("Enter", "Start the next job, or open the link walked to"),
        ("Left, Right, Up, Down", "Walk along the loop"),
    ),
    "sheet": (
        ("Enter", "Take what was typed; insist; sign when the verdict stands"),
        ("Up", "Go back to a reading on the tape"),
        ("Left, Right, Home, End", "On the tape: to another reading"),
        ("Delete", "On the tape: strike the reading out, with a reason"),
        ("Backspace", "In the empty line: strike the last reading out, with a reason"),
        ("Ctrl+Enter", "Take it as typed, though it is questioned"),
    ),
    "tools": (
        ("Space", "Mark the tool, or let it go"),
        ("A number", "To that tool"),
        ("L, D, B, I", "Measure its length, diameter, breakage, each edge, or not"),
        ("Enter", "Do what the panel offers: measure, accept"),
        ("Ctrl+Enter", "Accept the one under the cursor"),
        ("U", "Mark those that do not hold"),
        ("E", "Edit the tool"),
        ("N", "Add a tool"),
        ("O", "Decide by hand how it is touched"),
        ("T", "Take what is suggested"),
        ("H", "Measure by hand, sheet by sheet"),
        ("W", "Presetter or setter, which way?"),
        ("Delete", "Take the tool out"),
    ),
    "rehearsal": (
        ("Left, Right", "One move back or on"),
        ("Page up, Page down", "To another tool"),
        ("Space", "Play, or stop"),
    ),
    "shelf": (("N", "A new card"), ("Up, Down", "To another card")),
    "book": (("Up, Down", "To another record"), ("A number", "To that record")),
    "set-up": (
        ("Enter", "Take the answer and go on"),
        ("Page down", "I do not know yet"),
        ("Page up", "Back"),
    ),
}


def keys_of(page: str) -> Iterator[tuple[str, str]]:
    """Yield the keys of a page with what they do: its own first, then the commands that mean something there."""
    yield from OWN.get(page, ())
    groups = {"sheet": CommandGroup.SHEET, "tools": CommandGroup.TOOLS, "rehearsal": CommandGroup.TOOLS}
    wanted = (groups[page], *EVERYWHERE) if page in groups else EVERYWHERE
    for group in wanted:
        yield from ((c.keys, c.words) for c in COMMANDS if c.keys and c.group is group)
