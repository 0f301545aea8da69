"""Writes a plan as program text from templates that a shop can edit: one writer for tray, sheets, pieces and
exports.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from functools import cache
from pathlib import Path
from textwrap import wrap

import nonna
from nonna.errors import NonnaError
from nonna.metrology.safe_feeds import Feeds
from nonna.programs.dialects.listing import USUAL, dialects
from nonna.programs.language.dialect import Dialect
from nonna.programs.writing.rendering import RefusedError, render
from nonna.programs.writing.template_child import render_apart
from nonna.programs.writing.touches import Touch, TouchPlan
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

    def write(self, plan: TouchPlan) -> str:
        """Return a program's text. Raises: NonnaError (a shop's own template is wrong)."""
        return self.write_all([plan])[0]

    def write_dry(self, plan: TouchPlan, raised_mm: float = RAISED_MM) -> str:
        """Return a dry run of a program: the same tools to the same places, so much higher, and nothing touched.

        Raises: NonnaError (a shop's own template is wrong).
        """
        context = self._context(plan) | {"raised": raised_mm}
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
        first = self.dialect.trigger_at
        scratch = SCRATCH
        if plan.first_scratch:
            scratch = {name: plan.first_scratch + i for i, name in enumerate(SCRATCH)}
        return {
            "plan": _plain_plan(plan),
            "settings": {**asdict(self.settings), "skip_parameter": first},
            "version": nonna.__version__,
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


def _plain_plan(plan: TouchPlan) -> dict[str, Plain]:
    """Return a plan as plain data; words of others can only ever be words in a comment."""
    return {
        "title": comment(plan.title)[:COMMENT_WIDTH],
        "lines": [part for line in plan.lines for part in wrap(comment(line), COMMENT_WIDTH)],
        "safe_z": float(plan.safe_z),
        "feeds": _plain_feeds(plan.feeds),
        "touches": [_plain_touch(touch) for touch in plan.touches],
        "labels": plan.first_label,
        "still_s": plan.still_s,
        "still_line": plan.still_line,
    }


def _plain_touch(touch: Touch) -> dict[str, Plain]:
    return {
        **asdict(touch),
        "name": comment(touch.name)[:COMMENT_WIDTH],
        "by_hand": comment(touch.by_hand)[:COMMENT_WIDTH],
        "turn_by_hand": comment(touch.turn_by_hand)[:COMMENT_WIDTH],
        "feeds": _plain_feeds(touch.feeds) if touch.feeds else None,
    }


def _plain_feeds(feeds: Feeds) -> dict[str, Plain]:
    return {**asdict(feeds), "again_mm": feeds.again_mm}


_NOT_IN_A_COMMENT = {ord("("): "[", ord(")"): "]", ord("×"): "x", ord("%"): None, ord(";"): ","}


def comment(words: str) -> str:
    """Return words that may stand in a comment on any control: one line, no brackets, plain letters."""
    plain = "".join(c if c.isprintable() else " " for c in words.translate(_NOT_IN_A_COMMENT))
    return " ".join(plain.encode("ascii", "replace").decode().split())
