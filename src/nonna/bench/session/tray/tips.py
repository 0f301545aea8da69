"""What the tools' page says of tools that are measured on sheets of their own: offsets, and which the table does not
hold.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, TypeVar

from nonna.bench.session.tray.picture import wear_words
from nonna.bench.session.tray.row_words import in_control
from nonna.bench.tables.tool_table import offsets, offsets_of
from nonna.bench.tray.offset_table import offset_changes
from nonna.shop.records.damage import NotRead
from nonna.wording.lengths import Units, length

if TYPE_CHECKING:
    from nonna.bench.session.tray.open_tray import OpenTray
    from nonna.bench.station.state import ShopState
    from nonna.bench.tables.tool_table import ToolRow
    from nonna.shop.cards.machine import Tool

T = TypeVar("T")


def offsets_shown(
    controller: OpenTray, state: ShopState | None, tool: Tool | None, units: Units
) -> tuple[tuple[str, str, str], ...]:
    """Return title, number and unit of what a tool's sheet found that is no length: what waits, else what is signed."""
    each = state.kind.loop.each if state else None
    if state is None or each is None or tool is None or not controller.one_by_one:
        return ()
    waiting = next((r.evaluation for r in controller.tray.results if r.subject == tool.subject), None)
    found = offsets_of(waiting) if waiting is not None else ()
    if waiting is None:
        found = read_already(lambda: offsets(state.known, each, tool.subject), ())
    return tuple((title, length(value, units, unit=False), units.symbol) for title, value in found)


def to_write(controller: OpenTray, state: ShopState | None, rows: Sequence[ToolRow]) -> int:
    """Return how many measured offsets are not what the table holds."""
    if state is None or not controller.by_program:
        return 0
    holding = {row.subject for row in rows if row.state.value == "holds"}
    kind, tools = state.kind, controller.tray.tools
    return read_already(lambda: sum(c.writes for c in offset_changes(state.known, kind, tools, holding)), 0)


def known_of(state: ShopState | None, tool: Tool | None, units: Units) -> str:
    """Say whether its newest results stand in the control, and how a tool wears; "" where nothing tells."""
    if state is None or tool is None:
        return ""
    card = state.site.machine.control if state.site is not None else None
    stored = in_control(state.standing, tool.subject) if card is not None and card.stores else ""
    worn = read_already(lambda: wear_words(state.known, tool.subject, units), "")
    return " ".join(words for words in (f"{stored[:1].upper()}{stored[1:]}." if stored else "", worn) if words)


def read_already(look: Callable[[], T], otherwise: T) -> T:
    """Return what records say that were read; what rests on others is shown once they are, a moment later."""
    try:
        return look()
    except NotRead:
        return otherwise
