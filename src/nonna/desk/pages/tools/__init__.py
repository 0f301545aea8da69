"""The tray of a machine: plans, programs, their rehearsal, results."""

from nonna.desk.commands.page import Page

PAGE = Page(
    "tools",
    "Tools",
    "F3",
    2,
    "Go to the tools",
    "The tray: mark tools, have them planned, rehearsed and measured, accept what is sound.",
    own_keys={
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
    },
    view="nonna.desk.pages.tools.made:made",
)
