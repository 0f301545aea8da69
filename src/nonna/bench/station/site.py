"""A station of a shop with everything its files and records say, checked whole."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from nonna.bench.book.results_that_hold import HeldResults
from nonna.bench.ports import ShopFiles
from nonna.bench.station.touch_wishes import read_wishes
from nonna.errors import NonnaError
from nonna.shop.cards.gear import Gear
from nonna.shop.cards.machine import Machine, PlaneAndHeight, Tool, Travel
from nonna.shop.cards.masters import Shelf, Shop
from nonna.shop.cards.rules import Rules
from nonna.shop.links.history import Standing
from nonna.shop.links.subjects import Subject, tool

if TYPE_CHECKING:
    from nonna.stations.touched_tools import Wish


@dataclass(frozen=True, slots=True)
class Site:
    """A shop with one of its stations."""

    folder: ShopFiles
    shop: Shop
    shelf: Shelf
    machine: Machine
    tools: tuple[Tool, ...]
    gear: Gear
    rules: Rules
    key: str = ""  #: name of the machine's files
    home: str = ""  #: the station that records without one belong to
    marks: tuple[int, ...] = ()  #: when its files were changed last
    wishes: Mapping[int, Wish] = field(default_factory=dict)  #: touches decided by hand, by tool
    others: tuple[tuple[str, str], ...] = ()  #: the shop's other stations: name and kind

    @classmethod
    def load(cls, folder: ShopFiles, station: str = "") -> Site:
        """Read and check the shop's files.

        Parameters: station, by the name of its file or its own name; "" for the first one.
        Raises: NonnaError naming the file, or ``out-of-range`` (no such station).
        """
        shop = folder.shop()
        if not shop.machines:
            raise NonnaError("missing-field", "shop.json: no machine is named.", "machines")
        machines = {key: folder.machine(key) for key in shop.machines}
        key = _named(machines, station)
        marks = folder.marks(key)  # before they are read: a change meanwhile is seen next time
        machine = folder.machine(key)
        return cls(
            folder,
            shop,
            folder.shelf(),
            machine,
            tuple(folder.tools(key).tools),
            folder.gear(),
            folder.rules(),
            key,
            machines[shop.machines[0]].name,
            marks,
            read_wishes(folder, machine.name),
            tuple((each.name, each.kind) for other, each in machines.items() if other != key),
        )

    @classmethod
    def of_records(cls, folder: ShopFiles, station: str = "") -> Site:
        """Return the station of a shop that has a ledger and no files: nothing is known but what was signed.

        Raises: NonnaError ``missing-field`` (records of several stations, and none is named), ``unreadable``.
        """
        names = sorted({e.machine for e in folder.book.entries()})
        if not station and len(names) > 1:
            words = "There are records of {names}: say which with --station."
            raise NonnaError("missing-field", words, "station", names=", ".join(name or "no station" for name in names))
        name = station or (names[0] if names else "")
        # Nothing is planned or moved on such a station: only its name counts, and that it has no setter on file.
        one = PlaneAndHeight(xy=1.0, z=1.0)
        machine = Machine(
            format="nonna-machine/1", name=name, kind="mill", travel_mm=Travel(x=[0, 1], y=[0, 1], z=[0, 1]),
            rapid_mm_min=one, acceleration_mm_s2=one,
        )  # fmt: skip
        shop = Shop(format="nonna-shop/1", name="", operators=[], machines=[])
        return cls(folder, shop, Shelf(format="nonna-masters/1", masters=[]), machine, (), Gear(), Rules(), "", name)

    def is_fresh(self) -> bool:
        """Whether nobody changed the files since they were read."""
        return self.marks == self.folder.marks(self.key)

    def called(self, subject: Subject) -> str:
        """Return what a subject is called here: a tool that moved by its pocket and its own name."""
        moved = next((t for t in self.tools if t.subject == subject and subject != tool(t.number)), None)
        return f"T{moved.number}, known as {subject.words}" if moved else subject.words

    @property
    def setter(self) -> str:
        """Id of the contact setter in use, "" where the gear names none."""
        card = self.gear.setter(self.machine.name, "contact")
        return card.id if card else ""

    def standing(self) -> Standing:
        """Return this station's records that count, oldest first. Raises: NonnaError ``unreadable``."""
        return self.folder.book.standing(self.machine.name, self.home, practice=self.shop.invented)

    def results(self) -> HeldResults:
        """Return what can be looked up by name in this station's records. Raises: NonnaError ``unreadable``."""
        return HeldResults(self.standing(), self.folder.book.reader(), self.setter)


def open_site(folder: ShopFiles, station: str = "") -> Site:
    """Return a station of a shop, with files or with nothing but a ledger. Raises: NonnaError."""
    if folder.has_files:
        return Site.load(folder, station)
    return Site.of_records(folder, station)


def _named(machines: Mapping[str, Machine], station: str) -> str:
    """Return the name of the files of a station. Raises: NonnaError (there is none of that name)."""
    for key, machine in machines.items():
        if station in ("", key, machine.name):
            return key
    words = "There is no station {value!r} in this shop; there are: {names}."
    names = ", ".join(machine.name for machine in machines.values())
    raise NonnaError("out-of-range", words, "station", value=station[:60], names=names)
