"""``nonna record``, ``ledger`` and ``certificate``: signing, checking and showing records."""

from __future__ import annotations

import argparse
import json
from collections.abc import Iterator, Sequence

from nonna import wiring
from nonna.bench.book.book import Book
from nonna.bench.book.writing import Signature
from nonna.bench.sheet.signing import prepare, signature_of, withdraw
from nonna.bench.shelf.card_trail import changed_outside
from nonna.bench.station.site import Site
from nonna.cli.evaluating import each_line, read_input
from nonna.cli.warning import warn
from nonna.errors import NonnaError
from nonna.procedures.catalogue import named_in
from nonna.procedures.listing import PROCEDURES
from nonna.shop.links.subjects import Subject
from nonna.shop.records.text import body_of, exported
from nonna.shop.texts import strict_json
from nonna.shop.texts.given import Plain

LONGEST_TEXT = 500
LISTED = (
    "signed_at", "kind", "name", "machine", "subject", "verdict", "operator", "value_mm", "expanded_mm", "refers_to",
)  # fmt: skip


def record(given: argparse.Namespace) -> int:
    """Evaluate a readings file and sign it. Raises: NonnaError."""
    operator = _signer(given.operator)
    document = strict_json.loads(read_input(given.file))
    folder = wiring.shop_files(given.shop)
    if folder.root.exists() and not folder.root.is_dir():
        raise NonnaError("unreadable", "{name!r} is a file, not a shop folder.", "shop", name=folder.root.name)
    site = Site.load(folder, given.station) if folder.has_files else None
    usual = PROCEDURES[named_in(document).name].subject
    named = _plain(given.subject, "subject")
    subject = Subject.of(named) if named else usual
    if site is not None:
        _may_sign(operator, site.shop.operators)
        signature = signature_of(site, operator, subject)
    else:
        signature = Signature(operator, _plain(given.station, "station"), subject)
    made, evaluation = prepare(document, signature)  # first: a bad file must not make a ledger
    if given.clock_is_right:
        folder.book.clock_is_right()
    (receipt,) = folder.book.sign([made])
    print(json.dumps({"record": receipt.number, "hash": receipt.hash, "verdict": evaluation.verdict.value}))
    return 0


def ledger(given: argparse.Namespace) -> int:
    """Check, list, export, import, or take a record back. Raises: NonnaError."""
    return {"import": _import, "withdraw": _withdraw, "verify": _verify, "list": _list, "export": _export}[
        given.action
    ](given)


def _import(given: argparse.Namespace) -> int:
    seen = 0

    def counted() -> Iterator[bytes | None]:
        nonlocal seen
        for line in each_line(given.file or "-"):
            seen += line is None or bool(line.strip())
            yield line

    count = _book(given).take_in(counted())
    print(json.dumps({"imported": count}))
    if seen > count:
        warn(f"{seen - count} of {seen} were here already.")
    return 0


def _withdraw(given: argparse.Namespace) -> int:
    operator, why = _signer(given.operator), _plain(given.why, "why")
    if not why:
        raise NonnaError("missing-field", "Say why it is taken back: --why TEXT.", "why")
    if not given.file.isdecimal():
        raise NonnaError("wrong-format", "The number of a record is wanted.", "record")
    folder = wiring.shop_files(given.shop)
    _may_sign(operator, folder.shop().operators if folder.has_files else None)
    if given.clock_is_right:
        folder.book.clock_is_right()
    receipt = withdraw(folder.book, int(given.file), operator, why)
    print(json.dumps({"record": receipt.number, "hash": receipt.hash, "withdraws": int(given.file)}))
    return 0


def _verify(given: argparse.Namespace) -> int:
    folder = wiring.shop_files(given.shop)
    check = folder.book.verify()
    cards = changed_outside(folder) if check.sound else ()  # a book that is not sound signs for nothing
    answer: dict[str, Plain] = {
        "ok": check.sound and not cards,
        "records": check.count,
        "first_damaged": check.first_damaged,
        "reason": check.reason,
    }
    if folder.has_files:
        answer["cards"] = [{"file": c.file, "field": c.field, "signed": c.old, "now": c.new} for c in cards]
    print(json.dumps(answer))
    for card in cards:
        warn(f"changed outside, and not signed: {card.words}.")
    if not check.sound:
        warn(f"record {check.first_damaged} is damaged: {check.reason}.")
    return 0 if answer["ok"] else 3


def _list(given: argparse.Namespace) -> int:
    for row in _book(given).all():
        body = body_of(row)
        print(json.dumps({"record": row.number, "hash": row.hash} | {name: body.get(name) for name in LISTED}))
    return 0


def _export(given: argparse.Namespace) -> int:
    for row in _book(given).all():
        print(json.dumps(exported(row), ensure_ascii=True, sort_keys=True))
    return 0


def _book(given: argparse.Namespace) -> Book:
    return wiring.shop_files(given.shop).book


def certificate(given: argparse.Namespace) -> int:
    """Write the certificate of one record. Raises: NonnaError."""
    if given.output.suffix.lower() not in (".pdf", ".xml"):
        raise NonnaError("wrong-format", "A certificate is written as .pdf or .xml.", "output")
    book = wiring.shop_files(given.shop or wiring.usual_shop()).book
    found = book.get(given.record)
    wiring.write_certificate(found, given.output, book.withdrawal_of(found.number))
    print(json.dumps({"record": found.number, "file": given.output.name}))
    return 0


def _signer(name: str) -> str:
    found = _plain(name, "operator")
    if not found:
        raise NonnaError("missing-field", "A record needs the name of who signs it: --operator NAME.", "operator")
    return found


def _may_sign(operator: str, names: Sequence[str] | None) -> None:
    """Raises: NonnaError (the shop says who signs, and it is somebody else)."""
    if names is not None and operator not in names:
        words = "operator: {value} does not sign in this shop. Who does: {names}. Settings of the desk change that."
        raise NonnaError("out-of-range", words, "operator", value=operator, names=", ".join(names))


def _plain(text: str, where: str) -> str:
    """Return what was given on the command line, one line of text. Raises: NonnaError (no UTF-8, or far too long)."""
    try:
        text.encode()
    except UnicodeEncodeError as error:
        raise NonnaError("unreadable", "{place}: this is not UTF-8 text.", where, place=where) from error
    if len(text) > LONGEST_TEXT:
        raise NonnaError(
            "too-large", "{place}: at most {longest_text} letters.", where, place=where, longest_text=LONGEST_TEXT
        )
    return " ".join(text.split())
