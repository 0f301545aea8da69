"""Cards and tools of a shop as they stand in its files, not checked yet: what the first picture needs of them."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from nonna.shop.links.subjects import Subject, tool
from nonna.shop.texts.given import Given

if TYPE_CHECKING:
    from nonna.shop.cards.machine import Tool


class ToolSeen(NamedTuple):
    """A row of a machine's tool table, mm."""

    subject: Subject
    number: int
    kind: str
    diameter_mm: float
    length_mm: float | None
    name: str  #: what it is called; its kind where it has no name
    repeats: bool  #: whether its holder comes back to the same length
    doubt_mm: float = 0.0  #: how well the length in the table is known; 0: as it stands there

    @classmethod
    def of(cls, given: Given) -> ToolSeen:
        """Read a row. Raises: KeyError, TypeError, ValueError (it is not what it should be)."""
        number, kind = int(given.needed("number")), given.text("kind")
        return cls(
            tool(given.word("id") or number), number, kind, given.needed("diameter_mm"), given.number("length_mm"),
            given.word("description") or kind, given.flag("repeats", True), given.number("length_uncertainty_mm", 0.0),
        )  # fmt: skip

    @classmethod
    def of_tool(cls, tool: Tool) -> ToolSeen:
        """Return a checked tool as its row would be read."""
        name = tool.description or tool.kind
        return cls(
            tool.subject, tool.number, tool.kind, tool.diameter_mm, tool.length_mm, name, tool.repeats,
            tool.length_uncertainty_mm,
        )  # fmt: skip


class CardSeen(NamedTuple):
    """A card of a master or an instrument."""

    id: str
    name: str
    kind: str
    kept: str  #: where it lies
    due: str  #: ISO date of its next calibration, "" for none
    machine: str  #: that it belongs to
    traceable: bool
    mounted: bool
    retired: bool

    @classmethod
    def of(cls, given: Given) -> CardSeen:
        """Read a card. Raises: KeyError, TypeError (it is not what it should be)."""
        return cls(
            given.text("id"), given.text("name"), given.word("kind"), given.word("kept"), given.word("due"),
            given.word("machine"), given.flag("traceable", True), given.flag("mounted", True), given.flag("retired"),
        )  # fmt: skip
