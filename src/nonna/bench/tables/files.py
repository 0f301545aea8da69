"""A tool table in the format of a file's ending: one door for reading and for writing."""

from __future__ import annotations

import json
from collections.abc import Iterable

from nonna.bench import clock
from nonna.bench.tables import csv_table, xml_table
from nonna.errors import NonnaError
from nonna.shop.cards.machine import Tool, Tools
from nonna.shop.texts import strict_json
from nonna.shop.texts.strict_model import checked


def tools_in(name: str, data: bytes) -> tuple[Tool, ...]:
    """Return the tools of a file that needs no mapping: JSON or XML, by its ending.

    Raises: NonnaError naming the file and what is wrong in it.
    """
    try:
        if name.lower().endswith(".xml"):
            return xml_table.tools_of(data)
        return tuple(checked(Tools, strict_json.loads(data)).tools)
    except NonnaError as error:
        raise NonnaError(error.code, "{name}: {words}", error.where, name=name, words=error.message) from error


def text_of(tools: Iterable[Tool], suffix: str, machine: str) -> str:
    """Return a table as text in the format of a file ending: ``.xml``, ``.json``, anything else CSV."""
    rows = list(tools)
    if suffix.lower() == ".xml":
        return xml_table.xml_of(rows, clock.stamp(), machine).decode()
    if suffix.lower() == ".json":
        document = {"format": "nonna-tools/1", "tools": [t.model_dump(exclude_none=True) for t in rows]}
        return json.dumps(document, ensure_ascii=False, indent=1) + "\n"
    return csv_table.csv_of(rows)
