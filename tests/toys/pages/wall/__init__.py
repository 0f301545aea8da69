"""A page for the wall: the machine's name, large."""

from nonna.desk.commands.page import Page

PAGE = Page(
    "wall", "Wall", "Ctrl+Shift+W", 9, "Go to the wall", "Who this machine is, from across the hall.",
    own_keys={"wall": (("Enter", "Back to the loop"),)}, view="nonna.desk.pages.wall.view:made",
)  # fmt: skip
