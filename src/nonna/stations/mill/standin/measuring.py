"""One door to the stand-in: measure what a sheet wants, and do with the hands what it advises."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from nonna.errors import NonnaError
from nonna.shop.texts.given import Given, Plain, Row, as_number
from nonna.standin import dials, probing
from nonna.standin.wishes import SECONDS_A_READING, Measured, SheetWish, Standin, Watch
from nonna.standin.world import World
from nonna.stations.mill.planning.touches import feeds_of
from nonna.stations.mill.standin import sheet_programs as jobs
from nonna.stations.mill.standin.truth import make


def measure(job: SheetWish, world: World, watch: Watch | None = None) -> Measured:
    """Measure on the stand-in.

    Raises: NonnaError (it cannot be done, with the reason; or the machine stopped); whatever ``watch`` raises.
    """
    if job.touching is not None:
        prepared = jobs.prepare(job)
        report = jobs.run(prepared, watch, world.probe_length, world.longer)
        return Measured(jobs.readings(job, report), prepared.text, jobs.setup_of(prepared))
    if job.taking not in _BY_HAND:
        raise job.refused()
    rows = _BY_HAND[job.taking](job, world)
    for i in range(len(rows)):
        if watch is not None:
            watch(i + 1, len(rows), (i + 1) * SECONDS_A_READING)
    return Measured(rows, "")


def adjust(job: SheetWish, world: World, screw: str, amount_mm: float) -> float | None:
    """Turn a screw as advised; returns degrees of key where somebody would know them.

    Raises: NonnaError ``unknown-procedure`` (nothing to turn there).
    """
    if job.taking == "dial-round":
        return world.turn_ball_screw(float(screw.rstrip("°")), amount_mm, job.run)
    if job.taking == "dial-over-face":
        world.turn_level_screw(screw, amount_mm, job.setup.rows("screws"), job.run)
        return None
    if job.taking == "beam-ends":
        world.turn_beam(amount_mm, as_number(job.setup.part("adjuster")["distance_mm"]), job.run)
        return None
    raise NonnaError("unknown-procedure", "There is nothing to turn for {title}.", "procedure", title=job.title)


class HeldDial:
    """The dial of a sheet as it stands while somebody turns the spindle or carries it over the pad."""

    def __init__(self, job: SheetWish, world: World) -> None:
        self._world, self._at = world, dict(job.slots[0]) if job.slots else {}
        self._dial = dials.Dial(world, _dial(job), job.run)

    def go_to(self, place: Mapping[str, Plain]) -> None:
        """The hand goes to where the next reading is taken."""
        self._at = dict(place)

    def read(self) -> float:
        """Return what the dial shows now, mm."""
        at = self._at
        if "angle_deg" in at:
            return self._dial.show(dials.surface_at(self._world, as_number(at["angle_deg"])))
        lean = self._world.lean
        return self._dial.show(float(lean[0]) * as_number(at["x_mm"]) + float(lean[1]) * as_number(at["y_mm"]))


def _bias(job: SheetWish) -> float:
    """Return by how much every length measured on the setter comes out long: the plane as it triggers less as
    recorded.
    """
    truth = make(job.machine, list(job.tools), job.seed)
    late = job.machine.trigger_latency_s * feeds_of(job.machine).slow_mm_min / 60.0
    return truth.plane - truth.pre_travel - late - _known(job, "trigger_plane_mm", "The setter calibration")


def _known(job: SheetWish, name: str, what: str) -> float:
    if name not in job.known:
        raise NonnaError(
            "missing-field", "{what} comes first: the machine must know it to measure this.", name, what=what
        )
    return job.known[name]


def _runout(job: SheetWish, world: World) -> list[Row]:
    return dials.runout(world, [as_number(s["angle_deg"]) for s in job.slots], _dial(job), job.run)


def _face(job: SheetWish, world: World) -> list[Row]:
    return dials.face(world, [(as_number(s["x_mm"]), as_number(s["y_mm"])) for s in job.slots], _dial(job), job.run)


def _beam(job: SheetWish, world: World) -> list[Row]:
    return dials.beam(world, [str(s["end"]) for s in job.slots], as_number(job.setup["span_mm"]), job.run)


def _ring(job: SheetWish, world: World) -> list[Row]:
    diameter = job.master.number("diameter_mm") or 50.0
    per_turn = sum(1 for s in job.slots if s["spindle_deg"] == job.slots[0]["spindle_deg"])
    slots = [(as_number(s["spindle_deg"]), i % per_turn * 360.0 / per_turn) for i, s in enumerate(job.slots)]
    return probing.ring(world, slots, diameter, job.setup.get("side") != "external", job.run)


def _length(job: SheetWish, world: World) -> list[Row]:
    surface = job.setup.number("surface_mm")
    if surface is None:
        raise NonnaError("missing-field", "Say first at what height the surface is (F9).", "setup.surface_mm")
    dice = world.dice(job.run, 6)
    off = float(dice.normal(0.0, job.setup.number("surface_u_mm", 0.0)))
    return [
        {"position_mm": round(surface + off + world.probe_length + float(dice.normal(0.0, probing.NOISE)), 4)}
        for _ in job.slots
    ]


def _heights(job: SheetWish, world: World) -> list[Row]:
    probe = world.probe_length - _known(job, "probe_length_mm", "The probe length")
    return probing.heights(world, [str(s["via"]) for s in job.slots], -_bias(job), probe, job.run)


def _artefact(job: SheetWish, world: World) -> list[Row]:
    master = job.master
    if job.setup.get("quantity") == "diameter":
        off = 2.0 * (_known(job, "ball_radius_mm", "The probe ring") - world.ball_radius)
        certified, expanded = master.number("diameter_mm"), master.number("U_diameter_mm", 0.0)
    elif job.taking == "artefact-on-setter":
        off = _bias(job)
        certified, expanded = master.number("length_mm"), master.number("U_length_mm", 0.0)
    else:
        off = _known(job, "probe_length_mm", "The probe length") - world.probe_length
        certified, expanded = master.number("length_mm"), master.number("U_length_mm", 0.0)
    if not certified:
        raise NonnaError("missing-field", "This artefact has no such size on its card.", "masters.artefact")
    return probing.artefact(world, len(job.slots), certified, expanded, master.number("k", 2.0), off, job.run)


def _dial(job: SheetWish) -> Given:
    return job.setup.part("indicator")


_BY_HAND: dict[str, Callable[[SheetWish, World], list[Row]]] = {
    "dial-round": _runout,
    "dial-over-face": _face,
    "beam-ends": _beam,
    "ring-turned": _ring,
    "probe-on-surface": _length,
    "heights-by-ways": _heights,
    "artefact-probed": _artefact,
    "artefact-on-setter": _artefact,
}

STANDIN = Standin(measure, adjust=adjust, dial=HeldDial)
