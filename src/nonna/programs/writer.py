"""Writes a plan as program text from a template that a shop can edit."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from textwrap import wrap

import nonna
from nonna.programs.interpreter import TRIP
from nonna.programs.touches import TouchPlan

TEMPLATES = Path(__file__).parent / "templates"


@dataclass(frozen=True, slots=True)
class Settings:
    """What a shop may set about its programs."""

    modes: str = "G21 G90 G94 G17 G40 G49 G80"
    restore: str = "G21 G90 G94"
    settle_s: float = 0.5
    spin_up_s: float = 2.0
    guarded_feed: float = 1500.0
    skip_parameter: int = 5061  #: branch dialect: X of a skip move's position, Y and Z behind it


def write(
    plan: TouchPlan, settings: Settings | None = None, templates: Path = TEMPLATES, dialect: str = "rs274"
) -> str:
    """Return the program's text.

    Raises: jinja2.TemplateError (a shop's own template is wrong).
    """
    from jinja2 import Environment, FileSystemLoader, StrictUndefined

    environment = Environment(loader=FileSystemLoader(templates), undefined=StrictUndefined, autoescape=False)
    template = environment.get_template("program.j2")
    used = settings or Settings()
    first = used.skip_parameter if dialect == "branch" else TRIP
    return template.render(
        plan=replace(
            plan, title=_plain(plan.title), lines=tuple(part for line in plan.lines for part in wrap(_plain(line), 100))
        ),
        settings=used,
        version=nonna.__version__,
        offset={"x": 111, "y": 112, "z": 113},
        trip={axis: first + i for i, axis in enumerate("xyz")},
        dialect=dialect,
    )


def _plain(words: str) -> str:
    """Return words that may stand in a comment on any control: no brackets, plain letters."""
    return words.translate({ord("("): "[", ord(")"): "]", ord("×"): "x"}).encode("ascii", "replace").decode()
