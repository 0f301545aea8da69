"""Open a sheet with everything the shop already knows, so that no number is typed twice."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from nonna.bench import clock
from nonna.bench.book.results_that_hold import Held, HeldResults, Lacking, Nothing
from nonna.bench.settings.house_rules import with_limits
from nonna.bench.sheet.cancelling import cancel_planes
from nonna.bench.sheet.edges_known import with_edges
from nonna.bench.sheet.from_presetter import (
    NO_PRESETTER,
    card_of_presetter,
    of_transfer,
    presetter_of,
    rests_on_presetter,
    transfer_in_time,
)
from nonna.bench.sheet.parts_before import parts_before
from nonna.bench.sheet.temperature import climate_of
from nonna.bench.shelf.card_trail import changed_outside
from nonna.bench.station.site import Site
from nonna.errors import NonnaError
from nonna.procedures import offers
from nonna.procedures.catalogue import procedure
from nonna.procedures.facts import Beside, SheetFacts
from nonna.procedures.listing import PROCEDURES, offering
from nonna.procedures.sheet import Need, Procedure
from nonna.shop.cards.machine import Tool
from nonna.shop.cards.masters import MasterCard
from nonna.shop.links.loop import Loop
from nonna.shop.links.subjects import ANY, Subject, SubjectKind, station
from nonna.shop.records.values import CardChange, CarriedFrom, JsonObject, Measurement, as_measurement
from nonna.shop.texts.given import Given, Plain
from nonna.stations.kind import kind_of

_ANY_SIDE = ("+x", "-x", "+y", "-y")  #: of a setter that is not described
STEPS_SHOWN, LEAST_RANGE_MM = 1000.0, 0.5  #: what a dial can show where its card does not say
_VARIANTS = {"master-tool": "master", "spindle-face": "spindle-face", "block": "block"}


@dataclass(frozen=True, slots=True)
class Opening:
    """A sheet ready for its first reading, with where its numbers come from."""

    name: str
    facts: SheetFacts
    cards: Mapping[str, JsonObject] = field(default_factory=dict)
    carried: Mapping[str, CarriedFrom] = field(default_factory=dict)
    choices: tuple[MasterCard, ...] = ()  #: masters that would do
    missing: tuple[Lacking, ...] = ()
    outside: tuple[CardChange, ...] = ()  #: of what it starts from, changed in the files and not signed

    @property
    def undecided(self) -> tuple[int, ...]:
        """Records that were carried though their verdict was left open."""
        return tuple(sorted({row.record for row in self.carried.values() if row.verdict == "undecided"}))


def open_sheet(site: Site, name: str, subject: Subject, master_id: str = "", variant: str = "") -> Opening:
    """Return a sheet of a procedure for a subject with all that is known filled in.

    Parameters: master_id and variant, what was chosen; "" leaves the choice to the shop's files.
    Raises: NonnaError (a file is damaged, or a record needed first does not exist: ``missing-field``).
    """
    made = prepared(site, name, subject, master_id, variant)
    for missing in made.missing:
        if missing.needed and missing.source in PROCEDURES:
            first, then = PROCEDURES[missing.source].title, PROCEDURES[name].title.lower()
            raise NonnaError(
                "missing-field",
                "{first} comes first: {then} rests on it. {why}",
                f"setup.{missing.field}",
                first=first,
                then=then,
                why=missing.why,
            )
    return made


def prepared(site: Site, name: str, subject: Subject, master_id: str = "", variant: str = "") -> Opening:
    """Return a sheet as `open_sheet` does, with what is missing listed instead of refused.

    Raises: NonnaError (a file or a record that would be used is damaged; no such procedure or variant).
    """
    found = procedure(name)
    if variant and found.variant(variant) is None:
        raise NonnaError(
            "out-of-range", "{title} is not done as {value!r}.", "variant", title=found.title, value=variant[:40]
        )
    tool = next((t for t in site.tools if t.subject == subject), None)
    usual = "daily" if subject.kind is SubjectKind.DAILY_CHECK else tool.edge if tool is not None else ""
    way = found.variant(variant) if variant else found.variant(usual) or found.variant("")
    results = site.results()
    kinds = (way.kinds if way else ()) or found.master_kinds
    choices = tuple(c for kind in kinds for c in site.shelf.masters if c.kind == kind and not c.retired)
    proving = found.role == "artefact" and not (way and way.key == "daily")
    used = _used(results) if proving else set()
    first = next((c for c in choices if c.id not in used), choices[0] if choices else None)
    card = next((c for c in choices if c.id == master_id), first)
    if found.variant_of_master:
        way = found.variant(_VARIANTS.get(card.kind, "")) if card else way
    key = way.key if way else ""
    offered = with_limits(name, found.offered, site.rules.limits.get(name, {}))
    setup: dict[str, Plain] = {**offered, **_owned(site, found), **(way.setup if way else {})}
    if card is not None and not card.traceable and "school" in found.setup_model.model_fields:
        setup["school"] = "relative"  # a constant of the shop: it can do no more
    carried, missing = _carried(
        name, [n for n in found.needs if not n.variants or key in n.variants], results, subject, setup, site
    )
    if "setter_recalibrated" in found.setup_model.model_fields:
        missing += transfer_in_time(setup, carried)
    if "same_plane" in found.setup_model.model_fields:
        cancel_planes(setup, carried, results)
    if tool is not None and "edges_back_mm" in found.setup_model.model_fields:
        with_edges(setup, carried, results, tool)
    if kinds and card is None:
        missing.append(
            Lacking(found.role, "shelf", f"No {' or '.join(kinds).replace('-', ' ')} is on the shelf.", True)
        )
    if "expected_mm" in found.setup_model.model_fields:
        wide = found.listed.measures == "diameter"
        expected = None if tool is None else tool.diameter_mm if wide else tool.length_mm
        if expected is None:
            setup.pop("limit_mm", None)  # a limit on the change against a table that holds nothing
        else:
            setup["expected_mm"] = expected
    elif "expected_x_mm" in found.setup_model.model_fields and not {"expected_x_mm", "expected_z_mm"} & setup.keys():
        setup.pop("limit_mm", None)  # the first of its kind: there is nothing it could have changed against
    cast = found.cast(choices, card)
    before = _before(results, found, subject)
    setup |= {field: before.input.setup[field] for field in found.remembers if before and field in before.input.setup}
    facts = replace(
        _facts(site, setup, card, tool, subject),
        rule=site.rules.rule.get(name, "guarded"),
        before=Given({found.looks_back: before.own()[found.looks_back]} if before and found.looks_back else {}),
        beside=_beside(results, found, key),
        variant=key,
        known=_known(results),
        masters={role: Given(each.as_input()) for role, each in cast.items()},
        conditions=climate_of(site.shop, bool(kinds), clock.now().date()),
        others=_others(card, choices),
        past=parts_before(results, name) if "earlier" in found.setup_model.model_fields else (),
    )
    facts = found.settled(facts)
    cards = {role: each.model_dump() for role, each in cast.items()}
    return Opening(name, facts, cards, carried, choices, tuple(missing), _outside(site, name, cards))


def _outside(site: Site, name: str, cards: Mapping[str, JsonObject]) -> tuple[CardChange, ...]:
    """Return what a sheet starts from that was changed outside and not signed."""
    starts = (
        ("gear.json", ""),
        (f"machines/{site.key}.json", ""),
        *(("masters.json", f"masters.{card['id']}.") for card in cards.values()),
        *(("rules.json", f"{part}.{name}") for part in ("limits", "rule")),
    )
    return tuple(c for c in changed_outside(site.folder) if any(c.concerns(*start) for start in starts))


def _carried(
    name: str, needs: Sequence[Need], results: HeldResults, subject: Subject, setup: dict[str, Plain], site: Site
) -> tuple[dict[str, CarriedFrom], list[Lacking]]:
    """Put what can be carried into the setup; return where each field comes from, and what is missing."""
    carried: dict[str, CarriedFrom] = {}
    missing: dict[tuple[str, str], Lacking] = {}
    there = presetter_of(site) if any(need.away for need in needs) else None
    away = there.results() if there is not None else None
    loop = kind_of(site.machine.kind).loop
    for found in needs:
        need, about = of_this_kind(found, loop, name)
        if need.same_subject or need.of_station:
            about = subject if need.same_subject else station(site.machine.name)
        elif need.away and there is not None:
            about = measured_on(need, kind_of(there.machine.kind).loop)
        where = away if need.away else results
        held = where.find_offered(need.offer, about) if where is not None else NO_PRESETTER
        if isinstance(held, Nothing):
            source, result = next(iter(offering(need.offer)), ("", need.offer))
            missing.setdefault((source, result), Lacking(need.field, source, held.why, need.needed))
            continue
        value = part_of(held, need)
        if value is not None:
            setup[need.field] = value
            carried[f"setup.{need.field}"] = carried_from(held, need)
    return carried, list(missing.values())


def measured_on(need: Need, loop: Loop) -> Subject:
    """Return what a needed result is measured on at a kind of station, ANY where that is what it is usually done on."""
    measured_by = {offered.procedure for offered in offering(need.offer)}
    return next((link.subject for link in loop.links if link.procedure in measured_by), ANY)


def of_this_kind(need: Need, loop: Loop, name: str) -> tuple[Need, Subject]:
    """Return a need as a kind of station has it, and what it is measured on there.

    The repeatability of a sheet that hangs on a lathe's arm is the arm's, for its touches are taken with the arm swung
    anew; a sheet of the probe, or one that reads several times in one seating, takes none of it.
    """
    measured_by = {offered.procedure for offered in offering(need.offer)}
    there = next((link for link in loop.links if link.procedure in measured_by), None)
    here = next((link for link in loop.links if name in link.procedures), None)
    if there is None or here is None or there.subject in (ANY, PROCEDURES[there.procedure].subject):
        return need, ANY
    own = there.branch == here.branch and there.key in loop.upstream(here.key)
    return (replace(need, link=there.key), there.subject) if own else (need, ANY)


def carried_from(held: Held, need: Need) -> CarriedFrom:
    """Return where a carried field comes from, as a record keeps it; an undecided record is flagged."""
    made = CarriedFrom(record=held.record.number, hash=held.record.hash, link=need.link, result=held.name)
    return made.model_copy(update={"verdict": "undecided"}) if held.undecided else made


def _owned(site: Site, found: Procedure) -> dict[str, Plain]:
    """Return what a sheet's setup takes from the machine and the gear."""
    fields = found.setup_model.model_fields
    owned: dict[str, Plain] = {}
    spec, gear, name = site.machine.setter, site.gear, site.machine.name
    if spec is not None and "pad_x_mm" in fields:
        owned |= {"pad_x_mm": spec.width_x_mm, "pad_y_mm": spec.width_y_mm}
    if "x_shows" in fields:
        owned["x_shows"] = site.machine.x_shows
    dial, micrometer = gear.indicator(), gear.micrometer()
    if "indicator" in fields and not found.by_dial:
        owned |= (
            {"indicator": {"resolution_mm": micrometer.resolution_mm, "mpe_mm": micrometer.mpe_mm}}
            if micrometer
            else {}
        )
    elif dial is not None and "indicator" in fields:
        owned["indicator"] = {
            "resolution_mm": dial.resolution_mm, "mpe_mm": dial.mpe_mm, "lever_deg": dial.lever_deg,
        }  # fmt: skip
    pad, beam, probe = gear.setter(name, "contact"), gear.setter(name, "beam"), gear.probe(name)
    if pad is not None and "screws" in fields:
        owned["screws"] = [screw.model_dump() for screw in pad.screws]
    if beam is not None and "adjuster" in fields and beam.adjuster is not None:
        owned |= {"span_mm": beam.span_mm or 100.0, "adjuster": beam.adjuster.model_dump()}
    presetter = gear.presetter(name) or (card_of_presetter(site) if rests_on_presetter(found) else None)
    if presetter is not None and "x_shows" in fields:
        owned |= {"x_shows": presetter.x_shows, "resolution_mm": presetter.resolution_mm}
    if probe is not None and "screws_deg" in fields:
        owned["screws_deg"] = list(probe.screws_deg)
    if probe is not None and probe.reach_mm and "reach_mm" in fields:
        owned["reach_mm"] = probe.reach_mm
    return owned


