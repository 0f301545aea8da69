"""The home of a station: its links drawn in their places, and the next jobs."""

from nonna.desk.commands.page import Page

PAGE = Page(
    "loop",
    "Loop",
    "F2",
    1,
    "Go to the loop",
    "The machine with every link in its place: what holds, what is due, what to do next.",
    own_keys={
        "loop": (
            ("Enter", "Start the next job, or open the link walked to"),
            ("Left, Right, Up, Down", "Walk along the loop"),
        ),
    },
    view="nonna.desk.pages.loop.view:made",
)
