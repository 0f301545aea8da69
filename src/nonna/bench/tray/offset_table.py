"""Measured offsets of tips beside what the machine's table holds: what differs, and the tray with it written."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass

from nonna.bench.book.results_that_hold import HeldResults
from nonna.bench.tables.wear_column import DIGITS, NEAR_MM
from nonna.bench.tray.tray import Tray
from nonna.shop.cards.machine import Tool
from nonna.shop.links.subjects import A_TOOL, Subject
from nonna.shop.records.values import as_measurement
from nonna.stations.kind import Parts, StationKind


@dataclass(frozen=True, slots=True)
class OffsetChange:
    """What a record makes of one axis of a tip's offset; mm, as the machine shows it."""

    record: int
    tool: int
    name: str
    axis: str
    before: float | None  #: what the table holds, None for nothing
    after: float
    expanded: float | None  #: of the measured one, None where it is without a doubt of its own
    wear: float  #: what the table holds beside it
    new_edge: bool  #: whether its insert was changed since a part was measured: the wear was the old one's
    edge: str = ""  #: which way it was touched, where the table does not say yet

    @property
    def writes(self) -> bool:
        """Whether it may be written. Wear that parts found on the same edge holds part of it already: it stays."""
        return self.new_edge or not self.wear

    @property
    def difference(self) -> float | None:
        """Measured less the table's."""
        return None if self.before is None else self.after - self.before


def offset_changes(
    results: HeldResults, kind: StationKind, tools: Sequence[Tool], holding: Collection[Subject]
) -> tuple[OffsetChange, ...]:
    """Return where the newest measured offset is not what the table holds, beyond its doubt, by tool and axis.

    Parameters: holding, tools whose record holds: one measured before its insert was changed says nothing.
    Raises: NonnaError (a record is damaged).
    """
    found: list[OffsetChange] = []
    each = kind.loop.each
    if each is None:
        return ()
    new_edge = _new_edges(kind)
    for tool in tools:
        if tool.subject not in holding:
            continue
        changed = _changed(results, new_edge, tool.subject)
        for axis in "xz":
            held = results.held(each.procedure, f"offset_{axis}_mm", tool.subject)
            if held is None or held.record.number < changed:  # of the edge before
                continue
            before, after = getattr(tool, f"offset_{axis}_mm"), round(held.value, DIGITS)
            doubt = held.expanded
            wear, number = getattr(tool, f"wear_{axis}_mm") or 0.0, held.record.number
            edge = "" if tool.edge else held.record.variant
            change = OffsetChange(
                number, tool.number, tool.description, axis, before, after, doubt, wear,
                _new_edge(results, kind.parts, tool.subject, changed, number), edge,
            )  # fmt: skip
            inside = before is not None and abs(after - before) <= max(doubt or 0.0, NEAR_MM)
            if not inside or (change.new_edge and wear):
                found.append(change)
    return tuple(found)


def look_ahead(results: HeldResults, kind: StationKind, tools: Iterable[Subject]) -> None:
    """Have the records read that `offset_changes` will ask for. Raises: NonnaError (one of them is damaged)."""
    for tool in tools if kind.loop.each is not None and kind.parts is not None else ():
        if changed := _changed(results, _new_edges(kind), tool):
            _new_edge(results, kind.parts, tool, changed, changed + 1)


def _new_edges(kind: StationKind) -> set[str]:
    """Return the names of the events that give a tool a new edge."""
    each = kind.loop.each
    return {e.name for e in kind.loop.events if each is not None and e.subject == A_TOOL and each.key in e.breaks}


def _changed(results: HeldResults, events: Collection[str], tool: Subject) -> int:
    """Return the number of the event that a tool's edge was changed by last, 0 for none."""
    return max((e.number for e in results.entries if e.name in events and e.subject == tool), default=0)


def _new_edge(results: HeldResults, parts: Parts | None, tool: Subject, changed: int, measured: int) -> bool:
    """Whether an edge was new when it was measured, and no part was since."""
    if not 0 < changed < measured:
        return False
    if parts is None:
        return True
    return not any(
        Subject.of(as_measurement(results.read(e.number)).setup.word("tool")) == tool
        for e in results.entries.measured(parts.procedure)
        if e.number > changed
    )


def with_offsets(tray: Tray, changes: Sequence[OffsetChange]) -> Tray:
    """Return the tray with the offsets that may be written, the wear of an old edge gone."""
    new: dict[int, dict[str, float | str]] = {}
    for change in (c for c in changes if c.writes):
        fields = new.setdefault(change.tool, {})
        fields[f"offset_{change.axis}_mm"] = change.after
        if change.wear:
            fields[f"wear_{change.axis}_mm"] = 0.0
        if change.edge:
            fields["edge"] = change.edge
    made = tray
    for number, fields in new.items():
        tool = made.tool(number)
        if tool is not None:
            made = made.with_tool(tool.model_copy(update=fields), number)
    return made
