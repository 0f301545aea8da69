"""Turn what a sheet wants into a program, run it on the stand-in and give back plain readings."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from nonna.errors import NonnaError
from nonna.programs.writing.touches import TouchPlan
from nonna.shop.cards.job import JobTool
from nonna.shop.cards.machine import Machine, Tool, Tools
from nonna.shop.texts.given import Row, as_number
from nonna.standin.rehearsal import Trial
from nonna.standin.wishes import SheetWish, Watch
from nonna.stations.mill.planning.plan import plan_job
from nonna.stations.mill.planning.touches import (
    ACCURACY_MM,
    nose_aside,
    setter_calibration,
    top_touches,
    top_touches_at,
)
from nonna.stations.mill.standin.mill import Mill
from nonna.stations.mill.standin.program_run import RunReport, run_program
from nonna.stations.mill.standin.trial import tried
from nonna.stations.mill.standin.truth import make, with_tools_changed

PROBE_ABOUT_MM = 121.5


@dataclass(frozen=True, slots=True)
class Prepared:
    """A program that was rehearsed, with what is in the spindle."""

    job: SheetWish
    plan: TouchPlan
    trial: Trial
    held: Tool | None

    @property
    def text(self) -> str:
        """The program, exactly as it was rehearsed and will be run."""
        return self.trial.text


def prepare(job: SheetWish) -> Prepared:
    """Plan, write and rehearse the program. Raises: NonnaError (it cannot be done, with the reason)."""
    if job.taking not in _WAYS:
        raise job.refused()
    plan, held = _WAYS[job.taking].plan(job)
    plain = [t.model_copy(update={"true_length_mm": None}) for t in job.tools]
    table = Tools(format="nonna-tools/1", tools=plain)
    trial = tried(job.writer.write(plan), _calibrated(job), table, dialect=job.writer.dialect, held=held)
    trial.must_be_clean()
    return Prepared(job, plan, trial, held)


def _calibrated(job: SheetWish) -> Machine:
    """Return the machine with the trigger plane that the sheet rests on."""
    if job.trigger_plane_mm is None or job.machine.setter is None:
        return job.machine
    setter = job.machine.setter.model_copy(update={"trigger_plane_mm": job.trigger_plane_mm})
    return job.machine.model_copy(update={"setter": setter})


def can_run(taking: str) -> bool:
    """Say whether readings are come by with a program on this machine."""
    return taking in _WAYS


def run(
    prepared: Prepared,
    watch: Watch | None = None,
    probe_length: float | None = None,
    longer: Mapping[int, float] | None = None,
) -> RunReport:
    """Run it on the stand-in; ``probe_length`` is how long a probe in the spindle really is, ``longer`` what tools
    changed.

    Raises: NonnaError (program fault, no trigger, machine stopped).
    """
    job = prepared.job
    held = prepared.held
    if held is not None and held.kind == "probe" and probe_length is not None:
        held = held.model_copy(update={"true_length_mm": probe_length})
    truth = with_tools_changed(make(job.machine, list(job.tools), job.seed, held), longer or {})
    mill = Mill(job.machine, truth, Tools(format="nonna-tools/1", tools=list(job.tools)), job.run)
    return run_program(prepared.text, prepared.plan, mill, watch, dialect=prepared.trial.dialect)


def readings(job: SheetWish, report: RunReport) -> list[Row]:
    """Return the results as a readings file has them, rounded to the display of the machine."""
    row = _WAYS[job.taking].row
    return [row(name, round(value, 4)) for name, value in report.results]


def setup_of(prepared: Prepared) -> dict[str, float]:
    """Return what the program decides of a sheet's setup: the feed a turn of a tool that turns."""
    touch = prepared.plan.touches[0]
    if not touch.rpm or touch.feeds is None:
        return {}
    tool = next(t for t in prepared.job.tools if t.subject == prepared.job.subject)
    return {"feed_per_rev_mm": touch.feeds.slow_mm_min / touch.rpm, "flutes": tool.edges}


