"""Guarded approaches: skip moves that are meant to end without a touch, told from searches that found nothing."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from nonna.programs.blocks import Block
from nonna.programs.expressions import Parameters

_TOUCHES, _PAUSES, _ENDS = {31.0, 38.2}, {0.0, 1.0}, {2.0, 30.0}


def was_guarded(
    rows: Sequence[Block], at: int, labels: Mapping[int, int], parameters: Parameters, begun: Parameters
) -> bool:
    """Whether a skip move that came to its end was meant to.

    The jump behind it would be made, to where the program stops and says so, had the move ended where it began; as it is,
    the touch is yet to come. A search is the other way round: its own end is what stops it.
    Parameters: at, the block behind the move; labels, where each label stands; begun, what the parameters of the move's
    end would hold at its beginning.
    """
    jump = rows[at].jump if at < len(rows) else None
    if jump is None or not jump.guards(parameters, begun):
        return False
    return _comes(rows, at + 1) == "touch" and _comes(rows, labels.get(jump.label, len(rows))) == "pause"


def _comes(rows: Sequence[Block], at: int) -> str:
    """Return what comes first from a block on, as the program is written: a touch, a pause or the end."""
    for block in rows[at:]:
        for letter, value, _ in block.words:
            if letter == "g" and value in _TOUCHES:
                return "touch"
            if letter == "m" and value in _PAUSES:
                return "pause"
            if letter == "m" and value in _ENDS:
                return "end"
    return "end"
