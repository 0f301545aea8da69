"""What a sheet knows before its first reading, and what it asks: slots, steps, cautions, ways, passes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import TypeAlias

from nonna.procedures.inputs import FORMAT, ReadingsFile
from nonna.shop.links.subjects import ANY, Subject
from nonna.shop.texts.given import Document, Given, Plain, as_number

Reading: TypeAlias = "Mapping[str, Plain]"  #: as a readings file has it

Readings: TypeAlias = "Sequence[Reading]"


@dataclass(frozen=True, slots=True)
class Step:
    """One thing the hands do. ``slots`` names the readings that belong to it ("" for none)."""

    words: str
    slots: str = ""


@dataclass(frozen=True, slots=True)
class Caution:
    """A danger where a hand, a door, a spindle, stored energy or a beam is involved."""

    title: str
    words: str


@dataclass(frozen=True, slots=True)
class Slot:
    """One reading that is wanted: what stands beside the value, and what to say for it."""

    fields: Document
    label: str
    prompt: str
    group: str = ""
    more: tuple[str, ...] = ()  #: what to say for the second and further values of the reading
    on: str = ""  #: the axis it is read on, where its fields do not say so

    @property
    def axis(self) -> str:
        """The axis it is read on: x, y or z."""
        face = str(self.fields.get("face", ""))
        return str(self.fields.get("axis") or (face[-1] if face[:1] in ("+", "-") else "z"))


@dataclass(frozen=True, slots=True)
class Variant:
    """A way of doing a procedure, and the setup that goes with it."""

    key: str
    title: str
    setup: Mapping[str, Plain] = field(default_factory=dict)
    kinds: tuple[str, ...] = ()  #: kinds of masters this way needs, where not all will do
    beside: str = ""  #: results of ways that share this word are shown beside each other


@dataclass(frozen=True, slots=True)
class Beside:
    """A result of the same thing done another way."""

    way: str
    record: int
    value_mm: float
    expanded_mm: float


@dataclass(frozen=True, slots=True)
class SheetFacts:
    """What the sheet already knows, so that nothing is typed twice: all plain file fields."""

    setup: Given = field(default_factory=lambda: Given({}))  #: of the readings file; any mapping will do
    masters: Mapping[str, Given] = field(default_factory=dict)  #: likewise, by role
    conditions: Mapping[str, float] = field(default_factory=dict)
    variant: str = ""
    subject: Subject = ANY  #: what is measured
    about: Mapping[str, float] = field(default_factory=dict)  #: nominal places, by slot ("top", "+x", ...)
    beside: tuple[Beside, ...] = ()  #: the newest results of the same thing done other ways
    known: Mapping[str, float] = field(default_factory=dict)  #: what the newest records hold, by result name
    named: tuple[str, ...] = ()  #: what is measured one after the other, where it has names
    reach: Mapping[str, tuple[float, float]] = field(default_factory=dict)  #: travel by axis, range of the "dial" (mm)
    rule: str = "guarded"  #: how the shop judges it
    pad_width: float = 14.0
    pad_square: bool = False
    sides: tuple[str, ...] = ("+x", "-x", "+y", "-y")  #: from which a tool can come to the setter's pad
    tool_kind: str = "end-mill"
    tool_diameter: float = 10.0
    tool_flutes: int = 0
    pockets: int = 0  #: how many the machine has; 0: nobody said
    others: Mapping[str, tuple[float, float]] = field(
        default_factory=dict
    )  #: masters of the shelf that would do too, by name: how much longer and wider than the one chosen they are
    past: tuple[Given, ...] = ()  #: what was measured before of the same running process, newest first, where wanted
    before: Given = field(
        default_factory=lambda: Given({})
    )  #: what the record before said beside its results, where wanted

    def __post_init__(self) -> None:
        """Take plain mappings too."""
        object.__setattr__(self, "setup", Given(self.setup))
        object.__setattr__(self, "masters", {role: Given(card) for role, card in self.masters.items()})
        object.__setattr__(self, "before", Given(self.before))

    def master(self, role: str) -> Given:
        """Return the card of a role's master, empty where there is none."""
        return self.masters.get(role, Given({}))

    def document(self, procedure: str, readings: Readings, rule: str = "") -> dict[str, Plain]:
        """Return the readings file these facts and readings make."""
        return {
            "format": FORMAT,
            "procedure": procedure,
            "conditions": dict(self.conditions),
            "masters": {role: dict(master) for role, master in self.masters.items()},
            "setup": dict(self.setup),
            "rule": {"kind": rule or self.rule},
            "readings": list(readings),
        }


@dataclass(frozen=True, slots=True)
class PassDone:
    """A pass before this one: its readings, what they gave, and what was turned after it (degrees by screw)."""

    readings: tuple[Mapping[str, Plain], ...]
    results: Mapping[str, float]
    turned: Mapping[str, float] = field(default_factory=dict)


def as_before(model: type[ReadingsFile], slot: Slot, readings: Readings, field: str = "") -> float | None:
    """Return what was read last at the same spot, None where nothing was."""
    value = field or model.value_fields[0]
    same = [r[value] for r in readings if all(r.get(k) == v for k, v in slot.fields.items())]
    return as_number(same[-1]) if same else None


def asked_face(slots: Sequence[Slot], readings: Readings) -> str:
    """Return the face that is to be touched next, "" where none is."""
    left = [str(slot.fields.get("face", "")) for slot in slots]
    for reading in readings:
        face = str(reading.get("face", ""))
        if face in left:
            left.remove(face)
    return left[0] if left else ""
