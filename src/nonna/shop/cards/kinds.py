"""Which kinds of stations there are: those of the file format, and each folder of the stations' room."""

from __future__ import annotations

from functools import cache
from importlib.util import find_spec
from pathlib import Path

FORMAT_KINDS = ("mill", "router", "lathe")


def station_folders() -> tuple[Path, ...]:
    """Return the folders of the kinds that bring a loop of their own. None of them is imported."""
    spec = find_spec("nonna.stations")
    return _folders_in(tuple(spec.submodule_search_locations or ()) if spec else ())


@cache
def _folders_in(places: tuple[str, ...]) -> tuple[Path, ...]:
    return tuple(file.parent for place in places for file in sorted(Path(place).glob("*/__init__.py")))


def station_kinds() -> tuple[str, ...]:
    """Return the kinds that bring a loop of their own."""
    return tuple(folder.name for folder in station_folders())


def known_kinds() -> tuple[str, ...]:
    """Return every kind that a machine's file may name."""
    return tuple(dict.fromkeys((*FORMAT_KINDS, *station_kinds())))
