"""Writes a plan as program text from templates that a shop can edit: one writer for tray, sheets, pieces and
exports.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from functools import cache
from pathlib import Path
from secrets import token_hex
from textwrap import wrap

import nonna
from nonna.errors import NonnaError
from nonna.metrology.safe_feeds import Feeds
from nonna.programs.dialects.listing import USUAL, dialects
from nonna.programs.language.dialect import Dialect
from nonna.programs.language.phrases import filled
from nonna.programs.language.tool_calls import USUAL as USUAL_CALL
from nonna.programs.writing.printing import Printing
from nonna.programs.writing.rendering import RefusedError, render
from nonna.programs.writing.storing import OUTSIDE, store_steps
from nonna.programs.writing.template_child import render_apart
from nonna.programs.writing.touches import Touch, TouchPlan
from nonna.programs.writing.units import MM, Unit
from nonna.shop.texts.given import Plain

TEMPLATES = Path(__file__).parent / "templates"
WHOLE, DRY = "program.j2", "dry.j2"
RAISED_MM = 50.0  #: above the real one a dry run stays
COMMENT_WIDTH = 100
SCRATCH = {
    "fast": 101,
    "slow": 102,
    "back": 103,
    "safe": 104,
    "middle": 105,
    "again": 106,
    "x": 111,
    "y": 112,
    "z": 113,
}


@dataclass(frozen=True, slots=True)
class Settings:
    """What a shop may set about its programs."""

    modes: str = "G21 G90 G94 G17 G40 G49 G80"
    restore: str = "G21 G90 G94"
    settle_s: float = 0.5
    spin_up_s: float = 2.0
    guarded_feed: float = 1500.0
    orient_word: str = "R"  #: takes the angle beside M19


class TemplateFaultError(NonnaError):
    """A shop's own template cannot be used."""

    def __init__(self, refused: RefusedError) -> None:
        where = f"{refused.file}, line {refused.line}" if refused.line else refused.file
        super().__init__(
            "wrong-format",
            "The shop's template {place} cannot be used: {words}.",
            where,
            place=where,
            words=refused.words,
        )
        self.line, self.words = refused.line, refused.words


@dataclass(frozen=True, slots=True)
class Writer:
    """Writes programs in one dialect from one set of templates."""

    own: Mapping[str, str] | None = None  #: a shop's own templates by name; None: ours
    dialect: Dialect = USUAL
    settings: Settings = field(default_factory=Settings)
    run: str = ""  #: the name of each written program's run; "": another for each

    def write(self, plan: TouchPlan) -> str:
        """Return a program's text. Raises: NonnaError (a shop's own template is wrong)."""
        return self.write_all([plan])[0]

    def write_dry(self, plan: TouchPlan, raised_mm: float = RAISED_MM) -> str:
        """Return a dry run of a program: the same tools to the same places, so much higher, and nothing touched.

        Raises: NonnaError (a shop's own template is wrong).
        """
        context = self._context(plan) | {"raised": plan.unit.of(raised_mm)}
        try:
            if self.own is None or DRY not in self.own:
                return render(our_templates(), DRY, [context])[0]
            return render_apart(self.own, DRY, [context])[0]
        except RefusedError as error:
            raise TemplateFaultError(error) from error

    def write_all(self, plans: Sequence[TouchPlan]) -> list[str]:
        """Return the texts of several plans. Raises: NonnaError (a shop's own template is wrong)."""
        contexts = [self._context(plan) for plan in plans]
        try:
            if self.own is None:  # ours need no process of their own
                return render(our_templates(), WHOLE, contexts)
            return render_apart(self.own, WHOLE, contexts)
        except RefusedError as error:
            raise TemplateFaultError(error) from error

    def _context(self, plan: TouchPlan) -> dict[str, Plain]:
        first, unit = self.dialect.trigger_at, plan.unit
        scratch = SCRATCH
        if plan.first_scratch:
            scratch = {name: plan.first_scratch + i for i, name in enumerate(SCRATCH)}
        modes = {name: getattr(self.settings, name).replace(MM.word, unit.word) for name in ("modes", "restore")}
        feed = unit.of(self.settings.guarded_feed)
        return {
            "plan": _plain_plan(plan, self.run or token_hex(4).upper()),
            "settings": {
                **asdict(self.settings),
                **modes,
                "guarded_feed": round(feed, 2),
                "skip_parameter": first,
                "place": unit.place,
                "near": unit.near,
            },
            "version": nonna.__version__,
            "unit": unit.forms(),
            "offset": {axis: scratch[axis] for axis in "xyz"},
            "scratch": scratch,
            "trip": {axis: first + i for i, axis in enumerate("xyz")},
            "dialect": self.dialect.key,
        }


