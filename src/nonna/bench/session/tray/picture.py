"""What the tray says at one moment: words made from its state, without Qt."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from nonna.bench.job.breakage_checks import wear_of
from nonna.bench.job.unseen import not_looked_at
from nonna.bench.sheet.judging import LENGTHS
from nonna.bench.sheet.signing import is_rehearsal
from nonna.bench.tables.tool_table import ROUGH_MM
from nonna.bench.tray.tray import MEASURES
from nonna.procedures.listing import PROCEDURES
from nonna.procedures.telling import words_of
from nonna.stations.telling import reason_words
from nonna.wording.lengths import Units, feed, length, number, small

if TYPE_CHECKING:
    from nonna.bench.book.results_that_hold import HeldResults
    from nonna.bench.job.arriving import Arrivals
    from nonna.bench.job.planning import Answer
    from nonna.bench.sheet.judging import Judged
    from nonna.bench.tables.tool_table import ToolRow
    from nonna.bench.tray.doubtful_tools import Doubtful
    from nonna.bench.tray.tray import Tray
    from nonna.procedures.evaluation import Quantity
    from nonna.shop.cards.machine import Machine
    from nonna.shop.links.judge import LinkState
    from nonna.shop.links.subjects import Subject
    from nonna.stations.touched_tools import ToolPlan

ROUGH = "rough length"  #: noted of a tool whose length is only about so
_STATES = {
    "broken": "broken", "pulled-out": "pulled out", "missing": "missing: nothing triggered", "worn": "worn",
    "ok": "as it was",
}  # fmt: skip
_SHORT = {"length": "L", "diameter": "D", "breakage": "B", "teeth": "I"}


@dataclass(frozen=True, slots=True)
class Waiting:
    """A result that waits to be accepted, in what the row shows of it."""

    value_mm: float | None
    words: str
    bad: bool


@dataclass(frozen=True, slots=True)
class PanelState:
    """What the panel shows."""

    rows: tuple[tuple[str, str, str], ...] = ()  #: title, number, unit
    tone: str = "plain"
    headline: str = ""
    words: str = ""
    action: str = ""  #: on the main button, "" for none
    second: str = ""  #: on the button below it
    value: tuple[str, str, str] = ("", "", "")  #: title, number, doubt of the chosen tool's length
    progress: tuple[int, int, str] | None = None


def waiting(results: Sequence[Judged], units: Units) -> dict[Subject, Waiting]:
    """Return what each row shows of its results that wait: the length first, then what else was found."""
    found: dict[Subject, Waiting] = {}
    for subject in dict.fromkeys(r.subject for r in results):
        rows = [r for r in results if r.subject == subject]
        value = next((r.value_mm for r in rows if r.name in LENGTHS), None)
        bad = any(r.failed or r.verdict.value == "fail" or r.suspicion for r in rows)
        words = " · ".join(_result_words(r, units) for r in rows)
        found[subject] = Waiting(value, words, bad)
    return found


def _result_words(row: Judged, units: Units) -> str:
    if row.failed:
        return f"not measured: {row.failed}"
    measures = PROCEDURES[row.name].measures
    if measures == "breakage":
        return f"check: {_STATES.get(row.state, row.state)}"
    if measures == "teeth":
        return f"teeth within {small(row.value_mm or 0.0, units)}"
    if measures == "diameter":
        value = row.value_mm or 0.0
        return f"Ø {number(value * units.scale, units.decimals)}"
    if row.suspicion is not None:
        return words_of(row.suspicion, units)
    changes = "".join(
        f"{q.title.removesuffix(' changed by')} {small(q.value, units, sign=True)}, " for q in _changes(row)
    )
    return changes + {"pass": "to accept", "fail": "over its limit", "undecided": "left open by its doubt"}.get(
        row.verdict.value, "to accept"
    )


def _changes(row: Judged) -> tuple[Quantity, ...]:
    """Return what a tip's offsets changed by, where there was one before."""
    return tuple(q for q in row.evaluation.quantities if q.name.startswith("change_")) if row.evaluation else ()


