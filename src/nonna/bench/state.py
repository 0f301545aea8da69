"""The state of one station of a shop, read afresh after each record. Quick to make: the first picture waits for it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from typing import Any

from nonna.bench import clock
from nonna.bench.held import HeldResults
from nonna.bench.ports import ShopFiles
from nonna.bench.weakest import Weakest, weakest
from nonna.errors import NonnaError
from nonna.shop.fetched import ARTEFACT, DIAL, MASTER, RING
from nonna.shop.history import Entry, Standing
from nonna.shop.judge import Facts, LinkState, MasterDue, NextJob, judge, next_jobs
from nonna.shop.loop import Loop
from nonna.shop.service import Counter, counters, service_jobs
from nonna.shop.subjects import Subject, SubjectKind
from nonna.shop.subjects import tool as tool_of
from nonna.stations.kind import Around, StationKind, kind_of


@dataclass(frozen=True, slots=True)
class ShopState:
    """A shop and one of its machines at one moment."""

    shop: str
    operators: tuple[str, ...]
    machine: str
    key: str  #: name of the machine's files
    home: str  #: the machine that records without one belong to
    kind: StationKind
    file_kind: str  #: as the machine's file has it
    machine_kind: str  #: in words
    temperature: tuple[float, float]
    pad_mm: float  #: width of the setter's pad; 0 without a setter
    fetched: Mapping[str, str]  #: names of what stands as a placeholder in the jobs' list of things to fetch
    kept: Mapping[str, str]  #: where things lie, by name
    tools: tuple[dict[str, Any], ...]
    masters: tuple[dict[str, Any], ...]
    entries: tuple[Entry, ...]  #: every record
    standing: Standing  #: those of this machine that count
    results: HeldResults  #: what can be looked up in them by name
    links: tuple[LinkState, ...]
    jobs: tuple[NextJob, ...]
    weakest: Weakest | None
    counters: tuple[Counter, ...] = ()  #: parts that wear out by use


def read_state(folder: ShopFiles, now: datetime | None = None, station: str = "") -> ShopState:
    """Read a shop at a glance; its files are checked whole later, in the background.

    Parameters: station, name of the machine's files; "" (or one that is no longer there) for the first. A shop that
    has a ledger and no files is the station of its records.
    Raises: NonnaError naming the file that cannot be read.
    """
    moment = (now or clock.now()).astimezone()
    try:
        every = folder.book.entries()
        found = _files(folder, station) if folder.has_files else _of_records(every, station)
        shop, key, machine, home, gear = found.shop, found.key, found.machine, found.home, found.gear
        tools, masters = found.tools, found.masters
        counting = folder.book.standing(machine["name"], home)
        kind = kind_of(machine["kind"]).at(Around(_mounted(gear, machine["name"]), found.others))
        names = [tool_of(row.get("id") or row["number"]) for row in tools] or _measured_tools(counting)
        loose = frozenset(tool_of(row.get("id") or row["number"]) for row in tools if row.get("repeats") is False)
        links = judge(Facts(kind.loop, counting, names, _loop_masters(kind.loop, masters), moment, loose))
        reader = folder.book.reader()
        learned = folder.book.minutes(machine["name"])
        counted = counters(gear.get("services", ()), machine["name"], counting, moment)
        return ShopState(
            shop=shop["name"], operators=tuple(shop["operators"]) or ("nobody",), machine=machine["name"], key=key, home=home,
            kind=kind, file_kind=machine["kind"], machine_kind=kind.words if machine["kind"] == kind.key else machine["kind"],
            temperature=(shop.get("temperature_c", 20.0), shop.get("temperature_u_c", 0.5)),
            pad_mm=float((machine.get("setter") or {}).get("width_x_mm", 0.0)),
            fetched=_fetched(masters, gear), kept=_kept(masters, gear),
            tools=tools, masters=masters, entries=every, standing=counting, links=links, jobs=(*next_jobs(links, learned), *service_jobs(counted)), counters=counted,
            weakest=weakest(kind, counting, reader),
            results=HeldResults(counting, reader, _setter_id(gear, machine["name"])),
        )  # fmt: skip
    except (KeyError, IndexError, TypeError, AttributeError) as error:
        raise NonnaError(
            "wrong-format", f"A file of this shop is not what it should be: {error!r} is missing or wrong."
        ) from error


@dataclass(frozen=True, slots=True)
class _Files:
    """The documents of a shop that concern one station, unchecked."""

    shop: dict[str, Any]
    key: str
    machine: dict[str, Any]
    home: str
    tools: tuple[dict[str, Any], ...] = ()
    masters: tuple[dict[str, Any], ...] = ()
    gear: dict[str, Any] = field(default_factory=dict)
    others: tuple[tuple[str, str], ...] = ()  #: the shop's other stations: name and kind


def _files(folder: ShopFiles, station: str) -> _Files:
    shop = folder.document("shop.json")
    first = shop["machines"][0]
    key = station if station in shop["machines"] else first
    machine = folder.document("machines", f"{key}.json")
    home = machine["name"] if key == first else folder.document("machines", f"{first}.json")["name"]
    gear = folder.document("gear.json") if folder.has("gear.json") else {}
    tools, masters = folder.document("tools", f"{key}.json")["tools"], folder.document("masters.json")["masters"]
    rest = [folder.document("machines", f"{other}.json") for other in shop["machines"] if other != key]
    others = tuple((str(each["name"]), str(each["kind"])) for each in rest)
    return _Files(shop, key, machine, home, tuple(tools), tuple(masters), gear, others)


def _of_records(every: Sequence[Entry], station: str) -> _Files:
    """Return what a shop without files is: its records' station."""
    name = station or next((e.machine for e in every), "")
    return _Files({"name": "", "operators": []}, "", {"name": name, "kind": "mill"}, name)


