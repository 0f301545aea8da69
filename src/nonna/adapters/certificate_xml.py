"""The certificate as XML: the record's own facts in plain elements."""

from __future__ import annotations

import xml.etree.ElementTree as ET
from pathlib import Path
from typing import Any

from nonna.adapters.safe_write import write_bytes
from nonna.bench.record import Record

NAMESPACE = "urn:nonna:certificate:1"


def write(record: Record, path: Path, withdrawn_by: int | None = None) -> None:
    """Write the certificate. Raises: NonnaError (the file cannot be written)."""
    root = ET.Element("certificate", {"xmlns": NAMESPACE, "record": str(record.number), "sha256": record.hash})
    if withdrawn_by is not None:
        root.set("withdrawn_by", str(withdrawn_by))
    _add(root, {k: v for k, v in record.body.items() if k not in ("bench", "measuring_program")})
    ET.indent(root)
    write_bytes(path, ET.tostring(root, encoding="utf-8", xml_declaration=True))


def _add(parent: ET.Element, value: Any) -> None:
    if isinstance(value, dict):
        for name, each in value.items():
            _add(ET.SubElement(parent, "field", {"name": str(name)}), each)
    elif isinstance(value, list):
        for each in value:
            _add(ET.SubElement(parent, "item"), each)
    elif value is not None:
        parent.text = value if isinstance(value, str) else repr(value)