def notes(
    tray: Tray, questions: Mapping[int, Doubtful], units: Units, one_by_one: bool = False
) -> Callable[[int], str]:
    """Return what says what stands under a tool's name beside its state: what is to be measured, what is questioned.

    Parameters: one_by_one, whether each has a sheet of its own and nothing is planned. Notes: it is put into words for
    the rows in sight alone.
    """
    tools = {tool.number: tool for tool in tray.tools}

    def note(number: int) -> str:
        tool, asked = tools.get(number), questions.get(number)
        if tool is None:
            return ""
        words = words_of(asked.words, units) if asked is not None else ""
        if one_by_one:
            return words
        parts = []
        if words:
            parts.append(words)
        elif tool.length_mm is not None and tool.length_uncertainty_mm >= ROUGH_MM:
            parts.append(ROUGH)
        elif tool.length_mm is None:
            parts.append("length not known")
        wanted = tray.measures_of(tool.number)
        if wanted != {"length"}:
            parts.append("+".join(_SHORT[m] for m in MEASURES if m in wanted))
        if not tool.repeats:
            parts.append("at every load")
        if tool.number in tray.wishes:
            parts.append("by hand")
        if tool.id and tool.id != f"T{tool.number}":
            parts.append(f"known as {tool.id}")
        return " · ".join(parts)

    return note


def wear_words(results: HeldResults, subject: Subject, units: Units) -> str:
    """Say how a tool wears from check to check and how many are left in it; "" before three checks."""
    answer = wear_of(results, subject)
    if answer is None:
        return ""
    found, tolerance = answer
    if found.left is None or not found.seen:
        return f"No wear to be seen in {found.checks} checks."
    least = f", at least {found.left_at_least:.0f}" if found.left_at_least is not None else ""
    return (
        f"Wears {small(-found.rate_mm, units)} a check: about {found.left:.0f} left{least}, until "
        f"{small(tolerance, units)}."
    )


def setter_notice(links: Sequence[LinkState]) -> str:
    """Say why what is measured now would not count, "" when it would."""
    setter = next((s for s in links if s.link.key == "setter"), None)
    if setter is None or setter.state.value in ("holds", "due"):
        return ""
    why = "was never calibrated" if setter.state.value == "never" else f"does not hold ({reason_words(setter.reason)})"
    return f"But the setter {why}: lengths would not count. F2: what to mend first."


def duration(seconds: float) -> str:
    """Say a time as one would: 48 s, 4 min 40 s."""
    whole = round(seconds)
    return f"{whole} s" if whole < 60 else f"{whole // 60} min {whole % 60} s" if whole % 60 else f"{whole // 60} min"


def measured_length(row: ToolRow | None, results: Sequence[Judged]) -> float | None:
    """Return a tool's measured length in mm: the one that waits, else the one that holds; None where there is
    neither.
    """
    if row is None:
        return None
    waiting = next((r.value_mm for r in results if r.subject == row.subject and r.name in LENGTHS), None)
    return waiting if waiting is not None else row.now if row.accepted else None


def value_of(row: ToolRow | None, results: Sequence[Judged], units: Units) -> tuple[str, str, str]:
    """Return title, number and doubt of a tool's length: the one that waits, the measured one, or the table's."""
    if row is None:
        return ("", "", "")
    result = next((r for r in results if r.subject == row.subject and r.name in LENGTHS), None)
    if result is not None and result.value_mm is not None:
        title, value, doubt = "Measured, to accept", result.value_mm, result.expanded_mm
    elif row.now is not None and row.accepted:
        title, value, doubt = f"Measured, record {row.record}", row.now, row.expanded
    elif row.was is not None:
        title, value, doubt = "In the table", row.was, None
    else:
        return ("Length", "–", "")
    return (f"{title}, {units.symbol}", length(value, units, unit=False), f"± {small(doubt, units)}" if doubt else "")


def total(answer: Answer | None, by_hand_minutes: float) -> str:
    """Say what the whole job takes, beside what it would take by hand."""
    if answer is None:
        return ""
    count = len(answer.plan.tools) - len(answer.refused)
    tools = "1 tool" if count == 1 else f"{count} tools"
    return (
        f"{tools}, {len(answer.rehearsal.contacts)} touches, {duration(answer.rehearsal.duration_s)}; "
        f"by hand about {by_hand_minutes * count:.0f} min · Ctrl+R opens it"
    )


