"""What makes a record: the measurement as it was, down to struck readings and the masters' cards; events, withdrawals,
cards.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from datetime import datetime

import nonna
from nonna.bench import clock
from nonna.errors import NonnaError
from nonna.procedures.catalogue import procedure
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.telling import facts_of, template_of
from nonna.shop.links.subjects import ANY, Subject
from nonna.shop.records.text import record_of
from nonna.shop.records.values import (
    CARD,
    EVENT,
    FORMAT,
    MEASUREMENT,
    WITHDRAWAL,
    CardChange,
    CardsChanged,
    CarriedFrom,
    Event,
    JsonObject,
    Measurement,
    Signed,
    Withdrawal,
)


@dataclass(frozen=True, slots=True)
class Signature:
    """Who signs, where and when."""

    operator: str
    machine: str = ""
    subject: Subject = ANY
    shop: str = ""
    invented: bool = False
    at: datetime | None = None  #: with its zone; None: now
    setter: str = ""  #: id of the setter that took part, where the shop's files tell

    @classmethod
    def of(cls, record: Signed) -> Signature:
        """Return who signed a record, for another one that goes with it."""
        return cls(record.operator, record.machine, ANY, record.shop, record.invented, record.signed_at)

    def moment(self) -> datetime:
        """Return the time of signing, with its zone."""
        return (self.at or clock.now()).astimezone() if self.at is None or self.at.tzinfo is None else self.at


@dataclass(frozen=True, slots=True)
class Grounds:
    """What stands behind a result beside the readings file itself."""

    tape: Sequence[JsonObject] = ()  #: all readings in order with time and source, struck ones too
    cards: Mapping[str, JsonObject] = field(default_factory=dict)  #: masters as they were
    carried: Mapping[str, CarriedFrom] = field(default_factory=dict)  #: fields taken from earlier records
    title: str = ""
    program: str = ""  #: text of the measuring program that was run
    bench: Mapping[str, object] = field(default_factory=dict)  #: what the drawing needs
    draft: str = ""  #: id of the tape this was signed from, so that it is never signed twice


def measurement(
    document: Mapping[str, object], evaluation: Evaluation, signature: Signature, evidence: Grounds
) -> Measurement:
    """Return the record of a measurement, all but its place in the chain. Raises: ValueError (a number not finite)."""
    found = procedure(evaluation.procedure)
    names = found.main if found.any_main else found.main[:1]
    lengths = {q.name: q for q in evaluation.quantities if q.unit == "mm"}  # the book shows lengths
    main = next((lengths[name] for name in names if name in lengths), None)
    made = record_of({
        **_common(signature, MEASUREMENT, evaluation.procedure),
        **({"setter": signature.setter} if signature.setter else {}),
        **({"draft": evidence.draft} if evidence.draft else {}),
        "verdict": evaluation.verdict.value,
        "title": evidence.title or evaluation.procedure,
        "input": document,
        "tape": evidence.tape,
        "masters": evidence.cards,
        "carried": {name: source.model_dump(exclude_unset=True) for name, source in evidence.carried.items()},
        "result": evaluation.to_document(),
        "influences": evaluation.influences(),
        "order": [[q.name, q.title] for q in evaluation.quantities],
        "headline": {"template": template_of(evaluation.headline), "lengths": facts_of(evaluation.headline)},
        "checks": [asdict(check) for check in evaluation.checks],
        "value_mm": main.value if main else None,
        "expanded_mm": main.estimate.expanded if main and main.estimate else None,
        "refers_to": None,
        "measuring_program": evidence.program,
        "bench": evidence.bench,
        "note": "",
    })  # fmt: skip
    assert isinstance(made, Measurement)
    return made


def event(name: str, signature: Signature, note: str = "", cards: Sequence[CardChange] = ()) -> Event:
    """Return the record of an event (a crash, a new stylus ...). Parameters: cards, that were changed with it."""
    more = {"cards": [change.model_dump() for change in cards]} if cards else {}
    made = record_of(_common(signature, EVENT, name) | _bare(note, None) | more)
    assert isinstance(made, Event)
    return made


def withdrawal(number: int, signature: Signature, note: str) -> Withdrawal:
    """Return the record that takes back an earlier one; the earlier one stays in the book."""
    made = record_of(_common(signature, WITHDRAWAL, WITHDRAWAL) | _bare(note, number))
    assert isinstance(made, Withdrawal)
    return made


def card_change(name: str, signature: Signature, note: str, changes: Sequence[CardChange]) -> CardsChanged:
    """Return the record of changed cards."""
    rows = [change.model_dump() for change in changes]
    made = record_of(_common(signature, CARD, name) | _bare(note, None) | {"cards": rows})
    assert isinstance(made, CardsChanged)
    return made


def _bare(note: str, refers_to: int | None) -> dict[str, object]:
    _one_line(note, "note", lines=True)
    return {"verdict": "none", "note": note, "value_mm": None, "expanded_mm": None, "refers_to": refers_to}


def _one_line(text: str, where: str, *, lines: bool = False) -> None:
    """Raises: NonnaError (letters that no paper shows, and that open formats alter: what was signed must come out as it
    is).
    """
    kept = "\n\t" if lines else ""
    odd = next((c for c in text if unicodedata.category(c) in ("Cc", "Zl", "Zp", "Cs") and c not in kept), "")
    if odd:
        words = "{place}: a letter in it (U+{letter}) cannot be printed. Write it once more, by hand."
        raise NonnaError("out-of-range", words, where, place=where, letter=f"{ord(odd):04X}")


def _common(signature: Signature, kind: str, name: str) -> dict[str, object]:
    moment = signature.moment()
    for where in ("operator", "machine", "shop"):
        _one_line(getattr(signature, where), where)
    _one_line(str(signature.subject), "subject")
    return {
        "format": FORMAT,
        "kind": kind,
        "name": name,
        "machine": signature.machine,
        "subject": str(signature.subject),
        "operator": signature.operator,
        "shop": signature.shop,
        "invented": signature.invented,
        "signed_at": moment.isoformat(timespec="milliseconds"),
        "zone": str(moment.tzname()),
        "made_with": {"name": "nonna", "version": nonna.__version__},
    }
