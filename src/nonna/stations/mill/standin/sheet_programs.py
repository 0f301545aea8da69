"""Turn what a sheet wants into a program, run it on the stand-in and give back plain readings."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass

from nonna.errors import NonnaError
from nonna.procedures.touching import Touching
from nonna.programs.writing.touches import TouchPlan
from nonna.shop.cards.job import JobTool
from nonna.shop.cards.machine import Machine, Tool, Tools
from nonna.shop.texts.given import Row, as_number
from nonna.standin.rehearsal import Trial
from nonna.standin.wishes import SheetWish, Watch
from nonna.stations.mill.planning.plan import plan_job
from nonna.stations.mill.planning.touches import nose_aside, setter_calibration, top_touches, top_touches_at
from nonna.stations.mill.standin.mill import Mill
from nonna.stations.mill.standin.program_run import RunReport, run_program
from nonna.stations.mill.standin.trial import tried
from nonna.stations.mill.standin.truth import make, with_tools_changed
from nonna.stations.touched_tools import ACCURACY_MM

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
    if job.touching is None:
        raise job.refused()
    plan, held = _tool(job) if job.touching.held == "tool" else _touched(job, job.touching)
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
    how = job.touching
    if how is None:
        return []
    rows: list[Row] = []
    for name, value in report.results:  # a touch bears the name of its face, or of its feed
        row: Row = {how.face: name} if how.face else {how.feed: float(name)} if how.feed else {}
        rows.append({**row, how.value: round(value, 4)})
    return rows


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


def _touched(job: SheetWish, how: Touching) -> tuple[TouchPlan, Tool | None]:
    """Return the touches of the setter that a sheet's slots stand for, and what hangs in the spindle."""
    if how.held == "probe":
        about = job.known.get("probe_about_mm", PROBE_ABOUT_MM)
        probe = Tool(number=998, kind="probe", diameter_mm=6.0, length_mm=about)
        words = f"Probe about {about:.1f} in the spindle, spindle locked"
        return top_touches(job.machine, how.title, words, about, len(job.slots)), probe
    held = _held(job)
    long, wide = (held.length_mm or 0.0, held.diameter_mm) if held else (0.0, 0.0)
    words = f"Master about {long:.1f} in the spindle, put there by hand"
    if how.feed:
        feeds = Counter(as_number(slot[how.feed]) for slot in job.slots)
        return top_touches_at(job.machine, how.title, words, long, feeds), held
    if not how.face:
        return top_touches(job.machine, how.title, words, long, len(job.slots)), held
    faces = Counter(str(slot[how.face]) for slot in job.slots)
    sides = max((count for face, count in faces.items() if face != "top"), default=0)
    aside = (0.0, 0.0) if held else nose_aside(job.machine)
    return setter_calibration(job.machine, long, wide, faces["top"], sides, aside), held


def _tool(job: SheetWish) -> tuple[TouchPlan, Tool | None]:
    tool = next((t for t in job.tools if t.subject == job.subject), None)
    if tool is None or tool.length_mm is None or job.trigger_plane_mm is None:
        raise NonnaError(
            "missing-field",
            "{words}: its length is not in the table; type an approximate one first.",
            words=job.subject.words,
        )
    wanted = JobTool.model_validate({**tool.model_dump(), "measure": ["length"]})
    plan = plan_job(_calibrated(job), [wanted], len(job.slots), ACCURACY_MM)
    if plan.tools[0].refused:
        raise NonnaError(
            "out-of-range",
            "{words} cannot be touched here: {refused}",
            "tools",
            words=job.subject.words,
            refused=plan.tools[0].refused,
        )
    return plan.program, None