def _measured_tools(counting: Sequence[Entry]) -> list[Subject]:
    return list(dict.fromkeys(e.subject for e in counting if e.subject.kind is SubjectKind.TOOL))


def _mounted(gear: dict[str, Any], machine: str) -> list[dict[str, Any]]:
    """Return the cards of the setters that stand on a machine."""
    cards = (c for c in gear.get("setters", ()) if not c.get("retired", False) and c.get("mounted", True))
    return [c for c in cards if c.get("machine", "") == machine]


def _setter_id(gear: dict[str, Any], machine: str) -> str:
    """Return the id of the contact setter in use on a machine, "" where the gear names none."""
    rows = (c for c in gear.get("setters", ()) if not c.get("retired", False) and c["kind"] == "contact")
    cards = sorted((c for c in rows if c.get("machine", "") == machine), key=lambda c: not c.get("mounted", True))
    return str(cards[0]["id"]) if cards else ""


def _in_use(masters: tuple[dict[str, Any], ...], kind: str) -> list[dict[str, Any]]:
    return [card for card in masters if card["kind"] == kind and not card.get("retired", False)]


def _loop_masters(loop: Loop, masters: tuple[dict[str, Any], ...]) -> dict[str, MasterDue]:
    """Return the master each kind of link rests on: the first traceable one in use, else the shop's own constant."""
    found: dict[str, MasterDue] = {}
    for kind in {link.master_kind for link in loop.links} - {""}:
        cards = _in_use(masters, kind)
        card = next((c for c in cards if c.get("traceable", True)), cards[0] if cards else None)
        if card is not None:
            due = card.get("due") or ""
            found[kind] = MasterDue(card["name"], date.fromisoformat(due) if due else None, card["id"])
    return found


def _fetched(masters: tuple[dict[str, Any], ...], gear: dict[str, Any]) -> dict[str, str]:
    """Return what the placeholders in the list of things to fetch stand for in this shop."""
    rings = _in_use(masters, "ring")
    tools = sorted(_in_use(masters, "master-tool"), key=lambda card: not card.get("traceable", True))
    dials = [card for card in gear.get("indicators", ()) if not card.get("retired", False)]
    named = {MASTER: tools[:1], RING: rings[:1], DIAL: dials[:1], ARTEFACT: rings[1:2]}
    plain = {MASTER: "A master", RING: "A ring", DIAL: "An indicator", ARTEFACT: "An artefact no calibration has used"}
    return {key: str(cards[0]["name"]) if cards else plain[key] for key, cards in named.items()}


def _kept(masters: tuple[dict[str, Any], ...], gear: dict[str, Any]) -> dict[str, str]:
    cards = [*masters, *(card for group in gear.values() if isinstance(group, list) for card in group)]
    return {str(card["name"]): str(card["kept"]) for card in cards if card.get("kept")}
