"""Programs that store results into a control's own tables: the old value kept, the new one written and read back."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from textwrap import wrap

import nonna
from nonna.programs.language.phrases import axis_of, number_words
from nonna.programs.language.tables import decimals_of
from nonna.programs.writing.load_plan import LoadPlan, LoadRow
from nonna.programs.writing.printing import Printing
from nonna.programs.writing.rendering import RefusedError, render
from nonna.programs.writing.template_child import render_apart
from nonna.programs.writing.writer import COMMENT_WIDTH, TemplateFaultError, comment, our_templates
from nonna.shop.texts.given import Plain

LOAD = "load.j2"
WITH_WEAR = ("length", "diameter", "offset-x", "offset-z")  #: what a control adds a wear to


def write_load(plan: LoadPlan, own: Mapping[str, str] | None = None) -> str:
    """Return the text of a load program, or of one that puts back what it kept.

    Parameters: own, a shop's own templates by name. Raises: NonnaError (the card lacks a line, the parameters do not
    do, a template is wrong).
    """
    plan.check()
    printing = Printing.of(plan.card, plan.run)
    rows: list[dict[str, Plain]] = [
        {"words": _words(plan, row, i), "lines": list(_lines(plan, row, i, printing))}
        for i, row in enumerate(plan.rows)
    ]
    title = f"{'PUT BACK' if plan.put_back else 'LOAD'} - {len(plan.rows)} numbers into the tables of {plan.machine}"
    context: dict[str, Plain] = {
        "version": nonna.__version__,
        "title": comment(title)[:COMMENT_WIDTH],
        "lines": [part for line in _header(plan, printing) for part in wrap(comment(line), COMMENT_WIDTH)],
        "asked": [plan.asked(row) for row in plan.rows],
        "units": "G20" if plan.card.units == "inch" else "G21",
        "rows": rows,
        "last": [printing.end()] if printing.works else [],
    }
    try:
        if own is None or LOAD not in own:
            return render(our_templates(), LOAD, [context])[0]
        return render_apart(own, LOAD, [context])[0]
    except RefusedError as error:
        raise TemplateFaultError(error) from error


def _header(plan: LoadPlan, printing: Printing) -> Iterator[str]:
    if plan.put_back:
        yield "Stores the values again that the load program kept; run it only behind that one, with nothing between"
    else:
        yield "Stores what was signed into the control's own tables, and reads it back. Nothing moves"
    yield f"Old values in #{plan.kept_in} to #{plan.kept_in + len(plan.rows) - 1}, read back into " + (
        f"#{plan.read_into} to #{plan.read_into + len(plan.rows) - 1}"
    )
    blind = [row.asked for row in plan.rows if row.what not in plan.card.reads]
    if blind:
        yield f"NOT READ BACK, the card does not say how: {', '.join(blind)}"
    if not printing.works:
        yield "Nothing is printed: read the parameters off the screen"
    if plan.card.wear == "apart" and not plan.put_back and any(row.what in WITH_WEAR for row in plan.rows):
        yield "A wear that stands beside stays as it is: if it was for the tool before, set it to 0"
    for line in plan.by_hand:
        yield f"LEFT OUT: {line}"


def _words(plan: LoadPlan, row: LoadRow, i: int) -> str:
    unit = "in" if plan.card.units == "inch" else "mm"
    shown = f"#{plan.kept_in + i}" if plan.put_back else f"{number_words(plan.raw(row), decimals_of(plan.card))} {unit}"
    return comment(f"{row.asked}: {shown}")[:COMMENT_WIDTH]


def _lines(plan: LoadPlan, row: LoadRow, i: int, printing: Printing) -> Iterator[str]:
    kept, back = plan.kept_in + i, plan.read_into + i
    reads = bool(plan.read_line(row, kept))
    axis = row.axis or axis_of(row.what)
    if reads and not plan.put_back:
        yield plan.read_line(row, kept)
    if reads and printing.works:
        yield printing.value(row.tool or 0, f"old-{row.what}", axis, kept)
    yield plan.stored_line(row, i)
    if reads:
        yield plan.read_line(row, back)
        if printing.works:
            yield printing.value(row.tool or 0, f"stored-{row.what}", axis, back)
