"""Results of a machine that ran a program: CSV, JSON, or lines of its log by a pattern."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from nonna.errors import NonnaError
from nonna.shop.texts import strict_json
from nonna.shop.texts.csv_rows import RowsRead, open_csv, read_each
from nonna.shop.texts.line_pattern import Budget, line_pattern, number_of

_PARAMETER = re.compile(
    r"\s*#?\s*\[?(?P<index>[0-9]{1,6})\]?\s*(?:[=:;\t]|,(?=\s)|\s)\s*(?P<value>[+-]?(?:[0-9]+(?:[.,][0-9]*)?|[.,][0-9]+))"
    r"\s*(?:mm|;|\([^)]*\))?\s*$"
)  # a line of a print-out: at most one number for each of its two parts


@dataclass(frozen=True, slots=True)
class Touched:
    """One touch of one tool: where the gauge line was, or an axis of a lathe as it showed it."""

    tool: int
    position_mm: float
    axis: str = ""  #: ``x`` or ``z`` where the results say which


def from_log(text: str, pattern: str) -> tuple[Touched, ...]:
    """Read lines of a log by a pattern such as ``TOOL {tool} {skip} Z={z}``.

    ``{tool}`` and ``{z}`` stand for numbers, ``{skip}`` for anything, blanks for any blanks; other lines are passed
    over. ``{x}`` instead of ``{z}`` or both in one line, or ``{axis}`` and ``{value}``, are the axes of a lathe.
    Raises: NonnaError ``wrong-format`` (the pattern lacks a hole, or no line fits it).
    """
    axes = [axis for axis in "xz" if f"{{{axis}}}" in pattern]
    named = not axes and "{axis}" in pattern
    wanted, budget = line_pattern(pattern, ("tool", *(("axis", "value") if named else axes or ("z",)))), Budget()
    found = []
    for line in text.splitlines():
        hit = wanted.match(line, budget)
        if hit is None:
            continue
        for axis, hole in ((hit["axis"].lower(), "value"),) if named else tuple((a, a) for a in axes):
            found.append(Touched(int(hit["tool"]), number_of(hit[hole]), axis))
    if not found:
        raise NonnaError("wrong-format", "No line of this file fits the pattern.", "pattern")
    return tuple(found)


def read_csv(data: bytes) -> RowsRead[Touched]:
    """Read ``tool, position_mm`` rows under those headers (and ``axis``, of a lathe), in any order of columns.

    Raises: NonnaError (it is no such table, or none of its rows is right).
    """
    table = open_csv(data)
    headers = [h.strip() for h in table.headers]
    if not table.rows or not {"tool", "position_mm"} <= set(headers):
        raise NonnaError("missing-field", "The headers tool and position_mm are wanted.", "row 1")
    return read_each(table, lambda i, row: _touched(dict(zip(headers, row, strict=True)), f"row {i}")).at_least_one()


@dataclass(frozen=True, slots=True)
class LeftIn:
    """Where a program leaves the results of one spot that it touches."""

    tool: int
    axis: str
    first: int  #: the first parameter, the others behind it
    count: int
    name: str = ""
    unit_mm: float = 1.0  #: of the numbers it leaves there


def from_parameters(text: str, left_in: Sequence[LeftIn]) -> RowsRead[Touched] | None:
    """Read a machine's print-out of the parameters that our program leaves its results in; None where it is none.

    A line is a parameter and its value: ``#1001 = -345.123``, ``1001;-345,123``. A spot that lacks one of its
    parameters, or holds one twice with two values, is named and not taken.
    """
    wanted = {each.first + i for each in left_in for i in range(each.count)}
    found: dict[int, set[float]] = {}
    for line in text.splitlines():
        hit = _PARAMETER.match(line)
        if hit is not None and int(hit["index"]) in wanted:
            found.setdefault(int(hit["index"]), set()).add(float(hit["value"].replace(",", ".")))
    if not found:
        return None
    touches: list[Touched] = []
    wrong: list[NonnaError] = []
    lacking: set[int] = set()  #: tools of which a part is missing: no other part of theirs is taken for it
    for each in left_in:
        values = [found.get(each.first + i, set()) for i in range(each.count)]
        if all(len(one) == 1 for one in values):
            touches += [Touched(each.tool, next(iter(one)) * each.unit_mm, each.axis) for one in values]
            continue
        lacking.add(each.tool)
        at = next(each.first + i for i, one in enumerate(values) if len(one) != 1)
        words = "#{at}, {name}: it stands there twice, with two values." if found.get(at) else "#{at}, {name}: missing."
        wrong.append(NonnaError("missing-field", words, f"#{at}", at=at, name=each.name or f"T{each.tool}"))
    return RowsRead(tuple(touch for touch in touches if touch.tool not in lacking), tuple(wrong))


def from_json(data: bytes) -> tuple[Touched, ...]:
    """Read a list of ``{"tool", "position_mm"}`` objects (and ``axis``), plain or under ``touches``. Raises:
    NonnaError.
    """
    document = strict_json.loads(data)
    rows = document.get("touches") if isinstance(document, dict) else document
    if not isinstance(rows, list) or not rows:
        raise NonnaError("wrong-format", "A list of touches is wanted: tool and position_mm of each.")
    return tuple(_touched(row, f"touches[{i}]") for i, row in enumerate(rows))


def by_tool(touches: Sequence[Touched]) -> dict[int, list[float]]:
    """Return the positions along Z of each tool, in the order they came."""
    found: dict[int, list[float]] = {}
    for touch in touches:
        if touch.axis in ("", "z"):  # what another axis showed is no length
            found.setdefault(touch.tool, []).append(touch.position_mm)
    return found


def readings_by_tool(touches: Sequence[Touched]) -> dict[int, list[dict[str, str | float]]]:
    """Return what each tip's sheet takes, in the order it came. Raises: NonnaError (a touch that names no axis)."""
    found: dict[int, list[dict[str, str | float]]] = {}
    for touch in touches:
        if touch.axis not in ("x", "z"):
            words = "A lathe's results say which axis: a column axis (x or z), or {x} and {z} in the pattern of a line."
            raise NonnaError("missing-field", words, "axis", x="{x}", z="{z}")
        found.setdefault(touch.tool, []).append({"axis": touch.axis, "position_mm": touch.position_mm})
    return found


def _touched(row: object, where: str) -> Touched:
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
    axis = str(row.get("axis") or "").strip().lower()
    if axis not in ("", "x", "y", "z"):
        raise NonnaError(
            "out-of-range", "{place}.axis: x or z, not {value!r}.", f"{where}.axis", place=where, value=axis[:30]
        )
    return Touched(int(values["tool"]), values["position_mm"], axis)
