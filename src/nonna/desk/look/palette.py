"""Colours by meaning, light and dark."""

from __future__ import annotations

from typing import NamedTuple

from PySide6.QtGui import QColor

from nonna.figures.figure import Ink
from nonna.shop.links.judge import State

STATE_INK = {State.HOLDS: "accent", State.DUE: "due", State.BROKEN: "bad", State.NEVER: "muted"}


class Palette(NamedTuple):
    """One theme: every colour of the desk by what it means."""

    name: str
    ground: str  #: behind the cards
    card: str
    rail: str
    bar: str
    on_bar: str
    on_bar_quiet: str
    ink: str
    muted: str
    faint: str
    accent: str
    on_accent: str
    wash: str  #: accent, very light: what is chosen
    due: str
    due_wash: str
    bad: str
    bad_wash: str
    steel: str
    steel_dark: str
    pad: str
    master: str

    def ink_colour(self, ink: Ink) -> QColor:
        """Return the colour of a drawing's ink."""
        return QColor(getattr(self, {"paper": "card", "steel-dark": "steel_dark", "ghost": "rail"}.get(ink, ink)))

    def state_colour(self, state: State) -> QColor:
        """Return the colour that goes with a link's state; the shape says it first."""
        return QColor(getattr(self, STATE_INK[state]))


LIGHT = Palette(
    "light", ground="#f4f1ea", card="#fdfcf9", rail="#eae6dc", bar="#22303a", on_bar="#ffffff", on_bar_quiet="#aebac1",
    ink="#22303a", muted="#5f6c74", faint="#d9d4c8", accent="#0f5b6e", on_accent="#ffffff", wash="#dcebef",
    due="#93590a",
    due_wash="#f7ead2", bad="#aa3719", bad_wash="#f6e5da", steel="#dfe5e8", steel_dark="#97a4aa", pad="#43535c",
    master="#ecd9b0",
)  # fmt: skip
DARK = Palette(
    "dark", ground="#171d21", card="#1f272c", rail="#12171a", bar="#0e1316", on_bar="#f1efe9", on_bar_quiet="#8d9aa2",
    ink="#eceae3", muted="#9fabb2", faint="#36424a", accent="#63b9cd", on_accent="#0e1316", wash="#1f3d46",
    due="#e0a64a",
    due_wash="#3c311c", bad="#ef8a66", bad_wash="#42271d", steel="#4a5860", steel_dark="#67767e", pad="#a9b6bd",
    master="#b89a58",
)  # fmt: skip
