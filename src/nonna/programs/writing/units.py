"""The unit that a control's programs are in, and how many digits its numbers have there."""

from __future__ import annotations

from typing import NamedTuple

from nonna.shop.cards.control_card import ControlCard
from nonna.shop.texts.given import Plain
from nonna.wording.lengths import MM_PER_INCH


class Unit(NamedTuple):
    """A unit with its word in a program, and the formats of numbers as templates take them."""

    name: str
    word: str
    mm: float
    place: str  #: of a position
    feed: str
    slow: str  #: of a slow feed
    little: str  #: of a way back
    near: str  #: two positions so near are one

    def of(self, value_mm: float) -> float:
        """Return millimetres in this unit."""
        return value_mm if self.mm == 1.0 else value_mm / self.mm

    def forms(self) -> dict[str, Plain]:
        """Return the formats by name."""
        return {"name": self.name, **{k: getattr(self, k) for k in ("place", "feed", "slow", "little")}}


MM = Unit("mm", "G21", 1.0, "%.3f", "%.1f", "%.2f", "%.2f", "0.002")
INCH = Unit("inch", "G20", MM_PER_INCH, "%.4f", "%.3f", "%.4f", "%.4f", "0.0001")


def unit_of(card: ControlCard | None) -> Unit:
    """Return the unit of a control's programs: millimetres where no card says otherwise."""
    return INCH if card is not None and card.units == "inch" else MM