def panel(
    tray: Tray, answer: Answer | None, plan: ToolPlan | None, machine: Machine | None, units: Units, *,
    planning: str | None, busy: bool, progress: tuple[int, int, str] | None, standin: bool = True, unwritten: int = 0,
    notice: str = "", value: tuple[str, str, str] = ("", "", ""),
    arriving: Arrivals | None = None, asking: bool = False, one_by_one: bool = False,
    offsets: tuple[tuple[str, str, str], ...] = (), by_program: bool = False, differing: int = 0,
) -> PanelState:  # fmt: skip
    """Work out what the panel shows.

    Parameters: planning, how far it has come, None where nothing is being planned; asking, whether nothing can be
    planned before the machine's questions are answered; one_by_one, whether each tool has a sheet of its own; offsets,
    rows of what that sheet found; by_program, whether a program fills those sheets too; differing, offsets that the
    table does not hold.
    """
    rows = (
        () if plan is None or plan.refused or machine is None or machine.setter is None else _rows(plan, machine, units)
    )
    if busy:
        words = f"{progress[2]}, {progress[0] + 1} of {progress[1]}" if progress else ""
        return PanelState(
            rows, "plain", "Measuring on the stand-in", words, "Stop   Esc", "", value, progress or (0, 1, "")
        )
    if arriving is not None:
        sound = len([r for r in tray.results if not _doubtful(r)])
        action = f"Accept {sound}   Enter" if sound else "Stop   F12"
        return PanelState(rows, "plain", f"Listening to {arriving.presetter}.", arriving.words(), action, "", value)
    if tray.results:
        return replace(_results(tray, offsets or rows, units), value=("", "", "") if offsets else value)
    if one_by_one and machine is not None:
        marked = len(tray.marked) if by_program else None
        state = _one_by_one(machine, marked, differing, standin=standin)
        return replace(state, rows=offsets, value=("", "", "") if offsets else value)
    if asking and machine is not None:
        head = f"Where {machine.name}'s setter stands is not known yet."
        words = (
            "A few questions, each with a drawing that shows where its answer is found. H measures by hand meanwhile."
        )
        return PanelState(rows, "due", head, words, "Answer them   Enter", "", value)
    if not tray.marked and unwritten:
        head = f"{unwritten} new {'length is' if unwritten == 1 else 'lengths are'} in the book."
        if machine is not None and machine.control is not None and machine.control.stores:
            words = "One program stores them in its own table and reads each back. Ctrl+S writes a table instead."
            return PanelState(rows, "good", head, words, "To the control   Enter", "", value)
        return PanelState(
            rows,
            "good",
            head,
            "Write the table for the machine: CSV, JSON or XML, by its ending.",
            "Table   Enter",
            "",
            value,
        )
    if not tray.marked:
        words = (
            "Space marks the tool under the cursor, Ctrl+A all that are shown. L, D, B and I choose what is measured."
        )
        return PanelState(rows, "plain", "No tool is marked.", words, "", "", value)
    if planning is not None or answer is None:
        head = "Planning and rehearsing…" if planning is not None else ""
        return PanelState(rows, "plain", head, planning or "", "", "", value)
    return replace(_planned(answer, rows, notice, machine, standin=standin), value=value)


def _one_by_one(machine: Machine, marked: int | None, differing: int, *, standin: bool) -> PanelState:
    """Each tool has a sheet of its own; marked ones are measured by one program, where the kind writes one (not
    None).
    """
    action, second = "Open it   Enter", ""
    if differing:
        head = f"{differing} measured offset{' is' if differing == 1 else 's are'} not what the table holds."
        words, second = "Ctrl+L shows old beside new and writes them.", "Old and new   Ctrl+L"
        tone = "due"
    else:
        head, words, tone = (
            f"{machine.name} measures tools one at a time.",
            "Its sheet says how, and draws what touches what.",
            "plain",
        )
        if marked is not None:
            head = "Each tip on its sheet, or several by program."
            words = "Its sheet says how, and draws what touches what." if marked else "Space marks tips for a program."
    if marked:
        second = f"Measure {marked} by program   F7" if standin else f"Program for {marked}   P"
        words += " A program touches the marked ones on the arm, one after the other."
    return PanelState((), tone, head, words, action, second)


