"""A station of a shop at one moment: its files as they were read, its records, and what follows from both."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import TYPE_CHECKING, NamedTuple

from nonna.bench import clock
from nonna.bench.book.book import Book
from nonna.bench.ports import ShopFiles
from nonna.errors import NonnaError
from nonna.shop.cards.seen import CardSeen, ToolSeen
from nonna.shop.links.fetched import ARTEFACT, DIAL, MASTER, RING
from nonna.shop.links.history import Entry, Standing
from nonna.shop.links.judge import Facts, LinkState, MasterDue, NextJob, judge, next_jobs
from nonna.shop.links.loop import Loop
from nonna.shop.links.service import Counter, counters, service_jobs
from nonna.shop.links.subjects import Subject, SubjectKind
from nonna.shop.texts.given import Given, Plain
from nonna.stations.kind import Around, StationKind, kind_of

if TYPE_CHECKING:
    from nonna.bench.book.reader import Reader
    from nonna.bench.book.results_that_hold import HeldResults
    from nonna.bench.station.site import Site
    from nonna.bench.station.weakest import Weakest
    from nonna.shop.records.values import Record


def _link_changes(rules: Given, station: str) -> dict[str, dict[str, Plain]]:
    """Return what a shop's rules change of a station's links."""
    links = rules.part("links").part(station)
    return {key: {name: value for name, value in links.part(key).items() if value not in (None, "")} for key in links}


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
    thermometer: str  #: when it was read, "" for today
    pad_mm: float  #: width of the setter's pad; 0 without a setter
    fetched: Mapping[str, str]  #: names of what stands as a placeholder in the jobs' list of things to fetch
    kept: Mapping[str, str]  #: where things lie, by name
    tools: tuple[ToolSeen, ...]
    masters: tuple[CardSeen, ...]  #: retired ones too
    entries: tuple[Entry, ...]  #: every record
    standing: Standing  #: those of this machine that count
    book: Book
    setter: str  #: id of the contact setter in use; "" where the gear names none
    links: tuple[LinkState, ...]
    jobs: tuple[NextJob, ...]
    weakest: Weakest | None  #: None where nothing was measured to its end, or at a glance
    practice: bool  #: whether the shop is invented
    site: Site | None  #: its files as they were read, checked whole; None at a glance
    counters: tuple[Counter, ...] = ()  #: parts that wear out by use
    reader: Reader | None = None  #: of the records as they were then; None at a glance

    @property
    def glanced(self) -> bool:
        """Whether nothing was checked yet and no record looked into."""
        return self.site is None

    @property
    def results(self) -> HeldResults:
        """What can be looked up by name in the records that count, for whoever may wait for the disk."""
        return self._looked_up(self.reader or self.book.reader())

    @property
    def known(self) -> HeldResults:
        """The same without the disk: what was not read yet is not there yet (NotRead)."""
        from nonna.shop.records.damage import not_read

        return self._looked_up(self.reader.known if self.reader is not None else not_read)

    def _looked_up(self, read: Callable[[int], Record]) -> HeldResults:
        from nonna.bench.book.results_that_hold import HeldResults  # late: the first picture looks into no record

        return HeldResults(self.standing, read, self.setter)


def read_state(folder: ShopFiles, now: datetime | None = None, station: str = "") -> ShopState:
    """Read a station's files, checked whole, and return its state.

    Parameters: station, name of the machine's files; "" (or one that is no longer there) for the first. A shop that
    has a ledger and no files is the station of its records. Raises: NonnaError naming the file.
    """
    return state_of(site_shown(folder, station), now)


def site_shown(folder: ShopFiles, station: str = "") -> Site:
    """Return the station that a window shows, checked whole: the first one where it is no longer there.

    Raises: NonnaError naming the file.
    """
    from nonna.bench.station.site import Site, open_site  # late: the first picture waits for no model

    if not folder.has_files:
        return Site.of_records(folder, station or next((e.machine for e in folder.book.entries()), ""))
    return open_site(folder, station if station in folder.shop().machines else "")


def state_of(site: Site, now: datetime | None = None) -> ShopState:
    """Return the state of a station by its files as they were read and its records. Raises: NonnaError."""
    return _state(site.folder, _of_site(site), now, site)


def glanced_at(folder: ShopFiles, station: str = "", now: datetime | None = None) -> ShopState:
    """Return a station's state for a first picture: no model checks its files, and no record is looked into.

    Loading the models takes 200 ms, and what looks into records 400 more, of a first picture that stands after 650.
    Parameters: as in `read_state`. Raises: NonnaError naming the file that cannot be read.
    """
    try:
        return _state(folder, _files(folder, station), now, None)
    except (KeyError, IndexError, TypeError, ValueError, AttributeError) as error:
        raise NonnaError(
            "wrong-format", "A file of this shop is not what it should be: {error!r} is missing or wrong.", error=error
        ) from error


def _state(folder: ShopFiles, found: _Files, now: datetime | None, site: Site | None) -> ShopState:
    moment, every = (now or clock.now()).astimezone(), folder.book.entries()
    shop, machine, home, tools, masters = found.shop, found.machine, found.home, found.tools, found.masters
    name, of_file = str(machine["name"]), str(machine["kind"])
    cards = {group: tuple(map(CardSeen.of, found.gear.rows(group))) for group in found.gear if group != "format"}
    practice = bool(shop.get("invented")) or not folder.has_files
    counting = folder.book.standing(name, home, practice=practice)
    kind = kind_of(of_file)
    probe = not found.gear or _has_probe(cards.get("probes", ()), kind, name, counting)
    kind = kind.at(Around(_mounted(cards.get("setters", ()), name), found.others, probe))
    kind = kind.changed(_link_changes(found.rules, name))
    names = [tool.subject for tool in tools] or _measured_tools(counting)
    loose = frozenset(tool.subject for tool in tools if not tool.repeats)
    links = judge(Facts(kind.loop, counting, names, _loop_masters(kind.loop, masters), moment, loose))
    learned = folder.book.minutes(name)
    reader = None if site is None else folder.book.reader()
    counted = counters(found.gear.rows("services"), name, counting, moment)
    return ShopState(
        shop=str(shop["name"]), operators=shop.words("operators") or ("nobody",), machine=name, key=found.key,
        home=home,
        kind=kind, file_kind=of_file, machine_kind=kind.words if of_file == kind.key else of_file,
        temperature=(shop.number("temperature_c", 20.0), shop.number("temperature_u_c", 0.5)),
        thermometer=temperature_unread(bool(shop.get("invented")), shop.word("temperature_at"), moment.date()),
        pad_mm=machine.part("setter").number("width_x_mm", 0.0),
        fetched=_fetched(masters, cards.get("indicators", ())),
        kept={card.name: card.kept for group in (masters, *cards.values()) for card in group if card.kept},
        tools=tools, masters=masters, entries=every, standing=counting, links=links,
        jobs=(*next_jobs(links, learned), *service_jobs(counted)), counters=counted,
        weakest=_weakest(kind, counting, reader), practice=practice, site=site,
        book=folder.book, reader=reader, setter=_setter_id(cards.get("setters", ()), name),
    )  # fmt: skip


def temperature_unread(invented: bool, read: str, today: date) -> str:
    """Return the day of the last reading where nobody read it today; a practice shop's stand-in keeps its own."""
    return "" if invented or read == today.isoformat() else read or "never read"


