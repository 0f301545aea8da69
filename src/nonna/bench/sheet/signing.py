"""Evaluate and make the record in one step: what the sheet and the command line share."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import cast

from nonna.bench.book.book import Book
from nonna.bench.book.chain import Receipt
from nonna.bench.book.writing import Grounds, Signature, measurement, withdrawal
from nonna.bench.ports import ShopFiles
from nonna.bench.sheet.opening import Opening, drawn
from nonna.bench.shelf.card_signing import begun
from nonna.bench.shelf.card_trail import as_they_stand, is_begun
from nonna.bench.station.site import Site
from nonna.errors import NonnaError
from nonna.procedures.catalogue import named_in
from nonna.procedures.evaluation import Evaluation
from nonna.procedures.session import Session
from nonna.shop.links.subjects import ANY, Subject, SubjectKind
from nonna.shop.records.values import JsonObject, Measurement, Record
from nonna.shop.texts.given import Plain

STANDIN = "stand-in"  #: source of readings that no real machine gave


def signature_of(site: Site, operator: str, subject: Subject, at: datetime | None = None) -> Signature:
    """Return who signs what on a station, with the setter that took part. Parameters: at, None for now."""
    setter = subject.id if subject.kind is SubjectKind.SETTER and subject.id else site.setter
    return Signature(operator, site.machine.name, subject, site.shop.name, site.shop.invented, at, setter)


def is_rehearsal(site: Site, session: Session) -> bool:
    """Whether readings that count come from the stand-in, in a shop whose machines are real: nobody may sign those."""
    return not site.shop.invented and any(row.source == STANDIN and not row.struck for row in session.rows)


def recorded(
    site: Site,
    session: Session,
    opening: Opening,
    evaluation: Evaluation,
    operator: str,
    program: str = "",
    draft: str = "",
) -> Measurement:
    """Return the record of a sheet that is filled in, for the station it was measured on.

    Parameters: program, the text that was run for it; draft, the id of its tape.
    Raises: NonnaError (a rehearsal, see `is_rehearsal`).
    """
    if is_rehearsal(site, session):
        words = (
            "These readings are the stand-in's: a rehearsal, never signed in a real shop. Strike them, or begin afresh."
        )
        raise NonnaError("out-of-range", words, "readings")
    evidence = Grounds(
        tape=[cast("JsonObject", row.to_document()) for row in session.rows],
        cards=opening.cards, carried=opening.carried,
        title=session.procedure.title, program=program, bench=drawn(session.facts), draft=draft,
    )  # fmt: skip
    signature = signature_of(site, operator, session.facts.subject)
    return measurement(session.document(), evaluation, signature, evidence)


def sign(folder: ShopFiles, records: Iterable[Record]) -> tuple[Receipt, ...]:
    """Sign records of a shop; the first time, how its cards stand is signed behind them, by the same hand.

    Raises: NonnaError; nothing is signed then.
    """
    made = list(records)
    if not made or not folder.has_files or is_begun(folder.book):
        return folder.book.sign(made)
    return folder.book.sign([*made, begun(as_they_stand(folder), Signature.of(made[0]))])[: len(made)]


def withdraw(book: Book, number: int, operator: str, why: str) -> Receipt:
    """Take a record back by a new one that says so; the old one stays readable.

    Raises: NonnaError (no such record, one that cannot be taken back, or that is taken back already).
    """
    found = book.get(number)
    if not isinstance(found, Measurement):
        raise NonnaError(
            "out-of-range", "Record {number} is no measurement: only those are taken back.", "record", number=number
        )
    by = book.withdrawal_of(number)
    if by is not None:
        raise NonnaError(
            "out-of-range", "Record {number} was taken back already, by record {by}.", "record", number=number, by=by
        )
    signature = Signature(operator, found.machine, ANY, found.shop, found.invented)
    (receipt,) = book.sign([withdrawal(number, signature, why)])
    return receipt


def prepare(
    document: Mapping[str, Plain], signature: Signature, evidence: Grounds | None = None
) -> tuple[Measurement, Evaluation]:
    """Evaluate a readings document and return the record, ready for `Ledger.sign`, and the evaluation.

    Raises: NonnaError (bad document).
    """
    found = named_in(document)
    evaluation = found.evaluate(dict(document))
    return measurement(document, evaluation, signature, evidence or Grounds(title=found.title)), evaluation
