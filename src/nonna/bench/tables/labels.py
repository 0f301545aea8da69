"""Labels for tools: what a machine, or a hand at it, has to know of each that holds."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime

from nonna.bench.station.state import ShopState
from nonna.bench.tables.tool_table import rows
from nonna.shop.links.loop import LinkSort
from nonna.shop.records.values import Record


@dataclass(frozen=True, slots=True)
class ToolLabel:
    """One tool's label."""

    number: int
    name: str
    length_mm: float
    expanded_mm: float
    measured: datetime
    record: int
    hash: str  #: of the record: whoever scans it finds the very one


def labels(state: ShopState, read: Callable[[int], Record]) -> tuple[ToolLabel, ...]:
    """Return a label for each tool whose length holds. Raises: NonnaError (a record is damaged)."""
    link = next((s for s in state.links if s.link.sort is LinkSort.EACH), None)
    made = []
    for row in rows(state.tools, state.standing, link) if link is not None else ():
        if not row.accepted or row.record is None or row.now is None or row.expanded is None:
            continue
        record = read(row.record)
        made.append(ToolLabel(row.number, row.name, row.now, row.expanded, record.signed_at, row.record, record.hash))
    return tuple(made)
