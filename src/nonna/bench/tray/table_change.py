"""What hands changed in a machine's tables: laid over what the files hold, and written into them with others'
changes.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, TypeVar

from nonna.bench.station.site import Site
from nonna.bench.station.touch_wishes import change_wishes
from nonna.bench.tray.tray import Tray
from nonna.errors import NonnaError
from nonna.shop.cards.machine import Tool, Tools
from nonna.shop.texts.given import Plain
from nonna.shop.texts.strict_model import checked

if TYPE_CHECKING:
    from nonna.stations.touched_tools import Wish

T = TypeVar("T")
Holder = TypeVar("Holder", Site, Tray)
Steps = Mapping[int, tuple[T | None, T | None]]  #: what was and what is, by number; None where there is none


class ChangedElsewhere(NonnaError):  # noqa: N818 - nothing is wrong: somebody else was there first
    """Another window changed the same tool: its entry stays."""

    def __init__(self, number: int) -> None:
        words = "T{number} was changed in another window meanwhile: its entry stays, yours was not written."
        super().__init__("out-of-range", words, f"T{number}", number=number)


@dataclass(frozen=True, slots=True)
class TableChange:
    """Tools, and touches decided by hand, that are not what they were."""

    tools: Steps[Tool]
    wishes: Steps[Wish]

    @classmethod
    def between(cls, before: Site | Tray, after: Site | Tray) -> TableChange:
        """Return what makes the one of the other."""
        return cls(_between(_by_number(before), _by_number(after)), _between(before.wishes, after.wishes))

    def __bool__(self) -> bool:
        """Whether anything changed."""
        return bool(self.tools or self.wishes)

    def followed_by(self, later: TableChange) -> TableChange:
        """Return both as one."""
        return TableChange(_followed(self.tools, later.tools), _followed(self.wishes, later.wishes))

    def laid_over(self, holder: Holder) -> Holder:
        """Return what holds the tables with this change; a tool that is there keeps its place, a new one comes last."""
        tools = tuple(_laid_over(_by_number(holder), self.tools).values())
        return replace(holder, tools=tools, wishes=_laid_over(holder.wishes, self.wishes))

    def write(self, site: Site) -> Site:
        """Write it into the machine's tables, and return the site with what they hold now; what others wrote stays.

        Raises: ChangedElsewhere (one of the tools is no longer what it was here: nothing of the tools is written),
        NonnaError (a file cannot be read or written).
        """
        if self.wishes:
            now = {number: after for number, (_, after) in self.wishes.items()}
            site = replace(site, wishes=change_wishes(site.folder, site.machine.name, now))
        if self.tools:
            fresh = {"format": "nonna-tools/1", "tools": []}
            document = site.folder.change(("tools", f"{site.key}.json"), self.merged, fresh)
            site = replace(site, tools=tuple(checked(Tools, document).tools))
        return site

    def merged(self, document: object) -> dict[str, Plain]:
        """Return a table as its file has it now, with this change laid over. Raises: ChangedElsewhere, NonnaError."""
        there = {tool.number: tool for tool in checked(Tools, document).tools}
        for number, steps in self.tools.items():
            if there.get(number) not in steps:
                raise ChangedElsewhere(number)
        tools = list(_laid_over(there, self.tools).values())
        return Tools(format="nonna-tools/1", tools=tools).model_dump(exclude_none=True)


def _by_number(holder: Site | Tray) -> dict[int, Tool]:
    return {tool.number: tool for tool in holder.tools}


def _between(before: Mapping[int, T], after: Mapping[int, T]) -> Steps[T]:
    numbers = {**before, **after}
    return {n: (before.get(n), after.get(n)) for n in numbers if before.get(n) != after.get(n)}


def _followed(first: Steps[T], later: Steps[T]) -> Steps[T]:
    both = {n: (first.get(n, steps)[0], later.get(n, steps)[1]) for n, steps in {**first, **later}.items()}
    return {n: (was, now) for n, (was, now) in both.items() if was != now}


def _laid_over(there: Mapping[int, T], steps: Steps[T]) -> dict[int, T]:
    made = {**there, **{number: now for number, (_, now) in steps.items()}}
    return {number: value for number, value in made.items() if value is not None}
