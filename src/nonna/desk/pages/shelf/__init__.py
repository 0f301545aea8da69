"""Masters, indicators, setters, probes and machines with their cards."""

from nonna.desk.commands.page import Page

PAGE = Page(
    "shelf",
    "Shelf",
    "F10",
    3,
    "Go to the shelf",
    "Masters, indicators, setters, probes and machines with their cards.",
    own_keys={
        "shelf": (
            ("N", "A new card"),
            ("Up, Down", "To another card"),
        ),
    },
    view="nonna.desk.pages.shelf.view:made",
)
