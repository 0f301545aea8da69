"""What a record holds: the measurement as it was, down to struck readings and the masters' cards."""

from __future__ import annotations

import math
import unicodedata
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from datetime import datetime
from typing import Any

import nonna
from nonna.bench import clock
from nonna.bench.record import DamagedRecordError, Record
from nonna.errors import NonnaError
from nonna.metrology.coverage import Source, coverage_factor
from nonna.metrology.decision import Rule, Verdict
from nonna.metrology.uncertain import BudgetRow, Estimate
from nonna.procedures.catalogue import procedure
from nonna.procedures.evaluation import Check, Evaluation, Quantity
from nonna.procedures.telling import facts_of, signed_words, template_of, words_of
from nonna.shop.history import CARD
from nonna.shop.subjects import ANY, Subject

FORMAT = "nonna-record/1"


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
    def of(cls, body: Mapping[str, Any]) -> Signature:
        """Return who signed a record, for another one that goes with it."""
        at = datetime.fromisoformat(body["signed_at"])
        return cls(body["operator"], body["machine"], ANY, body["shop"], body["invented"], at)

    def moment(self) -> datetime:
        """Return the time of signing, with its zone."""
        return (self.at or clock.now()).astimezone() if self.at is None or self.at.tzinfo is None else self.at


@dataclass(frozen=True, slots=True)
class Grounds:
    """What stands behind a result beside the readings file itself."""

    tape: Sequence[Mapping[str, Any]] = ()  #: all readings in order with time and source, struck ones too
    cards: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)  #: masters as they were
    carried: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)  #: fields taken from earlier records
    title: str = ""
    program: str = ""  #: text of the measuring program that was run
    bench: Mapping[str, Any] = field(default_factory=dict)  #: what the drawing needs
    draft: str = ""  #: id of the tape this was signed from, so that it is never signed twice


def measurement(
    document: Mapping[str, Any], evaluation: Evaluation, signature: Signature, evidence: Grounds
) -> dict[str, Any]:
    """Return the body of a measurement record, all but its place in the chain."""
    result = evaluation.to_document()
    found = procedure(evaluation.procedure)
    names = found.main if found.any_main else found.main[:1]
    lengths = {q.name: q for q in evaluation.quantities if q.unit == "mm"}  # the book shows lengths
    main = next((lengths[name] for name in names if name in lengths), None)
    return _common(signature, "measurement", evaluation.procedure) | {
        **({"setter": signature.setter} if signature.setter else {}),
        **({"draft": evidence.draft} if evidence.draft else {}),
        "verdict": evaluation.verdict.value,
        "title": evidence.title or evaluation.procedure,
        "input": dict(document),
        "tape": [dict(row) for row in evidence.tape],
        "masters": {role: dict(card) for role, card in evidence.cards.items()},
        "carried": {name: dict(row) for name, row in evidence.carried.items()},
        "result": result,
        "influences": evaluation.influences(),
        "order": [[q.name, q.title] for q in evaluation.quantities],
        "headline": {"template": template_of(evaluation.headline), "lengths": facts_of(evaluation.headline)},
        "checks": [asdict(check) for check in evaluation.checks],
        "value_mm": main.value if main else None,
        "expanded_mm": main.estimate.expanded if main and main.estimate else None,
        "refers_to": None,
        "measuring_program": evidence.program,
        "bench": dict(evidence.bench),
        "note": "",
    }


def recalled(body: Mapping[str, Any]) -> Evaluation:
    """Return the evaluation as it was signed: from the record alone, whatever the program works out today."""
    result = body["result"]
    quantities = []
    for name, title in body["order"]:
        row = result["results"][name]
        estimate = _estimate(row, body["influences"][name]) if "u" in row else None
        quantities.append(Quantity(name, title, row["value"], row["unit"], estimate))
    known = {"format", "procedure", "results", "budget", "verdict", "rule", "flags", "advice"}
    return Evaluation(
        result["procedure"],
        tuple(quantities),
        Rule(result["rule"]["kind"]),
        signed_words(body["headline"]["template"], body["headline"]["lengths"]),
        None,
        checks=tuple(Check(**{**row, "verdict": Verdict(row["verdict"])}) for row in body["checks"]),
        flags=tuple(result["flags"]),
        advice=tuple(signed_words("{words}", {"words": words}) for words in result["advice"][1:]),
        extras={name: value for name, value in result.items() if name not in known},
    )


