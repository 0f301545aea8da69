"""What a reference shares with the plane it is compared on: that doubt cancels in the change, and is left out of it."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from nonna.bench.book.difference import estimate
from nonna.bench.book.results_that_hold import HeldResults
from nonna.bench.book.shared_doubt import leaves
from nonna.metrology.doubt.coverage import carried_dof
from nonna.metrology.doubt.means import TOUCH
from nonna.shop.records.values import CarriedFrom, as_measurement
from nonna.shop.texts.given import Given, Plain

PLANE, REFERENCE = "trigger_plane", "reference"
ARM = tuple((f"plane_{axis}", f"expected_{axis}") for axis in "xz")  #: a lathe's: each axis has a face of its own

#: What stands for half of a plane's value, its doubt in with the plane's: of a driven tool touched on both flanks.
BESIDE = {"plane_z": ("setup.plane_minus_z_mm",)}

Rows = Mapping[str, CarriedFrom]


@dataclass(frozen=True, slots=True)
class _OwnDoubt:
    """What a reference's doubt is without its plane's."""

    u: float
    dof: float
    touches: int | None = None  #: where nothing but so many touches of its own is left


def cancel_planes(setup: dict[str, Plain], carried: Rows, results: HeldResults) -> None:
    """Leave a plane's doubt out of what was measured on this very plane; say where it was another one."""
    own = _own_part(PLANE, REFERENCE, setup, carried, results)
    if own is not None:
        setup["same_plane"] = True
        _put(setup, REFERENCE, own)
        if own.touches is not None:
            setup["reference_touches"] = own.touches
    compared = [(plane, last) for plane, last in ARM if {f"setup.{plane}_mm", f"setup.{last}_mm"} <= carried.keys()]
    parts = {last: _own_part(plane, last, setup, carried, results) for plane, last in compared}
    if parts:
        setup["same_plane"] = all(parts.values())
    for last, part in parts.items():
        _put(setup, last, part if part is not None and setup["same_plane"] else _whole(last, carried, results))


def _own_part(
    plane: str, reference: str, setup: Mapping[str, Plain], carried: Rows, results: HeldResults
) -> _OwnDoubt | None:
    """Return a reference's doubt without the plane's, None where it was not measured on this plane."""
    on, of = carried.get(f"setup.{plane}_mm"), carried.get(f"setup.{reference}_mm")
    if on is None or of is None:
        return None
    record = as_measurement(results.read(of.record))
    if any(_from(carried, field) != _from(record.carried, field) for field in BESIDE.get(plane, ())):
        return None
    whole = leaves(record, of.result, results.read)
    shared = {leaf.key for leaf in leaves(as_measurement(results.read(on.record)), on.result, results.read)}
    if not shared <= {leaf.key for leaf in whole}:
        return None
    left = [leaf for leaf in whole if leaf.key not in shared]
    own = estimate(left, Given(setup).number(f"{reference}_mm", 0.0))
    touches = len(record.input.readings)
    if len(left) == 1 and left[0].source == TOUCH and left[0].dof == touches - 1:
        return _OwnDoubt(own.u, left[0].dof, touches)
    return _OwnDoubt(own.u, carried_dof(own.k))


def _from(carried: Rows, field: str) -> int | None:
    """Return the record that a field was carried from."""
    return carried[field].record if field in carried else None


def _whole(reference: str, carried: Rows, results: HeldResults) -> _OwnDoubt:
    row = carried[f"setup.{reference}_mm"]
    found = as_measurement(results.read(row.record)).result.results[row.result]
    if found.u is None or found.k is None:
        return _OwnDoubt(0.0, math.inf)
    return _OwnDoubt(float(found.u), carried_dof(float(found.k)))


def _put(setup: dict[str, Plain], reference: str, part: _OwnDoubt) -> None:
    setup[f"{reference}_u_mm"] = part.u
    setup.pop(f"{reference}_dof", None)
    if not math.isinf(part.dof):
        setup[f"{reference}_dof"] = part.dof
