"""Tool tables as CSV: any columns, guessed from their headers, asked about where the file leaves it open."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import get_args

from nonna.bench.tables.holders import holder_from, holder_text, is_holder
from nonna.bench.tables.kinds import kind_of
from nonna.bench.tables.rough import read_length
from nonna.errors import NonnaError
from nonna.shop.cards.machine import Tool, ToolKind
from nonna.shop.texts.csv_rows import CsvTable, RowsRead, read_each, rows_csv
from nonna.shop.texts.given import Plain
from nonna.shop.texts.strict_model import checked
from nonna.wording.lengths import MM_PER_INCH

LENGTHS = (
    "diameter_mm", "corner_radius_mm", "tip_diameter_mm", "length_mm", "true_length_mm", "length_uncertainty_mm",
    "tolerance_mm",
    "offset_x_mm", "offset_z_mm", "wear_x_mm", "wear_z_mm",
)  # fmt: skip
FIELDS = tuple(Tool.model_fields)
_SAME = {
    "number": ("tool", "t", "no", "nr", "num", "toolnumber", "toolno", "pocket", "id", "werkzeug"),
    "kind": ("type", "tooltype", "shape"),
    "diameter_mm": ("diameter", "dia", "d", "diam", "cutterdiameter"),
    "corner_radius_mm": ("cornerradius", "radius", "r", "cr", "noseradius"),
    "tip_diameter_mm": ("tipdiameter", "flat", "tip"),
    "flutes": ("teeth", "z", "edges", "numberofflutes", "flutecount"),
    "point_angle_deg": ("pointangle", "angle"),
    "length_mm": ("length", "l", "h", "offset", "lengthoffset", "zoffset", "len", "gaugelength"),
    "length_uncertainty_mm": ("uncertainty", "lengthuncertainty"),
    "hand": ("direction", "rotation"),
    "material": ("mat", "cuttingmaterial"),
    "max_rpm": ("rpm", "maxrpm", "nmax"),
    "offset_x_mm": ("xoffset", "offsetx", "geometryx", "xgeometry"),
    "offset_z_mm": ("zoffset", "geometryz", "zgeometry"),
    "wear_x_mm": ("xwear",),
    "wear_z_mm": ("zwear",),
    "edge": ("cuts", "way"),
    "description": ("name", "comment", "remark", "text", "desc"),
}
_INCH_HEADER = re.compile(r"(?:^|[^a-z])(?:in|inch|inches|\")(?:[^a-z]|$)")
_COMMA_NUMBER = re.compile(r"[+-]?\d+,\d+\Z")
_POINT_NUMBER = re.compile(r"[+-]?\d*\.\d+\Z")


@dataclass(frozen=True, slots=True)
class Columns:
    """Which column holds what, and how its numbers are written."""

    fields: Mapping[str, int] = field(default_factory=dict)  #: tool field -> column
    decimal_comma: bool = False
    inch: bool = False

    def to_document(self) -> dict[str, Plain]:
        """Return it as it is remembered."""
        return {"fields": dict(self.fields), "decimal_comma": self.decimal_comma, "inch": self.inch}


def guess(table: CsvTable) -> tuple[Columns, tuple[str, ...]]:
    """Guess what each column holds, and return what should be asked before it is believed."""
    fields: dict[str, int] = {}
    turned = any(_bare(header)[1] in _SAME["offset_x_mm"] for header in table.headers)
    for at, header in enumerate(table.headers):
        plain, bare = _bare(header)
        for name in FIELDS:
            if turned and name == "length_mm" and bare in _SAME["offset_z_mm"]:
                continue  # beside an X offset it is a lathe's, no length
            own = re.sub(r"[^a-z]", "", re.sub(r"_(mm|deg)$", "", name))
            if name == "holder" and not all(is_holder(row[at]) for row in table.rows):
                continue  # somebody's name for it
            if name not in fields and (plain == name or bare == own or bare in _SAME.get(name, ())):
                fields[name] = at
                break
    questions = []
    lengths = [row[fields[name]].strip() for name in LENGTHS if name in fields for row in table.rows]
    comma = any(_COMMA_NUMBER.match(cell) for cell in lengths)
    if comma and not any(_POINT_NUMBER.match(cell) for cell in lengths):
        questions.append("Numbers such as " + next(c for c in lengths if _COMMA_NUMBER.match(c)) + ": a decimal comma?")
    elif comma:
        questions.append("Some numbers have a comma and some a point: which is the decimal sign?")
    ours = [table.headers[fields[name]].strip().lower() for name in LENGTHS if name in fields]
    inch = any(_INCH_HEADER.search(header) for header in ours)
    if not inch and not any("mm" in header for header in ours):
        questions.append("No header names a unit: are the lengths in millimetres?")
    for name, words in (("number", "the tool's number"), ("diameter_mm", "the diameter")):
        if name not in fields:
            questions.append(f"Which column holds {words}?")
    return Columns(fields, comma, inch), tuple(questions)


def _bare(header: str) -> tuple[str, str]:
    """Return a header without what stands in brackets, and its letters alone."""
    plain = re.sub(r"\(.*?\)|\[.*?\]", "", header.strip().lower())
    return plain, re.sub(r"[^a-z]", "", re.sub(r"_(mm|deg|in)$", "", plain))


def with_headers(text: str) -> str:
    """Return rows that a spreadsheet copied with a line of headers above them, where they have none of their own."""
    first = text.splitlines()[0]
    cells = first.split("\t")
    if not any(re.fullmatch(r"\s*[tT]?[\d.,+-]+\s*", cell) for cell in cells):
        return text
    return "\t".join(f"column {i + 1}" for i in range(len(cells))) + "\n" + text


def read_rows(table: CsvTable, columns: Columns) -> RowsRead[Tool]:
    """Read what can be read of a table by its mapping. Raises: NonnaError (the mapping lacks what each tool needs)."""
    for name in ("number", "diameter_mm"):
        if name not in columns.fields:
            raise NonnaError("missing-field", "{name}: say which column holds it.", name, name=name)
    return read_each(table, lambda i, row: _tool(i, row, columns))


def _tool(i: int, row: Sequence[str], columns: Columns) -> Tool:
    values: dict[str, Plain] = {}
    for name, at in columns.fields.items():
        cell = row[at].strip()
        if cell:
            try:
                values |= {name: row[at]} if name == "description" else _value(name, cell, columns)
            except NonnaError as error:
                raise NonnaError(
                    error.code, "row {i}, {name}: {words}", f"row {i}, {name}", i=i, name=name, words=error.message
                ) from error
    if "kind" not in values:
        values["kind"] = kind_of(str(values.get("description", "")))
    try:
        return checked(Tool, values)
    except NonnaError as error:
        raise NonnaError(error.code, "row {i}, {words}", f"row {i}, {error.where}", i=i, words=error.message) from error


def csv_of(tools: Iterable[Tool]) -> str:
    """Write tools as CSV, every field under its own name, so that reading it back gives exactly the same."""
    shown = ((tool, tool.model_dump()) for tool in tools)
    cells = ([holder_text(t.holder) if n == "holder" else _cell(row[n]) for n in FIELDS] for t, row in shown)
    return rows_csv([FIELDS, *cells])


def _cell(value: object) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    return repr(value) if isinstance(value, float) else str(value)


def _value(name: str, cell: str, columns: Columns) -> Mapping[str, Plain]:
    if name == "length_mm":
        found = read_length(cell, columns.decimal_comma, MM_PER_INCH if columns.inch else 1.0)
        rough = {} if found.doubt_mm is None else {"length_uncertainty_mm": found.doubt_mm}
        return ({} if found.value_mm is None else {"length_mm": found.value_mm}) | rough
    if name in LENGTHS:
        return {name: _number(cell, columns) * (MM_PER_INCH if columns.inch else 1.0)}
    if name in ("point_angle_deg", "edge_deg", "max_rpm"):
        return {name: _number(cell, columns)}
    if name in ("number", "flutes"):
        digits = re.fullmatch(r"[tT]?\s*0*(\d{1,7})(?:[.,]0+)?", cell)
        if not digits:
            raise NonnaError("not-a-number", "a whole number is wanted, not {value!r}.", value=cell[:30])
        return {name: int(digits.group(1))}
    if name == "holder":
        return {name: holder_from(cell)}
    if name in ("centre_cutting", "repeats"):
        return {name: cell.lower() in ("yes", "true", "1", "y")}
    if name == "kind":
        return {name: cell if cell in _kinds() else kind_of(cell)}
    return {name: cell.lower()}


def _kinds() -> tuple[str, ...]:
    return get_args(ToolKind)


def _number(cell: str, columns: Columns) -> float:
    plain = cell.replace(",", ".") if columns.decimal_comma else cell
    try:
        return float(plain)
    except ValueError:
        hint = " Is it a decimal comma?" if _COMMA_NUMBER.match(cell) else ""
        raise NonnaError(
            "not-a-number", "a number is wanted, not {value!r}.{hint}", value=cell[:30], hint=hint
        ) from None
