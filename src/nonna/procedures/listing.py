"""The list of procedures: a word each, and those that a kind of station brings along. Imports nothing slow."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import cache
from importlib import import_module
from pathlib import Path
from types import MappingProxyType
from typing import NamedTuple

from nonna.shop.cards.kinds import station_folders
from nonna.shop.links.subjects import Subject

#: Folders of the procedures that any kind of station may use.
SHARED = (
    "artefact_check",
    "beam_level",
    "breakage",
    "breakage_threshold",
    "face_level",
    "gauge_study",
    "loop_closure",
    "presetter_calibration",
    "presetter_tool",
    "presetter_transfer",
    "probe_length",
    "probe_ring",
    "rack_pockets",
    "repeatability",
    "setter_calibration",
    "tip_runout",
    "tool_diameter",
    "tool_from_presetter",
    "tool_length",
    "tooth_runout",
    "trigger_latency",
    "work_offset",
)


class Listed(NamedTuple):
    """A procedure in the list."""

    name: str  #: its published name
    title: str  #: what people call it
    subject: Subject  #: what it is usually done on (ANY: on each tool)
    offers: Mapping[str, str] = MappingProxyType({})  #: names of its results by what they are to others (`offers`)
    stored: Mapping[str, str] = MappingProxyType({})  #: what its results are in a control's tables, by result
    measures: str = ""  #: what the tray wants of a tool when this sheet judges it, "" for none of that
    is_scatter: bool = False  #: whether its main result is a standard deviation: twice that is shown
    older_main: str = ""  #: its main result, where its older records may not hold it first
    package: str = ""  #: its folder, as the list found it
    kind: str = ""  #: the kind of station it belongs to alone, "" for all


class _Listing(Mapping[str, Listed]):
    """The shared procedures, and those in the folder ``procedures`` of each station's folder."""

    def __getitem__(self, name: str) -> Listed:
        shared = _shared(SHARED)
        return shared[name] if name in shared else self._own()[name]

    def __iter__(self) -> Iterator[str]:
        yield from _shared(SHARED)
        yield from self._own()

    def __len__(self) -> int:
        return len(_shared(SHARED)) + len(self._own())

    def _own(self) -> dict[str, Listed]:
        return _of_folders(station_folders())


@cache
def _shared(folders: tuple[str, ...]) -> dict[str, Listed]:
    found = (_listed(f"nonna.procedures.{folder}") for folder in folders)
    return {listed.name: listed for listed in found}


@cache
def _of_folders(stations: tuple[Path, ...]) -> dict[str, Listed]:
    found: dict[str, Listed] = {}
    for station in stations:
        for file in sorted(station.glob("procedures/*/__init__.py")):
            listed = _listed(f"nonna.stations.{station.name}.procedures.{file.parent.name}")
            if listed.name not in _shared(SHARED):  # a shared one keeps its meaning everywhere
                found[listed.name] = listed._replace(kind=station.name)
    return found


def _listed(package: str) -> Listed:
    found: Listed = import_module(package).LISTED
    return found._replace(package=package)


class Offered(NamedTuple):
    """A result of a procedure that is something to others."""

    procedure: str
    result: str


def offering(offer: str) -> tuple[Offered, ...]:
    """Return who gives something (`nonna.procedures.offers`), in the list's order; nobody, where no folder does."""
    return tuple(Offered(name, listed.offers[offer]) for name, listed in PROCEDURES.items() if offer in listed.offers)


def one_offering(offer: str) -> str:
    """Return the first procedure that gives something, "" where none does."""
    return next((name for name, listed in PROCEDURES.items() if offer in listed.offers), "")


def measuring(measure: str) -> str:
    """Return the procedure that judges what the tray wants of a tool, "" where none does."""
    return next((name for name, listed in PROCEDURES.items() if listed.measures == measure), "")


PROCEDURES: Mapping[str, Listed] = _Listing()
