"""Where breakage checks pay, and how tools wear from check to check."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict

from nonna.bench.book.results_that_hold import HeldResults
from nonna.bench.ports import ShopFiles
from nonna.bench.tray.tray import tolerance_of
from nonna.errors import NonnaError
from nonna.metrology.check_planning import CheckPlan, Operation, best_checks
from nonna.metrology.drifting.wear import Wear, wear
from nonna.shop.links.subjects import Subject
from nonna.shop.texts.given import Document, Given, Plain

__all__ = ["CheckPlan", "Operation", "best_checks", "keep_operations", "kept_operations", "wear_of"]
OPERATIONS = "operations.json"
USUAL_COST, FEWEST = 0.4, 3


def kept_operations(shop: ShopFiles) -> tuple[list[Operation], float]:
    """Return the operations and the cost of a check that a shop kept, none and the usual cost where it kept none.

    Raises: NonnaError ``wrong-format`` (the file is not what was written).
    """
    if not shop.has(OPERATIONS):
        return [], USUAL_COST
    try:
        document = shop.document(OPERATIONS)
        kept = [_operation(row) for row in document.rows("operations")]
        cost = document.number("check_cost", USUAL_COST)
        best_checks(kept, cost)  # refuses what cannot be shown
    except (NonnaError, KeyError, TypeError, ValueError) as error:
        raise NonnaError(
            "wrong-format", "{operations} cannot be read: {error}", operations=OPERATIONS, error=error
        ) from error
    return kept, cost


def _operation(row: Given) -> Operation:
    tool, feature = row.text("tool"), row.word("feature")
    return Operation(tool, row.needed("minutes"), row.needed("break_probability"), row.needed("loss"), feature)


def keep_operations(shop: ShopFiles, operations: Sequence[Operation], check_cost: float) -> None:
    """Keep them for the next time. Raises: NonnaError (it cannot be written)."""
    rows: list[Plain] = [asdict(each) for each in operations]
    made: Document = {"check_cost": check_cost, "operations": rows}
    shop.change((OPERATIONS,), lambda _: made, {})


def wear_of(results: HeldResults, subject: Subject) -> tuple[Wear, float] | None:
    """Return how a tool wears and the tolerance it is held against (mm); None before there are enough checks."""
    good = [e for e in results.entries if e.name == "breakage" and e.subject == subject and e.verdict == "pass"]
    changes = [e.value_mm for e in good if e.value_mm is not None]
    if len(changes) < FEWEST:
        return None
    tolerance = tolerance_of(results)
    return wear(changes, tolerance), tolerance
