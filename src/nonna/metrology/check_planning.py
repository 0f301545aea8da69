"""Where in a list of operations a breakage check pays: least expected cost, by dynamic programming.

Each operation may break its tool. Unnoticed, the break costs what every later operation that follows on the same
feature loses by it, until a check of that tool. A check after an operation finds the break at once. Tools are
independent of each other, so each tool's checks are chosen by themselves: R. E. Barlow and F. Proschan, Mathematical
Theory of Reliability (1965), ch. 4 (checking policies).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

from nonna.errors import NonnaError


@dataclass(frozen=True, slots=True)
class Operation:
    """One operation in the order of the program."""

    tool: str
    minutes: float  #: what it takes; lost when it runs on what an unnoticed break left behind
    break_probability: float  #: that its tool breaks in it, 0 to 1
    loss: float  #: what it costs when it runs on what an unnoticed break left behind
    feature: str = ""  #: only breaks on the same feature harm it; "": any


@dataclass(frozen=True, slots=True)
class CheckPlan:
    """Where to check, and what it is expected to cost."""

    after: tuple[int, ...]  #: positions of the operations after which their tool is checked
    cost: float
    cost_without: float
    cost_with_all: float
    saved: tuple[float, ...]  #: by operation: how much dearer the plan would be without its check there; 0 without one
    vain_minutes: float  #: expected to be cut after an unnoticed break, with these checks
    vain_minutes_without: float  #: ... with none


def expected_cost(operations: Sequence[Operation], after: Sequence[int], check_cost: float) -> float:
    """Return what a choice of checks is expected to cost: the checks, and the losses by breaks they do not find in
    time.
    """
    checked = set(after)
    total = check_cost * len(checked)
    for tool in dict.fromkeys(op.tool for op in operations):
        uses = [i for i, op in enumerate(operations) if op.tool == tool]
        whole = 1.0  # probability that the tool is whole since its last check
        for at, use in enumerate(uses):
            found = next((u for u in uses[at:] if u in checked), len(operations) - 1)
            total += whole * operations[use].break_probability * _loss(operations, use, found)
            whole *= 1.0 - operations[use].break_probability
            if use in checked:
                whole = 1.0
    return total


def best_checks(operations: Sequence[Operation], check_cost: float) -> CheckPlan:
    """Choose the checks of least expected cost.

    Parameters: operations (n,), in order; check_cost of one check, in the unit of the losses, not negative.
    Raises: NonnaError ``out-of-range`` (a probability outside 0 to 1, a negative cost or time).
    """
    if not (check_cost >= 0.0 and math.isfinite(check_cost)):
        raise NonnaError("out-of-range", "A check cannot cost less than nothing.", "check_cost")
    for i, op in enumerate(operations):
        if not 0.0 <= op.break_probability <= 1.0:
            where = f"operations[{i}].break_probability"
            raise NonnaError("out-of-range", "{place}: a probability between 0 and 1 is wanted.", where, place=where)
        for name in ("minutes", "loss"):
            if not (getattr(op, name) >= 0.0 and math.isfinite(getattr(op, name))):
                raise NonnaError(
                    "out-of-range",
                    "operations[{i}].{name}: 0 or more is wanted.",
                    f"operations[{i}].{name}",
                    i=i,
                    name=name,
                )
    chosen: list[int] = []
    for tool in dict.fromkeys(op.tool for op in operations):
        chosen += _best_of_tool(operations, [i for i, op in enumerate(operations) if op.tool == tool], check_cost)
    everywhere = range(len(operations))
    cost = expected_cost(operations, chosen, check_cost)
    timed = [replace(op, loss=op.minutes) for op in operations]
    return CheckPlan(
        tuple(sorted(chosen)), cost, expected_cost(operations, (), check_cost),
        expected_cost(operations, everywhere, check_cost),
        tuple(expected_cost(operations, [c for c in chosen if c != i], check_cost) - cost for i in everywhere),
        expected_cost(timed, chosen, 0.0), expected_cost(timed, (), 0.0),
    )  # fmt: skip


def _best_of_tool(operations: Sequence[Operation], uses: Sequence[int], check_cost: float) -> list[int]:
    """Return the checks of one tool: cheapest way from its first use to the end, a step for each stretch without
    one.
    """
    n = len(uses)
    cheapest: list[tuple[float, list[int]]] = [(0.0, []) for _ in range(n + 1)]  # the last: nothing is left
    for first in range(n - 1, -1, -1):
        open_end = _stretch(operations, uses, first, n, len(operations) - 1)
        best: tuple[float, list[int]] = (open_end, [])
        for last in range(first, n):
            after = cheapest[last + 1]
            cost = _stretch(operations, uses, first, last + 1, uses[last]) + check_cost + after[0]
            if cost < best[0]:
                best = (cost, [uses[last], *after[1]])
        cheapest[first] = best
    return cheapest[0][1]


def _stretch(operations: Sequence[Operation], uses: Sequence[int], first: int, end: int, found: int) -> float:
    """Expected loss of breaks in the uses ``first`` to ``end`` (exclusive) that are noticed after operation
    ``found``.
    """
    cost, whole = 0.0, 1.0
    for use in uses[first:end]:
        p = operations[use].break_probability
        cost += whole * p * _loss(operations, use, found)
        whole *= 1.0 - p
    return cost


def _loss(operations: Sequence[Operation], broken: int, found: int) -> float:
    """What runs between a break and its being noticed, and is harmed by it."""
    feature = operations[broken].feature
    return math.fsum(op.loss for op in operations[broken + 1 : found + 1] if not feature or op.feature in ("", feature))
