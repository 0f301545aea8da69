"""What the list of procedures says of one: enough to name and find it. Loads nothing slow."""

from __future__ import annotations

from typing import NamedTuple

from nonna.shop.subjects import Subject


class Listed(NamedTuple):
    """A procedure in the list."""

    name: str  #: its published name
    title: str  #: what people call it
    subject: Subject  #: what it is usually done on (ANY: on each tool)
    package: str = ""  #: its folder, as the list found it
    kind: str = ""  #: the kind of station it belongs to alone, "" for all