def must_be_measured(record: Record) -> None:
    """Refuse a certificate of what is no measurement. Raises: NonnaError ``wrong-format``."""
    if record.body["kind"] != "measurement":
        words = "Record {number} is no measurement; it has no certificate."
        raise NonnaError("wrong-format", words, "record", number=record.number)


def read_back(record: Record) -> Evaluation:
    """Return the evaluation of a record that whoever wrote the ledger may have made up.

    Raises: DamagedRecordError (its hash fits, but it holds no result, or words that cannot be said).
    """
    try:
        found = recalled(record.body)
        for said in (found.headline, *found.advice):
            words_of(said)
    except (KeyError, IndexError, TypeError, ValueError, AttributeError) as error:
        raise DamagedRecordError(record.number, f"it holds no result that can be read ({error})") from error
    return found


def contradiction(record: Record) -> str:
    """Say where a record contradicts itself, "" where it does not: its verdict and its checks, its main value and its results."""
    body = record.body
    if body.get("kind") != "measurement":
        return ""
    try:
        found, result = read_back(record), body["result"]
        if not body["verdict"] == result["verdict"] == found.verdict.value:
            return "its verdict is not that of its own checks"
        if any(check.verdict is Verdict.PASS and check.value > check.limit for check in found.checks):
            return "it passes a check whose limit it does not keep"
        values = {row["value"] for row in result["results"].values()}
        doubts = {row.get("U") for row in result["results"].values()}
        if (body["value_mm"] is not None and body["value_mm"] not in values) or body["expanded_mm"] not in {
            *doubts,
            None,
        }:
            return "its main value is none of its results"
    except DamagedRecordError as error:
        return error.reason
    except (KeyError, TypeError, ValueError, AttributeError):
        return "it holds no result that can be read"
    return ""


def _estimate(row: Mapping[str, Any], influences: Sequence[Mapping[str, Any]]) -> Estimate:
    dofs = [math.inf if i["dof"] is None else float(i["dof"]) for i in influences]
    sources = [Source(i["source"], i["u"], dof, i["shape"]) for i, dof in zip(influences, dofs, strict=True)]
    budget = tuple(BudgetRow(s.name, s.u, s.u**2 / row["u"] ** 2, s.dof, s.shape) for s in sources)
    dof = math.inf if row["dof"] is None else float(row["dof"])
    return Estimate(row["value"], row["u"], dof, row["k"], coverage_factor(sources, 0.95), budget)


def event(name: str, signature: Signature, note: str = "") -> dict[str, Any]:
    """Return the body of an event record (a crash, a new stylus ...)."""
    return _common(signature, "event", name) | _bare(note, None)


def withdrawal(number: int, signature: Signature, note: str) -> dict[str, Any]:
    """Return the body of a record that takes back an earlier one; the earlier one stays in the book."""
    return _common(signature, "withdrawal", "withdrawal") | _bare(note, number)


def card_change(name: str, signature: Signature, note: str, changes: Sequence[Mapping[str, Any]]) -> dict[str, Any]:
    """Return the body of a record of changed cards.

    Parameters: changes, each with ``file``, ``field``, ``old`` and ``new`` (None: nothing).
    """
    return _common(signature, CARD, name) | _bare(note, None) | {"cards": [dict(row) for row in changes]}


def _bare(note: str, refers_to: int | None) -> dict[str, Any]:
    _one_line(note, "note", lines=True)
    return {"verdict": "none", "note": note, "value_mm": None, "expanded_mm": None, "refers_to": refers_to}


def _one_line(text: str, where: str, *, lines: bool = False) -> None:
    """Raises: NonnaError (letters that no paper shows, and that open formats alter: what was signed must come out as it is)."""
    kept = "\n\t" if lines else ""
    odd = next((c for c in text if unicodedata.category(c) in ("Cc", "Zl", "Zp", "Cs") and c not in kept), "")
    if odd:
        words = "{place}: a letter in it (U+{letter}) cannot be printed. Write it once more, by hand."
        raise NonnaError("out-of-range", words, where, place=where, letter=f"{ord(odd):04X}")


def _common(signature: Signature, kind: str, name: str) -> dict[str, Any]:
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
