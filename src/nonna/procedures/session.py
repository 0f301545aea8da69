"""A sheet being filled in: what is known, the tape, what comes next. Frozen, so that undo is the one before."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from nonna.metrology.errors import NonnaError
from nonna.procedures.catalogue import procedure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.sheet import Bench, Procedure, Slot


@dataclass(frozen=True, slots=True)
class TapeRow:
    """One reading on the tape; struck out with a reason, never erased."""

    values: Mapping[str, Any]
    label: str
    at: str  #: ISO time with zone
    source: str  #: "typed", "stand-in", "file NAME"
    struck: str = ""

    def to_document(self) -> dict[str, Any]:
        """Return the row as a record keeps it."""
        return {"values": dict(self.values), "at": self.at, "source": self.source, "struck": self.struck}


@dataclass(frozen=True, slots=True)
class Session:
    """The state of one sheet."""

    name: str
    bench: Bench
    rows: tuple[TapeRow, ...] = ()
    rule: str = "guarded"

    @property
    def procedure(self) -> Procedure:
        """The procedure this is a sheet of."""
        return procedure(self.name)

    @property
    def live(self) -> list[dict[str, Any]]:
        """The readings that count, as a readings file has them."""
        return [dict(row.values) for row in self.rows if not row.struck]

    @property
    def next_slot(self) -> Slot | None:
        """The reading wanted next, or None when all are there."""
        left = [(dict(slot.fields), slot) for slot in self.procedure.slots(self.bench)]
        for values in self.live:
            for i, (fields, _) in enumerate(left):
                if all(values.get(name) == value for name, value in fields.items()):
                    del left[i]
                    break
        return left[0][1] if left else None

    @property
    def wanted(self) -> int:
        """How many readings the sheet asks for."""
        return len(self.procedure.slots(self.bench))

    def expected_mm(self) -> float | None:
        """Return about what the next reading should be."""
        slot = self.next_slot
        return self.procedure.expected(self.bench, slot, self.live) if slot else None

    def take(self, value_mm: float, source: str, at: str) -> Session:
        """Put a reading into the next slot; further ones go where the last slot was."""
        slot = self.next_slot or self.procedure.slots(self.bench)[-1]
        label = slot.label if self.next_slot else "one more"
        values = {**slot.fields, self.procedure.model.value_field: value_mm}
        return replace(self, rows=(*self.rows, TapeRow(values, label, at, source)))

    def take_all(self, readings: Iterable[Mapping[str, Any]], source: str, at: str) -> Session:
        """Put whole readings on the tape, each labelled by the slot it fills."""
        session = self
        for values in readings:
            label = str(values.get("face", len(session.live) + 1))
            session = replace(session, rows=(*session.rows, TapeRow(dict(values), label, at, source)))
        return session

    def strike(self, index: int, reason: str) -> Session:
        """Strike a reading out.

        Raises: NonnaError ``missing-field`` (no reason), IndexError.
        """
        if not reason.strip():
            raise NonnaError("missing-field", "Say why, in a word or two: the tape keeps it.", "reason")
        rows = list(self.rows)
        rows[index] = replace(rows[index], struck=reason.strip())
        return replace(self, rows=tuple(rows))

    def with_setup(self, **fields: Any) -> Session:
        """Change fields of the setup; None takes a field out."""
        setup = {k: v for k, v in {**self.bench.setup, **fields}.items() if v is not None}
        return replace(self, bench=replace(self.bench, setup=setup))

    def document(self) -> dict[str, Any]:
        """Return the readings file of this sheet."""
        return self.bench.document(self.name, self.live, self.rule)

    def evaluate(self) -> Evaluation | NonnaError:
        """Return the result as it stands, or what is missing for one."""
        try:
            return self.procedure.evaluate(self.document())
        except NonnaError as error:
            return error
