"""Measure a sheet on the stand-in of its kind of station."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import TYPE_CHECKING

from nonna.bench import clock
from nonna.bench.sheet.from_presetter import presetter_of, rests_on_presetter
from nonna.bench.station.site import Site
from nonna.errors import NonnaError
from nonna.metrology.drifting.thermal import REFERENCE_C
from nonna.procedures import offers
from nonna.procedures.catalogue import procedure
from nonna.procedures.listing import one_offering
from nonna.procedures.session import Session
from nonna.programs.writing.writer import Writer
from nonna.shop.links.subjects import SubjectKind
from nonna.shop.texts.given import Given, Plain, as_number
from nonna.standin.wishes import SheetWish
from nonna.stations.kind import kind_of

if TYPE_CHECKING:
    from nonna.procedures.evaluation import Move
    from nonna.standin.wishes import Measured, SheetWish
    from nonna.standin.world import World


def job_of(site: Site, session: Session) -> SheetWish:
    """Return what the stand-in has to know of a sheet: papers and tables, never truths."""
    facts, found = session.facts, session.procedure
    temperature = float(facts.conditions.get("temperature_c", REFERENCE_C))
    masters = {role: _as_warm(master, temperature) for role, master in facts.masters.items()}
    shelf = [_as_warm(c.as_input(), temperature) for c in site.shelf.masters if c.kind == "master-tool"]
    slots = found.slots(facts)
    taken_as, machine = found, site.machine
    if rests_on_presetter(found) and (there := presetter_of(site)) is not None:
        taken_as, machine = procedure(one_offering(offers.ON_PRESETTER)), there.machine
    return SheetWish(
        taking=taken_as.taking(facts.variant), touching=taken_as.touched(facts.variant), title=found.title,
        machine=machine, tools=site.tools,
        seed=site.shop.standin_seed,
        run=clock.run_number(), subject=facts.subject, variant=facts.variant,
        master=masters.get(found.role) or (shelf[0] if shelf else Given({})),
        masters=masters, trigger_plane_mm=facts.setup.number("trigger_plane_mm"),
        slots=tuple(s.fields for s in slots), setup=facts.setup, known=facts.known,
        writer=Writer(site.folder.templates()),
    )  # fmt: skip


def _as_warm(master: Mapping[str, Plain], temperature_c: float) -> Given:
    """Return a master as large as it is at the machine's temperature: what is touched is not at 20 degrees."""
    grown = 1.0 + Given(master).number("cte_per_k", 0.0) * (temperature_c - REFERENCE_C)
    sizes = {
        name: as_number(master[name]) * grown for name in ("length_mm", "diameter_mm") if master.get(name) is not None
    }
    return Given({**master, **sizes})


def measured(job: SheetWish, world: World, watch: Callable[[int, int, float], None] | None = None) -> Measured:
    """Measure a job on the stand-in of its machine's kind.

    Raises: NonnaError (it cannot be done, with the reason; or the machine stopped); whatever ``watch`` raises.
    """
    kind = kind_of(job.machine.kind)
    if job.subject.kind is SubjectKind.SETTER and job.subject.id:
        words = (
            "The stand-in has one setter, the one in use. {words} is measured on the machine: type its readings, or F8."
        )
        raise NonnaError("unknown-procedure", words, "subject", words=job.subject.words)
    return kind.measured_by().measure(job, world, watch)


def turned_by_hand(job: SheetWish, world: World, moves: Sequence[Move]) -> dict[str, float]:
    """Let the stand-in's hands turn what is advised; return degrees of key by screw where somebody would know them.

    Raises: NonnaError (there is nothing to turn).
    """
    adjust = kind_of(job.machine.kind).measured_by().adjust
    if adjust is None:
        raise NonnaError("unknown-procedure", "There is nothing to turn for {title}.", "procedure", title=job.title)
    keys = {move.screw: adjust(job, world, move.screw, move.amount_mm) for move in moves}
    return {screw: key for screw, key in keys.items() if key is not None}
