"""Writes a plan as program text from templates that a shop can edit: one writer for tray, sheets, pieces and exports."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from pathlib import Path
from textwrap import wrap
from typing import Any

import nonna
from nonna.metrology.errors import NonnaError
from nonna.programs.feeds import Feeds
from nonna.programs.interpreter import TRIP
from nonna.programs.rendering import RefusedError, render
from nonna.programs.template_child import render_apart
from nonna.programs.touches import Touch, TouchPlan
from nonna.shop.folder import ShopFolder, read_bytes

TEMPLATES = Path(__file__).parent / "templates"
DIALECTS = ("rs274", "branch")
WHOLE = "program.j2"
MOST_FILES, LONGEST_FILE = 30, 200_000
COMMENT_WIDTH = 100


@dataclass(frozen=True, slots=True)
class Settings:
    """What a shop may set about its programs."""

    modes: str = "G21 G90 G94 G17 G40 G49 G80"
    restore: str = "G21 G90 G94"
    settle_s: float = 0.5
    spin_up_s: float = 2.0
    guarded_feed: float = 1500.0
    skip_parameter: int = 5061  #: branch dialect: X of a skip move's position, Y and Z behind it


class TemplateFaultError(NonnaError):
    """A shop's own template cannot be used."""

    def __init__(self, refused: RefusedError) -> None:
        where = f"{refused.file}, line {refused.line}" if refused.line else refused.file
        super().__init__("wrong-format", f"The shop's template {where} cannot be used: {refused.words}.", where)
        self.line, self.words = refused.line, refused.words


@dataclass(frozen=True, slots=True)
class Writer:
    """Writes programs in one dialect from one folder of templates."""

    templates: Path = TEMPLATES
    dialect: str = "rs274"
    settings: Settings = field(default_factory=Settings)

    @property
    def branching(self) -> bool:
        """Whether the dialect has skip moves and jumps."""
        return self.dialect == "branch"

    def write(self, plan: TouchPlan) -> str:
        """Return a program's text. Raises: NonnaError (a shop's own template is wrong)."""
        return self.write_all([plan])[0]

    def write_all(self, plans: Sequence[TouchPlan]) -> list[str]:
        """Return the texts of several plans. Raises: NonnaError (a shop's own template is wrong)."""
        sources = _sources(self.templates)
        contexts = [self._context(plan) for plan in plans]
        try:
            if self.templates == TEMPLATES:  # our own need no process of their own
                return render(sources, WHOLE, contexts)
            return render_apart(sources, WHOLE, contexts)
        except RefusedError as error:
            raise TemplateFaultError(error) from error

    def _context(self, plan: TouchPlan) -> dict[str, Any]:
        first = self.settings.skip_parameter if self.branching else TRIP
        return {
            "plan": _plain_plan(plan),
            "settings": asdict(self.settings),
            "version": nonna.__version__,
            "offset": {"x": 111, "y": 112, "z": 113},
            "trip": {axis: first + i for i, axis in enumerate("xyz")},
            "dialect": self.dialect,
        }


def writer_of(folder: ShopFolder, dialect: str = "rs274") -> Writer:
    """Return the writer of a shop: with its own templates where it has some."""
    own = folder.root / "templates"
    return Writer(own if (own / WHOLE).exists() else TEMPLATES, dialect)


def write(
    plan: TouchPlan, settings: Settings | None = None, templates: Path = TEMPLATES, dialect: str = "rs274"
) -> str:
    """Return a program's text. Raises: NonnaError (a shop's own template is wrong)."""
    return Writer(templates, dialect, settings or Settings()).write(plan)


def _sources(folder: Path) -> Mapping[str, str]:
    """Return the templates of a folder by name; links that lead out of it are none. Raises: NonnaError."""
    home = folder.resolve()
    found = {}
    for path in sorted(folder.glob("*.j2"))[:MOST_FILES]:
        if path.resolve().parent != home:
            raise TemplateFaultError(RefusedError(path.name, 0, "it leads out of the folder of templates"))
        data = read_bytes(path)
        if len(data) > LONGEST_FILE:
            raise TemplateFaultError(RefusedError(path.name, 0, "it is longer than any template needs to be"))
        try:
            found[path.name] = data.decode()
        except UnicodeDecodeError as error:
            raise TemplateFaultError(RefusedError(path.name, 0, "it is not UTF-8 text")) from error
    return found


def _plain_plan(plan: TouchPlan) -> dict[str, Any]:
    """Return a plan as plain data; words of others can only ever be words in a comment."""
    return {
        "title": comment(plan.title)[:COMMENT_WIDTH],
        "lines": [part for line in plan.lines for part in wrap(comment(line), COMMENT_WIDTH)],
        "safe_z": float(plan.safe_z),
        "feeds": _plain_feeds(plan.feeds),
        "touches": [_plain_touch(touch) for touch in plan.touches],
    }


def _plain_touch(touch: Touch) -> dict[str, Any]:
    return {
        **asdict(touch),
        "name": comment(touch.name)[:COMMENT_WIDTH],
        "feeds": _plain_feeds(touch.feeds) if touch.feeds else None,
    }


def _plain_feeds(feeds: Feeds) -> dict[str, Any]:
    return {**asdict(feeds), "again_mm": feeds.again_mm}


_NOT_IN_A_COMMENT = {ord("("): "[", ord(")"): "]", ord("×"): "x", ord("%"): None, ord(";"): ","}


def comment(words: str) -> str:
    """Return words that may stand in a comment on any control: one line, no brackets, plain letters."""
    plain = "".join(c if c.isprintable() else " " for c in words.translate(_NOT_IN_A_COMMENT))
    return " ".join(plain.encode("ascii", "replace").decode().split())
