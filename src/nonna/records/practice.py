"""Make a practice shop: the demo's files with dates that fit today, and its history signed into a ledger."""

from __future__ import annotations

import json
import shutil
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

from nonna import demo
from nonna.procedures.catalogue import named_in
from nonna.records.entry_body import Evidence, Signature, event, measurement
from nonna.records.ledger import Ledger
from nonna.shop.folder import ShopFolder


def make(target: Path, now: datetime | None = None) -> ShopFolder:
    """Copy the demo shop into an empty or missing folder and sign its history.

    Raises: FileExistsError (the folder holds a shop already).
    """
    today = (now or datetime.now()).astimezone()
    if (target / "shop.json").exists():
        raise FileExistsError(f"{target.name} holds a shop already")
    for part in ("machines", "tools"):
        shutil.copytree(demo.FOLDER / part, target / part, dirs_exist_ok=True)
    shutil.copy(demo.FOLDER / "shop.json", target / "shop.json")
    for name in ("masters.json", "gear.json"):
        _write_cards(demo.FOLDER / name, target / name, today)
    folder = ShopFolder(target)
    _sign_history(folder, today)
    return folder


def _write_cards(source: Path, path: Path, today: datetime) -> None:
    """Copy a file of cards; due dates stand in it as days from today."""
    document = json.loads(source.read_text("utf-8"))
    for cards in document.values():
        for card in cards if isinstance(cards, list) else ():
            if card.get("due"):
                card["due"] = (today + timedelta(days=int(card["due"]))).date().isoformat()
    path.write_text(json.dumps(document, ensure_ascii=False, indent=1), "utf-8")


def _sign_history(folder: ShopFolder, today: datetime) -> None:
    shop = folder.shop()
    cards = {card.id: card.model_dump() for card in folder.shelf().masters}
    midnight = today.replace(hour=0, minute=0, second=0, microsecond=0)
    bodies = []
    for row in json.loads((demo.FOLDER / "history.json").read_text("utf-8")):
        hour, minute = map(int, row["at"].split(":"))
        at = midnight - timedelta(days=row["days_ago"]) + timedelta(hours=hour, minutes=minute)
        signature = Signature(row["operator"], "Larch", row["subject"], shop.name, shop.invented, min(at, today))
        if "event" in row:
            bodies.append(event(row["event"], signature, row["note"]))
        else:
            bodies.append(_measured(row, signature, cards))
    ledger = Ledger(folder.ledger)
    ledger.sign_all(bodies)
    ledger.close()


def _measured(row: dict[str, Any], signature: Signature, cards: dict[str, dict[str, Any]]) -> dict[str, Any]:
    document = row["document"]
    found = named_in(document)
    tape = [
        {"values": values, "at": signature.moment().isoformat(timespec="seconds"), "source": "stand-in", "struck": ""}
        for values in document["readings"]
    ]
    evidence = Evidence(
        tape=tape,
        cards={role: cards[name] for role, name in row.get("cards", {}).items()},
        title=found.title,
        bench=row.get("bench", {}),
    )
    return measurement(document, found.evaluate(document), signature, evidence)
