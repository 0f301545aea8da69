"""Which way to measure each tool: is the presetter good enough for its tolerance, or is the machine's setter needed?"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from nonna.bench.sheet.from_presetter import presetter_of
from nonna.bench.sheet.opening import prepared
from nonna.bench.station.site import Site
from nonna.errors import NonnaError
from nonna.metrology.doubt.coverage import Source, coverage_factor
from nonna.procedures import offers
from nonna.procedures.listing import one_offering
from nonna.shop.cards.machine import Tool
from nonna.stations.kind import kind_of
from nonna.stations.touched_tools import ToolPlan

Choice = Literal["presetter", "setter", "neither"]
TOLERANCE_MM = 0.02  #: where nobody said how well a length has to be known


@dataclass(frozen=True, slots=True)
class Side:
    """One of the two ways: what a length would be good for, and what it costs."""

    expanded_mm: float | None  #: None where it cannot be done
    minutes: float
    why: str = ""  #: it cannot be done


@dataclass(frozen=True, slots=True)
class Way:
    """One tool's two ways."""

    number: int
    name: str
    tolerance_mm: float
    presetter: Side
    setter: Side
    usual: bool = True  #: whether the tolerance is the one of all tools without their own

    @property
    def choice(self) -> Choice:
        """The presetter where it is good enough, for the machine goes on cutting meanwhile; else the setter, if that
        is.
        """
        for name, side in (("presetter", self.presetter), ("setter", self.setter)):
            if side.expanded_mm is not None and side.expanded_mm <= self.tolerance_mm:
                return name  # type: ignore[return-value]
        return "neither"


def ways(site: Site, tools: Sequence[Tool], plans: Mapping[int, ToolPlan], touches: int) -> tuple[Way, ...]:
    """Return each tool's two ways, those without a tolerance of their own at the usual one.

    Parameters: plans, of the tools that can be touched on the setter.
    Raises: NonnaError (a file or a record that would be used is damaged).
    """
    real = [tool for tool in tools if tool.kind not in ("probe", "master")]
    if not real:
        return ()
    beside, on = _presetter(site, real[0]), _Setter.of(site, touches)  # alike for all tools
    return tuple(
        Way(tool.number, tool.description or tool.kind, tool.tolerance_mm or TOLERANCE_MM, beside,
            on.side(plans.get(tool.number)),
            tool.tolerance_mm is None)
        for tool in real
    )  # fmt: skip


def with_usual(found: Sequence[Way], tolerance_mm: float) -> tuple[Way, ...]:
    """Return the ways with another tolerance for the tools without their own."""
    return tuple(replace(way, tolerance_mm=tolerance_mm) if way.usual else way for way in found)


def _presetter(site: Site, tool: Tool) -> Side:
    there = presetter_of(site)
    each = kind_of(there.machine.kind).loop.each if there is not None else None
    minutes = each.minutes if each is not None else 0.0
    opening = prepared(site, one_offering(offers.FROM_PRESETTER), tool.subject)
    missing = next((m for m in opening.missing if m.needed), None)
    if missing is not None:
        return Side(None, minutes, missing.why)
    setup = opening.facts.setup
    plane = _source("plane", setup.number("trigger_plane_u_mm", 0.0), setup.number("trigger_plane_dof"))
    one_more = _source("one more tool", setup.number("transfer_u_mm", 0.0), setup.number("transfer_dof"))
    return Side(_expanded([one_more, plane, *([plane] if setup.flag("setter_recalibrated") else [])]), minutes)


@dataclass(frozen=True, slots=True)
class _Setter:
    """What every length on the machine's setter rests on."""

    plane: Source | None
    s: float
    dof: float
    touches: int
    minutes: float

    @classmethod
    def of(cls, site: Site, touches: int) -> _Setter:
        results, each = site.results(), kind_of(site.machine.kind).loop.each
        plane, known = results.offered(offers.TRIGGER_PLANE), results.offered(offers.TOUCH_SCATTER)
        s, dof = (
            (known.value, float(known.readings - 1)) if known is not None else (site.machine.repeatability_mm, math.inf)
        )
        source = _source("plane", plane.u, plane.dof) if plane is not None and plane.u is not None else None
        return cls(source, s, dof, touches, each.minutes if each is not None else 0.0)

    def side(self, plan: ToolPlan | None) -> Side:
        """Return what a tool's length would be good for here."""
        if self.plane is None:
            return Side(None, self.minutes, "The setter is not calibrated.")
        if plan is None or plan.refused:
            return Side(None, self.minutes, plan.refused if plan is not None else "It is not planned.")
        turn = plan.feeds.slow_mm_min / plan.choice.rpm if plan.choice.rpm else 0.0
        sources = [
            self.plane, _source("touches", self.s / math.sqrt(self.touches), self.dof),
            _source("feed a turn", turn / math.sqrt(12.0 * self.touches), None),
        ]  # fmt: skip
        return Side(_expanded(sources), plan.seconds / 60.0)


def _source(name: str, u: float, dof: float | None) -> Source:
    return Source(name, float(u), math.inf if dof is None else float(dof), "normal")


def _expanded(sources: Sequence[Source]) -> float:
    """Raises: NonnaError (nothing is uncertain)."""
    real = [source for source in sources if source.u > 0.0]
    if not real:
        raise NonnaError("no-repeatability", "Nothing tells how uncertain a length would be.", "setter")
    return coverage_factor(real) * math.hypot(*(source.u for source in real))