def _rows(plan: ToolPlan, machine: Machine, units: Units) -> tuple[tuple[str, str, str], ...]:
    setter, per_minute = machine.setter, f"{units.symbol}/min"
    tip = (plan.tool.length_mm or 0.0) + (setter.trigger_plane_mm if setter else 0.0)
    rows = [
        ("Fast touch", feed(plan.feeds.fast_mm_min, units), per_minute),
        ("Slow touch", feed(plan.feeds.slow_mm_min, units), per_minute),
    ]  # fmt: skip
    if plan.choice.rpm:
        turn = small(plan.feeds.slow_mm_min / plan.choice.rpm, units).split()
        rows.append(("Feed a turn", turn[0], turn[1]))
    if plan.tool.length_mm is not None:
        for title, z in (("Air above", plan.approach_z), ("Gives up at", plan.search_to_z)):
            rows.append((title, number((z - tip) * units.scale, 1 if units.metric else 3, sign=True), units.symbol))
    whole = round(plan.seconds)
    rows.append(("Time", f"{whole // 60}:{whole % 60:02d}", "min"))
    return tuple(rows)


def _planned(
    answer: Answer, rows: tuple[tuple[str, str, str], ...], notice: str, machine: Machine | None, *, standin: bool
) -> PanelState:
    left_out = "".join(f" T{p.tool.number} is left out: {p.refused}" for p in answer.refused[:2])
    count = len(answer.plan.tools) - len(answer.refused)
    stops = [p for p in answer.rehearsal.problems if p.severity == "stop"]
    if stops:
        words = f"Block {stops[0].line}: {stops[0].message}.{left_out}"
        return PanelState(
            rows,
            "bad",
            f"Rehearsed: {len(stops)} {'stop' if len(stops) == 1 else 'stops'}.",
            words,
            "",
            "Program   Ctrl+R",
        )
    if not count:
        return PanelState(rows, "due", "Nothing can be measured here.", left_out.strip(), "", "")
    words = (
        f"Longest, shortest and stated length.{left_out} First run with rapid turned down, doors shut, a "
        "finger on feed hold."
    )
    if notice:
        words = f"{notice}{left_out}"
    touched = [p.tool for p in answer.plan.tools if not p.refused]
    words = " ".join(w for w in (words, not_looked_at(machine, touched)) if w)
    head = "Rehearsed: clean." if not answer.refused else f"Rehearsed: clean, {len(answer.refused)} left out."
    return PanelState(
        rows,
        "due" if answer.refused or notice else "good",
        head,
        words,
        f"Measure {count}   Enter" if standin else "Write it   Enter",
        "Program   Ctrl+R",
    )


def _doubtful(row: Judged) -> bool:
    return bool(row.failed) or row.verdict.value == "fail" or row.suspicion is not None


def _results(tray: Tray, rows: tuple[tuple[str, str, str], ...], units: Units) -> PanelState:
    bad = [r for r in tray.results if _doubtful(r)]
    good = [r for r in tray.results if r not in bad]
    first = f" {bad[0].subject.words}: {_result_words(bad[0], units)}" if bad else ""
    head = f"{len(good)} sound, {len(bad)} to look at." if bad else f"All {len(good)} are sound."
    todo = bad[0].evaluation.todo if bad and bad[0].evaluation is not None else None
    if todo is not None and bad[0].verdict.value == "fail":
        first += f". {words_of(todo, units)}"
    words = f"Nothing is in the book yet.{first}"
    if any(r.site is not None and r.session is not None and is_rehearsal(r.site, r.session) for r in good):
        words = "A rehearsal on the stand-in: nothing of it is signed in a real shop."
        return PanelState(rows, "due", head, words, "", "Ctrl+Z throws them away")
    action = f"Accept {len(good)}   Enter" if good else ""
    return PanelState(
        rows, "due" if bad else "good", head, words, action, "Ctrl+Z throws them away" if not good else ""
    )
