"""All that can be asked for on a station, as lines of the palette and of the menu."""

from __future__ import annotations

from nonna.bench.guide_pages import topics
from nonna.bench.station.state import ShopState
from nonna.desk.commands.ids import CommandId
from nonna.desk.commands.listed import commands
from nonna.desk.forms.finder import Offer
from nonna.procedures.listing import PROCEDURES
from nonna.shop.links.subjects import A_MASTER, A_TOOL, ANY, master

EVENT, SHEET, SERVICE, PAGE = "event:", "sheet:", "service:", "page:"


def choices(state: ShopState | None) -> list[Offer]:
    """Return everything: commands, sheets, renewals, events, pages of the guide."""
    made = [Offer(c.do, c.words, c.keys, c.help) for c in commands() if c.do is not CommandId.FIND]
    pages = [Offer(f"{PAGE}{t.key}", f"Help: {t.title.lower()}", more=t.text) for t in topics()]
    return [*made, *sheets(state), *events(state), *pages]


def sheets(state: ShopState | None) -> list[Offer]:
    """Return the sheets that a station can open, those of its own loop first."""
    made = []
    links = state.kind.loop.links if state is not None else ()
    own = {name for link in links for name in link.procedures}
    for name, listed in sorted(PROCEDURES.items(), key=lambda item: item[0] not in own):
        elsewhere = listed.kind and state is not None and listed.kind != state.kind.key
        if listed.subject != ANY and not elsewhere:  # those of tools open from the tray
            made.append(Offer(f"{SHEET}{name}", f"Open the sheet: {listed.title.lower()}"))
    for name, listed in PROCEDURES.items():
        if listed.measures in ("", "length"):  # those of a tool that the tray does not open by itself
            continue
        words = f"Open the sheet: {listed.title.lower()}"
        tools = [tool.subject for tool in state.tools] if state else []
        made += [Offer(f"{SHEET}{name}:{tool}", f"{words}, {tool.words}") for tool in tools]
    return made


def events(state: ShopState | None) -> list[Offer]:
    """Return what can be logged: parts renewed, and whatever happens to such a station."""
    made = []
    for counter in state.counters if state else ():
        _, count, limit = counter.worst
        used = f" ({count:.0f} of {limit:.0f})" if limit else ""
        made.append(Offer(f"{SERVICE}{counter.id}", f"Renewed: {counter.name}{used}"))
    for kind in state.kind.loop.events if state else ():
        begin, words = f"{EVENT}{kind.name}:", f"Log: {kind.words.lower()}"
        if kind.subject == A_MASTER and state:
            made += [Offer(f"{begin}{master(m.id)}", f"{words}, {m.name}") for m in state.masters]
        elif kind.subject == A_TOOL and state:
            made += [Offer(f"{begin}{tool.subject}", f"{words}, {tool.subject.words}") for tool in state.tools]
        elif kind.by_hand:
            made.append(Offer(f"{begin}{kind.subject}", words))
    return made
