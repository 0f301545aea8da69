"""Whether a pocket still holds the tool its records are of: what an edit, a file or a new row may have exchanged."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass, replace

from nonna.bench.tray.tray import Tray
from nonna.procedures.wording import choice_words
from nonna.shop.cards.machine import Tool
from nonna.shop.links.history import Entry, Standing
from nonna.shop.links.subjects import Subject

_MADE_OF = {  # what a tool is made of, as it is called; a change of name, table length or pocket makes no other tool
    "kind": "kind", "diameter_mm": "diameter", "corner_radius_mm": "corner radius",
    "tip_diameter_mm": "flat or arbor screw",
    "point_angle_deg": "point", "flutes": "teeth", "holder": "holder", "hand": "hand", "edge": "edge",
    "material": "material",
}  # fmt: skip
_MAY_SAY_NOTHING = ("corner_radius_mm", "tip_diameter_mm", "point_angle_deg", "flutes", "holder", "edge")


@dataclass(frozen=True, slots=True)
class Doubted:
    """A tool that has records, and may be another one than they are of."""

    tool: Tool  #: as it was typed or read, still with the records' identity
    was: Tool | None  #: None: it was not in the tray
    record: Entry  #: the newest of its records

    @property
    def number(self) -> int:
        """Its pocket."""
        return self.tool.number

    @property
    def words(self) -> str:
        """What speaks for another tool, in one sentence."""
        since = f"record {self.record.number} of {self.record.signed_at:%Y-%m-%d}"
        if self.was is None:
            return f"T{self.number} is new in the tray, and the book knows a {self.tool.subject.words}: {since}."
        names = [_MADE_OF[name] for name in _differing(self.was, self.tool)]
        if names[0] in ("kind", "diameter"):
            return f"T{self.number} was {_called(self.was)} and now is {_called(self.tool)}; newest: {since}."
        what = " and ".join((", ".join(names[:-1]), names[-1]) if names[1:] else names)
        return f"T{self.number} is written with another {what}; newest: {since}."


def taken_apart(before: Tray, after: Tray, standing: Standing) -> tuple[Tray, tuple[Doubted, ...]]:
    """Return a changed tray in which no record speaks for a tool it may not be of, and the tools in doubt.

    Those are tools of their own, which no record is of, until somebody says that they are the same (`as_same`). A tool
    is followed by its identity, so one that only moves to another pocket is in no doubt; neither is one of which a
    field that may say nothing was filled in or emptied.
    """
    there = {tool.subject: tool for tool in before.tools}
    if before.tools == after.tools:
        return after, ()
    newest = {e.subject: e for e in standing if e.kind == "measurement"}
    doubts = tuple(
        Doubted(tool, was, newest[tool.subject])
        for tool in after.tools
        if tool.subject in newest and ((was := there.get(tool.subject)) is None or _differing(was, tool))
    )
    return _as_others(after, doubts, {entry.subject for entry in standing}) if doubts else after, doubts


def _as_others(tray: Tray, doubts: Sequence[Doubted], known: Collection[Subject]) -> Tray:
    taken = {tool.subject for tool in tray.tools} | set(known)
    tools = {tool.number: tool for tool in tray.tools}
    for each in doubts:
        made = _another(each, taken)
        taken.add(made.subject)
        tools[each.number] = made
    return replace(tray, tools=tuple(tools.values()))


def as_same(tray: Tray, doubts: Sequence[Doubted]) -> Tray:
    """Return the tray with these as the tools their records are of, corrected: as they were typed."""
    typed = {each.number: each.tool for each in doubts}
    return replace(tray, tools=tuple(typed.get(tool.number, tool) for tool in tray.tools))


def _another(doubt: Doubted, taken: Collection[Subject]) -> Tool:
    """Return the tool with an identity that nothing has; a length nobody typed anew was the old one's."""
    made = doubt.tool.of_its_own(taken)
    if doubt.was is None or made.length_mm != doubt.was.length_mm:
        return made
    return made.model_copy(update={"length_mm": None, "true_length_mm": None, "length_uncertainty_mm": 0.0})


def _differing(was: Tool, now: Tool) -> tuple[str, ...]:
    pairs = {name: (getattr(was, name), getattr(now, name)) for name in _MADE_OF}
    return tuple(n for n, (a, b) in pairs.items() if a != b and (n not in _MAY_SAY_NOTHING or (a and b)))


def _called(tool: Tool) -> str:
    return f"{choice_words(tool.kind).lower()} {tool.diameter_mm:g}"
