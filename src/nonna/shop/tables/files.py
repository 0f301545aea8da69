"""A tool table's file, by its ending: one door for reading and for writing."""

from __future__ import annotations

import json
from collections.abc import Iterable
from pathlib import Path

from nonna.metrology.errors import NonnaError
from nonna.shop import clock, strict_json
from nonna.shop.folder import read_bytes
from nonna.shop.machine import Tool, Tools
from nonna.shop.safe_write import write_text
from nonna.shop.strict_model import checked
from nonna.shop.tables import csv_table, xml_table


def read(path: Path) -> tuple[Tool, ...]:
    """Read a table that needs no mapping: JSON or XML.

    Raises: NonnaError naming the file and what is wrong in it.
    """
    data = read_bytes(path)
    try:
        if path.suffix.lower() == ".xml":
            return xml_table.tools_of(data)
        return tuple(checked(Tools, strict_json.loads(data)).tools)
    except NonnaError as error:
        raise NonnaError(error.code, f"{path.name}: {error.message}", error.where) from error


def text_of(tools: Iterable[Tool], suffix: str, machine: str) -> str:
    """Return a table as text in the format of a file ending: ``.xml``, ``.json``, anything else CSV."""
    rows = list(tools)
    if suffix.lower() == ".xml":
        return xml_table.xml_of(rows, clock.now().isoformat(timespec="seconds"), machine).decode()
    if suffix.lower() == ".json":
        document = {"format": "nonna-tools/1", "tools": [t.model_dump(exclude_none=True) for t in rows]}
        return json.dumps(document, ensure_ascii=False, indent=1) + "\n"
    return csv_table.csv_of(rows)


def write(path: Path, tools: Iterable[Tool], machine: str) -> None:
    """Write a table whole or not at all. Raises: NonnaError (it cannot be written)."""
    write_text(path, text_of(tools, path.suffix, machine))