def _before(results: HeldResults, found: Procedure, subject: Subject) -> Measurement | None:
    """Return the record before of a procedure that looks back at it, None without one."""
    if not (found.remembers or found.looks_back):
        return None
    entry = next((e for e in results.entries.measured(found.name) if e.subject in (subject, ANY)), None)
    return as_measurement(results.read(entry.number)) if entry is not None else None


def _used(results: HeldResults) -> set[str]:
    """Return the ids of the masters that the calibrations in force were made with."""
    held = (results.offered(offer) for offer in (offers.TRIGGER_PLANE, offers.BALL_RADIUS, offers.PROBE_LENGTH))
    return {str(card.get("id")) for found in held if found for card in found.record.masters.values()}


def _beside(results: HeldResults, found: Procedure, key: str) -> tuple[Beside, ...]:
    """Return the newest record of each other way of doing this procedure."""
    newest: dict[str, Beside] = {}
    own = found.variant(key)
    for entry in results.entries if found.compares else ():
        if entry.kind != "measurement" or entry.name != found.name or entry.verdict == "fail":
            continue
        record = as_measurement(results.read(entry.number))
        way, row = found.variant(record.variant), record.row(found.main[0])
        if way is None or own is None or row is None or row.expanded is None:
            continue
        if way.key != key and way.beside == own.beside:
            newest[way.key] = Beside(way.title, entry.number, row.value, row.expanded)
    return tuple(newest.values())


