"""Which kinds of stations there are: those of the file format, and each folder of the stations' room."""

from __future__ import annotations

from pathlib import Path

from nonna.folders import folders_of

FORMAT_KINDS = ("mill", "router", "lathe")


def station_folders() -> tuple[Path, ...]:
    """Return the folders of the kinds that bring a loop of their own. None of them is imported."""
    return folders_of("nonna.stations")


def station_kinds() -> tuple[str, ...]:
    """Return the kinds that bring a loop of their own."""
    return tuple(folder.name for folder in station_folders())


def known_kinds() -> tuple[str, ...]:
    """Return every kind that a machine's file may name."""
    return tuple(dict.fromkeys((*FORMAT_KINDS, *station_kinds())))
