"""Put one more station into a shop: its files, its gear, an empty tray; signed, and all of it or nothing."""

from __future__ import annotations

from collections.abc import Mapping

from nonna.bench.book.writing import Signature
from nonna.bench.ports import ShopFiles
from nonna.bench.shelf.card_signing import signed_change
from nonna.bench.shelf.shelving import new_id
from nonna.errors import NonnaError
from nonna.shop.cards.gear import Gear
from nonna.shop.cards.machine import Machine, Tools
from nonna.shop.texts.given import Document, Given, Plain
from nonna.shop.texts.strict_model import checked
from nonna.stations.questions import Founded


def add_station(folder: ShopFiles, founded: Founded, signature: Signature) -> str:
    """Write a new station and return the name of its files.

    Raises: NonnaError (a station of that name is there, it cannot be written or signed); nothing is changed then.
    """
    machine = dict(founded.machine)
    checked(Machine, machine)

    def act(watched: ShopFiles) -> str:
        shop = watched.shop()
        if any(watched.machine(key).name == machine["name"] for key in shop.machines):
            words = "{name}: there is a station of that name."
            raise NonnaError("out-of-range", words, "name", name=str(machine["name"]))
        taken = list(shop.machines)
        while watched.has("machines", f"{(key := new_id(str(machine['name']), taken))}.json"):
            taken.append(key)  # a file that belongs to no station is nobody's to write over
        watched.change(("machines", f"{key}.json"), lambda _: machine, {})
        tools = Tools(format="nonna-tools/1", tools=[]).model_dump()
        watched.change(("tools", f"{key}.json"), lambda old: old, tools)
        watched.change(("gear.json",), lambda old: _with_gear(old, founded.gear), {"format": "nonna-gear/1"})
        watched.change(("shop.json",), lambda old: {**old, "machines": [*old.words("machines"), key]})
        return key

    return signed_change(folder, signature, act)[0]


def _with_gear(old: Given, gear: Mapping[str, tuple[Document, ...]]) -> Document:
    checked(Gear, old)  # first: nothing of a damaged file is left out in silence
    made: dict[str, Plain] = dict(old)
    for group, cards in gear.items():
        there = list(old.rows(group))
        for card in cards:
            there.append(Given({**card, "id": new_id(str(card["name"]), (row.word("id") for row in there))}))
        made[group] = there
    checked(Gear, made)
    return made