def write(
    plan: TouchPlan, settings: Settings | None = None, own: Mapping[str, str] | None = None, dialect: Dialect = USUAL
) -> str:
    """Return a program's text. Raises: NonnaError (a shop's own template is wrong)."""
    return Writer(own, dialect, settings or Settings()).write(plan)


def template_files() -> dict[str, Path]:
    """Return the files of our templates by the names that templates ask for them by; a dialect's bear its name."""
    files = {path.name: path for path in sorted(TEMPLATES.glob("*.j2"))}
    for each in dialects():
        files |= {f"{path.stem}.{each.key}.j2": path for path in sorted(each.templates.glob("*.j2"))}
    return files


@cache
def our_templates() -> Mapping[str, str]:
    """Return the texts of our templates by name."""
    return {name: path.read_text(encoding="utf-8") for name, path in template_files().items()}


def _plain_plan(plan: TouchPlan, run: str) -> dict[str, Plain]:
    """Return a plan as plain data in the control's units; words of others can only ever be words in a comment."""
    unit, printing = plan.unit, Printing.of(plan.control, run)
    touches = [_plain_touch(touch, plan, printing) for touch in plan.touches]
    return {
        "title": comment(plan.title)[:COMMENT_WIDTH],
        "lines": [part for line in plan.lines for part in wrap(comment(line), COMMENT_WIDTH)],
        "sheets": [comment(line) for line in plan.sheets] if printing.works else [],
        "safe_z": unit.of(float(plan.safe_z)),
        "feeds": _plain_feeds(plan.feeds, unit),
        "touches": touches,
        "labels": plan.first_label,
        "still_s": plan.still_s,
        "still_line": plan.still_line,
        "asked": [touch.stores.row.asked for touch in plan.touches if touch.stores is not None],
        "print_end": printing.end() if printing.count else "",
    }


_PLACES = ("x", "y", "z", "search_to", "least", "most")


def _plain_touch(touch: Touch, plan: TouchPlan, printing: Printing) -> dict[str, Plain]:
    unit, card = plan.unit, plan.control
    places = {name: None if (at := getattr(touch, name)) is None else unit.of(at) for name in _PLACES}
    printed = printing.works and bool(touch.what)
    prints = [
        printing.value(touch.of, touch.what, touch.axis, touch.first_parameter + i) if printed else ""
        for i in range(touch.count)
    ]
    steps: list[str] = []
    if touch.stores is not None and card is not None:
        found = range(touch.first_parameter, touch.first_parameter + touch.count)
        steps = list(store_steps(touch.stores, found, card, unit, printing, plan.first_label + OUTSIDE))
    call = (card.tool_call if card is not None else None) or USUAL_CALL
    return {
        **asdict(touch),
        **places,
        "name": comment(touch.name)[:COMMENT_WIDTH],
        "by_hand": comment(touch.by_hand)[:COMMENT_WIDTH],
        "turn_by_hand": comment(touch.turn_by_hand)[:COMMENT_WIDTH],
        "feeds": _plain_feeds(touch.feeds, unit) if touch.feeds else None,
        "prints": prints,
        "store_steps": steps,
        "stores": None,
        "call": filled(call, tool=touch.tool, offset=touch.tool) if touch.tool else "",
    }


def _plain_feeds(feeds: Feeds, unit: Unit) -> dict[str, Plain]:
    values: dict[str, float] = {**asdict(feeds), "again_mm": feeds.again_mm}
    return {name: unit.of(value) for name, value in values.items()}


_NOT_IN_A_COMMENT = {ord("("): "[", ord(")"): "]", ord("×"): "x", ord("%"): None, ord(";"): ","}


def comment(words: str) -> str:
    """Return words that may stand in a comment on any control: one line, no brackets, plain letters."""
    plain = "".join(c if c.isprintable() else " " for c in words.translate(_NOT_IN_A_COMMENT))
    return " ".join(plain.encode("ascii", "replace").decode().split())
