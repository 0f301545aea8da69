"""Open a sheet with everything the shop already knows, so that no number is typed twice."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any

from nonna.metrology.errors import NonnaError
from nonna.procedures.catalogue import procedure
from nonna.procedures.listing import PROCEDURES
from nonna.procedures.sheet import Bench, Beside, Carry, Procedure
from nonna.records.glance import entries
from nonna.records.ledger import Ledger, Record
from nonna.shop.events import DAILY
from nonna.shop.folder import ShopFolder
from nonna.shop.gear import Gear
from nonna.shop.history import Entry, latest, standing
from nonna.shop.machine import Machine, Tool
from nonna.shop.masters import MasterCard, Shelf, Shop
from nonna.shop.staleness import LinkState, State

_VARIANTS = {"master-tool": "master", "spindle-face": "spindle-face", "block": "block"}


@dataclass(frozen=True, slots=True)
class Opening:
    """A sheet ready for its first reading, with where its numbers come from."""

    name: str
    bench: Bench
    cards: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    carried: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    choices: tuple[MasterCard, ...] = ()  #: masters that would do


@dataclass(frozen=True, slots=True)
class Site:
    """A shop with one of its machines, checked whole."""

    folder: ShopFolder
    shop: Shop
    shelf: Shelf
    machine: Machine
    tools: tuple[Tool, ...]
    gear: Gear

    @classmethod
    def load(cls, folder: ShopFolder) -> Site:
        """Read and check the shop's files. Raises: NonnaError naming the file."""
        shop = folder.shop()
        if not shop.machines:
            raise NonnaError("missing-field", "shop.json: no machine is named.", "machines")
        name = shop.machines[0]
        return cls(folder, shop, folder.shelf(), folder.machine(name), tuple(folder.tools(name).tools), folder.gear())


def open_sheet(site: Site, name: str, subject: str, master_id: str = "", variant: str = "") -> Opening:
    """Return a sheet of a procedure for a subject ("Setter", "T4") with all that is known filled in.

    Parameters: master_id and variant, what was chosen; "" leaves the choice to the shop's files.
    Raises: NonnaError (a file is damaged, or a record needed first does not exist: ``missing-field``).
    """
    found = procedure(name)
    way = found.variant(variant or ("daily" if subject == DAILY else ""))
    entries_now = standing(entries(site.folder.ledger), site.machine.name)
    ledger = Ledger(site.folder.ledger)
    try:
        kinds = (way.kinds if way else ()) or found.master_kinds
        choices = tuple(c for kind in kinds for c in site.shelf.masters if c.kind == kind and not c.retired)
        proving = found.role == "artefact" and not (way and way.key == "daily")
        used = _used(ledger, entries_now) if proving else set()
        first = next((c for c in choices if c.id not in used), choices[0] if choices else None)
        card = next((c for c in choices if c.id == master_id), first)
        if found.variant_of_master:
            way = found.variant(_VARIANTS.get(card.kind, "")) if card else None
        key = way.key if way else ""
        beside = _beside(ledger, entries_now, found, key)
        setup: dict[str, Any] = {**found.offered, **_owned(site, found), **(way.setup if way else {})}
        carried: dict[str, dict[str, Any]] = {}
        carries = [c for c in found.carries if not c.variants or key in c.variants]
        for carry in carries:
            entry = latest(entries_now, carry.procedure, subject if carry.same_subject else "")
            if entry is None:
                continue
            record = ledger.get(entry.number)
            value = _part(record, carry)
            if value is not None:
                setup[carry.field] = value
                carried[f"setup.{carry.field}"] = {"record": record.number, "hash": record.hash, "link": carry.link}
    finally:
        ledger.close()
    needed = [f for f, info in found.setup_model.model_fields.items() if info.is_required() and f not in setup]
    for missing in needed:
        needs = next((procedure(c.procedure).title for c in carries if c.field == missing), "")
        if needs:
            raise NonnaError(
                "missing-field", f"{needs} comes first: {found.title.lower()} rests on it.", f"setup.{missing}"
            )
    tool = next((t for t in site.tools if f"T{t.number}" == subject), None)
    if tool is not None and "expected_mm" in found.setup_model.model_fields:
        expected = tool.diameter_mm if name == "tool-diameter" else tool.length_mm
        setup |= {} if expected is None else {"expected_mm": expected}
    bench = _bench(site, setup, card, tool, subject)
    bench = replace(
        bench,
        beside=beside,
        variant=key,
        known=_known(entries_now),
        masters={found.role: card.as_input()} if card else {},
    )
    return Opening(name, bench, {found.role: card.model_dump()} if card else {}, carried, choices)