def _known(results: HeldResults) -> dict[str, float]:
    """Return the main result of each procedure of this station that holds, by the result's name."""
    found = {}
    for name in PROCEDURES:
        main = procedure(name).main[0]
        value = results.value(name, main) if PROCEDURES[name].subject != ANY else None
        if value is not None:
            found[main] = value
    return found


def _facts(
    site: Site, setup: dict[str, Plain], card: MasterCard | None, tool: Tool | None, subject: Subject
) -> SheetFacts:
    spec = site.machine.setter
    long, wide = (card.length_mm or 0.0, card.diameter_mm or 0.0) if card else (0.0, 0.0)
    about: dict[str, float] = {}
    if spec is not None:
        half = wide / 2
        about = {
            "top": spec.trigger_plane_mm + (long if card else _usual_length(site)),
            "+x": spec.x_mm + spec.width_x_mm / 2 + half, "-x": spec.x_mm - spec.width_x_mm / 2 - half,
            "+y": spec.y_mm + spec.width_y_mm / 2 + half, "-y": spec.y_mm - spec.width_y_mm / 2 - half,
        }  # fmt: skip
    return SheetFacts(
        setup=Given(setup),
        subject=subject,
        about=about,
        reach=_reach(site, Given(setup)),
        pad_width=spec.width_x_mm if spec else 14.0,
        pad_square=spec is not None and spec.shape == "square",
        sides=tuple(spec.clear_sides) if spec else _ANY_SIDE,
        tool_kind=tool.kind if tool else "end-mill",
        tool_diameter=tool.diameter_mm if tool else 10.0,
        tool_flutes=tool.flutes if tool else 0,
        pockets=int(site.machine.pocket_count),
    )


