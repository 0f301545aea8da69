"""Which lengths a measuring program may store by itself, and within what of the control's table."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from nonna.errors import NonnaError
from nonna.metrology.turning import lateness
from nonna.programs.language.dialect import Dialect
from nonna.programs.language.tables import decimals_of
from nonna.programs.writing.storing import PARAMETERS, WHAT, LengthStore
from nonna.programs.writing.units import unit_of
from nonna.shop.cards.machine import Machine, SetterSpec
from nonna.stations.touched_tools import ToolPlan

TOLERANCE_SHARE = 5.0  #: of the accuracy asked, where a tool has no tolerance
COVERAGE = 2.0


def must_store(machine: Machine, dialect: Dialect) -> None:
    """Check that a machine's programs can store what they measure.

    Raises: NonnaError ``out-of-range`` (the dialect cannot compare), ``missing-field`` (the card does not say how).
    """
    if not dialect.jumps:
        words = "{key} cannot compare: a program in it never stores by itself. Store afterwards (--load)."
        raise NonnaError("out-of-range", words, "dialect", key=dialect.key)
    card = machine.control
    for kind, lines in (("stores", card.stores if card else {}), ("reads", card.reads if card else {})):
        if WHAT not in lines:
            words = "The card of {name} does not say how a length {what}."
            what = "is stored" if kind == "stores" else "is read back"
            raise NonnaError("missing-field", words, f"machine.control.{kind}.{WHAT}", name=machine.name, what=what)


def with_stores(
    machine: Machine, setter: SetterSpec, plans: Sequence[ToolPlan], accuracy_mm: float, parameter: int
) -> tuple[ToolPlan, ...]:
    """Return plans whose lengths are stored behind their touches.

    Parameters: parameter, the first that is free for it.
    """
    made = []
    for plan in plans:
        at = next((i for i, t in enumerate(plan.touches) if t.what == WHAT), None)
        if at is None or WHAT not in plan.tool.measure:
            made.append(plan)
            continue
        touch = plan.touches[at]
        feed = touch.feeds.slow_mm_min / touch.rpm if touch.rpm and touch.feeds is not None else 0.0
        late = lateness(feed, plan.tool.edges)
        step = unit_of(machine.control).mm * 10.0 ** -decimals_of(machine.control) if machine.control else 0.0
        u = math.hypot(
            machine.repeatability_mm * math.sqrt(2.0 / touch.count), accuracy_mm / math.sqrt(3.0),
            late.half_width / math.sqrt(3.0), step / math.sqrt(12.0),
        )  # fmt: skip
        within = max(3.0 * COVERAGE * u, plan.tool.tolerance_mm or TOLERANCE_SHARE * accuracy_mm)
        store = LengthStore(plan.tool.number, setter.trigger_plane_mm, late.late, within, parameter)
        parameter += PARAMETERS
        touches = (*plan.touches[:at], replace(touch, stores=store), *plan.touches[at + 1 :])
        words = f"Its length is stored within {within * 1000:.0f} µm of what the control's table holds, else it stops."
        made.append(replace(plan, touches=touches, reasons=(*plan.reasons, words)))
    return tuple(made)
