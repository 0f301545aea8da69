"""How a machine calls a tool, read off the line on its card: ``T{tool} M6``, or a T word alone with its offset."""

from __future__ import annotations

import re
from dataclasses import dataclass

from nonna.shop.cards.control_card import ControlCard

USUAL = "T{tool} M6"
_OFFSET = re.compile(r"\{offset:0?([1-9])\}")


@dataclass(frozen=True, slots=True)
class ToolCalls:
    """What a T word means."""

    line: str = USUAL
    by_m6: bool = True  #: whether the tool comes with M6; else with the T word itself
    offset_digits: int = 0  #: how many of a T word's last digits are the offset's number
    ahead: bool = True  #: whether a T word alone asks for the next tool, as on a changer

    def tool(self, number: int) -> int:
        """Return the tool that a T word's number calls."""
        return number // int(10**self.offset_digits)

    def offset(self, number: int) -> int:
        """Return the offset that a T word's number calls, the tool's own where it names none."""
        return number % int(10**self.offset_digits) if self.offset_digits else number


def calls_of(card: ControlCard | None, *, turret: bool = False) -> ToolCalls:
    """Return how a machine calls a tool; ``turret``: it has no next tool to be asked for ahead."""
    line = (card.tool_call if card is not None else None) or USUAL
    by_m6 = re.search(r"[Mm]0*6(?![0-9])", line) is not None
    found = _OFFSET.search(line) if re.search(r"[Tt]\{tool[^}]*\}\{offset", line) else None
    return ToolCalls(line, by_m6, int(found.group(1)) if found else 0, by_m6 and not turret)
