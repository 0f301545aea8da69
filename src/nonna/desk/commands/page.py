"""A page of the desk as data: its place, its keys, its help, and what makes it. Each folder of `pages/` has one."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Protocol

from nonna.folders import brought_by, folders_of

if TYPE_CHECKING:
    from nonna.bench.session.shop_session import ShopSession

HOME = "nonna.desk.pages"
Keys = tuple[tuple[str, str], ...]  #: keys with what they do


class PageHost(Protocol):
    """The window that a page's widget is made for."""

    @property
    def session(self) -> ShopSession:
        """What it shows."""

    def do(self, what: str) -> None:
        """Ask for a command."""


@dataclass(frozen=True, slots=True)
class Page:
    """One page."""

    key: str  #: its command's id, and its topic in the guide
    words: str  #: on the rail; "" for a page that is opened, not gone to
    shortcut: str = ""
    order: int = 100  #: from above on the rail
    go: str = ""  #: what going there is called in menu and palette
    help: str = ""
    own_keys: Mapping[str, Keys] = field(default_factory=dict)  #: by topic: a page may have one beneath it
    view: str = ""  #: ``module:function`` that makes its widget for a window


def pages() -> tuple[Page, ...]:
    """Return all of them, as they stand on the rail."""
    found = (brought_by(HOME, folder.name, "PAGE", Page) for folder in folders_of(HOME))
    return tuple(sorted(found, key=lambda page: (page.order, page.key)))


def on_rail() -> tuple[Page, ...]:
    """Return the pages that are gone to."""
    return tuple(page for page in pages() if page.words)
