"""Results of a machine that ran a program: CSV, JSON, or lines of its log by a pattern."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from nonna.errors import NonnaError
from nonna.shop import strict_json
from nonna.shop.csv_rows import open_csv
from nonna.shop.line_pattern import Budget, line_pattern, number_of


@dataclass(frozen=True, slots=True)
class Touched:
    """One touch of one tool: where the gauge line was."""

    tool: int
    position_mm: float


def from_log(text: str, pattern: str) -> tuple[Touched, ...]:
    """Read lines of a log by a pattern such as ``TOOL {tool} {skip} Z={z}``.

    ``{tool}`` and ``{z}`` stand for numbers, ``{skip}`` for anything, blanks for any blanks; other lines are passed over.
    Raises: NonnaError ``wrong-format`` (the pattern lacks a hole, or no line fits it).
    """
    wanted, budget = line_pattern(pattern, ("tool", "z")), Budget()
    found = []
    for line in text.splitlines():
        hit = wanted.match(line, budget)
        if hit is not None:
            found.append(Touched(int(hit["tool"]), number_of(hit["z"])))
    if not found:
        raise NonnaError("wrong-format", "No line of this file fits the pattern.", "pattern")
    return tuple(found)


def from_csv(data: bytes) -> tuple[Touched, ...]:
    """Read ``tool, position_mm`` rows under those headers, in any order of columns.

    Raises: NonnaError with the row that is wrong.
    """
    table = open_csv(data)
    headers = [h.strip() for h in table.headers]
    if not table.rows or not {"tool", "position_mm"} <= set(headers):
        raise NonnaError("missing-field", "The headers tool and position_mm are wanted.", "row 1")
    return tuple(_touched(dict(zip(headers, row, strict=True)), f"row {i}") for i, row in enumerate(table.rows, 2))


def from_json(data: bytes) -> tuple[Touched, ...]:
    """Read a list of ``{"tool", "position_mm"}`` objects, plain or under ``touches``. Raises: NonnaError."""
    document = strict_json.loads(data)
    rows = document.get("touches") if isinstance(document, dict) else document
    if not isinstance(rows, list) or not rows:
        raise NonnaError("wrong-format", "A list of touches is wanted: tool and position_mm of each.")
    return tuple(_touched(row, f"touches[{i}]") for i, row in enumerate(rows))


def by_tool(touches: Sequence[Touched]) -> dict[int, list[float]]:
    """Return the positions of each tool, in the order they came."""
    found: dict[int, list[float]] = {}
    for touch in touches:
        found.setdefault(touch.tool, []).append(touch.position_mm)
    return found


def _touched(row: Any, where: str) -> Touched:
    if not isinstance(row, Mapping):
        raise NonnaError("wrong-format", "{place}: tool and position_mm are wanted.", where, place=where)
    values: dict[str, float] = {}
    for name in ("tool", "position_mm"):
        if row.get(name) in (None, ""):
            raise NonnaError(
                "missing-field", "{place}.{name}: this is missing.", f"{where}.{name}", place=where, name=name
            )
        try:
            values[name] = float(str(row[name]).strip().lstrip("Tt") if name == "tool" else str(row[name]))
        except ValueError:
            raise NonnaError(
                "not-a-number",
                "{place}.{name}: a number is wanted, not {value!r}.",
                f"{where}.{name}",
                place=where,
                name=name,
                value=str(row[name])[:30],
            ) from None
    if not (abs(values["position_mm"]) <= 1e6 and 1 <= values["tool"] <= 1e6):
        raise NonnaError("out-of-range", "{place}: no machine is that large.", where, place=where)
    return Touched(int(values["tool"]), values["position_mm"])
