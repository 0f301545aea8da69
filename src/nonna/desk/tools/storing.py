"""The tray's files in the shop folder: the machine's tools, touches decided by hand, columns mapped once."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import asdict, replace
from pathlib import Path
from typing import Any

from nonna.metrology.errors import NonnaError
from nonna.programs.choose import Wish
from nonna.records.site import Site
from nonna.records.tool_table import ToolRow, csv_text
from nonna.shop.folder import ShopFolder
from nonna.shop.machine import Tool, Tools
from nonna.shop.safe_write import write_text
from nonna.shop.tables.csv_table import Columns
from nonna.shop.tables.files import write

WISHES, COLUMNS = "touch-wishes.json", "table-columns.json"


def store_tools(site: Site, tools: Sequence[Tool]) -> Site:
    """Write the machine's tools and return the site with them. Raises: NonnaError (it cannot be written)."""
    document = Tools(format="nonna-tools/1", tools=list(tools)).model_dump(exclude_none=True)
    name = site.shop.machines[0]
    write_text(site.folder.root / "tools" / f"{name}.json", json.dumps(document, ensure_ascii=False, indent=1) + "\n")
    return replace(site, tools=tuple(tools))


def read_wishes(folder: ShopFolder, machine: str) -> dict[int, Wish]:
    """Return the touches decided by hand on a machine. Raises: NonnaError naming the file."""
    rows = _read(folder, WISHES).get(machine, {})
    try:
        return {int(number): Wish(**row) for number, row in rows.items()}
    except (TypeError, ValueError, AttributeError) as error:
        raise NonnaError("wrong-format", f"{WISHES}: this is not what the tray wrote: {error}.") from error


def store_wishes(folder: ShopFolder, machine: str, wishes: Mapping[int, Wish]) -> None:
    """Write them, each with its reason. Raises: NonnaError (it cannot be written)."""
    document = _read(folder, WISHES)
    document[machine] = {str(number): asdict(wish) for number, wish in sorted(wishes.items())}
    _write(folder, WISHES, document)


def columns_for(folder: ShopFolder, signature: str) -> Columns | None:
    """Return how a table with these headers was mapped before. Raises: NonnaError naming the file."""
    row = _read(folder, COLUMNS).get(signature)
    return Columns.from_document(row) if row is not None else None


def keep_columns(folder: ShopFolder, signature: str, columns: Columns) -> None:
    """Remember a mapping. Raises: NonnaError (it cannot be written)."""
    _write(folder, COLUMNS, _read(folder, COLUMNS) | {signature: columns.to_document()})


def _read(folder: ShopFolder, name: str) -> dict[str, Any]:
    if not (folder.root / name).exists():
        return {}
    document = folder.document(name)
    if not isinstance(document, dict):
        raise NonnaError("wrong-format", f"{name}: an object is wanted.")
    return document


def _write(folder: ShopFolder, name: str, document: Mapping[str, Any]) -> None:
    write_text(folder.root / name, json.dumps(document, ensure_ascii=False, indent=1) + "\n")


def write_table(path: Path, rows: Sequence[ToolRow], tools: Sequence[Tool], machine: str) -> None:
    """Write the table to load into the machine: measured lengths that hold, the rest as it was.

    CSV has the difference and the record of each length; JSON and XML have the whole tool. Raises: NonnaError (it
    cannot be written).
    """
    if path.suffix.lower() not in (".json", ".xml"):
        write_text(path, csv_text(rows))
        return
    new = {r.number: r.now for r in rows if r.accepted}
    made = [t.model_copy(update={"length_mm": new[t.number]}) if t.number in new else t for t in tools]
    write(path, made, machine)
