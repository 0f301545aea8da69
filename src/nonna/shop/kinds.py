"""Which kinds of stations there are: those of the file format, and each folder of the stations' room."""

from __future__ import annotations

from collections.abc import Iterator
from importlib.util import find_spec
from pathlib import Path

FORMAT_KINDS = ("mill", "router", "lathe")


def station_folders() -> Iterator[Path]:
    """Yield the folders of the kinds that bring a loop of their own. None of them is imported."""
    spec = find_spec("nonna.stations")
    for place in (spec.submodule_search_locations or ()) if spec else ():
        yield from (file.parent for file in sorted(Path(place).glob("*/__init__.py")))


def station_kinds() -> tuple[str, ...]:
    """Return the kinds that bring a loop of their own."""
    return tuple(folder.name for folder in station_folders())


def known_kinds() -> tuple[str, ...]:
    """Return every kind that a machine's file may name."""
    return tuple(dict.fromkeys((*FORMAT_KINDS, *station_kinds())))
