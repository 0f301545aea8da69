"""Which instrument a sheet's readings come from, and whether a line of it is meant for this sheet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from nonna.bench.sheet.from_presetter import card_of_presetter, rests_on_presetter
from nonna.bench.station.site import Site
from nonna.procedures.session import Session
from nonna.shop.cards.connection import UNCONNECTED, Connection
from nonna.shop.cards.machine import Tool
from nonna.shop.links.subjects import SubjectKind
from nonna.stations.kind import kind_of


@dataclass(frozen=True, slots=True)
class Instrument:
    """An indicator, or a display that sends what it shows."""

    pattern: str  #: how its lines read; "": a line with one number
    line: Connection = UNCONNECTED
    sends: bool = False  #: each line is a reading: somebody pressed its button

    def at(self, url: str) -> tuple[Connection, bool]:
        """Return where it is read and whether it sends by itself; ``url`` ("press" behind it says so) goes before its
        card.
        """
        address, _, how = url.partition(" ")
        return (replace(self.line, url=address) if address else self.line), self.sends or how.strip() == "press"


def instrument_of(site: Site, session: Session) -> Instrument | None:
    """Return the instrument of a sheet, None where its readings come from none."""
    kind = kind_of(site.machine.kind)
    away = rests_on_presetter(session.procedure)
    if session.procedure.taking(session.facts.variant) in kind.by_line or away:
        card = card_of_presetter(site) if away else site.gear.presetter(site.machine.name)
        return Instrument(card.pattern, card.connection, sends=True) if card else Instrument("", sends=True)
    if "position_mm" in session.procedure.model.value_fields:  # where the machine stands, as it prints it
        printed = next(
            (c for c in site.gear.printouts if not c.retired and c.port and c.machine == site.machine.name), None
        )
        return Instrument(printed.pattern, printed.connection, sends=True) if printed is not None else None
    if "indicator" not in session.procedure.setup_model.model_fields:
        return None
    dial = site.gear.indicator()
    return Instrument(dial.pattern, dial.connection, dial.button) if dial else Instrument("")


def not_meant(session: Session, axis: str, tool: str, tools: Sequence[Tool]) -> str:
    """Say why a line is not for this sheet, "" where it is: another tool's, or an axis of which nothing is wanted.

    Parameters: tool, the number that the line names, "" for none; tools, those of the station: one may go by its own
    id.
    """
    subject = session.facts.subject
    named = next((t.subject for t in tools if tool and t.number == int(tool)), None)
    if tool and subject.kind is SubjectKind.TOOL and named != subject:
        return f"That was T{int(tool)}; this sheet is {subject.words}'s. Nothing was taken."
    if axis and session.slot_on(axis) is None:
        return f"Nothing more is wanted in {axis.upper()}. Nothing was taken."
    return ""
