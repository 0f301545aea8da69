"""What the desk keeps in a shop's folder by a name: one object a file."""

from __future__ import annotations

from typing import Any

from nonna.bench.ports import ShopFiles
from nonna.errors import NonnaError


def kept_in(folder: ShopFiles, name: str) -> dict[str, Any]:
    """Return what a file holds, nothing where it is not there. Raises: NonnaError naming the file."""
    if not folder.has(name):
        return {}
    document = folder.document(name)
    if not isinstance(document, dict):
        raise NonnaError("wrong-format", "{name}: an object is wanted.", name=name)
    return document
