"""Doubt by its last sources, through all records a result rests on: the one place where shared doubt is found.

Two results share an influence when both were carried from the same result of the same record, or rest on the same
value of the same master, or were given the same value. Their errors are then the same and cancel in a difference
(JCGM 102, 5: correlated quantities). Imports nothing slow: the first picture of the desk names the weakest link.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass

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
        field = _OLD.get((record.name, row.source), "") if row.field is None else row.field
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
    name = row.result or _OLD_RESULTS.get(field) or _OLD_LOOPS.get(below.name, "")
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


_OLD = {  # records from before influences said which field they come from
    ("tool-length", "trigger plane"): "setup.trigger_plane_mm",
    ("breakage", "trigger plane"): "setup.trigger_plane_mm",
    ("breakage", "reference length"): "setup.reference_mm",
    ("probe-length", "surface"): "setup.surface_mm",
    ("probe-length", "correction"): "setup.correction_mm",
    ("tool-diameter", "setter's width"): "setup.setter_width_mm",
    ("tool-diameter", "setter's centre"): "setup.setter_centre_mm",
    ("work-offset", "length of what touches"): "setup.tool_length_mm",
    ("work-offset", "height between"): "setup.height_mm",
    ("artefact-check", "calibration of the loop"): "setup.calibration_u_mm",
    ("setter-calibration", "master length"): "masters.master.length_mm",
    ("setter-calibration", "master diameter"): "masters.master.diameter_mm",
    ("setter-calibration", "expansion of the master"): "masters.master.cte_per_k",
    ("probe-ring", "ring diameter"): "masters.ring.diameter_mm",
    ("probe-ring", "expansion of the master"): "masters.ring.cte_per_k",
}
_OLD_RESULTS = {  # ... and from before a carried field said which result it was
    "setup.trigger_plane_mm": "trigger_plane_mm",
    "setup.surface_mm": "trigger_plane_mm",
    "setup.reference_mm": "length_mm",
    "setup.setter_width_mm": "width_x_mm",
    "setup.setter_centre_mm": "centre_x_mm",
    "setup.tool_length_mm": "probe_length_mm",
}
_OLD_LOOPS = {
    "setter-calibration": "trigger_plane_mm",
    "probe-length": "probe_length_mm",
    "probe-ring": "ball_radius_mm",
}
