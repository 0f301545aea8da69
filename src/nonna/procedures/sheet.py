"""The protocol all procedures share: what a sheet shows, asks and works out."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any, Literal, TypeAlias

import numpy as np

from nonna.errors import NonnaError
from nonna.procedures import offers
from nonna.procedures.evaluation import Evaluation, Move
from nonna.procedures.facts import Caution, PassDone, Readings, SheetFacts, Slot, Step, Variant, as_before
from nonna.procedures.guess import Guess, guess_at_spot
from nonna.procedures.inputs import ReadingsFile, Setup, validated
from nonna.procedures.listing import Listed
from nonna.procedures.touching import Touching
from nonna.shop.reason import Reason
from nonna.shop.texts.given import Plain, as_number

if TYPE_CHECKING:
    from nonna.figures.figure import Figure
    from nonna.shop.cards.masters import MasterCard


BEYOND_RECKONING = "These numbers are too large or too small to be reckoned with."


NeedPart: TypeAlias = Literal["value", "u", "dof", "readings-1", "one-more", "pivot", "slope", "means-of"]


@dataclass(frozen=True, slots=True)
class Need:
    """A setup field that comes from the newest record of whatever measures it, so that nobody types it."""

    field: str
    offer: str  #: what it is (`nonna.procedures.offers`)
    part: NeedPart
    """``readings-1``: one less than its number of readings (dof of an s). Of a transfer: the doubt of one more tool,
    the line of its model, and how many readings its lengths are means of."""
    link: str  #: the link of the loop it hangs on
    variants: tuple[str, ...] = ()  #: only when done in one of these ways; (): always
    same_subject: bool = False  #: from a record of the same tool only
    factor: float = 1.0  #: a radius carried into a diameter: 2
    needed: bool = True  #: whether the sheet is refused without it
    away: bool = False  #: from the records of the shop's presetter
    of_station: bool = False  #: there, from the record about this very station


def with_doubt(
    name: str,
    offer: str,
    link: str,
    variants: tuple[str, ...] = (),
    *,
    same_subject: bool = False,
    needed: bool = True,
) -> tuple[Need, ...]:
    """Need a result in ``name`` with its uncertainty and degrees of freedom: the three go together."""
    return tuple(
        Need(f"{name}{end}", offer, part, link, variants, same_subject, needed=needed)  # type: ignore[arg-type]
        for end, part in (("_mm", "value"), ("_u_mm", "u"), ("_dof", "dof"))
    )


PLANE = with_doubt("trigger_plane", offers.TRIGGER_PLANE, "setter")
REPEATABILITY = (
    Need("repeatability_mm", offers.TOUCH_SCATTER, "value", "repeatability", needed=False),
    Need("repeatability_dof", offers.TOUCH_SCATTER, "readings-1", "repeatability", needed=False),
)


def _as_it_is(facts: SheetFacts) -> SheetFacts:
    return facts


def _no_outlook(passes: Sequence[PassDone], result: Evaluation) -> Reason | None:
    del passes, result
    return None


@dataclass(frozen=True, kw_only=True, eq=False)
class Procedure:
    """One measuring procedure, put together from its folder. Files, sheets, records and certificates follow from it."""

    listed: Listed
    model: type[ReadingsFile]
    evaluation: Callable[[Any], Evaluation]  #: works the results of a checked file out
    slots: Callable[[SheetFacts], tuple[Slot, ...]]  #: the readings wanted, in the order the hands take them
    steps: Callable[[SheetFacts], tuple[Step, ...]]  #: what the hands do, in order
    figure: Callable[..., Figure]
    """Draws the geometry as it stands: what the sheet knows, readings at hand, result (or None), unit of the words."""
    caution: Caution
    main: tuple[str, ...]  #: results shown largest, first one first
    main_title: str  #: what the first of them is called before it is known
    taken: Mapping[str, str] = field(default_factory=dict)
    """How a machine or a hand at it comes by the readings, by variant ("" for all others): a word that the stand-in of
    a kind of station knows, or none can take them."""
    touching: Mapping[str, Touching] = field(default_factory=dict)
    """How a program takes them on a setter, by variant ("" for all others); without an entry hands do."""
    any_main: bool = False  #: whether the book shows the next of them where the first was not measured
    beside: tuple[str, ...] = ()  #: results that a record holds and a sheet need not show
    variants: tuple[Variant, ...] = ()
    remembers: tuple[str, ...] = ()  #: fields of the setup that are as they were on the record before
    first: str = ""  #: what is tried before the first reading is typed or sent
    looks_back: str = ""  #: what of the record before is shown beside the new
    variant_of_master: bool = False  #: the master chosen decides the variant
    offered: Mapping[str, Plain] = field(default_factory=dict)  #: setup a new sheet starts with
    needs: tuple[Need, ...] = ()  #: what is taken from records
    master_kinds: tuple[str, ...] = ()  #: kinds of masters that will do, best first
    role: str = "master"  #: what the readings file calls the master
    compares: bool = False  #: whether results of its ways are shown beside each other
    differ_words: str = "they do NOT agree"  #: what to say where such results differ beyond their doubt
    reads: Mapping[str, str] = field(default_factory=lambda: {"position_mm": "z"})
    """By value field: the axis it is read on, or "dial"."""
    by_dial: bool = True  #: whether what its setup calls the indicator is a dial; else a micrometer
    foreseeable: bool = True  #: whether an earlier reading tells about what the next should be
    learns_turns: bool = False  #: whether degrees of key make the next advice better
    settled: Callable[[SheetFacts], SheetFacts] = _as_it_is  #: with what follows from the rest of the setup
    own_cast: Callable[[Sequence[MasterCard], MasterCard | None], dict[str, MasterCard]] | None = None
    own_expected: Callable[[SheetFacts, Slot, Readings, str], float | None] | None = None
    own_guess: Callable[[SheetFacts, Slot, Readings, str], Guess | None] | None = None
    own_next_moves: Callable[[SheetFacts, Sequence[PassDone], Evaluation], tuple[Move, ...]] | None = None
    own_axis_of: Callable[[str, Slot | None], str] | None = None
    outlook: Callable[[Sequence[PassDone], Evaluation], Reason | None] = _no_outlook
    """How many more passes it will take, where the passes so far tell."""

    @property
    def name(self) -> str:
        """Its published name."""
        return self.listed.name

    @property
    def title(self) -> str:
        """What people call it."""
        return self.listed.title

    def taking(self, variant: str) -> str:
        """Return how the readings are come by when it is done in one way; "" where nobody says."""
        return self.taken.get(variant) or self.taken.get("", "")

    def touched(self, variant: str) -> Touching | None:
        """Return how a program takes the readings when it is done in one way; None where hands do."""
        return self.touching.get(variant) or self.touching.get("")

    @property
    def setup_model(self) -> type[Setup]:
        """The model of this procedure's setup."""
        annotation = self.model.model_fields["setup"].annotation
        if not (isinstance(annotation, type) and issubclass(annotation, Setup)):
            raise TypeError(f"{self.name}: setup must be a Setup")
        return annotation

    def evaluate(self, document: Mapping[str, Plain]) -> Evaluation:
        """Evaluate one readings document.

        Raises: NonnaError with a published code and the place in the document.
        """
        file = validated(self.model, dict(document))
        try:
            with np.errstate(all="ignore"):  # what overflows is refused below, by name
                found = self.evaluation(file)
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

    def cast(self, cards: Sequence[MasterCard], first: MasterCard | None) -> dict[str, MasterCard]:
        """Return which of the masters at hand plays which role. Parameters: first, the one chosen for ``role``."""
        if self.own_cast is not None:
            return self.own_cast(cards, first)
        return {self.role: first} if first is not None else {}

    def expected(self, facts: SheetFacts, slot: Slot, readings: Readings, field: str = "") -> float | None:
        """Return about what a value of a reading should be (mm; the first value without ``field``), or None."""
        if self.own_expected is not None:
            return self.own_expected(facts, slot, readings, field)
        return as_before(self.model, slot, readings, field) if self.foreseeable else None

    def guess(self, facts: SheetFacts, slot: Slot, readings: Readings, field: str) -> Guess | None:
        """Return about what a reading should be by the others, with its doubt; None where they do not tell.

        Usually by those of the same spot; a fit through all of them where a procedure has one.
        """
        if self.own_guess is not None:
            return self.own_guess(facts, slot, readings, field)
        if not self.foreseeable:
            return None
        same = [as_number(r[field]) for r in readings if all(r.get(k) == v for k, v in slot.fields.items())]
        return guess_at_spot(same, (facts.setup.number("repeatability_mm") or 0.0))

    def next_moves(self, facts: SheetFacts, passes: Sequence[PassDone], result: Evaluation) -> tuple[Move, ...]:
        """Return what to turn before the next pass, with what earlier passes taught; sheets without passes: nothing."""
        return self.own_next_moves(facts, passes, result) if self.own_next_moves is not None else result.moves

    def axis_of(self, field: str, slot: Slot | None) -> str:
        """Return what a value is read on: an axis of the machine ("x", "y", "z"), a "dial", or "" where nobody
        knows.
        """
        if self.own_axis_of is not None:
            return self.own_axis_of(field, slot)
        if slot is not None and self.reads and (slot.on or slot.fields.get("axis") in ("x", "y", "z")):
            return slot.on or str(slot.fields["axis"])
        face = str(slot.fields.get("face", "")) if slot else ""
        return face[1] if face in ("+x", "-x", "+y", "-y") else self.reads.get(field, "")

    def variant(self, key: str) -> Variant | None:
        """Return a variant by its key, the first one for "", or None where there are none."""
        return next((v for v in self.variants if key in ("", v.key)), None)
