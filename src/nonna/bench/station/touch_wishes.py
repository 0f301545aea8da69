"""Touches decided by hand, by machine and tool, as the shop's folder keeps them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any, Literal

from nonna.bench.named_files import checked_in, named_file
from nonna.bench.ports import ShopFiles
from nonna.errors import NonnaError
from nonna.shop.texts.given import Plain
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
    return _wishes(named_file(folder, WISHES).get(machine, {}))


def change_wishes(folder: ShopFiles, machine: str, changed: Mapping[int, Wish | None]) -> dict[int, Wish]:
    """Write those that changed, None for one that is no longer decided by hand, and return all that are kept now.

    Raises: NonnaError (the file is damaged, or cannot be written).
    """

    def merged(document: Any) -> dict[str, Plain]:
        rows = {
            **document.get(machine, {}),
            **{str(n): asdict(w) if w is not None else None for n, w in changed.items()},
        }
        return {**document, machine: {n: row for n, row in sorted(rows.items()) if row is not None}}

    return _wishes(folder.change((WISHES,), merged, {})[machine])


def _wishes(rows: Any) -> dict[int, Wish]:
    try:
        return {int(number): Wish(**checked_in(WISHES, _Row, row).model_dump()) for number, row in rows.items()}
    except NonnaError:
        raise
    except (ValueError, AttributeError) as error:
        raise NonnaError(
            "wrong-format", "{wishes}: this is not what the tray wrote: {error}.", wishes=WISHES, error=error
        ) from error
