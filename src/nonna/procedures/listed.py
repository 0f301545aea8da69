"""What the list of procedures says of one: enough to name and find it. Loads nothing slow."""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType
from typing import NamedTuple

from nonna.shop.links.subjects import Subject


class Listed(NamedTuple):
    """A procedure in the list."""

    name: str  #: its published name
    title: str  #: what people call it
    subject: Subject  #: what it is usually done on (ANY: on each tool)
    offers: Mapping[str, str] = MappingProxyType({})  #: names of its results by what they are to others (`offers`)
    measures: str = ""  #: what the tray wants of a tool when this sheet judges it, "" for none of that
    is_scatter: bool = False  #: whether its main result is a standard deviation: twice that is shown
    older_main: str = ""  #: its main result, where its older records may not hold it first
    package: str = ""  #: its folder, as the list found it
    kind: str = ""  #: the kind of station it belongs to alone, "" for all
