"""What a load program stores, as a person looks at it before it is written."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from nonna.bench.control.runs import WrittenRun
from nonna.errors import NonnaError
from nonna.programs.language.phrases import number_words
from nonna.programs.language.tables import decimals_of
from nonna.programs.writing.load_plan import LoadPlan
from nonna.shop.cards.machine import Machine, Tool
from nonna.shop.links.history import Standing

_WORDS = {
    "length": "length", "diameter": "diameter", "offset-x": "offset X", "offset-z": "offset Z", "wear-x": "wear X",
    "wear-z": "wear Z",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class StoreRow:
    """One number, in words."""

    tool: str
    what: str
    new: str
    old: str  #: what was read back of it last
    record: str


@dataclass(frozen=True, slots=True)
class Planned:
    """A load program that was written and proved, with what it does in words."""

    plan: LoadPlan
    text: str
    title: str
    rows: tuple[StoreRow, ...]

    @property
    def is_proved(self) -> bool:
        """Whether the control reads back and prints all of it."""
        card = self.plan.card
        return bool(card.prints and card.prints_value) and all(row.what in card.reads for row in self.plan.rows)

    @property
    def about(self) -> str:
        """What a person should know before it is written."""
        if self.is_proved:
            return (
                "Nothing moves. The old values are kept in parameters, each number is read back; F8 then reads what "
                "the control says, and only what it read back is proved."
            )
        return (
            "Nothing moves. The card of the control does not say how each number is read back and printed, so nothing "
            "will prove it. Look at its table yourself."
        )

    @property
    def by_hand(self) -> tuple[str, ...]:
        """What it does not store, and why."""
        return self.plan.by_hand


def planned(plan: LoadPlan, text: str, standing: Standing, tools: Sequence[Tool]) -> Planned:
    """Return a load program with its rows in words."""
    unit = "in" if plan.card.units == "inch" else "mm"
    names = {tool.number: tool for tool in tools}
    made = []
    for row in plan.rows:
        tool = names.get(row.tool or 0)
        last = standing.in_control.get(tool.subject) if tool is not None else None
        new = f"{number_words(plan.raw(row), decimals_of(plan.card))} {unit}"
        made.append(
            StoreRow(
                f"T{row.tool} {tool.description or tool.kind}" if tool is not None else row.asked,
                _WORDS.get(row.what, row.what), "what was there before" if plan.put_back else new,
                "not known" if last is None else f"{last.signed_at.astimezone():%d %b %H:%M}, record {last.number}",
                f"record {row.record}" if row.record else "",
            )
        )  # fmt: skip
    title = (
        "Put back what the control held before" if plan.put_back else f"Into the control's own table of {plan.machine}"
    )
    return Planned(plan, text, title, tuple(made))


def put_back_of(machine: Machine, runs: Sequence[WrittenRun], run: str) -> LoadPlan:
    """Return what puts back the values that the last load program kept. Raises: NonnaError (there is none)."""
    last = next((each for each in reversed(runs) if each.purpose != "measure"), None)
    card = machine.control
    if last is None or card is None or last.purpose == "put-back":
        words = "There is no load program of {name} whose old values could be put back."
        raise NonnaError("missing-field", words, "program", name=machine.name)
    rows = tuple(row for row in last.rows if row.what in card.reads)
    if len(rows) != len(last.rows):
        words = "Not all old values were kept: the card of {name} does not say how each is read."
        raise NonnaError("missing-field", words, "machine.control.reads", name=machine.name)
    return LoadPlan(machine.name, card, rows, run, put_back=True)
