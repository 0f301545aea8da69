"""What of the book goes into a control's tables: each tool's newest results that hold, by what they are there."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from dataclasses import dataclass

from nonna.bench.book.results_that_hold import Held, HeldResults
from nonna.errors import NonnaError
from nonna.procedures.listing import PROCEDURES
from nonna.programs.writing.load_plan import LoadPlan, LoadRow
from nonna.shop.cards.machine import Machine, Tool
from nonna.shop.links.judge import LinkState, State
from nonna.shop.links.subjects import ANY, Subject


@dataclass(frozen=True, slots=True)
class ToStore:
    """What is to be stored, and what is not and why."""

    rows: tuple[LoadRow, ...]
    by_hand: tuple[str, ...]

    def plan(self, machine: Machine, run: str, *, put_back: bool = False) -> LoadPlan:
        """Return the load program's plan. Raises: NonnaError (nothing is left, or the card does not say how)."""
        card = machine.control
        if card is None or not card.stores:
            words = "The card of {name} does not say how its control stores anything (Shelf, F10)."
            raise NonnaError("missing-field", words, "machine.control.stores", name=machine.name)
        if not self.rows:
            words = "There is nothing to store. {why}"
            raise NonnaError("out-of-range", words, "tools", why=" ".join(f"{each}." for each in self.by_hand[:3]))
        return LoadPlan(machine.name, card, self.rows, run, self.by_hand, put_back)


def to_store(
    machine: Machine, tools: Iterable[Tool], results: HeldResults, holding: Collection[Subject] | None = None
) -> ToStore:
    """Return what the book holds of these tools.

    Parameters: holding, the tools whose link in the loop holds, None where nobody asks: what rests on something broken
    is not stored. Raises: NonnaError (a record that would be used is damaged).
    """
    card = machine.control
    said = card.stores if card is not None else {}
    rows: list[LoadRow] = []
    by_hand: list[str] = []
    for tool in tools:
        found = _newest(tool, results)
        if not found:
            by_hand.append(f"T{tool.number} has no result that holds")
        for what, held in found.items():
            if holding is not None and tool.subject not in holding:
                by_hand.append(
                    f"T{tool.number} {what} does not hold (record {held.record.number}): mend the loop first"
                )
            elif held.undecided:
                by_hand.append(f"T{tool.number} {what} is left open by its doubt (record {held.record.number})")
            elif what not in said:
                by_hand.append(f"T{tool.number} {what}: the card does not say how it is stored")
            else:
                rows.append(LoadRow(what, held.value, tool.number, tool.number, "", held.record.number))
    return ToStore(tuple(rows), tuple(by_hand))


def _newest(tool: Tool, results: HeldResults) -> dict[str, Held]:
    """Return a tool's newest results that hold, by what they are in a table."""
    found: dict[str, Held] = {}
    for name, listed in PROCEDURES.items():
        if listed.subject != ANY:
            continue
        for result, what in listed.stored.items():
            held = results.held(name, result, tool.subject)
            if held is not None and (what not in found or found[what].record.number < held.record.number):
                found[what] = held
    return found


def holding_tools(links: Sequence[LinkState]) -> frozenset[Subject]:
    """Return the tools whose link holds, where a loop has a link of each tool."""
    return frozenset(s for each in links for s, state in each.subjects if state is State.HOLDS)
