"""From what a machine measured to results waiting in the tray: which procedure, which readings."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from nonna.bench.sheet.judging import Judged, judge, suspected
from nonna.bench.tray.tray import MEASURES
from nonna.procedures.listing import measuring
from nonna.procedures.tool_diameter.evaluate import way_of
from nonna.shop.links.subjects import tool
from nonna.shop.texts.given import Plain

if TYPE_CHECKING:
    from nonna.bench.job.planning import Answer
    from nonna.bench.station.site import Site
    from nonna.shop.cards.machine import Tool
    from nonna.shop.links.history import Entry
    from nonna.stations.mill.standin.batch import Outcome


def judged_of(
    found: Sequence[Outcome],
    answer: Answer | None,
    site: Site,
    tools: Sequence[Tool],
    entries: Sequence[Entry],
    source: str,
) -> tuple[Judged, ...]:
    """Evaluate every outcome as the tool's sheet would: lengths, diameters, breakage checks."""
    rows: list[Judged] = []
    for outcome in found:
        plan = answer.of(outcome.number) if answer else None
        measure = plan.tool.measure if plan else ["length"]
        rows += _of_one(outcome, measure, plan.tool if plan else None, site, source)
    return suspected(rows, {t.subject: t for t in tools}, entries)


def _turning(feed_per_rev: float, flutes: int) -> dict[str, Plain]:
    """Return what a sheet is told of a tool that turned; one that stood still needs no word."""
    return {"feed_per_rev_mm": feed_per_rev, "flutes": flutes} if feed_per_rev else {}


def _of_one(outcome: Outcome, measure: Sequence[str], wanted: object, site: Site, source: str) -> list[Judged]:
    rows: list[Judged]
    subject, rows = next((t.subject for t in site.tools if t.number == outcome.number), tool(outcome.number)), []
    check = "breakage" in measure
    tops: list[dict[str, Plain]] = [{"position_mm": z} for z in outcome.tops]
    if outcome.failed and not (check and outcome.lowest is not None):
        name = next((measuring(what) for what in MEASURES if what in measure), measuring("length"))
        return [Judged(subject, name, failed=outcome.failed, program=outcome.program, site=site)]
    if "length" in measure and tops:
        turn = _turning(outcome.feed_per_rev, outcome.flutes)
        rows.append(judge(site, subject, measuring("length"), tops, source, turn, outcome.program))
    if "diameter" in measure and outcome.sides:
        sides: list[dict[str, Plain]] = [{"face": face, "position_mm": x} for face, x in outcome.sides]
        setup = _turning(outcome.side_feed_per_rev, outcome.flutes)
        rows.append(judge(site, subject, measuring("diameter"), sides, source, setup, outcome.program, way_of(sides)))
    if outcome.teeth:
        each: list[dict[str, Plain]] = [{"tooth": tooth, "position_mm": z} for tooth, z in outcome.teeth]
        rows.append(judge(site, subject, measuring("teeth"), each, source, {}, outcome.program))
    if check:
        touched: list[dict[str, Plain]] = [{"position_mm": z} for z in outcome.tops[:1]]
        if not touched and outcome.lowest is not None:
            touched = [{"no_trigger": True, "lowest_mm": outcome.lowest}]
        setup = {}
        if wanted is not None:
            setup = {
                name: getattr(wanted, name) for name in ("reference_mm", "tolerance_short_mm", "tolerance_long_mm")
            }
        setup |= _turning(outcome.feed_per_rev, outcome.flutes)
        rows.append(judge(site, subject, measuring("breakage"), touched, source, setup, outcome.program))
    return rows or [
        Judged(
            subject, measuring("length"), failed="what it was to be measured for is not among the results.", site=site
        )
    ]