def _owned(site: Site, found: Procedure) -> dict[str, Any]:
    """Return what a sheet's setup takes from the machine and the gear."""
    fields = found.setup_model.model_fields
    owned: dict[str, Any] = {}
    spec, gear, name = site.machine.setter, site.gear, site.machine.name
    if spec is not None and "pad_x_mm" in fields:
        owned |= {"pad_x_mm": spec.width_x_mm, "pad_y_mm": spec.width_y_mm}
    dial = gear.indicator()
    if dial is not None and "indicator" in fields:
        owned["indicator"] = {
            "resolution_mm": dial.resolution_mm, "mpe_mm": dial.mpe_mm, "lever_deg": dial.lever_deg,
        }  # fmt: skip
    pad, beam, probe = gear.setter(name, "contact"), gear.setter(name, "beam"), gear.probe(name)
    if pad is not None and "screws" in fields:
        owned["screws"] = [screw.model_dump() for screw in pad.screws]
    if beam is not None and "adjuster" in fields and beam.adjuster is not None:
        owned |= {"span_mm": beam.span_mm or 100.0, "adjuster": beam.adjuster.model_dump()}
    if probe is not None and "screws_deg" in fields:
        owned["screws_deg"] = list(probe.screws_deg)
    return owned


def _used(ledger: Ledger, rows: Sequence[Entry]) -> set[str]:
    """Return the ids of the masters that the calibrations in force were made with."""
    newest = [latest(rows, name) for name in ("setter-calibration", "probe-ring", "probe-length")]
    return {
        str(card.get("id"))
        for entry in newest
        if entry is not None
        for card in ledger.get(entry.number).body["masters"].values()
    }


def _beside(ledger: Ledger, rows: Sequence[Entry], found: Procedure, key: str) -> tuple[Beside, ...]:
    """Return the newest record of each other way of doing this procedure."""
    newest: dict[str, Beside] = {}
    for entry in rows if found.compares else ():
        if (
            entry.kind != "measurement"
            or entry.name != found.name
            or entry.value_mm is None
            or entry.expanded_mm is None
        ):
            continue
        way = found.variant(str(ledger.get(entry.number).body["bench"].get("variant", "")))
        own = found.variant(key)
        if way is not None and own is not None and way.key != key and way.beside == own.beside:
            newest[way.key] = Beside(way.title, entry.number, entry.value_mm, entry.expanded_mm)
    return tuple(newest.values())


def _known(rows: Sequence[Entry]) -> dict[str, float]:
    """Return the main value of the newest record of each procedure, by the result's name."""
    found: dict[str, float] = {}
    for name in PROCEDURES:
        entry = latest(rows, name)
        if entry is not None and entry.value_mm is not None:
            found[procedure(name).main[0]] = entry.value_mm
    return found


def _bench(site: Site, setup: dict[str, Any], card: MasterCard | None, tool: Tool | None, subject: str) -> Bench:
    spec = site.machine.setter
    long, wide = (card.length_mm or 0.0, card.diameter_mm or 0.0) if card else (0.0, 0.0)
    about: dict[str, float] = {}
    if spec is not None:
        half = wide / 2
        about = {
            "top": spec.trigger_plane_mm + (long if card else _usual_length(site)),
            "+x": spec.x_mm + spec.width_x_mm / 2 + half, "-x": spec.x_mm - spec.width_x_mm / 2 - half,
            "+y": spec.y_mm + spec.width_y_mm / 2 + half, "-y": spec.y_mm - spec.width_y_mm / 2 - half,
        }  # fmt: skip
    return Bench(
        setup=setup,
        conditions={"temperature_c": site.shop.temperature_c, "temperature_u_c": site.shop.temperature_u_c},
        subject=subject,
        about=about,
        pad_width=spec.width_x_mm if spec else 14.0,
        tool_kind=tool.kind if tool else "end-mill",
        tool_diameter=tool.diameter_mm if tool else 10.0,
        tool_flutes=tool.flutes if tool else 0,
    )


def _usual_length(site: Site) -> float:
    tools = [m.length_mm for m in site.shelf.masters if m.kind == "master-tool" and m.length_mm]
    return tools[0] if tools else 100.0


def _part(record: Record, carry: Carry) -> float | None:
    if carry.part == "readings-1":
        return float(len(record.body["input"]["readings"]) - 1)
    row = record.body["result"]["results"].get(carry.result)
    return float(row[carry.part]) * carry.factor if row else None


def warning(opening: Opening, links: Sequence[LinkState], today: date) -> str:
    """Say why what is signed on this sheet would not count: a broken link under it, or a master overdue; "" if it would."""
    used = {row["link"] for row in opening.carried.values()}
    for state in links:
        if state.link.key in used and state.state is State.BROKEN:
            return (
                f"This rests on the {state.link.title.lower()}, which is broken ({state.reason}). "
                "Mend that first, or what you sign here will not count."
            )
    for card in opening.cards.values():
        due = card.get("due")
        if due and date.fromisoformat(str(due)) < today:
            return (
                f"The certificate of {card['name']} ran out on {due}. Send it for calibration, or choose another "
                "master (F9): what you sign with this one will not hold."
            )
    return ""


def drawn(bench: Bench) -> dict[str, Any]:
    """Return what the drawing of a record needs beside its readings file."""
    return {
        "variant": bench.variant, "pad_width": bench.pad_width, "tool_kind": bench.tool_kind,
        "tool_diameter": bench.tool_diameter, "tool_flutes": bench.tool_flutes,
    }  # fmt: skip
