"""Records in and out of a ledger as open JSON lines, chain and all."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from datetime import datetime
from typing import Any

from nonna.adapters.ledger import Ledger
from nonna.adapters.ledger_check import CLOCKS_APART
from nonna.bench.canonical import canonical, digest
from nonna.bench.record import Record
from nonna.bench.record_body import FORMAT, contradiction, recalled
from nonna.errors import NonnaError
from nonna.procedures.telling import words_of
from nonna.shop import strict_json
from nonna.shop.history import CARD

_HEX = set("0123456789abcdef")
_TEXT = ("name", "machine", "subject", "operator", "note", "signed_at", "shop", "zone")
_KINDS = ("measurement", "event", "withdrawal", CARD)
_VERDICTS = ("pass", "fail", "undecided", "none")
MEASURED = {
    "input": dict, "tape": list, "masters": dict, "carried": dict, "result": dict, "influences": dict, "order": list,
    "headline": dict, "checks": list, "bench": dict, "measuring_program": str, "title": str,
}  # fmt: skip


def import_records(ledger: Ledger, lines: Iterable[bytes | None]) -> int:
    """Add exported records to a ledger whose chain they carry on (an empty one, or a shorter copy).

    Parameters: lines, one record each, read as they are needed; None for one over the limit.
    Returns how many were new: all, or none when anything is wrong. Raises: NonnaError with the line at fault.
    """
    return ledger.adopt(_bodies(lines))


def _bodies(lines: Iterable[bytes | None]) -> Iterator[dict[str, Any]]:
    before: datetime | None = None
    for number, line in enumerate(lines, 1):
        where = f"line {number}"
        if line is None:
            raise NonnaError("too-large", "{place} is over 50 MB; no record is.", where, place=where)
        if not line.strip():
            continue
        body = _body(line, where)
        signed = datetime.fromisoformat(body["signed_at"])
        if before is not None and signed < before - CLOCKS_APART and "clock" not in body:
            raise NonnaError(
                "wrong-format",
                "{place}: record {number} is dated over a day before the record it follows.",
                where,
                place=where,
                number=body["number"],
            )
        before = signed
        yield body


def _body(line: bytes, where: str) -> dict[str, Any]:
    """Return the body of one exported line, checked so that nothing unsound gets into a ledger. Raises: NonnaError."""
    try:
        row = strict_json.loads(line)
        body: dict[str, Any] = row["body"]
        if digest(canonical(body)) != row["hash"]:
            raise NonnaError("wrong-format", "{place}: the record does not match its hash.", where, place=where)
        _check(body, where)
    except NonnaError as error:
        raise NonnaError(
            error.code, error.message if where in error.message else f"{where}: {error.message}", where
        ) from error
    except (LookupError, TypeError, ValueError, AttributeError, ArithmeticError, RecursionError) as error:
        raise NonnaError("wrong-format", "{place}: this is not an exported record.", where, place=where) from error
    return body


def _check(body: Mapping[str, Any], where: str) -> None:
    def fail(name: str) -> NonnaError:
        return NonnaError("wrong-format", "{place}: {name} is not what a record holds.", where, place=where, name=name)

    for name in (*_TEXT, "format", "kind", "verdict", "previous"):
        if name not in body:
            raise NonnaError("missing-field", "{place}: {name} is missing.", where, place=where, name=name)
        if not isinstance(body[name], str) or len(body[name]) > 20_000:
            raise fail(name)
        body[name].encode()  # a lone half of a character cannot be stored
    if body["format"] != FORMAT or body["kind"] not in _KINDS or body["verdict"] not in _VERDICTS:
        raise fail("its kind")
    if type(body["number"]) is not int or not 1 <= body["number"] < 2**53:
        raise fail("number")
    if len(body["previous"]) != 64 or not set(body["previous"]) <= _HEX:
        raise fail("previous")
    if datetime.fromisoformat(body["signed_at"]).tzinfo is None:
        raise fail("signed_at")
    for name in ("value_mm", "expanded_mm"):
        if body[name] is not None and (type(body[name]) not in (int, float) or body["kind"] != "measurement"):
            raise fail(name)
    refers = body["refers_to"]
    if refers is not None and (type(refers) is not int or not 1 <= refers < body["number"]):
        raise fail("refers_to")
    if (body["kind"] == "withdrawal") != (refers is not None):
        raise fail("refers_to")
    for row in body.get("cards", ()):
        if not isinstance(row["file"], str) or not isinstance(row["field"], str) or not {"old", "new"} <= row.keys():
            raise fail("cards")
    if body["kind"] != "measurement":
        return
    for name, kind in MEASURED.items():
        if not isinstance(body[name], kind):
            raise fail(name)
    result = recalled(body)  # whoever shows it later reads it in this way
    words_of(result.headline)
    if result.procedure != body["name"]:
        raise fail("result")
    wrong = contradiction(Record(body["number"], "", body))
    if wrong:
        raise NonnaError("wrong-format", "{place}: {words}.", where, place=where, words=wrong)
    for row in body["carried"].values():
        if (
            type(row["record"]) is not int
            or not 1 <= row["record"] < body["number"]
            or not isinstance(row["hash"], str)
        ):
            raise fail("carried")
    rows = [*body["tape"], *body["input"]["readings"], *body["masters"].values(), body["input"]["setup"]]
    if not all(isinstance(each, dict) for each in rows):
        raise fail("tape")
