"""A turning tool's edges as its tooth run-out has them: what a sheet is told, so that a touch's lateness follows from
it.
"""

from __future__ import annotations

from nonna.bench.book.results_that_hold import HeldResults
from nonna.procedures import offers
from nonna.shop.cards.machine import Tool
from nonna.shop.records.values import CarriedFrom
from nonna.shop.texts.given import Plain


def with_edges(setup: dict[str, Plain], carried: dict[str, CarriedFrom], results: HeldResults, tool: Tool) -> None:
    """Put a tool's edges into a sheet's setup: their number from its card, how far each stands back from its record.

    A record counts while nothing befell the tool since, and where it has as many edges as the card. Raises: NonnaError
    (the record is damaged).
    """
    if tool.flutes:
        setup["flutes"] = tool.flutes
    held = results.offered(offers.TOOL_EDGES, tool.subject)
    if held is None:
        return
    number = held.record.number
    if any(e.befell and e.subject == tool.subject and e.number > number for e in results.entries):
        return
    by_tooth = held.record.own().part("back_mm")
    back = {tooth: by_tooth.number(tooth, 0.0) for tooth in by_tooth}
    if tool.flutes and len(back) != tool.flutes:
        return
    setup["edges_back_mm"] = [back[tooth] for tooth in sorted(back, key=int)]
    carried["setup.edges_back_mm"] = CarriedFrom(record=number, hash=held.record.hash, link="tools", result=held.name)
