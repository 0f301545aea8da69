"""Open a sheet with everything the shop already knows, so that no number is typed twice."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import Any

from nonna.metrology.errors import NonnaError
from nonna.procedures.catalogue import procedure
from nonna.procedures.sheet import Bench, Carry
from nonna.records.glance import entries
from nonna.records.ledger import Ledger, Record
from nonna.shop.folder import ShopFolder
from nonna.shop.history import latest, standing
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

    @classmethod
    def load(cls, folder: ShopFolder) -> Site:
        """Read and check the shop's files. Raises: NonnaError naming the file."""
        shop = folder.shop()
        if not shop.machines:
            raise NonnaError("missing-field", "shop.json: no machine is named.", "machines")
        name = shop.machines[0]
        return cls(folder, shop, folder.shelf(), folder.machine(name), tuple(folder.tools(name).tools))


def open_sheet(site: Site, name: str, subject: str, master_id: str = "") -> Opening:
    """Return a sheet of a procedure for a subject ("Setter", "T4") with all that is known filled in.

    Raises: NonnaError (a file is damaged, or a record needed first does not exist: ``missing-field``).
    """
    found = procedure(name)
    setup: dict[str, Any] = dict(found.offered)
    carried: dict[str, dict[str, Any]] = {}
    ledger = Ledger(site.folder.ledger)
    try:
        for carry in found.carries:
            record = _source(site, ledger, carry)
            if record is None:
                continue
            value = _part(record, carry)
            if value is not None:
                setup[carry.field] = value
                carried[f"setup.{carry.field}"] = {"record": record.number, "hash": record.hash, "link": carry.link}
    finally:
        ledger.close()
    missing = [f for f, info in found.setup_model.model_fields.items() if info.is_required() and f not in setup]
    if missing:
        needs = next((procedure(c.procedure).title for c in found.carries if c.field == missing[0]), missing[0])
        raise NonnaError(
            "missing-field", f"{needs} comes first: {found.title.lower()} rests on it.", f"setup.{missing[0]}"
        )
    choices = tuple(card for kind in found.master_kinds for card in site.shelf.masters if card.kind == kind)
    card = next((c for c in choices if c.id == master_id), choices[0] if choices else None)
    tool = next((t for t in site.tools if f"T{t.number}" == subject), None)
    if tool is not None and tool.length_mm is not None and "expected_mm" in found.setup_model.model_fields:
        setup["expected_mm"] = tool.length_mm
    return Opening(name, _bench(site, setup, card, tool, subject), _cards(card), carried, choices)


def _cards(card: MasterCard | None) -> dict[str, dict[str, Any]]:
    return {"master": card.model_dump()} if card else {}


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
        masters={"master": card.as_input()} if card else {},
        conditions={"temperature_c": site.shop.temperature_c, "temperature_u_c": site.shop.temperature_u_c},
        variant=_VARIANTS.get(card.kind, "") if card else "",
        subject=subject,
        about=about,
        pad_width=spec.width_x_mm if spec else 14.0,
        tool_kind=tool.kind if tool else "end-mill",
        tool_diameter=tool.diameter_mm if tool else 10.0,
    )


def _usual_length(site: Site) -> float:
    tools = [m.length_mm for m in site.shelf.masters if m.kind == "master-tool" and m.length_mm]
    return tools[0] if tools else 100.0


def _source(site: Site, ledger: Ledger, carry: Carry) -> Record | None:
    entry = latest(standing(entries(site.folder.ledger), site.machine.name), carry.procedure)
    return ledger.get(entry.number) if entry else None


def _part(record: Record, carry: Carry) -> float | None:
    if carry.part == "readings-1":
        return float(len(record.body["input"]["readings"]) - 1)
    row = record.body["result"]["results"].get(carry.result)
    return float(row[carry.part]) if row else None


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
        "tool_diameter": bench.tool_diameter,
    }  # fmt: skip
