"""Differences of signed results: errors common to both cancel, because influences have names."""

from __future__ import annotations

import math
from typing import Any

from nonna.metrology.uncertain import Estimate, Influences
from nonna.records.ledger import Record


def difference(first: Record, second: Record, name: str) -> Estimate:
    """Return ``first - second`` of one result, with common influences cancelled.

    Two influences are the same when both records carried the same field from the same earlier record.
    Raises: KeyError (a record without that result), ValueError (nothing left that is uncertain).
    """
    influences = Influences()
    shared: dict[tuple[Any, ...], Any] = {}
    sides = []
    for record in (first, second):
        total: Any = record.body["result"]["results"][name]["value"]
        carried = record.body.get("carried", {}).get("setup.trigger_plane_mm", {}).get("hash", record.hash)
        for row in record.body["influences"][name]:
            dof = math.inf if row["dof"] is None else row["dof"]
            key = (
                ("plane", carried, row["u"]) if row["source"] == "trigger plane" else (record.hash, row["source"], dof)
            )
            if key not in shared:
                shared[key] = influences.add(str(key[0]) + row["source"], 0.0, row["u"], dof, row["shape"])
            total = total + shared[key]
        sides.append(total)
    return influences.estimate(sides[0] - sides[1])