def _weakest(kind: StationKind, counting: Standing, reader: Reader | None) -> Weakest | None:
    if reader is None:
        return None
    from nonna.bench.station.weakest import weakest  # late: the first picture looks into no record

    return weakest(kind, counting, reader)


class _Files(NamedTuple):
    """The documents of a shop that concern one station."""

    shop: Given
    key: str
    machine: Given
    home: str
    tools: tuple[ToolSeen, ...] = ()
    masters: tuple[CardSeen, ...] = ()
    gear: Given = Given({})  #: empty where the shop has no such file
    others: tuple[tuple[str, str], ...] = ()  #: the shop's other stations: name and kind
    rules: Given = Given({})  #: what the shop decided for itself


def _of_site(site: Site) -> _Files:
    gear = Given(site.gear.model_dump() if site.folder.has("gear.json") else {})
    masters = tuple(CardSeen.of(Given(card.model_dump())) for card in site.shelf.masters)
    return _Files(
        Given(site.shop.model_dump()), site.key, Given(site.machine.model_dump()), site.home,
        tuple(map(ToolSeen.of_tool, site.tools)), masters, gear, site.others, Given(site.rules.model_dump(mode="json")),
    )  # fmt: skip


def _files(folder: ShopFiles, station: str) -> _Files:
    """Return the documents as they stand there, unchecked."""
    if not folder.has_files:
        name = station or next((e.machine for e in folder.book.entries()), "")
        return _Files(Given({"name": "", "operators": []}), "", Given({"name": name, "kind": "mill"}), name)
    shop = folder.document("shop.json")
    first, *_ = keys = shop.words("machines")
    key = station if station in keys else first
    machine = folder.document("machines", f"{key}.json")
    home = (machine if key == first else folder.document("machines", f"{first}.json")).text("name")
    gear = folder.document("gear.json") if folder.has("gear.json") else Given({})
    tools = tuple(map(ToolSeen.of, folder.document("tools", f"{key}.json").objects("tools")))
    masters = tuple(map(CardSeen.of, folder.document("masters.json").objects("masters")))
    rest = [folder.document("machines", f"{other}.json") for other in keys if other != key]
    others = tuple((each.text("name"), each.text("kind")) for each in rest)
    rules = folder.document("rules.json") if folder.has("rules.json") else Given({})
    return _Files(shop, key, machine, home, tools, masters, gear, others, rules)


