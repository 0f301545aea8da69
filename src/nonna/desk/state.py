"""What the desk shows of a shop, read afresh after each record. Qt-free and quick to make."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from nonna.metrology.errors import NonnaError
from nonna.records.glance import entries, minutes
from nonna.records.weakest import Weakest, weakest
from nonna.shop.folder import ShopFolder
from nonna.shop.history import Entry, standing
from nonna.shop.links import ARTEFACT, DIAL, MASTER, RING
from nonna.shop.staleness import Facts, Job, LinkState, MasterDue, judge, next_jobs


@dataclass(frozen=True, slots=True)
class ShopState:
    """A shop and its first machine at one moment."""

    shop: str
    operators: tuple[str, ...]
    machine: str
    machine_kind: str
    temperature: tuple[float, float]
    pad_mm: float  #: width of the setter's pad; 0 without a setter
    fetched: Mapping[str, str]  #: names of what stands as a placeholder in the jobs' list of things to fetch
    kept: Mapping[str, str]  #: where things lie, by name
    tools: tuple[dict[str, Any], ...]
    masters: tuple[dict[str, Any], ...]
    entries: tuple[Entry, ...]  #: every record
    standing: tuple[Entry, ...]  #: those of this machine that count
    links: tuple[LinkState, ...]
    jobs: tuple[Job, ...]
    weakest: Weakest | None


def read_state(folder: ShopFolder, now: datetime | None = None) -> ShopState:
    """Read a shop at a glance; its files are checked whole later, in the background.

    Raises: NonnaError naming the file that cannot be read.
    """
    moment = (now or datetime.now()).astimezone()
    shop = folder.document("shop.json")
    try:
        key = shop["machines"][0]
        machine = folder.document("machines", f"{key}.json")
        tools = tuple(folder.document("tools", f"{key}.json")["tools"])
        masters = tuple(folder.document("masters.json")["masters"])
        every = entries(folder.ledger)
        counting = standing(every, machine["name"])
        names = [f"T{tool['number']}" for tool in tools]
        gear = folder.document("gear.json") if (folder.root / "gear.json").exists() else {}
        links = judge(Facts(counting, names, _loop_masters(masters), moment))
        learned = minutes(folder.ledger, machine["name"])
        return ShopState(
            shop=shop["name"], operators=tuple(shop["operators"]) or ("nobody",), machine=machine["name"],
            machine_kind={"mill": "vertical mill"}.get(machine["kind"], machine["kind"]),
            temperature=(shop.get("temperature_c", 20.0), shop.get("temperature_u_c", 0.5)),
            pad_mm=float((machine.get("setter") or {}).get("width_x_mm", 0.0)),
            fetched=_fetched(masters, gear), kept=_kept(masters, gear),
            tools=tools, masters=masters, entries=every, standing=counting, links=links, jobs=next_jobs(links, learned),
            weakest=weakest(folder.ledger, counting),
        )  # fmt: skip
    except (KeyError, IndexError, TypeError, AttributeError) as error:
        raise NonnaError(
            "wrong-format", f"A file of this shop is not what it should be: {error!r} is missing or wrong."
        ) from error


def _in_use(masters: tuple[dict[str, Any], ...], kind: str) -> list[dict[str, Any]]:
    return [card for card in masters if card["kind"] == kind and not card.get("retired", False)]


def _loop_masters(masters: tuple[dict[str, Any], ...]) -> dict[str, MasterDue]:
    """Return the master each kind of link rests on: the first traceable one in use."""
    found: dict[str, MasterDue] = {}
    for kind in ("master-tool", "ring"):
        for card in _in_use(masters, kind):
            if card.get("traceable", True):
                due = card.get("due") or ""
                found[kind] = MasterDue(card["name"], date.fromisoformat(due) if due else None, card["id"])
                break
    return found


def _fetched(masters: tuple[dict[str, Any], ...], gear: dict[str, Any]) -> dict[str, str]:
    """Return what the placeholders in the list of things to fetch stand for in this shop."""
    rings, tools = _in_use(masters, "ring"), [c for c in _in_use(masters, "master-tool") if c.get("traceable", True)]
    dials = [card for card in gear.get("indicators", ()) if not card.get("retired", False)]
    named = {MASTER: tools[:1], RING: rings[:1], DIAL: dials[:1], ARTEFACT: rings[1:2]}
    plain = {MASTER: "A master", RING: "A ring", DIAL: "An indicator", ARTEFACT: "An artefact no calibration has used"}
    return {key: str(cards[0]["name"]) if cards else plain[key] for key, cards in named.items()}


def _kept(masters: tuple[dict[str, Any], ...], gear: dict[str, Any]) -> dict[str, str]:
    cards = [*masters, *(card for group in gear.values() if isinstance(group, list) for card in group)]
    return {str(card["name"]): str(card["kept"]) for card in cards if card.get("kept")}
