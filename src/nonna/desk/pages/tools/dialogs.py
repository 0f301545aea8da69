"""Dialogs of the tray: a tool, a touch decided by hand, how the job is done, columns of a foreign table."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

from nonna.bench.form_fields import Asked
from nonna.bench.job.planning import look_at
from nonna.bench.job.program_texts import dialect_named, dialect_words
from nonna.bench.tables.csv_table import Columns, read_rows
from nonna.bench.tables.tool_texts import tool_of, tool_texts
from nonna.bench.tray.tool_identity import as_same
from nonna.bench.tray.tray import Tray
from nonna.desk.forms.form_dialog import FormDialog
from nonna.errors import NonnaError
from nonna.procedures.entry import parse_length, parse_number
from nonna.shop.cards.machine import Tool
from nonna.shop.texts.csv_rows import CsvTable
from nonna.stations.touched_tools import Method, Wish
from nonna.wording.lengths import Units

if TYPE_CHECKING:
    from PySide6.QtWidgets import QWidget

    from nonna.bench.session.tray.open_tray import OpenTray
    from nonna.bench.tables.columns_chosen import ForeignTable
    from nonna.bench.tray.tool_identity import Doubted

_METHODS: tuple[tuple[Method, str], ...] = (
    ("centre-static", "At its centre, standing still"),
    ("offset-rotating", "Off centre, turning backwards"),
    ("rim-rotating", "Under its rim, turning backwards"),
    ("edge-oriented", "Its edge over the pad, standing still"),
)


_WHICH = (("other", "another tool: nothing measured speaks for it"), ("same", "the same tool: its entry is corrected"))
_WHICH_HELP = "A tool exchanged or rebuilt is another one; a slip in its entry makes none."
MOST_ASKED_APART = 6

ROWS_SHOWN = 3  #: of a table, before it is taken


def tool_dialog(controller: OpenTray, number: int | None, units: Units, parent: QWidget) -> FormDialog:
    """Edit a tool, or add one. A length may be rough ("about 80") or left out."""
    old = controller.tray.tool(number) if number is not None else None
    asks = controller.tool_fields
    texts = tool_texts(old, units, asks)
    fields = [
        Asked(n, title, texts[n], asks.choices.get(n, ()), asks.behind.get(n, "").format(unit=units.symbol))
        for n, title in asks.titles.items()
    ]
    title = f"T{number}" if number is not None else "A new tool"
    dialog = FormDialog(title, "", fields, parent, action="Into the tray")

    def take(values: dict[str, str]) -> None:
        try:
            controller.change(controller.tray.with_tool(tool_of(values, old, units, asks), number))
        except NonnaError as error:
            dialog.refuse(error)
            return
        dialog.accept()

    dialog.submitted.connect(take)
    return dialog


def touch_dialog(controller: OpenTray, number: int, units: Units, parent: QWidget) -> FormDialog:
    """Decide by hand how a tool is touched; kept with its reason, never past what would crash."""
    old = controller.tray.wishes.get(number)
    tool = controller.tray.tool(number)
    plan = controller.plan_of(tool) if tool else None
    x, y = plan.choice.offset_mm if plan else (0.0, 0.0)
    side = old.side if old else f"{'+' if (x or y) >= 0 else '-'}{'y' if y else 'x'}"
    distance = old.distance_mm if old else abs(x or y)
    method = old.method if old else plan.choice.method if plan else "centre-static"
    fields = [
        Asked("method", "Touch", method, _METHODS),
        Asked("side", "Spindle stands on the side", side, tuple((s, s) for s in ("+x", "-x", "+y", "-y"))),
        Asked("distance", "Off centre", f"{distance * units.scale:.7g}", unit=units.symbol),
        Asked("reason", "Why", old.reason if old else ""),
    ]
    hint = (
        "Left without a reason, our own choice comes back."
        if old
        else "It is remembered for this tool, with its reason."
    )
    dialog = FormDialog(f"How T{number} is touched", hint, fields, parent, action="Decide")

    def take(values: dict[str, str]) -> None:
        wishes = {k: v for k, v in controller.tray.wishes.items() if k != number}
        if values["reason"]:
            try:
                away = parse_length(values["distance"] or "0", units)
            except NonnaError as error:
                dialog.refuse(NonnaError(error.code, error.message, "distance"))
                return
            wishes[number] = Wish(values["method"], values["side"], away, values["reason"])  # type: ignore[arg-type]
        elif not old:
            dialog.refuse(NonnaError("missing-field", "Say why, in a word or two: the next shift will ask.", "reason"))
            return
        changed = replace(controller.tray, wishes=wishes)
        refused = _refused(controller, changed, number)
        if refused and number in wishes:
            dialog.refuse(NonnaError("out-of-range", refused, "method"))
            return
        controller.change(changed)
        dialog.accept()

    dialog.submitted.connect(take)
    return dialog


def _refused(controller: OpenTray, tray: Tray, number: int) -> str:
    machine, results = controller.machine, controller.results
    if machine is None or results is None:
        return ""
    plan = look_at(tray, number, machine, results)
    return plan.choice.refused if plan is not None else ""


def exchanged_dialog(controller: OpenTray, doubts: Sequence[Doubted], parent: QWidget) -> FormDialog:
    """Ask whether tools that were changed are those their records are of; until it is said, no record speaks for
    them.
    """
    several = len(doubts) > MOST_ASKED_APART
    numbers = ", ".join(f"T{d.number}" for d in doubts)
    words = " ".join(d.words for d in doubts) if not several else f"{numbers} have records and were changed."
    names = {"all": f"All {len(doubts)} are"} if several else {str(d.number): f"T{d.number} is" for d in doubts}
    fields = [Asked(name, title, "other", _WHICH, help=_WHICH_HELP) for name, title in names.items()]
    title = "Another tool, or the same?"
    hint = f"{words} Another tool starts without records; the old ones stay in the book."
    dialog = FormDialog(title, hint, fields, parent, action="That is so")

    def take(values: dict[str, str]) -> None:
        same = [d for d in doubts if values["all" if several else str(d.number)] == "same"]
        controller.change(as_same(controller.tray, same), undo=False)
        others = ", ".join(f"T{d.number}" for d in doubts if d not in same)
        if others:
            controller.said.emit(f"{others}: another tool now, never measured. Ctrl+Z brings back what was.", "due")
        dialog.accept()

    dialog.submitted.connect(take)
    return dialog


def job_dialog(controller: OpenTray, units: Units, parent: QWidget) -> FormDialog:
    """How the job is done: touches, accuracy, dialect, after a failure, what it would take by hand."""
    tray = controller.tray
    fields = [
        Asked("touches", "Touches a tool", str(tray.touches)),
        Asked("accuracy", "Accuracy wanted", f"{tray.accuracy_mm * 1000:g}um"),
        Asked("dialect", "Programs", tray.dialect.key,
            dialect_words()),
        Asked("go_on", "After a failure", "yes" if tray.go_on else "no",
            (("yes", "go on with the rest"), ("no", "break off"))),
        Asked("by_hand", "By hand a tool takes", f"{controller.by_hand_minutes:g}", unit="min"),
    ]  # fmt: skip
    dialog = FormDialog("How the job is done", "", fields, parent)

    def take(values: dict[str, str]) -> None:
        try:
            touches = parse_number(values["touches"], "Touches a tool", "touches")
            if touches != int(touches) or not 1 <= touches <= 100:
                raise NonnaError("out-of-range", "Touches a tool: 1 to 100.", "touches")
            try:
                accuracy = parse_length(values["accuracy"], units)
            except NonnaError as error:
                raise NonnaError(error.code, error.message, "accuracy") from error
            if not 1e-4 <= accuracy <= 0.1:
                raise NonnaError("out-of-range", "Accuracy: between 0.1 µm and 0.1 mm. Write 2um or 0.002.", "accuracy")
            by_hand = parse_number(values["by_hand"], "By hand a tool takes", "by_hand")
            if by_hand <= 0.0:
                raise NonnaError("out-of-range", "By hand a tool takes: more than nothing.", "by_hand")
        except NonnaError as error:
            dialog.refuse(error)
            return
        controller.by_hand_minutes = by_hand
        controller.change(
            replace(
                tray,
                touches=int(touches),
                accuracy_mm=accuracy,
                dialect=dialect_named(values["dialect"]),
                go_on=values["go_on"] == "yes",
            )
        )
        dialog.accept()

    dialog.submitted.connect(take)
    return dialog


def columns_dialog(
    name: str, found: ForeignTable, take: Callable[[tuple[Tool, ...], Columns], None], parent: QWidget
) -> FormDialog:
    """Ask which column of rows (a CSV file, a spreadsheet's) holds what; the tools and the mapping are given away."""
    table, columns = found.table, found.columns
    heads = (("-1", "–"), *((str(i), h.strip() or f"column {i + 1}") for i, h in enumerate(table.headers)))
    titles = {
        "number": "Number", "diameter_mm": "Diameter", "length_mm": "Length", "kind": "Kind", "description": "Name",
        "corner_radius_mm": "Corner radius", "flutes": "Teeth",
    }  # fmt: skip
    fields = [Asked(n, title, str(columns.fields.get(n, -1)), heads) for n, title in titles.items()]
    fields += [
        Asked("inch", "Lengths are in", "yes" if columns.inch else "no", (("no", "millimetres"), ("yes", "inches"))),
        Asked(
            "comma",
            "Decimal sign",
            "yes" if columns.decimal_comma else "no",
            (("no", "point 0.5"), ("yes", "comma 0,5")),
        ),
    ]
    dialog = FormDialog(
        f"{name[:1].upper()}{name[1:]}: what holds what?",
        " ".join(found.questions),
        fields,
        parent,
        action="Take the tools",
    )
    others = {n: at for n, at in columns.fields.items() if n not in titles}

    def mapped(values: dict[str, str]) -> Columns:
        chosen = {n: int(values[n]) for n in titles if values[n] != "-1"}
        return Columns({**others, **chosen}, values["comma"] == "yes", values["inch"] == "yes")

    def submit(values: dict[str, str]) -> None:
        try:
            found = read_rows(table, mapped(values)).at_least_one()
        except NonnaError as error:
            dialog.refuse(error)
            return
        take(found.rows, mapped(values))
        dialog.accept()

    dialog.submitted.connect(submit)
    dialog.edited.connect(lambda values: dialog.say(_preview(table, mapped(values))))
    dialog.say(_preview(table, columns))
    return dialog


def _preview(table: CsvTable, columns: Columns) -> str:
    """Say what the first rows would become, and which are left out and why."""
    try:
        found = read_rows(table, columns)
    except NonnaError as error:
        return error.message
    said = [
        f"T{t.number} {t.kind} {t.diameter_mm:g} × {'?' if t.length_mm is None else f'{t.length_mm:g}'} mm"
        for t in found.rows[:ROWS_SHOWN]
    ]
    if len(found.rows) > ROWS_SHOWN:
        said.append(f"{len(found.rows)} tools in all")
    if found.wrong:
        said.append(f"left out: {' '.join(error.message for error in found.wrong[:ROWS_SHOWN])}")
    return "; ".join(said)
