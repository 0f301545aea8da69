"""Cards on the shelf: what can be there, and how one is put back changed."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from nonna.metrology.errors import NonnaError
from nonna.shop.folder import ShopFolder
from nonna.shop.gear import ChangerCard, Gear, IndicatorCard, ProbeCard, SetterCard
from nonna.shop.masters import MasterCard, Shelf
from nonna.shop.safe_write import write_text
from nonna.shop.strict_model import Strict, checked


@dataclass(frozen=True, slots=True)
class Group:
    """One kind of thing on the shelf: where it is kept and what a card of it holds."""

    key: str
    title: str
    one: str
    file: str
    card: type[Strict]
    whole: type[Strict]


GROUPS: tuple[Group, ...] = (
    Group("masters", "Masters", "master", "masters.json", MasterCard, Shelf),
    Group("indicators", "Indicators", "indicator", "gear.json", IndicatorCard, Gear),
    Group("setters", "Setters", "setter", "gear.json", SetterCard, Gear),
    Group("probes", "Probes", "probe", "gear.json", ProbeCard, Gear),
    Group("changers", "Changers", "changer", "gear.json", ChangerCard, Gear),
)
BY_KEY = {group.key: group for group in GROUPS}
CERTIFIED = ("length_mm", "U_length_mm", "diameter_mm", "U_diameter_mm", "k", "reference_c", "certificate", "due")


def cards(folder: ShopFolder) -> dict[str, list[dict[str, Any]]]:
    """Return all cards by group, as they stand in the files. Raises: NonnaError naming the file."""
    shelf, gear = folder.shelf().model_dump(), folder.gear().model_dump()
    return {group.key: (shelf if group.file == "masters.json" else gear)[group.key] for group in GROUPS}


def put(folder: ShopFolder, group_key: str, card: Mapping[str, Any]) -> tuple[str, ...]:
    """Put a card on the shelf, new (without an id) or changed, and return the names of the fields that changed.

    Records keep the cards as they were, so nothing signed changes under this.
    Raises: NonnaError naming the field that is wrong; nothing is written then.
    """
    group = BY_KEY[group_key]
    path = folder.root / group.file
    document: dict[str, Any] = folder.document(group.file) if path.exists() else {"format": "nonna-gear/1"}
    rows: list[dict[str, Any]] = list(document.get(group.key, []))
    name = str(card.get("name", "")).strip()
    if not name:
        raise NonnaError("missing-field", "name: give it a name that people here will know.", "name")
    made = {**card, "name": name, "id": str(card.get("id") or _new_id(name, rows))}
    fresh = checked(group.card, made).model_dump()
    before = next((row for row in rows if row.get("id") == made["id"]), None)
    old = checked(group.card, before).model_dump() if before is not None else {}
    changed = tuple(field for field, value in fresh.items() if old.get(field) != value and field != "id")
    if before is None:
        rows.append(fresh)
    else:
        rows[rows.index(before)] = fresh
    document[group.key] = rows
    checked(group.whole, document)
    write_text(path, json.dumps(document, ensure_ascii=False, indent=1) + "\n")
    return changed


def _new_id(name: str, rows: list[dict[str, Any]]) -> str:
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "card"
    taken = {row.get("id") for row in rows}
    made, number = stem, 2
    while made in taken:
        made, number = f"{stem}-{number}", number + 1
    return made