def _held(job: SheetWish) -> Tool | None:
    """The master as a body in the spindle: truly within its certificate, nobody knows where."""
    long = job.master.number("length_mm")
    if not long:
        return None
    return Tool(
        number=999,
        kind="master",
        diameter_mm=job.master.number("diameter_mm") or 30.0,
        length_mm=long,
        length_uncertainty_mm=1.5 * job.master.number("U_length_mm", 0.0),  # a third of this is its standard deviation
    )


def _setter(job: SheetWish) -> tuple[TouchPlan, Tool | None]:
    held = _held(job)
    long, wide = (held.length_mm or 0.0, held.diameter_mm) if held else (0.0, 0.0)
    side = job.counts[1] if job.variant in ("", "master") and held else 0
    aside = (0.0, 0.0) if held else nose_aside(job.machine)
    return setter_calibration(job.machine, long, wide, job.counts[0], side, aside), held


def _repeatability(job: SheetWish) -> tuple[TouchPlan, Tool | None]:
    held = _held(job)
    long = (held.length_mm or 0.0) if held else 0.0
    words = f"Master about {long:.1f} in the spindle, put there by hand"
    return top_touches(job.machine, "Repeatability", words, long, job.counts[0]), held


def _latency(job: SheetWish) -> tuple[TouchPlan, Tool | None]:
    held = _held(job)
    long = (held.length_mm or 0.0) if held else 0.0
    words = f"Master about {long:.1f} in the spindle, put there by hand"
    feeds = {as_number(slot["feed_mm_min"]): 0 for slot in job.slots}
    for slot in job.slots:
        feeds[as_number(slot["feed_mm_min"])] += 1
    return top_touches_at(job.machine, "Trigger latency", words, long, feeds), held


def _probe(job: SheetWish) -> tuple[TouchPlan, Tool | None]:
    about = job.known.get("probe_about_mm", PROBE_ABOUT_MM)
    held = Tool(number=998, kind="probe", diameter_mm=6.0, length_mm=about)
    words = f"Probe about {about:.1f} in the spindle, spindle locked"
    return top_touches(job.machine, "Probe length", words, about, job.counts[0]), held


def _tool(job: SheetWish) -> tuple[TouchPlan, Tool | None]:
    tool = next((t for t in job.tools if t.subject == job.subject), None)
    if tool is None or tool.length_mm is None or job.trigger_plane_mm is None:
        raise NonnaError(
            "missing-field",
            "{words}: its length is not in the table; type an approximate one first.",
            words=job.subject.words,
        )
    wanted = JobTool.model_validate({**tool.model_dump(), "measure": ["length"]})
    plan = plan_job(_calibrated(job), [wanted], job.counts[0], ACCURACY_MM)
    if plan.tools[0].refused:
        raise NonnaError(
            "out-of-range",
            "{words} cannot be touched here: {refused}",
            "tools",
            words=job.subject.words,
            refused=plan.tools[0].refused,
        )
    return plan.program, None


def _position(_: str, value: float) -> Row:
    return {"position_mm": value}


@dataclass(frozen=True, slots=True)
class _Way:
    """One way to come by readings with a program: its touches and what hangs in the spindle, and a result as a
    reading.
    """

    plan: Callable[[SheetWish], tuple[TouchPlan, Tool | None]]
    row: Callable[[str, float], Row] = _position


_WAYS = {
    "setter-faces": _Way(_setter, lambda name, value: {"face": name, "position_mm": value}),
    "repeated-touch": _Way(_repeatability, lambda _, value: {"value_mm": value}),
    "probe-on-setter": _Way(_probe),
    "tool-on-setter": _Way(_tool),
    "touch-at-feeds": _Way(_latency, lambda name, value: {"feed_mm_min": float(name), "position_mm": value}),
}
