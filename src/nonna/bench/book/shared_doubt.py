"""Doubt by its last sources, through all records a result rests on: the one place where shared doubt is found.

Two results share an influence when both were carried from the same result of the same record, or rest on the same
value of the same master, or were given the same value. Their errors are then the same and cancel in a difference
(JCGM 102, 5: correlated quantities).
"""

from __future__ import annotations

import json
import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources
from typing import NamedTuple

from nonna.shop.records.values import Measurement, Record, as_measurement

Read = Callable[[int], Record]
_LINKS_DEEP = 20  # a chain of links is shorter; a ledger that claims more was made by hand


@dataclass(frozen=True, slots=True)
class Leaf:
    """A last source of doubt in a result."""

    key: tuple[object, ...]  #: equal keys are the same error
    source: str
    procedure: str  #: whose record it stands in
    record: str  #: hash of that record
    part: float  #: signed standard uncertainty it gives to the result
    dof: float
    shape: str  #: "normal" or "rectangular"


def leaves(record: Measurement, name: str, read: Read) -> tuple[Leaf, ...]:
    """Return the last sources of one result of a record.

    Parameters: read, returns a record by its number. Raises: NonnaError (a record it rests on is damaged or gone),
    KeyError (no such result).
    """
    return tuple(_leaves(record, name, read, 1.0, 0))


def _leaves(record: Measurement, name: str, read: Read, scale: float, deep: int) -> Iterable[Leaf]:
    for row in record.influences.get(name, ()):
        field = _older().fields.get((record.name, row.source), "") if row.field is None else row.field
        part = scale * row.u * row.sign
        below = _carried(record, field, read) if deep < _LINKS_DEEP else None
        if below is not None and (whole := below[0].result.results[below[1]].u):
            yield from _leaves(*below, read, part / whole, deep + 1)
            continue
        dof = math.inf if row.dof is None else float(row.dof)
        key = _key(record, field) or (record.hash, row.source, dof)
        yield Leaf(key, row.source, record.name, record.hash, part, dof, row.shape)


def _carried(record: Measurement, field: str, read: Read) -> tuple[Measurement, str] | None:
    """Return the record and result that a field was carried from, None for one that was given by hand."""
    row = record.carried.get(field)
    if row is None:
        return None
    below = as_measurement(read(row.record))
    name = row.result or _older().results.get(field) or _older().loops.get(below.name, "")
    found = below.row(name)
    return (below, name) if below.hash == row.hash and found is not None and found.u is not None else None


def _key(record: Measurement, field: str) -> tuple[object, ...] | None:
    """Return what makes an influence the same in two records, None for one that is a record's own."""
    place, _, name = field.partition(".")
    if place == "setup":
        return ("given", name, record.input.setup.get(name))
    if place != "masters":
        return None  # scatter, or the temperature of that day
    role, _, name = name.partition(".")
    card = record.masters.get(role, {})
    used = record.input.masters[role]
    return ("master", card.get("id", ""), name, used.get(name))


class _Older(NamedTuple):
    """What older records do not say of themselves."""

    fields: Mapping[tuple[str, str], str]  #: the field an influence comes from, by procedure and source
    results: Mapping[str, str]  #: the result a field was carried from
    loops: Mapping[str, str]  #: the same, by the procedure below


@cache
def _older() -> _Older:
    said = json.loads(resources.files("nonna.bench.book").joinpath("older_records.json").read_text("utf-8"))
    return _Older({(r["procedure"], r["source"]): r["field"] for r in said["fields"]}, said["results"], said["loops"])
