"""``nonna record``, ``ledger`` and ``certificate``: signing, checking and showing records."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from nonna.cli.evaluating import each_line, read_input
from nonna.metrology.errors import NonnaError
from nonna.procedures.catalogue import named_in
from nonna.procedures.listing import PROCEDURES
from nonna.records.entry_body import Signature
from nonna.records.ledger import Ledger
from nonna.records.signing import prepare, signature_of, withdraw
from nonna.records.site import Site
from nonna.shop import strict_json
from nonna.shop.folder import ShopFolder
from nonna.shop.subjects import Subject

LONGEST_TEXT = 500


def record(given: argparse.Namespace) -> int:
    """Evaluate a readings file and sign it. Raises: NonnaError."""
    operator = _signer(given.operator)
    document = strict_json.loads(read_input(given.file))
    folder = ShopFolder(given.shop)
    if folder.root.exists() and not folder.root.is_dir():
        raise NonnaError("unreadable", f"{folder.root.name!r} is a file, not a shop folder.", "shop")
    site = Site.load(folder, given.station) if folder.has_files else None
    usual = PROCEDURES[named_in(document).name].subject
    named = _plain(given.subject, "subject")
    subject = Subject.of(named) if named else usual
    if site is not None:
        signature = signature_of(site, operator, subject)
    else:
        signature = Signature(operator, _plain(given.station, "station"), subject)
    body, evaluation = prepare(document, signature)  # first: a bad file must not make a ledger
    with Ledger(folder.ledger) as book:
        receipt = book.sign(body)
    print(json.dumps({"record": receipt.number, "hash": receipt.hash, "verdict": evaluation.verdict.value}))
    return 0


def ledger(given: argparse.Namespace) -> int:
    """Check, list, export, import, or take a record back. Raises: NonnaError."""
    return {"import": _import, "withdraw": _withdraw, "verify": _verify, "list": _list, "export": _export}[
        given.action
    ](given)


def _import(given: argparse.Namespace) -> int:
    from nonna.records.exchange import import_records

    with Ledger(ShopFolder(given.shop).ledger) as book:
        count = import_records(book, each_line(given.file or "-"))
    print(json.dumps({"imported": count}))
    return 0


def _withdraw(given: argparse.Namespace) -> int:
    operator, why = _signer(given.operator), _plain(given.why, "why")
    if not why:
        raise NonnaError("missing-field", "Say why it is taken back: --why TEXT.", "why")
    if not given.file.isdecimal():
        raise NonnaError("wrong-format", "The number of a record is wanted.", "record")
    with Ledger(ShopFolder(given.shop).ledger, create=False) as book:
        receipt = withdraw(book, int(given.file), operator, why)
    print(json.dumps({"record": receipt.number, "hash": receipt.hash, "withdraws": int(given.file)}))
    return 0


def _verify(given: argparse.Namespace) -> int:
    with _reading(given) as book:
        check = book.verify()
    answer = {
        "ok": check.sound,
        "records": check.count,
        "first_damaged": check.first_damaged,
        "reason": check.reason,
    }
    print(json.dumps(answer))
    if not check.sound:
        said = f"nonna: record {check.first_damaged} is damaged: {check.reason}."
        print(said.encode("ascii", "backslashreplace").decode(), file=sys.stderr)
    return 0 if check.sound else 3


def _list(given: argparse.Namespace) -> int:
    from nonna.records.ledger import REPEATED

    listed = [name for name in REPEATED if name != "note"]
    with _reading(given) as book:
        for row in book.all():
            print(json.dumps({"record": row.number, "hash": row.hash} | {n: row.body.get(n) for n in listed}))
    return 0


def _export(given: argparse.Namespace) -> int:
    from nonna.records.exchange import exported

    with _reading(given) as book:
        for row in book.all():
            print(json.dumps(exported(row), ensure_ascii=True, sort_keys=True))
    return 0


def _reading(given: argparse.Namespace) -> Ledger:
    return Ledger(ShopFolder(given.shop).ledger, create=False, reading=True)


def certificate(given: argparse.Namespace) -> int:
    """Write the certificate of one record. Raises: NonnaError."""
    kind = given.output.suffix.lower()
    if kind == ".pdf":
        from nonna.records.certificate_pdf import write
    elif kind == ".xml":
        from nonna.records.certificate_xml import write
    else:
        raise NonnaError("wrong-format", "A certificate is written as .pdf or .xml.", "output")
    with Ledger(ShopFolder(given.shop or _default_shop()).ledger, create=False, reading=True) as book:
        found = book.get(given.record)
        write(found, given.output, book.withdrawal_of(found.number))
    print(json.dumps({"record": found.number, "file": given.output.name}))
    return 0


def _signer(name: str) -> str:
    found = _plain(name, "operator")
    if not found:
        raise NonnaError("missing-field", "A record needs the name of who signs it: --operator NAME.", "operator")
    return found


def _plain(text: str, where: str) -> str:
    """Return what was given on the command line, one line of text. Raises: NonnaError (no UTF-8, or far too long)."""
    try:
        text.encode()
    except UnicodeEncodeError as error:
        raise NonnaError("unreadable", f"{where}: this is not UTF-8 text.", where) from error
    if len(text) > LONGEST_TEXT:
        raise NonnaError("too-large", f"{where}: at most {LONGEST_TEXT} letters.", where)
    return " ".join(text.split())


def _default_shop() -> Path:
    from nonna.shop.places import default_shop

    return default_shop()
