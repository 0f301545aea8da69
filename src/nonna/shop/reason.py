"""Why something is as it is: a code with its facts. What it is called in a sentence stands elsewhere (`wording`)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any


@dataclass(frozen=True, slots=True)
class Reason:
    """A reason by its code, with the numbers, names and times that belong to it."""

    code: str
    facts: Mapping[str, Any] = field(default_factory=dict)
