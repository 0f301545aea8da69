"""``nonna record``, ``ledger`` and ``certificate``: signing, checking and showing records."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from nonna.cli.evaluating import read_input
from nonna.metrology.errors import NonnaError
from nonna.records.entry_body import Signature
from nonna.records.ledger import Ledger
from nonna.records.signing import prepare
from nonna.shop import strict_json
from nonna.shop.folder import ShopFolder


def record(given: argparse.Namespace) -> int:
    """Evaluate a readings file and sign it. Raises: NonnaError."""
    if not given.operator.strip():
        raise NonnaError("missing-field", "A record needs the name of who signs it.", "operator")
    document = strict_json.loads(read_input(given.file))
    folder = ShopFolder(given.shop)
    if folder.root.exists() and not folder.root.is_dir():
        raise NonnaError("unreadable", f"{folder.root.name!r} is a file, not a shop folder.", "shop")
    signature = Signature(given.operator.strip(), given.machine, given.subject, *_shop_facts(folder))
    body, evaluation = prepare(document, signature)  # first: a bad file must not make a ledger
    receipt = Ledger(folder.ledger).sign(body)
    print(json.dumps({"record": receipt.number, "hash": receipt.hash, "verdict": evaluation.verdict.value}))
    return 0


def ledger(given: argparse.Namespace) -> int:
    """Check, list, export or import. Raises: NonnaError."""
    if given.action == "import":
        from nonna.records.exchange import import_records

        count = import_records(Ledger(ShopFolder(given.shop).ledger), read_input(given.file))
        print(json.dumps({"imported": count}))
        return 0
    book = Ledger(ShopFolder(given.shop).ledger, create=False)
    if given.action == "verify":
        check = book.verify()
        answer = {
            "ok": check.sound,
            "records": check.count,
            "first_damaged": check.first_damaged,
            "reason": check.reason,
        }
        print(json.dumps(answer))
        if not check.sound:
            print(f"nonna: record {check.first_damaged} is damaged: {check.reason}.", file=sys.stderr)
        return 0 if check.sound else 3
    for row in book.all():
        if given.action == "export":
            print(json.dumps({"hash": row.hash, "body": row.body}, ensure_ascii=False, sort_keys=True))
        else:
            names = (
                "signed_at",
                "kind",
                "name",
                "machine",
                "subject",
                "verdict",
                "operator",
                "value_mm",
                "expanded_mm",
            )
            print(json.dumps({"record": row.number, "hash": row.hash} | {n: row.body[n] for n in names}))
    return 0


def certificate(given: argparse.Namespace) -> int:
    """Write the certificate of one record. Raises: NonnaError."""
    book = Ledger(ShopFolder(given.shop or _default_shop()).ledger, create=False)
    found = book.get(given.record)
    kind = given.output.suffix.lower()
    if kind == ".pdf":
        from nonna.records.certificate_pdf import write
    elif kind == ".xml":
        from nonna.records.certificate_xml import write
    else:
        raise NonnaError("wrong-format", "A certificate is written as .pdf or .xml.", "output")
    try:
        write(found, given.output, book.withdrawal_of(found.number))
    except OSError as error:
        raise NonnaError(
            "unreadable", f"{given.output.name!r} cannot be written: {error.strerror}.", "output"
        ) from error
    print(json.dumps({"record": found.number, "file": given.output.name}))
    return 0


def _default_shop() -> Path:
    from nonna.shop.places import default_shop

    return default_shop()


def _shop_facts(folder: ShopFolder) -> tuple[str, bool]:
    if not (folder.root / "shop.json").is_file():
        return "", False
    shop = folder.shop()
    return shop.name, shop.invented
