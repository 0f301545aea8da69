"""A sheet being filled in: what is known, the tape, what comes next. Frozen, so that undo is the one before."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace

from nonna.errors import NonnaError
from nonna.procedures.catalogue import procedure
from nonna.procedures.display import display_step
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.facts import PassDone, SheetFacts, Slot
from nonna.procedures.sheet import Procedure
from nonna.shop.texts.given import Given, Plain

FROM_BOOK, TYPED = "records ", "typed"


@dataclass(frozen=True, slots=True)
class TapeRow:
    """One reading on the tape; struck out with a reason, never erased."""

    values: Given
    label: str
    at: str  #: ISO time with zone
    source: str  #: "typed", "stand-in", "file NAME"
    struck: str = ""
    doubted: str = ""  #: why it was questioned, where it was taken all the same

    @property
    def from_book(self) -> bool:
        """Whether it stands in the book already: nothing is lost with it."""
        return self.source.startswith(FROM_BOOK) and not self.struck

    def to_document(self) -> dict[str, Plain]:
        """Return the row as a record keeps it."""
        doubted: dict[str, Plain] = {"doubted": self.doubted} if self.doubted else {}
        return {"values": self.values, "at": self.at, "source": self.source, "struck": self.struck, **doubted}


def _taken(left: list[Slot], values: Mapping[str, Plain], label: str = "") -> Slot | None:
    """Take the open slot that a reading fills out of the list: the one it was taken for, else the first that fits."""
    fits = [i for i, slot in enumerate(left) if all(values.get(name) == each for name, each in slot.fields.items())]
    own = next((i for i in fits if left[i].label == label), fits[0] if fits else None)
    return left.pop(own) if own is not None else None


@dataclass(frozen=True, slots=True)
class SetupField:
    """A field of a setup, where one part of that stands inside another (the indicator's resolution)."""

    name: str
    part: str = ""

    def __str__(self) -> str:
        """Give the path it has in a readings file."""
        return f"setup.{self.part}.{self.name}" if self.part else f"setup.{self.name}"

    def value_in(self, setup: Given) -> Plain:
        """Return what a setup holds there, None for nothing."""
        return (setup.part(self.part) if self.part else setup).get(self.name)


@dataclass(frozen=True, slots=True)
class Session:
    """The state of one sheet."""

    name: str
    facts: SheetFacts
    rows: tuple[TapeRow, ...] = ()
    rule: str = ""  #: by which it is judged; "": as the shop does
    pending: Mapping[str, float] = field(default_factory=dict)  #: values typed so far of a reading that has several
    confirmed: bool = False  #: what the hands do first was done
    doubted: str = ""  #: why a half of the reading that is being typed was questioned
    passes: tuple[PassDone, ...] = ()  #: earlier passes, their readings struck on the tape
    procedure: Procedure = field(init=False, repr=False, compare=False)  #: it is a sheet of
    live: tuple[Given, ...] = field(init=False, repr=False, compare=False)  #: readings that count, as a file has them
    wanted: int = field(init=False, repr=False, compare=False)  #: how many readings the sheet asks for
    next_slot: Slot | None = field(init=False, repr=False, compare=False)  #: wanted next, None when all are there
    _left: tuple[Slot, ...] = field(init=False, repr=False, compare=False)  #: that no reading fills
    _found: list[Evaluation | NonnaError] = field(default_factory=list, init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        """Work out once what is asked again and again: nothing changes here."""
        found = procedure(self.name)
        slots = found.slots(self.facts)
        left = list(slots)
        for row in self.rows:
            if not row.struck:
                _taken(left, row.values, row.label)  # one that was struck leaves its own slot open, not the last one
        for name, value in {
            "procedure": found,
            "live": tuple(row.values for row in self.rows if not row.struck),
            "wanted": len(slots),
            "next_slot": left[0] if left else None,
            "_left": tuple(left),
        }.items():
            object.__setattr__(self, name, value)

    @property
    def slots_left(self) -> int:
        """How many readings of those asked for are not there yet."""
        return len(self._left)

    def expected_mm(self) -> float | None:
        """Return about what the next reading should be."""
        slot = self.next_slot
        return self.procedure.expected(self.facts, slot, self.live, self.next_field) if slot else None

    @property
    def next_field(self) -> str:
        """Which value of a reading is wanted next."""
        return self.procedure.model.value_fields[len(self.pending)]

    @property
    def prompt(self) -> str:
        """What to say for the value wanted next, "" when all readings are there."""
        slot = self.next_slot
        if slot is None or self.first:
            return self.first
        return (slot.prompt, *slot.more)[min(len(self.pending), len(slot.more))]

    @property
    def first(self) -> str:
        """What has to be confirmed before the first reading, "" once it was, or where there is nothing of the kind."""
        return "" if self.confirmed or self.rows else self.procedure.first

    def slot_on(self, axis: str) -> Slot | None:
        """The reading wanted next on an axis, of what is measured now (one master, not the one after it), or None.

        "" for whatever is wanted next.
        """
        left = self._left
        if not left or not axis:
            return self.next_slot
        here = _place(left[0])
        return next((slot for slot in left if _place(slot) == here and slot.axis == axis), None)

    def take(self, value_mm: float, source: str, at: str, doubted: str = "", axis: str = "") -> Session:
        """Put a value into the next slot; further ones go where the last slot was.

        A reading of several values (X and Y, height and cross) goes on the tape with its last one. ``doubted``: why it
        was questioned, where somebody insisted; ``axis``: it belongs to the next reading on that axis, where an
        instrument says so.
        """
        pending = {**self.pending, self.next_field: value_mm}
        if len(pending) < len(self.procedure.model.value_fields):
            return replace(self, pending=pending, doubted=doubted or self.doubted)
        wanted = self.slot_on(axis)
        slot = wanted or self.procedure.slots(self.facts)[-1]
        label = slot.label if wanted else "one more"
        row = TapeRow(Given({**slot.fields, **pending}), label, at, source, "", doubted or self.doubted)
        return replace(self, rows=(*self.rows, row), pending={}, doubted="")

    def drop_pending(self) -> Session:
        """Forget the half of a reading that was typed."""
        return replace(self, pending={}, doubted="")

    def next_pass(self, turned: Mapping[str, float]) -> Session:
        """Begin the next pass: what was read stays on the tape, struck as an earlier pass, with what it gave.

        Parameters: turned, degrees of key by screw where they are known. Raises: NonnaError (no result yet).
        """
        result = self.evaluate()
        if isinstance(result, NonnaError):
            raise result
        number = len(self.passes) + 1
        done = PassDone(self.live, {q.name: q.value for q in result.quantities}, dict(turned))
        rows = tuple(row if row.struck else replace(row, struck=f"pass {number}") for row in self.rows)
        return replace(self, rows=rows, passes=(*self.passes, done), pending={})

    def take_all(self, readings: Iterable[Mapping[str, Plain]], source: str, at: str) -> Session:
        """Put whole readings on the tape, each labelled by the slot it fills."""
        left, rows = list(self._left), list(self.rows)
        for values in readings:
            slot = _taken(left, values)
            rows.append(TapeRow(Given(values), slot.label if slot else str(len(rows) + 1), at, source))
        return replace(self, rows=tuple(rows), pending={})

    def strike(self, index: int, reason: str) -> Session:
        """Strike a reading out.

        Raises: NonnaError ``missing-field`` (no reason), IndexError.
        """
        if not reason.strip():
            raise NonnaError("missing-field", "Say why, in a word or two: the tape keeps it.", "reason")
        rows = list(self.rows)
        rows[index] = replace(rows[index], struck=reason.strip())
        return replace(self, rows=tuple(rows))

    def with_setup(self, **fields: Plain) -> Session:
        """Change fields of the setup; None takes a field out."""
        facts = replace(self.facts, setup=Given(_changed(self.facts.setup, fields)))
        return replace(self, facts=self.procedure.settled(facts))

    @property
    def temperature_assumed(self) -> bool:
        """Whether masters are used at a temperature that nobody read today."""
        return bool(self.facts.conditions.get("temperature_assumed"))

    def with_temperature(self, celsius: float) -> Session:
        """Change the temperature that masters are used at: it was read."""
        facts = self.facts
        kept = {name: value for name, value in facts.conditions.items() if name != "temperature_assumed"}
        return replace(self, facts=replace(facts, conditions={**kept, "temperature_c": celsius}))

    def with_field(self, field: SetupField, value: Plain) -> Session:
        """Change one field, also inside a part of the setup; None takes it out."""
        if not field.part:
            return self.with_setup(**{field.name: value})
        part = _changed(self.facts.setup.part(field.part), {field.name: value})
        return self.with_setup(**{field.part: part})

    def with_variant(self, key: str) -> Session:
        """Do it another way; readings taken the old way belong to it and are struck.

        Raises: KeyError (no such variant).
        """
        variant = self.procedure.variant(key)
        if variant is None:
            raise KeyError(key)
        facts = replace(self.facts, variant=variant.key, setup=Given({**self.facts.setup, **variant.setup}))
        rows = tuple(row if row.struck else replace(row, struck="done another way") for row in self.rows)
        return replace(self, facts=self.procedure.settled(facts), rows=rows, pending={})

    def document(self) -> Mapping[str, Plain]:
        """Return the readings file of this sheet; what was typed is known to the digits that were typed."""
        facts, step = self.facts, self.display_mm
        if step > (facts.setup.number("resolution_mm") or 0.0):
            facts = replace(facts, setup=Given({**facts.setup, "resolution_mm": step}))
        return facts.document(self.name, self.live, self.rule)

    @property
    def display_mm(self) -> float:
        """The step of the display that typed positions were read off; 0.0 where none can be told, or a dial has a
        card.
        """
        if "indicator" in self.facts.setup or "resolution_mm" not in self.procedure.setup_model.model_fields:
            return 0.0
        lengths = [name for name in self.procedure.model.value_fields if name.endswith("_mm")]
        typed = [row.values for row in self.rows if row.source == TYPED and not row.struck]
        return display_step([values.needed(name) for values in typed for name in lengths if name in values])

    def evaluate(self) -> Evaluation | NonnaError:
        """Return the result as it stands, or what is missing for one; worked out once, for nothing changes here."""
        if not self._found:
            try:
                self._found.append(self.procedure.evaluate(self.document()))
            except NonnaError as error:
                self._found.append(error)
        return self._found[0]


def _place(slot: Slot) -> Mapping[str, Plain]:
    """Return what a reading is of, whatever its axis or face."""
    return {name: value for name, value in slot.fields.items() if name not in ("axis", "face")}


def _changed(setup: Mapping[str, Plain], fields: Mapping[str, Plain]) -> Mapping[str, Plain]:
    gone = {name for name, value in fields.items() if value is None}
    return {name: value for name, value in {**setup, **fields}.items() if name not in gone}