def _measured_tools(counting: Sequence[Entry]) -> list[Subject]:
    return list(dict.fromkeys(e.subject for e in counting if e.subject.kind is SubjectKind.TOOL))


def _mounted(setters: Sequence[CardSeen], machine: str) -> list[CardSeen]:
    """Return the cards of the setters that stand on a machine."""
    return [c for c in setters if not c.retired and c.mounted and c.machine == machine]


def _has_probe(probes: Sequence[CardSeen], kind: StationKind, machine: str, counting: Standing) -> bool:
    """Whether a station has a probe on the shelf, or anything was ever measured with one there."""
    if any(card.machine == machine and not card.retired for card in probes):
        return True
    links = (link for link in kind.loop.links if link.key in kind.by_probe)
    return any(counting.measured(name) for link in links for name in link.procedures)


def _setter_id(setters: Sequence[CardSeen], machine: str) -> str:
    """Return the id of the contact setter in use on a machine, "" where the gear names none."""
    rows = (c for c in setters if not c.retired and c.kind == "contact" and c.machine == machine)
    return next((card.id for card in sorted(rows, key=lambda c: not c.mounted)), "")


def _in_use(masters: Sequence[CardSeen], kind: str) -> list[CardSeen]:
    return [card for card in masters if card.kind == kind and not card.retired]


def _loop_masters(loop: Loop, masters: Sequence[CardSeen]) -> dict[str, MasterDue]:
    """Return the master each kind of link rests on: the first traceable one in use, else the shop's own constant."""
    found: dict[str, MasterDue] = {}
    for kind in {link.master_kind for link in loop.links} - {""}:
        cards = _in_use(masters, kind)
        card = next((c for c in cards if c.traceable), cards[0] if cards else None)
        if card is not None:
            found[kind] = MasterDue(card.name, date.fromisoformat(card.due) if card.due else None, card.id)
    return found


def _fetched(masters: Sequence[CardSeen], indicators: Sequence[CardSeen]) -> dict[str, str]:
    """Return what the placeholders in the list of things to fetch stand for in this shop."""
    rings = _in_use(masters, "ring")
    tools = sorted(_in_use(masters, "master-tool"), key=lambda card: not card.traceable)
    dials = [card for card in indicators if not card.retired]
    named = {MASTER: tools[:1], RING: rings[:1], DIAL: dials[:1], ARTEFACT: rings[1:2]}
    plain = {MASTER: "A master", RING: "A ring", DIAL: "An indicator", ARTEFACT: "An artefact no calibration has used"}
    return {key: cards[0].name if cards else plain[key] for key, cards in named.items()}
