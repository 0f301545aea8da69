"""One procedure being filled in: what the hands do, the drawing, the numbers, the tape."""

from nonna.desk.commands.page import Page

PAGE = Page(
    "sheet",
    "",
    own_keys={
        "sheet": (
            ("Enter", "Take what was typed; insist; sign when the verdict stands"),
            ("Up", "Go back to a reading on the tape"),
            ("Left, Right, Home, End", "On the tape: to another reading"),
            ("Delete", "On the tape: strike the reading out, with a reason"),
            ("Backspace", "In the empty line: strike the last reading out, with a reason"),
            ("Ctrl+Enter", "Take it as typed, though it is questioned"),
        ),
    },
)
