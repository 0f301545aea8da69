"""Every record, how a value went over time, certificates."""

from nonna.desk.commands.page import Page

PAGE = Page(
    "book",
    "Book",
    "F4",
    4,
    "Go to the book",
    "Every record ever signed, how a value went over time, certificates.",
    own_keys={
        "book": (
            ("Up, Down", "To another record"),
            ("A number", "To that record"),
        ),
    },
    view="nonna.desk.pages.book.view:made",
)
