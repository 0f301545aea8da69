"""Touches decided by hand, by machine and tool, as the shop's folder keeps them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Literal

from nonna.bench.named_files import checked_in, named_file
from nonna.bench.ports import ShopFiles
from nonna.errors import NonnaError
from nonna.shop.texts.given import Document, Given, Plain
from nonna.shop.texts.strict_model import NotNegative, Strict
from nonna.stations.touched_tools import Method, Wish

WISHES = "touch-wishes.json"


class _Row(Strict):
    """A touch decided by hand, as it is kept."""

    method: Method
    side: Literal["+x", "-x", "+y", "-y"] = "+x"
    distance_mm: NotNegative = 0.0
    reason: str = ""


def read_wishes(folder: ShopFiles, machine: str) -> dict[int, Wish]:
    """Return the touches decided by hand on a machine. Raises: NonnaError naming the file."""
    return _wishes(named_file(folder, WISHES), machine)


def change_wishes(folder: ShopFiles, machine: str, changed: Mapping[int, Wish | None]) -> dict[int, Wish]:
    """Write those that changed, None for one that is no longer decided by hand, and return all that are kept now.

    Raises: NonnaError (the file is damaged, or cannot be written).
    """

    def merged(document: Given) -> Document:
        rows: dict[str, Plain] = {
            **document.part(machine),
            **{str(n): asdict(w) if w is not None else None for n, w in changed.items()},
        }
        return {**document, machine: {n: row for n, row in sorted(rows.items()) if row is not None}}

    return _wishes(folder.change((WISHES,), merged, {}), machine)


def _wishes(document: Given, machine: str) -> dict[int, Wish]:
    try:
        return {
            int(number): Wish(**checked_in(WISHES, _Row, row).model_dump())
            for number, row in document.part(machine).items()
        }
    except NonnaError:
        raise
    except (TypeError, ValueError) as error:
        raise NonnaError(
            "wrong-format", "{wishes}: this is not what the tray wrote: {error}.", wishes=WISHES, error=error
        ) from error