def _others(card: MasterCard | None, choices: Sequence[MasterCard]) -> dict[str, tuple[float, float]]:
    """Return the other masters that would do, by name: how much longer and wider than the chosen one they are."""
    if card is None:
        return {}
    return {
        each.name: (
            (each.length_mm or 0.0) - (card.length_mm or 0.0),
            (each.diameter_mm or 0.0) - (card.diameter_mm or 0.0),
        )
        for each in choices
        if each.id != card.id
    }


def _reach(site: Site, setup: Given) -> dict[str, tuple[float, float]]:
    """Return where readings can be: the machine's travel by axis, and the dial's range."""
    travel = site.machine.travel_mm
    reach = (
        {axis: (ends[0], ends[1]) for axis, ends in (("x", travel.x), ("y", travel.y), ("z", travel.z))}
        if site.key
        else {}
    )
    if "indicator" in setup:
        card, step_mm = site.gear.indicator(), setup.part("indicator").number("resolution_mm", 0.0)
        most = (card.range_mm if card else 0.0) or max(LEAST_RANGE_MM, STEPS_SHOWN * step_mm)
        reach["dial"] = (-most, most)
    return reach


def _usual_length(site: Site) -> float:
    tools = [m.length_mm for m in site.shelf.masters if m.kind == "master-tool" and m.length_mm]
    return tools[0] if tools else 100.0


def part_of(held: Held, need: Need) -> float | None:
    """Return the part of a result that a field carries, None where it has none (an infinite freedom)."""
    if need.part == "readings-1":
        return float(held.readings - 1)
    if need.part == "dof":
        return held.dof
    if need.part in ("one-more", "pivot", "slope", "means-of"):
        return of_transfer(held, need.part)
    value = held.value if need.part == "value" else held.u
    return None if value is None else value * need.factor


def drawn(facts: SheetFacts) -> dict[str, Plain]:
    """Return what the drawing of a record needs beside its readings file."""
    return {
        "variant": facts.variant, "pad_width": facts.pad_width, "tool_kind": facts.tool_kind,
        "tool_diameter": facts.tool_diameter, "tool_flutes": facts.tool_flutes,
    }  # fmt: skip
