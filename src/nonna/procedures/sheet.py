"""The protocol all procedures share: what a sheet shows, asks and works out."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any, ClassVar, Literal, TypeAlias

import numpy as np

from nonna.errors import NonnaError
from nonna.procedures.evaluation import Evaluation, Move
from nonna.procedures.guess import Guess, guess_at_spot
from nonna.procedures.inputs import FORMAT, ReadingsFile, Setup, validated
from nonna.procedures.listing import PROCEDURES
from nonna.shop.given import Given
from nonna.shop.reason import Reason
from nonna.shop.subjects import ANY, Subject
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from nonna.figures.figure import Figure
    from nonna.shop.masters import MasterCard


BEYOND_RECKONING = "These numbers are too large or too small to be reckoned with."


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

    fields: Mapping[str, Any]
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
    setup: Mapping[str, Any] = field(default_factory=dict)
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
class Bench:
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

    def document(self, procedure: str, readings: list[dict[str, Any]], rule: str = "") -> dict[str, Any]:
        """Return the readings file these facts and readings make."""
        return {
            "format": FORMAT,
            "procedure": procedure,
            "conditions": dict(self.conditions),
            "masters": {role: dict(master) for role, master in self.masters.items()},
            "setup": dict(self.setup),
            "rule": {"kind": rule or self.rule},
            "readings": readings,
        }


CarryPart: TypeAlias = Literal["value", "u", "dof", "readings-1", "one-more", "pivot", "slope", "means-of"]


@dataclass(frozen=True, slots=True)
class Carry:
    """A setup field that comes from the newest record of another procedure, so that nobody types it."""

    field: str
    procedure: str
    result: str
    part: CarryPart
    """``readings-1``: one less than its number of readings (dof of an s). Of a transfer: the doubt of one more tool,
    the line of its model, and how many readings its lengths are means of."""
    link: str  #: the link of the loop it hangs on
    variants: tuple[str, ...] = ()  #: only when done in one of these ways; (): always
    same_subject: bool = False  #: from a record of the same tool only
    factor: float = 1.0  #: a radius carried into a diameter: 2
    needed: bool = True  #: whether the sheet is refused without it
    away: bool = False  #: from the records of the shop's presetter
    of_station: bool = False  #: there, from the record about this very station
    any_way: bool = False  #: also from a record of another procedure that its link may be measured by


def carried(
    name: str,
    procedure: str,
    result: str,
    link: str,
    variants: tuple[str, ...] = (),
    *,
    same_subject: bool = False,
    needed: bool = True,
    any_way: bool = False,
) -> tuple[Carry, ...]:
    """Carry a result into ``name`` with its uncertainty and degrees of freedom: the three go together."""
    return tuple(
        Carry(f"{name}{end}", procedure, result, part, link, variants, same_subject, needed=needed, any_way=any_way)  # type: ignore[arg-type]
        for end, part in (("_mm", "value"), ("_u_mm", "u"), ("_dof", "dof"))
    )


PLANE = carried("trigger_plane", "setter-calibration", "trigger_plane_mm", "setter")
REPEATABILITY = (
    Carry("repeatability_mm", "repeatability", "s_mm", "value", "repeatability", needed=False),
    Carry("repeatability_dof", "repeatability", "s_mm", "readings-1", "repeatability", needed=False),
)


@dataclass(frozen=True, slots=True)
class PassDone:
    """A pass before this one: its readings, what they gave, and what was turned after it (degrees by screw)."""

    readings: tuple[Mapping[str, Any], ...]
    results: Mapping[str, float]
    turned: Mapping[str, float] = field(default_factory=dict)


class Procedure(ABC):
    """One measuring procedure. All files, sheets, records and certificates follow from it.

    Subclasses set the class attributes and write `_evaluate`, `slots`, `steps` and `figure`.
    """

    name: ClassVar[str]
    model: ClassVar[type[ReadingsFile]]
    main: ClassVar[tuple[str, ...]]  #: results shown largest, first one first
    any_main: ClassVar[bool] = False  #: whether the book shows the next of them where the first was not measured
    main_title: ClassVar[str]  #: what the first of them is called before it is known
    beside: ClassVar[tuple[str, ...]] = ()  #: results that a record holds and a sheet need not show
    variants: ClassVar[tuple[Variant, ...]] = ()
    remembers: ClassVar[tuple[str, ...]] = ()  #: fields of the setup that are as they were on the record before
    first: ClassVar[str] = ""  #: what is tried before the first reading is typed or sent
    looks_back: ClassVar[str] = ""  #: what of the record before is shown beside the new
    variant_of_master: ClassVar[bool] = False  #: the master chosen decides the variant
    caution: ClassVar[Caution]
    sentences: ClassVar[Mapping[str, str]] = {}  #: what its reasons are called, by the code's second part
    offered: ClassVar[Mapping[str, Any]] = {}  #: setup a new sheet starts with
    carries: ClassVar[tuple[Carry, ...]] = ()
    master_kinds: ClassVar[tuple[str, ...]] = ()  #: kinds of masters that will do, best first
    role: ClassVar[str] = "master"  #: what the readings file calls the master
    compares: ClassVar[bool] = False  #: whether results of its ways are shown beside each other
    differ_words: ClassVar[str] = "they do NOT agree"  #: what to say where such results differ beyond their doubt
    reads: ClassVar[Mapping[str, str]] = {"position_mm": "z"}  #: by value field: the axis, or "dial"
    by_dial: ClassVar[bool] = True  #: whether what its setup calls the indicator is a dial; else a micrometer
    foreseeable: ClassVar[bool] = True  #: whether an earlier reading tells about what the next should be
    learns_turns: ClassVar[bool] = False  #: whether degrees of key make the next advice better

    def evaluate(self, document: dict[str, Any]) -> Evaluation:
        """Evaluate one readings document.

        Raises: NonnaError with a published code and the place in the document.
        """
        file = validated(self.model, document)
        try:
            with np.errstate(all="ignore"):  # what overflows is refused below, by name
                found = self._evaluate(file)
        except NonnaError:
            raise
        except (
            ArithmeticError,
            ValueError,
            RuntimeError,
            np.linalg.LinAlgError,
        ) as error:  # libraries say it either way
            raise NonnaError("out-of-range", BEYOND_RECKONING, "setup") from error
        if not found.is_finite():
            raise NonnaError("out-of-range", BEYOND_RECKONING, "setup")
        if file.conditions.temperature_assumed and document.get("masters"):
            found = replace(found, flags=(*found.flags, "temperature-assumed"))
        return found

    @abstractmethod
    def _evaluate(self, file: Any) -> Evaluation:
        """Work out the results of a checked file."""

    @abstractmethod
    def slots(self, bench: Bench) -> tuple[Slot, ...]:
        """Return the readings wanted, in the order the hands take them."""

    @abstractmethod
    def steps(self, bench: Bench) -> tuple[Step, ...]:
        """Return what the hands do, in order."""

    @abstractmethod
    def figure(
        self, bench: Bench, readings: list[dict[str, Any]], result: Evaluation | None, units: Units = Units.MM
    ) -> Figure:
        """Draw the geometry as it stands with the readings at hand; words in the unit wanted."""

    def asked_face(self, bench: Bench, readings: Sequence[Mapping[str, Any]]) -> str:
        """Return the face that is to be touched next, "" where none is."""
        left = [str(slot.fields.get("face", "")) for slot in self.slots(bench)]
        for reading in readings:
            face = str(reading.get("face", ""))
            if face in left:
                left.remove(face)
        return left[0] if left else ""

    def settled(self, bench: Bench) -> Bench:
        """Return the bench with what follows from the rest of its setup; most procedures have nothing of that."""
        return bench

    def cast(self, cards: Sequence[MasterCard], first: MasterCard | None) -> dict[str, MasterCard]:
        """Return which of the masters at hand plays which role. Parameters: first, the one chosen for ``role``."""
        del cards
        return {self.role: first} if first is not None else {}

    def expected(self, bench: Bench, slot: Slot, readings: list[dict[str, Any]], field: str = "") -> float | None:
        """Return about what a value of a reading should be (mm; the first value without ``field``), or None."""
        del bench
        if not self.foreseeable:
            return None
        value = field or self.model.value_fields[0]
        same = [r[value] for r in readings if all(r.get(k) == v for k, v in slot.fields.items())]
        return float(same[-1]) if same else None

    def axis_of(self, field: str, slot: Slot | None) -> str:
        """Return what a value is read on: an axis of the machine ("x", "y", "z"), a "dial", or "" where nobody knows."""
        if slot is not None and self.reads and (slot.on or slot.fields.get("axis") in ("x", "y", "z")):
            return slot.on or str(slot.fields["axis"])
        face = str(slot.fields.get("face", "")) if slot else ""
        return face[1] if face in ("+x", "-x", "+y", "-y") else self.reads.get(field, "")

    def guess(self, bench: Bench, slot: Slot, readings: list[dict[str, Any]], field: str) -> Guess | None:
        """Return about what a reading should be by the others, with its doubt; None where they do not tell.

        Usually by those of the same spot; a fit through all of them where a procedure has one.
        """
        if not self.foreseeable:
            return None
        same = [float(r[field]) for r in readings if all(r.get(k) == v for k, v in slot.fields.items())]
        return guess_at_spot(same, (bench.setup.number("repeatability_mm") or 0.0))

    def next_moves(self, bench: Bench, passes: Sequence[PassDone], result: Evaluation) -> tuple[Move, ...]:
        """Return what to turn before the next pass, with what earlier passes taught; sheets without passes: nothing."""
        del bench, passes
        return result.moves

    def outlook(self, passes: Sequence[PassDone], result: Evaluation) -> Reason | None:
        """Say how many more passes it will take, where the passes so far tell."""
        del passes, result
        return None

    def variant(self, key: str) -> Variant | None:
        """Return a variant by its key, the first one for "", or None where there are none."""
        return next((v for v in self.variants if key in ("", v.key)), None)

    @property
    def title(self) -> str:
        """What people call it, as the list has it."""
        return PROCEDURES[self.name].title

    @property
    def setup_model(self) -> type[Setup]:
        """The model of this procedure's setup."""
        annotation = self.model.model_fields["setup"].annotation
        if not (isinstance(annotation, type) and issubclass(annotation, Setup)):
            raise TypeError(f"{self.name}: setup must be a Setup")
        return annotation
