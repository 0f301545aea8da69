"""Cards on the shelf: what can be there, and how one is put back changed."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass

from nonna.bench.book.writing import Signature
from nonna.bench.ports import ShopFiles
from nonna.bench.shelf import machine_card
from nonna.bench.shelf.card_ranges import must_be_likely
from nonna.bench.shelf.card_signing import signed_change
from nonna.bench.shelf.machine_card import MachineCard, only_new
from nonna.errors import NonnaError
from nonna.shop.cards.gear import (
    ChangerCard,
    Gear,
    IndicatorCard,
    MicrometerCard,
    PresetterCard,
    PrintoutCard,
    ProbeCard,
    ServiceCard,
    SetterCard,
)
from nonna.shop.cards.masters import MasterCard, Shelf
from nonna.shop.texts.given import Document, Given, Plain
from nonna.shop.texts.line_pattern import line_pattern
from nonna.shop.texts.strict_model import Strict, checked


@dataclass(frozen=True, slots=True)
class Store:
    """Where cards of one kind are kept: how they are read and written, all of them together."""

    rows: Callable[[ShopFiles], list[dict[str, Plain]]]
    write: Callable[[ShopFiles, list[dict[str, Plain]]], None]


@dataclass(frozen=True, slots=True)
class ShelfGroup:
    """One kind of thing on the shelf: what a card of it holds and where the cards are kept."""

    key: str
    title: str
    one: str
    card: type[Strict]
    store: Store


def _in_file(key: str, file: str, whole: type[Strict]) -> Store:
    """Keep cards as a list in a JSON file of several lists."""

    def document(folder: ShopFiles) -> Mapping[str, Plain]:
        found: dict[str, Plain] = folder.document(file) if folder.has(file) else {"format": "nonna-gear/1"}
        return found

    def rows(folder: ShopFiles) -> list[dict[str, Plain]]:
        found: list[dict[str, Plain]] = checked(whole, document(folder)).model_dump()[key]
        return found

    def write(folder: ShopFiles, cards: list[dict[str, Plain]]) -> None:
        def made(old: Given) -> Document:
            said = {str(row["id"]): row for row in checked(whole, old).model_dump()[key]}
            there = {row.word("id"): row for row in old.rows(key)}
            new = {**old, key: [only_new(there.get(str(c["id"]), {}), said.get(str(c["id"]), {}), c) for c in cards]}
            checked(whole, new)
            return new

        folder.change((file,), made, {"format": "nonna-gear/1"})

    return Store(rows, write)


GROUPS: tuple[ShelfGroup, ...] = (
    ShelfGroup("masters", "Masters", "master", MasterCard, _in_file("masters", "masters.json", Shelf)),
    ShelfGroup("indicators", "Indicators", "indicator", IndicatorCard, _in_file("indicators", "gear.json", Gear)),
    ShelfGroup("setters", "Setters", "setter", SetterCard, _in_file("setters", "gear.json", Gear)),
    ShelfGroup("probes", "Probes", "probe", ProbeCard, _in_file("probes", "gear.json", Gear)),
    ShelfGroup("changers", "Changers", "changer", ChangerCard, _in_file("changers", "gear.json", Gear)),
    ShelfGroup("presetters", "Presetters", "presetter", PresetterCard, _in_file("presetters", "gear.json", Gear)),
    ShelfGroup("micrometers", "Micrometers", "micrometer", MicrometerCard, _in_file("micrometers", "gear.json", Gear)),
    ShelfGroup(
        "printouts", "Print-outs of machines", "print-out", PrintoutCard, _in_file("printouts", "gear.json", Gear)
    ),
    ShelfGroup(
        "services", "Parts with a counter", "part with a counter", ServiceCard, _in_file("services", "gear.json", Gear)
    ),
    ShelfGroup("machines", "Machines", "machine", MachineCard, Store(machine_card.rows, machine_card.store)),
)
BY_KEY = {group.key: group for group in GROUPS}
RENEWED = ("certificate", "due")  #: what is new on a master's card that comes back from calibration


def cards(folder: ShopFiles) -> dict[str, list[dict[str, Plain]]]:
    """Return all cards by group, as they stand in the files. Raises: NonnaError naming the file."""
    return {group.key: group.store.rows(folder) for group in GROUPS}


def put(
    folder: ShopFiles,
    group_key: str,
    card: Mapping[str, Plain],
    signature: Signature,
    base: Mapping[str, Plain] | None = None,
) -> tuple[str, ...]:
    """Put a card on the shelf, new (without an id) or changed, sign that, and return the names of the fields that
    changed.

    Records keep the cards as they were, so nothing signed changes under this.
    Parameters: base, the card as it was shown when the change began: one that others changed since is not overwritten.
    Raises: NonnaError naming the field that is wrong, or saying why it cannot be signed; nothing is written then.
    """
    return signed_change(folder, signature, lambda watched: _put(watched, group_key, card, base))[0]


def _put(
    folder: ShopFiles, group_key: str, card: Mapping[str, Plain], base: Mapping[str, Plain] | None
) -> tuple[str, ...]:
    group = BY_KEY[group_key]
    rows = list(group.store.rows(folder))
    name = str(card.get("name", "")).strip()
    if card.get("pattern"):
        line_pattern(str(card["pattern"]), ("value",))
    if not name:
        raise NonnaError("missing-field", "name: give it a name that people here will know.", "name")
    made = {**card, "name": name, "id": str(card.get("id") or new_id(name, (row.get("id") for row in rows)))}
    fresh = checked(group.card, made).model_dump()
    at = next((i for i, row in enumerate(rows) if row.get("id") == made["id"]), None)
    old = rows[at] if at is not None else {}
    if base is not None and at is not None and dict(base) != old:
        raise NonnaError(
            "out-of-range",
            "{name} was changed in another window meanwhile. Look at it again, then change it.",
            "name",
            name=name,
        )
    changed = tuple(field for field, value in fresh.items() if old.get(field) != value and field != "id")
    must_be_likely(
        group_key, fresh, changed, {field: info.title or field for field, info in group.card.model_fields.items()}
    )
    if at is None:
        rows.append(fresh)
    else:
        rows[at] = fresh
    if changed:
        group.store.write(folder, rows)
    return changed


def follows(group_key: str, card: Mapping[str, Plain]) -> tuple[str, ...]:
    """Say what follows from what a card leaves open, so that nobody learns it from an auditor.

    Parameters: card, as it was put on the shelf.
    """
    if card.get("retired"):
        return ()
    said = []
    if group_key == "masters":
        length, diameter = card.get("length_mm"), card.get("diameter_mm")
        if length is None and diameter is None and card.get("kind") != "spindle-face":
            said.append("Without length or diameter no sheet can use it.")
        known = bool(card.get("U_length_mm") or card.get("U_diameter_mm"))
        if card.get("traceable", True) and not known and card.get("kind") != "spindle-face":
            said.append(
                "No U: it counts as exact. Lengths agree with each other, not with the world (relative school)."
            )
        elif not card.get("traceable", True):
            said.append(
                "Shop-made: measure it ten times on your best instrument, engrave name, length and day, and write "
                "here what you measured."
            )
        if known and not card.get("certificate"):
            said.append("No certificate number: an auditor will ask for it.")
        if not card.get("cte_per_k") and length:
            said.append("No expansion: it counts as not growing at all; 11.5e-6 is usual for steel.")
    if group_key in ("indicators", "micrometers"):
        if not card.get("resolution_mm"):
            said.append("No resolution: its last digit counts as certain.")
        if not card.get("mpe_mm"):
            said.append("No largest error: it counts as perfect.")
    if (
        group_key in ("masters", "indicators", "micrometers")
        and not card.get("due")
        and card.get("kind") != "spindle-face"
    ):
        said.append("No due date: it is never asked for.")
    return tuple(said)


def new_id(name: str, taken: Iterable[Plain]) -> str:
    """Return an id made of a name that none of those taken has."""
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "card"
    held = set(taken)
    made, number = stem, 2
    while made in held:
        made, number = f"{stem}-{number}", number + 1
    return made
