"""The four kinds of records, and what stands in them. A record that was signed never changes: all of it is frozen."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal, TypeAlias, TypeVar

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, JsonValue, PlainSerializer, Strict

from nonna.shop.links.subjects import Subject
from nonna.shop.records.damage import DamagedRecordError
from nonna.shop.texts.given import Given

FORMAT = "nonna-record/1"
MEASUREMENT, EVENT, WITHDRAWAL, CARD = "measurement", "event", "withdrawal", "card"  #: kinds of records
JsonObject: TypeAlias = dict[str, JsonValue]
_OF_MANY = ("masters.json", "gear.json")  #: files that hold many cards
_MOST_SHOWN = 40  #: letters of a card's value in a sentence

T = TypeVar("T")
Many = Annotated[tuple[T, ...], Field(strict=False)]  #: JSON has no tuples
Figure = (
    Annotated[int, Strict()] | Annotated[float, Strict(), Field(allow_inf_nan=False)]
)  #: as it was written, 5 or 5.0
About = Annotated[
    Subject,
    BeforeValidator(lambda said: Subject.of(said) if type(said) is str else said, json_schema_input_type=str),
    PlainSerializer(str),
]
Moment = Annotated[
    datetime,
    BeforeValidator(lambda said: _moment(said) if type(said) is str else said),
    PlainSerializer(lambda at: at.isoformat(timespec="milliseconds")),
]


def _moment(text: str) -> datetime:
    """Return the time that a record says. Raises: ValueError (it says none, or no zone)."""
    found = datetime.fromisoformat(text)
    if found.tzinfo is None:
        raise ValueError("its date has no zone")
    return found


class _Part(BaseModel):
    """A part of a record: as strict as what was signed deserves; what a later program wrote beside it is passed
    over.
    """

    model_config = ConfigDict(frozen=True, strict=True, extra="ignore", populate_by_name=True, defer_build=True)


class _OpenPart(_Part):
    """A part that holds more than is named here: in its own words, by `more`."""

    model_config = ConfigDict(extra="allow")

    @property
    def more(self) -> JsonObject:
        """What else it holds."""
        return dict(self.__pydantic_extra__ or {})


class Program(_Part):
    """What made a record."""

    name: str
    version: str


class ClockSaid(_Part):
    """A time far from the record before, which somebody looked at and said was right."""

    record: int
    signed_at: str


class Signed(_Part):
    """What every record says of itself: what it is about, who signed it, where and when."""

    format: Literal["nonna-record/1"]
    kind: str
    name: str  #: of the procedure, or of the event
    machine: str
    subject: About
    operator: str
    shop: str
    invented: bool = False  #: signed in a practice shop
    signed_at: Moment
    zone: str
    made_with: Program
    verdict: Literal["pass", "fail", "undecided", "none"]
    note: str
    value_mm: Figure | None  #: its procedure's main result, where that is a length
    expanded_mm: Figure | None
    refers_to: int | None
    clock: ClockSaid | None = None
    number: int = 0  #: 0: it has no place in a ledger yet
    previous: str = ""  #: hash of the record before
    hash: str = Field("", exclude=True)
    text: str = Field("", exclude=True, repr=False)  #: what was signed, to the letter

    @property
    def signed_text(self) -> str:
        """When it was signed, as a record has it."""
        return self.signed_at.isoformat(timespec="milliseconds")


class Influence(_Part):
    """One source of doubt in a result, with its signed part."""

    source: str
    u: Figure
    dof: Figure | None  #: None: infinitely many
    shape: Literal["normal", "rectangular"]
    field: str | None = None  #: of the readings file; older records do not say
    sign: Figure = 1


class ResultRow(_Part):
    """One result: a number with its doubt, or a plain one."""

    value: Figure
    unit: str
    u: Figure | None = None
    dof: Figure | None = None
    k: Figure | None = None
    expanded: Figure | None = Field(None, alias="U")


class RuleSaid(_OpenPart):
    """By which rule it was decided."""

    kind: Literal["guarded", "simple"]


class Result(_OpenPart):
    """What an evaluation gave, in the published format; what only one procedure gives is in `more`."""

    format: str
    procedure: str
    results: dict[str, ResultRow]
    verdict: str
    rule: RuleSaid
    flags: Many[str]
    advice: Many[str]


class ReadingsSigned(_OpenPart):
    """The readings file that was evaluated, as it was."""

    procedure: str = ""
    setup: JsonObject = Field(default_factory=dict)
    readings: Many[JsonObject]
    masters: dict[str, JsonObject] = Field(default_factory=dict)
    conditions: JsonObject | None = None


class TapeReading(_OpenPart):
    """One reading on the tape, struck or not."""

    values: JsonObject
    at: str = ""
    source: str = ""
    struck: str = ""  #: why it was struck out
    doubted: str = ""  #: why it was questioned, where it was taken all the same


class CarriedFrom(_Part):
    """Where a field of the setup was taken from."""

    record: int
    hash: str
    link: str = ""
    result: str = ""  #: its name there; older records do not say
    verdict: str = ""


class Headline(_Part):
    """The finding in one sentence, with its facts apart."""

    template: str
    lengths: JsonObject


class CheckSigned(_Part):
    """One limit, met or not."""

    title: str
    value: Figure
    guard_low: Figure
    guard_high: Figure
    limit: Figure
    verdict: str
    unit: str = "mm"
    of: str = ""


class Drawn(_Part):
    """What its drawing needs beside the readings file."""

    variant: str = ""
    pad_width: Figure | None = None
    tool_kind: str = ""
    tool_diameter: Figure | None = None
    tool_flutes: int | None = None


class Measurement(Signed):
    """A sheet as it was signed: readings, masters, where its numbers came from, what it gave."""

    kind: Literal["measurement"]
    refers_to: None
    title: str
    input: ReadingsSigned
    tape: Many[TapeReading]
    masters: dict[str, JsonObject]  #: cards by their role, as they were
    carried: dict[str, CarriedFrom]  #: by field of the readings file
    result: Result
    influences: dict[str, Many[Influence]]  #: by result
    order: Many[
        Annotated[tuple[str, str], Field(strict=False)]
    ]  #: name and title of each result, as a sheet shows them
    headline: Headline
    checks: Many[CheckSigned]
    measuring_program: str
    bench: Drawn
    setter: str = ""  #: id of the setter that took part
    draft: str = ""  #: id of the tape it was signed from

    @property
    def variant(self) -> str:
        """In which way it was done, "" where there is one only."""
        return self.bench.variant

    @property
    def setup(self) -> Given:
        """The setup it was evaluated with."""
        return Given(self.input.setup)

    def row(self, name: str) -> ResultRow | None:
        """Return one of its results, None where it does not hold that."""
        return self.result.results.get(name)

    def own(self) -> Given:
        """Return what only its procedure gives."""
        return Given(self.result.more)


class Event(Signed):
    """Something that happened: a crash, a new stylus, a change of rules."""

    kind: Literal["event"]
    value_mm: None
    expanded_mm: None
    refers_to: None
    cards: Many[CardChange] = ()


class Withdrawal(Signed):
    """A record taken back, and why; it stays in the book."""

    kind: Literal["withdrawal"]
    value_mm: None
    expanded_mm: None
    refers_to: int


class CardChange(_Part):
    """One field of a shop's cards that is not what it was."""

    file: str  #: its path in the shop's folder
    field: str  #: "" where the file cannot be read at all: ``new`` says why
    old: JsonValue  #: None where there was nothing
    new: JsonValue

    @property
    def card(self) -> str:
        """Which of a file's cards it is on, "" where the file is one."""
        group, _, rest = self.field.partition(".")
        return f"{group}.{rest.partition('.')[0]}" if self.file in _OF_MANY and rest else ""

    @property
    def words(self) -> str:
        """It in words, however strange the text in the file."""
        if not self.field:
            return f"{_plain(self.file)}: {self.new}"
        return f"{_plain(self.file)}, {_plain(self.field)}: {_shown(self.old)} → {_shown(self.new)}"

    def concerns(self, file: str, stem: str) -> bool:
        """Whether it is in a file, at or below a place there."""
        return self.file == file and self.field.startswith(stem)


class CardsChanged(Signed):
    """Cards that were changed, taken over or put back; the first of them says how all stood."""

    kind: Literal["card"]
    value_mm: None
    expanded_mm: None
    refers_to: None
    cards: Many[CardChange]


Record = Measurement | Event | Withdrawal | CardsChanged


def as_measurement(record: Record) -> Measurement:
    """Return a record that must be a measurement. Raises: DamagedRecordError (whoever names it as one is wrong)."""
    if not isinstance(record, Measurement):
        raise DamagedRecordError(record.number, "it is no measurement")
    return record


def _plain(text: str) -> str:
    return "".join(c if c.isprintable() else "?" for c in text)[:_MOST_SHOWN]


def _shown(value: JsonValue) -> str:
    if value is None:
        return "nothing"
    return _plain(f"{value:.10g}" if isinstance(value, float) else str(value))
