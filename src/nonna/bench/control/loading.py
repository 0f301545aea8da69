"""From results to the program that stores them: which number goes where, and the proof that the text does just that."""

from __future__ import annotations

import math
from collections.abc import Collection, Iterator, Mapping

from nonna.bench.control.results_file import ResultsFile, ResultToStore
from nonna.errors import NonnaError
from nonna.procedures.evaluation import FORMAT
from nonna.procedures.listing import PROCEDURES
from nonna.programs.language.blocks import parse
from nonna.programs.language.card_phrases import phrases_of
from nonna.programs.language.control_state import ControlState
from nonna.programs.language.errors import ProgramError
from nonna.programs.language.interpreter import run
from nonna.programs.language.tables import ControlTables
from nonna.programs.writing.load_plan import LoadPlan, LoadRow
from nonna.programs.writing.loading import write_load
from nonna.shop.cards.machine import Machine
from nonna.shop.texts.strict_model import LARGEST
from nonna.standin.still import StillMachine
from nonna.standin.stores import asked_by, asked_in

SOUND = ("pass", "none")  #: verdicts after which a number is stored; failed and undecided ones are not
WEAR = "wear"
NEAR = 0.002  #: of half a step: what the digits written leave


def load_plan(
    machine: Machine, tools: Collection[int], file: ResultsFile, run_name: str, *, put_back: bool = False
) -> LoadPlan:
    """Return what a file's results come to in a machine's tables.

    Parameters: tools, the numbers of the job: no other tool's row is touched; run_name, of the program's run.
    Raises: NonnaError (the machine has no card of its control; a result of another tool, of no tool, or twice; nothing
    is left to store).
    """
    card = machine.control
    if card is None or not card.stores:
        raise NonnaError(
            "missing-field", "The card of {name} does not say how anything is stored.", "machine.control.stores",
            name=machine.name
        )  # fmt: skip
    rows: list[LoadRow] = []
    places: list[str] = []
    by_hand: list[str] = []
    for i, each in enumerate(file.results):
        where = f"results[{i}]"
        verdict = _verdict(each, where)
        for row in _rows(each, where, tools):
            if verdict not in SOUND or each.result.word("state") == "stop":
                by_hand.append(f"{row.asked} is not stored, it is judged: {each.result.word('state') or verdict}")
            elif row.what not in card.stores:
                by_hand.append(f"{row.asked} {row.meant_mm:.4f} mm, the card does not say how it is stored")
            elif row.what.startswith(WEAR) and card.wear == "added":
                by_hand.append(f"{row.asked} {row.meant_mm:.4f} mm, this control adds a wear to its offset")
            elif put_back and row.what not in card.reads:
                by_hand.append(f"{row.asked}, the value before was not kept: the card does not say how it is read")
            else:
                rows.append(row)
                places.append(where)
    if not rows:
        words = "Nothing is left to store. {why}"
        raise NonnaError("out-of-range", words, "results", why="; ".join(by_hand[:3]))
    plan = LoadPlan(machine.name, card, tuple(rows), run_name, tuple(by_hand), put_back)
    double = plan.twice()
    if double is not None:
        words = "{place}: {asked} stands twice: which one is meant?"
        raise NonnaError("out-of-range", words, places[double], place=places[double], asked=rows[double].asked)
    return plan


def load_program(plan: LoadPlan, own: Mapping[str, str] | None = None, *, jumps: bool = False) -> str:
    """Return the text of a load program, proved: it stores what is planned, nothing else, and moves nothing.

    Parameters: own, a shop's own templates by name; jumps, whether the control's language has any.
    Raises: NonnaError (it cannot be written, or a card or template makes it do something else).
    """
    text = write_load(plan, own)
    _prove(plan, text, jumps=jumps)
    return text


