"""What the desk shows of a shop, read afresh after each record. Qt-free and quick to make."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from nonna.metrology.errors import NonnaError
from nonna.records.glance import entries
from nonna.records.weakest import Weakest, weakest
from nonna.shop.folder import ShopFolder
from nonna.shop.history import Entry, standing
from nonna.shop.staleness import Facts, Job, LinkState, MasterDue, judge, next_jobs


@dataclass(frozen=True, slots=True)
class ShopState:
    """A shop and its first machine at one moment."""

    shop: str
    operators: tuple[str, ...]
    machine_key: str
    machine: str
    machine_kind: str
    temperature: tuple[float, float]
    pad_mm: float  #: width of the setter's pad; 0 without a setter
    loop_master: str  #: name of the master the loop rests on, "" when there is none
    tools: tuple[dict[str, Any], ...]
    masters: tuple[dict[str, Any], ...]
    entries: tuple[Entry, ...]  #: every record
    standing: tuple[Entry, ...]  #: those of this machine that count
    links: tuple[LinkState, ...]
    jobs: tuple[Job, ...]
    weakest: Weakest | None

    def subjects_of(self, link: str) -> tuple[str, ...]:
        """Return what a link is measured on: tools by name, everything else the setter."""
        return tuple(f"T{t['number']}" for t in self.tools) if link == "tools" else ("Setter",)


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
        master = _loop_master(masters)
        links = judge(Facts(counting, names, master, moment))
        return ShopState(
            shop=shop["name"], operators=tuple(shop["operators"]) or ("nobody",), machine_key=key, machine=machine["name"],
            machine_kind={"mill": "vertical mill"}.get(machine["kind"], machine["kind"]),
            temperature=(shop.get("temperature_c", 20.0), shop.get("temperature_u_c", 0.5)),
            pad_mm=float((machine.get("setter") or {}).get("width_x_mm", 0.0)),
            loop_master=master.name if master else "",
            tools=tools, masters=masters, entries=every, standing=counting, links=links, jobs=next_jobs(links),
            weakest=weakest(folder.ledger, counting),
        )  # fmt: skip
    except (KeyError, IndexError, TypeError, AttributeError) as error:
        raise NonnaError(
            "wrong-format", f"A file of this shop is not what it should be: {error!r} is missing or wrong."
        ) from error


def _loop_master(masters: tuple[dict[str, Any], ...]) -> MasterDue | None:
    for card in masters:
        if card["kind"] == "master-tool" and card.get("traceable", True):
            due = card.get("due") or ""
            return MasterDue(card["name"], date.fromisoformat(due) if due else None)
    return None
