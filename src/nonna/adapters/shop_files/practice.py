"""Make a practice shop: the demo's files with dates that fit today, and its history signed into a ledger."""

from __future__ import annotations

import json
import shutil
from collections.abc import Iterator, Mapping, Sequence
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

from nonna import demo
from nonna.adapters.shop_files.founding import new_folder
from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.bench import clock
from nonna.bench.book.chain import Receipt
from nonna.bench.book.results_that_hold import Held, held_in
from nonna.bench.book.writing import Grounds, Signature, event, measurement
from nonna.bench.sheet.opening import carried_from, of_this_kind, part_of
from nonna.bench.sheet.signing import signature_of
from nonna.bench.shelf.card_signing import begun
from nonna.bench.shelf.card_trail import as_they_stand
from nonna.bench.station.site import Site
from nonna.procedures.catalogue import named_in
from nonna.procedures.listing import PROCEDURES, offering
from nonna.shop.cards.kinds import known_kinds
from nonna.shop.links.loop import Loop
from nonna.shop.links.subjects import ANY, Subject
from nonna.shop.records.values import JsonObject, Measurement, Record
from nonna.stations.kind import kind_of


def make(target: Path, now: datetime | None = None) -> ShopFolder:
    """Copy the demo shop into an empty or missing folder and sign its history.

    Raises: FileExistsError (the folder holds a shop already).
    """
    today = (now or clock.now()).astimezone()
    if (target / "shop.json").exists():
        raise FileExistsError(f"{target.name} holds a shop already")
    for part in ("machines", "tools"):
        shutil.copytree(demo.FOLDER / part, target / part, dirs_exist_ok=True)
    shutil.copy(demo.FOLDER / "shop.json", target / "shop.json")
    _leave_out_unknown(target)
    for name in ("masters.json", "gear.json"):
        _write_cards(demo.FOLDER / name, target / name, today)
    folder = ShopFolder(target)
    _sign_history(folder, today)
    return folder


def lay(target: Path) -> ShopFolder:
    """Make a practice shop in a missing or empty folder, whole or not at all. Raises: NonnaError."""
    with new_folder(target) as beside:
        make(beside)
    return ShopFolder(target)


def _leave_out_unknown(target: Path) -> None:
    """Take the stations out whose kind has no folder in this program."""
    shop = json.loads((target / "shop.json").read_text("utf-8"))
    files = {key: target / "machines" / f"{key}.json" for key in shop["machines"]}
    kinds = {key: json.loads(file.read_text("utf-8"))["kind"] for key, file in files.items()}
    here = [key for key, kind in kinds.items() if kind in known_kinds()]
    if here == shop["machines"]:
        return
    for key in kinds.keys() - set(here):
        files[key].unlink()
        (target / "tools" / f"{key}.json").unlink()
    (target / "shop.json").write_text(json.dumps({**shop, "machines": here}), "utf-8")


def _write_cards(source: Path, path: Path, today: datetime) -> None:
    """Copy a file of cards; dates stand in it as days from today."""
    document = json.loads(source.read_text("utf-8"))
    for cards in document.values():
        for card in cards if isinstance(cards, list) else ():
            for name in ("due", "since"):
                if card.get(name):
                    card[name] = (today + timedelta(days=int(card[name]))).date().isoformat()
    path.write_text(json.dumps(document, ensure_ascii=False, indent=1), "utf-8")


def _sign_history(folder: ShopFolder, today: datetime) -> None:
    sites = {key: Site.load(folder, key) for key in folder.shop().machines}
    receipts: list[Receipt] = []
    folder.book.sign(_records(sites, today, receipts), receipts)
    first = next(iter(sites.values()))
    folder.book.sign([begun(as_they_stand(folder), signature_of(first, first.shop.operators[0], ANY, today))])


def _records(sites: Mapping[str, Site], today: datetime, receipts: Sequence[Receipt]) -> Iterator[Record]:
    first = next(iter(sites))
    cards = {card.id: card.model_dump() for card in sites[first].shelf.masters}
    midnight = today.replace(hour=0, minute=0, second=0, microsecond=0)
    # by station: what a sheet there would have carried that day, of each subject, and of any ("")
    newest: dict[str, dict[tuple[str, str, str], Held]] = {}
    for row in json.loads((demo.FOLDER / "history.json").read_text("utf-8")):
        hour, minute = map(int, row["at"].split(":"))
        at = midnight - timedelta(days=row["days_ago"]) + timedelta(hours=hour, minutes=minute)
        station = row.get("station", first)
        if station not in sites or row.get("document", {}).get("procedure", "") not in ("", *PROCEDURES):
            continue
        signature = signature_of(sites[station], row["operator"], Subject.of(row["subject"]), min(at, today))
        if "event" in row:
            yield event(row["event"], signature, row["note"])
            continue
        loop = kind_of(sites[station].machine.kind).loop
        made = _measured(row, signature, cards, newest.setdefault(station, {}), loop)
        yield made
        signed = made.model_copy(update=receipts[-1]._asdict())
        for name in made.result.results:
            held = held_in(signed, name)
            newest[station][row["document"]["procedure"], name, row["subject"]] = held
            newest[station][row["document"]["procedure"], name, ""] = held


def _measured(
    row: dict[str, Any],
    signature: Signature,
    cards: dict[str, JsonObject],
    newest: Mapping[tuple[str, str, str], Held],
    loop: Loop,
) -> Measurement:
    document = row["document"]
    found = named_in(document)
    way = row.get("bench", {}).get("variant", "")
    given = {name.removesuffix("_dof") for name in document["setup"]} | {
        name.removesuffix("_u_mm") for name in document["setup"]
    }
    carried = {}
    for need, _ in (of_this_kind(each, loop, found.name) for each in found.needs):
        about = row["subject"] if need.same_subject else ""
        held = next((newest[(*each, about)] for each in offering(need.offer) if (*each, about) in newest), None)
        stem = need.field.removesuffix("_dof")
        if held is None or (need.variants and way not in need.variants) or not {need.field, stem} & given:
            continue
        value = part_of(held, need)
        if value is not None:
            document["setup"][need.field] = value
            carried[f"setup.{need.field}"] = carried_from(held, need)
    tape = [
        {"values": values, "at": signature.moment().isoformat(timespec="seconds"), "source": "stand-in", "struck": ""}
        for values in document["readings"]
    ]
    evidence = Grounds(
        tape=tape,
        cards={role: cards[name] for role, name in row.get("cards", {}).items()},
        carried=carried,
        title=found.title,
        bench=row.get("bench", {}),
    )
    return measurement(document, found.evaluate(document), signature, evidence)
