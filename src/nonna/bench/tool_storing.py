"""The tray's files in the shop folder: the machine's tools, touches decided by hand, columns mapped once."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, replace
from typing import Any

from nonna.bench.ports import ShopFiles
from nonna.bench.site import Site
from nonna.bench.tables.csv_table import Columns
from nonna.bench.tables.files import text_of
from nonna.bench.tool_table import ToolRow, csv_text
from nonna.errors import NonnaError
from nonna.programs.choose import Wish
from nonna.shop.machine import Tool, Tools
from nonna.shop.strict_model import checked

WISHES, COLUMNS = "touch-wishes.json", "table-columns.json"


def store_tools(site: Site, tools: Sequence[Tool]) -> Site:
    """Put what was changed here into the machine's tools, and return the site with them.

    What others wrote meanwhile stays. Raises: NonnaError (both changed the same tool: theirs stays; or it cannot be
    written).
    """
    changed = _changes(site.tools, tools)

    def merged(document: Any) -> dict[str, Any]:
        theirs = checked(Tools, document).tools
        return Tools(format="nonna-tools/1", tools=_merged(site.tools, theirs, changed)).model_dump(exclude_none=True)

    document = site.folder.change(("tools", f"{site.key}.json"), merged, {"format": "nonna-tools/1", "tools": []})
    return replace(site, tools=tuple(checked(Tools, document).tools))


def _changes(base: Sequence[Tool], mine: Sequence[Tool]) -> dict[int, Tool | None]:
    """Return what was changed by number: the tool as it is now, None for one that was taken out."""
    before, after = {t.number: t for t in base}, {t.number: t for t in mine}
    changed: dict[int, Tool | None] = {n: t for n, t in after.items() if before.get(n) != t}
    return changed | {n: None for n in before if n not in after}


def _merged(base: Sequence[Tool], theirs: Sequence[Tool], changed: Mapping[int, Tool | None]) -> list[Tool]:
    before, now = {t.number: t for t in base}, {t.number: t for t in theirs}
    for number, tool in changed.items():
        if now.get(number) not in (before.get(number), tool):
            raise NonnaError(
                "out-of-range", "T{number} was changed in another window meanwhile: its entry stays, yours was not written.",
                f"T{number}", number=number,
            )  # fmt: skip
    kept: list[Tool] = []
    for number, tool in now.items():
        new = changed.get(number, tool) if number in changed else tool
        if new is not None:
            kept.append(new)
    return kept + [t for n, t in changed.items() if t is not None and n not in now]


def read_wishes(folder: ShopFiles, machine: str) -> dict[int, Wish]:
    """Return the touches decided by hand on a machine. Raises: NonnaError naming the file."""
    rows = _read(folder, WISHES).get(machine, {})
    try:
        return {int(number): Wish(**row) for number, row in rows.items()}
    except (TypeError, ValueError, AttributeError) as error:
        raise NonnaError(
            "wrong-format", "{wishes}: this is not what the tray wrote: {error}.", wishes=WISHES, error=error
        ) from error


def store_wishes(folder: ShopFiles, machine: str, wishes: Mapping[int, Wish]) -> None:
    """Write them, each with its reason. Raises: NonnaError (it cannot be written)."""
    mine = {str(number): asdict(wish) for number, wish in sorted(wishes.items())}
    folder.change((WISHES,), lambda document: {**document, machine: mine}, {})


def columns_for(folder: ShopFiles, signature: str) -> Columns | None:
    """Return how a table with these headers was mapped before. Raises: NonnaError naming the file."""
    row = _read(folder, COLUMNS).get(signature)
    return Columns.from_document(row) if row is not None else None


def keep_columns(folder: ShopFiles, signature: str, columns: Columns) -> None:
    """Remember a mapping. Raises: NonnaError (it cannot be written)."""
    folder.change((COLUMNS,), lambda document: {**document, signature: columns.to_document()}, {})


def _read(folder: ShopFiles, name: str) -> dict[str, Any]:
    if not folder.has(name):
        return {}
    document = folder.document(name)
    if not isinstance(document, dict):
        raise NonnaError("wrong-format", "{name}: an object is wanted.", name=name)
    return document


def table_text(suffix: str, rows: Sequence[ToolRow], tools: Sequence[Tool], machine: str) -> str:
    """Return the table to load into the machine: measured lengths that hold, the rest as it was.

    CSV has the difference and the record of each length; JSON and XML have the whole tool. Parameters: suffix, the
    ending of the file it is for.
    """
    if suffix.lower() not in (".json", ".xml"):
        return csv_text(rows)
    new = {r.number: r.now for r in rows if r.accepted}
    made = [t.model_copy(update={"length_mm": new[t.number]}) if t.number in new else t for t in tools]
    return text_of(made, suffix, machine)
