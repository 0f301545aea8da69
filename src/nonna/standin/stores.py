"""What a program stores, held against what its header asks for and against what can be."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable, Iterator
from typing import NamedTuple

from nonna.programs.language.control_state import ControlState
from nonna.programs.language.phrases import WORK
from nonna.programs.language.tables import ControlTables, Stored
from nonna.shop.cards.machine import Machine, Tool
from nonna.shop.texts.given import Plain
from nonna.standin.contact import Problem
from nonna.wording.lengths import MM_PER_INCH

_LINE = re.compile(r"\s*\(\s*stores:\s*(.*?)\s*\)\s*", re.IGNORECASE)
_ASKED = re.compile(
    r"(?:t(?P<tool>[0-9]{1,7})|(?P<table>work|offset|pocket)\s+(?P<number>[0-9]{1,7}))\s+(?P<what>[a-z-]+)"
)
SURPRISE_MM, SURPRISE_SHARE = 1.0, 0.1  #: beyond what is stated of a tool, a length and a share of its diameter
FAR_OFFSET_MM, FAR_WEAR_MM = 5.0, 1.0  #: of a lathe's offset from its table, and of any wear
SLIP_NEAR = 0.02  #: so near to a slip's factor a number is one
_SLIPS = (
    (MM_PER_INCH, "inches were taken for millimetres"), (1.0 / MM_PER_INCH, "millimetres were taken for inches"),
    (-1.0, "its sign is turned"), (10.0, "its point stands one place on"), (0.1, "its point stands one place back"),
)  # fmt: skip


class Asked(NamedTuple):
    """Something that a program is asked to store."""

    table: str  #: ``t`` for a tool's row, else ``work``, ``offset``, ``pocket``
    number: int
    what: str  #: as a card's pattern is named; of a work offset the axis

    @property
    def words(self) -> str:
        """As the header has it."""
        where = f"T{self.number}" if self.table == "t" else f"{self.table} {self.number}"
        return f"{where} {self.what}"


def asked_in(text: str) -> frozenset[Asked]:
    """Return what a program's header lists, a line each, as ``(stores: T2 length)``."""
    return frozenset(_asked(text))


def _asked(text: str) -> Iterator[Asked]:
    for line in text.splitlines():
        found = _LINE.fullmatch(line)
        named = _ASKED.fullmatch(found[1].lower()) if found is not None else None
        if named is not None:
            yield Asked(named["table"] or "t", int(named["number"] or named["tool"]), named["what"])


def asked_by(stored: Stored) -> Collection[Asked]:
    """Return the ways in which a header may have asked for what was stored."""
    cell = stored.cell
    if cell.what == WORK:
        return (Asked(WORK, cell.number, cell.axis),)
    if cell.what.startswith("pocket-"):
        return (Asked("pocket", cell.number, cell.what.removeprefix("pocket-")),)
    if stored.tool is not None:
        return (Asked("t", stored.tool, cell.what),)
    return (Asked("offset", cell.number, cell.what), Asked("t", cell.number, cell.what))  # a tool's own offset


def store_documents(stored: Iterable[Stored]) -> list[Plain]:
    """Return what was stored as the command line prints it, in the control's units."""
    return [
        {
            "line": each.line, "what": each.cell.what, **({"axis": each.cell.axis} if each.cell.axis else {}),
            "tool": each.tool, "offset": each.offset, "old": each.old, "new": each.new,
        }
        for each in stored
    ]  # fmt: skip


def store_problems(
    state: ControlState, asked: Collection[Asked], machine: Machine, tools: Iterable[Tool]
) -> Iterator[Problem]:
    """Yield what was stored unasked, and what cannot be meant: another sign, unit, tool or table."""
    tables = state.tables
    if tables is None:
        return
    by_number = {tool.number: tool for tool in tools}
    for each in tables.stored:
        held = each.tool or 0
        ways = asked_by(each)
        if not any(way in asked for way in ways):
            words = f"{_named(each)} is stored, and the program's header does not ask for it"
            yield Problem("stores-unasked", "stop", each.line, held, words)
            continue
        wrong = _implausible(each, tables, machine, by_number)
        if wrong:
            yield Problem("stores-implausible", "stop", each.line, held, f"{_named(each)}: {wrong}")
        elif each.cell.what == "length" and state.compensated == each.cell.number and state.length_offset:
            words = f"{_named(each)} is stored while it is taken off: what follows would go elsewhere"
            yield Problem("stores-implausible", "stop", each.line, held, words)


def _named(stored: Stored) -> str:
    return next(iter(asked_by(stored))).words


def _implausible(stored: Stored, tables: ControlTables, machine: Machine, tools: dict[int, Tool]) -> str:
    """Say why a number cannot be meant, "" where it can."""
    what, new = stored.cell.what, tables.meant_mm(stored, stored.new)
    old = None if stored.old is None else tables.meant_mm(stored, stored.old)
    tool = tools.get(stored.tool or stored.cell.number)
    if what in ("length", "diameter"):
        return _of_a_tool(what, new, old, tool)
    if what.endswith("wear") or what.startswith("wear-"):
        return f"a wear of {new:.3f} mm is none" if abs(new) > FAR_WEAR_MM else ""
    if what.startswith("offset-"):
        stated = None if tool is None else (tool.offset_x_mm if what == "offset-x" else tool.offset_z_mm)
        return _from(new, stated if stated is not None else old, FAR_OFFSET_MM)
    axis = stored.cell.axis or what[-1]
    low, high = getattr(machine.travel_mm, axis, (-1e6, 1e6))
    reach = max(abs(low), abs(high)) + (high - low)
    return f"{new:.3f} mm is beyond anything {machine.name} reaches" if abs(new) > reach else ""


def _of_a_tool(what: str, new: float, old: float | None, tool: Tool | None) -> str:
    if new <= 0.0:
        return f"{new:.3f} mm is no {what}: is its sign turned?"
    if tool is None:
        return _slip(new, old) if old else ""
    if what == "length":
        stated = tool.true_length_mm or tool.length_mm
        within = tool.length_uncertainty_mm + SURPRISE_MM
        return _from(new, old if stated is None else stated, within, slips_only=stated is None)
    return _from(new, tool.diameter_mm, max(SURPRISE_MM, SURPRISE_SHARE * tool.diameter_mm))


def _from(new: float, stated: float | None, within: float, *, slips_only: bool = False) -> str:
    """Say how far a number is from what is stated, "" where it is near enough."""
    if stated is None or abs(new - stated) <= within:
        return ""
    slip = _slip(new, stated)
    if slips_only and not slip:
        return ""
    return slip or f"{new:.3f} mm, and {stated:.3f} mm is stated: is it another tool's, or another table's?"


def _slip(new: float, stated: float | None) -> str:
    if not stated:
        return ""
    for factor, words in _SLIPS:
        if abs(new / stated / factor - 1.0) <= SLIP_NEAR:
            return f"{new:.4f} mm, and {stated:.3f} mm is stated: {words}"
    return ""
