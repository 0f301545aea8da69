"""Why something is as it is: a code with its facts. What it is called in a sentence stands elsewhere (`wording`)."""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any, NamedTuple


class Reason(NamedTuple):
    """A reason by its code, with the numbers, names and times that belong to it."""

    code: str
    facts: Mapping[str, Any] = MappingProxyType({})