def _verdict(each: ResultToStore, where: str) -> str:
    given = each.result
    if given.get("format") != FORMAT or given.get("procedure") not in PROCEDURES:
        words = "{place}.result: a result as `nonna evaluate` answers is wanted, with its procedure."
        raise NonnaError("wrong-format", words, f"{where}.result", place=where)
    verdict = given.get("verdict")
    if not isinstance(verdict, str):
        words = "{place}.result.verdict: this is missing."
        raise NonnaError("missing-field", words, f"{where}.result.verdict", place=where)
    return verdict


def _rows(each: ResultToStore, where: str, tools: Collection[int]) -> Iterator[LoadRow]:
    """Yield what of a result goes into a table. Raises: NonnaError naming the place."""
    listed = PROCEDURES[each.result.text("procedure")]
    if not listed.stored:
        words = "{place}: a {title} gives nothing that stands in a control's table."
        raise NonnaError("out-of-range", words, f"{where}.result", place=where, title=listed.title.lower())
    for name, (what, _, axis) in ((name, what.partition(" ")) for name, what in listed.stored.items()):
        values = each.result.get("results")
        found = values.get(name) if isinstance(values, Mapping) else None
        if found is None:
            continue
        place = f"{where}.result.results.{name}.value"
        value = found.get("value") if isinstance(found, Mapping) else None
        if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
            raise NonnaError("not-a-number", "{place}: a number is wanted.", place, place=place)
        if abs(value) > LARGEST:
            raise NonnaError("out-of-range", "{place}: no machine is that large.", place, place=place)
        yield _row(each, where, what, axis, float(value), tools)


def _row(each: ResultToStore, where: str, what: str, axis: str, value: float, tools: Collection[int]) -> LoadRow:
    if axis:  # a work offset: no tool's
        if each.offset is None:
            words = "{place}.offset: which work offset is it, 54 or another?"
            raise NonnaError("missing-field", words, f"{where}.offset", place=where)
        return LoadRow(what, value, None, each.offset, axis, each.record or 0)
    if not each.tool:
        raise NonnaError("missing-field", "{place}.tool: this is missing.", f"{where}.tool", place=where)
    if each.tool not in tools:
        words = "{place}.tool: T{number} is not among the tools of the job."
        raise NonnaError("out-of-range", words, f"{where}.tool", place=where, number=each.tool)
    return LoadRow(what, value, each.tool, each.offset, record=each.record or 0)


def _prove(plan: LoadPlan, text: str, *, jumps: bool) -> None:
    """Run a load program where nothing may move. Raises: NonnaError (it does anything but what was planned)."""
    kept = {plan.kept_in + i: 1000.0 + i for i in range(len(plan.rows))}  # told apart, to see which goes where
    state, tables = ControlState(), ControlTables.of(plan.card, {})
    state.use(tables, kept if plan.put_back else {})
    before = dict(state.parameters)
    try:
        run(parse(text, jumps=jumps, phrases=phrases_of(plan.card)), StillMachine(), state=state)
    except ProgramError as error:
        words = "The program would not only store: line {line}, {words}. Look at the card and the templates."
        raise NonnaError("out-of-range", words, "program", line=error.line, words=error.message) from error
    half = 0.5 * 10.0**-tables.decimals * (1.0 + NEAR)
    meant = [kept[plan.kept_in + i] if plan.put_back else plan.exact(row) for i, row in enumerate(plan.rows)]
    right = [each.cell for each in tables.stored] == [plan.cell(row) for row in plan.rows] and all(
        abs(each.new - value) <= half for each, value in zip(tables.stored, meant, strict=True)
    )
    header = asked_in(text)
    unasked = any(not any(way in header for way in asked_by(each)) for each in tables.stored)
    own = range(plan.kept_in, plan.read_into + len(plan.rows))
    cells = tables.parameters()
    strange = [n for n, v in state.parameters.items() if before.get(n) != v and n not in own and n not in cells]
    if not right or unasked or strange or len(header) != len(plan.rows):
        words = "The program would store something else than was planned. Look at the card and the templates of {name}."
        raise NonnaError("out-of-range", words, "program", name=plan.machine)
