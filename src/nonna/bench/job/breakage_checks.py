"""Where breakage checks pay, and how tools wear from check to check."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict

from nonna.bench.book.results_that_hold import HeldResults
from nonna.bench.named_files import checked_in
from nonna.bench.ports import ShopFiles
from nonna.bench.tray.tray import tolerance_of
from nonna.errors import NonnaError
from nonna.metrology.check_planning import CheckPlan, Operation, best_checks
from nonna.metrology.drifting.wear import Wear, wear
from nonna.shop.links.subjects import Subject
from nonna.shop.texts.given import Plain
from nonna.shop.texts.strict_model import Strict

__all__ = ["CheckPlan", "Operation", "best_checks", "keep_operations", "kept_operations", "wear_of"]
OPERATIONS = "operations.json"
USUAL_COST, FEWEST = 0.4, 3


class _Row(Strict):
    """An operation, as it is kept."""

    tool: str
    minutes: float
    break_probability: float
    loss: float
    feature: str = ""


class _Kept(Strict):
    """The file."""

    operations: list[_Row] = []
    check_cost: float = USUAL_COST


def kept_operations(shop: ShopFiles) -> tuple[list[Operation], float]:
    """Return the operations and the cost of a check that a shop kept, none and the usual cost where it kept none.

    Raises: NonnaError ``wrong-format`` (the file is not what was written).
    """
    if not shop.has(OPERATIONS):
        return [], USUAL_COST
    found = checked_in(OPERATIONS, _Kept, shop.document(OPERATIONS))
    kept = [Operation(**row.model_dump()) for row in found.operations]
    try:
        best_checks(kept, found.check_cost)  # refuses what cannot be shown
    except NonnaError as error:
        words = "{operations} cannot be read: {error}"
        raise NonnaError("wrong-format", words, operations=OPERATIONS, error=error) from error
    return kept, found.check_cost


def keep_operations(shop: ShopFiles, operations: Sequence[Operation], check_cost: float) -> None:
    """Keep them for the next time. Raises: NonnaError (it cannot be written)."""
    rows: list[Plain] = [asdict(each) for each in operations]
    shop.change((OPERATIONS,), lambda _: {"check_cost": check_cost, "operations": rows}, {})


def wear_of(results: HeldResults, subject: Subject) -> tuple[Wear, float] | None:
    """Return how a tool wears and the tolerance it is held against (mm); None before there are enough checks."""
    good = [e for e in results.entries if e.name == "breakage" and e.subject == subject and e.verdict == "pass"]
    changes = [e.value_mm for e in good if e.value_mm is not None]
    if len(changes) < FEWEST:
        return None
    tolerance = tolerance_of(results)
    return wear(changes, tolerance), tolerance
