"""What changed since things last agreed (``nonna-evidence/1``), as the diagnosis takes it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from nonna.shop.texts.strict_model import LARGEST, Number, Positive, Strict

What = Literal[
    "setter-by-master", "tool-on-setter", "probe-on-setter", "face-by-probe", "closure", "step-by-probe", "ring-radius",
    "ring-offset-x", "ring-offset-y", "lobing",
]  # fmt: skip
OF_TOOLS = ("tool-on-setter", "closure")
WITH_LENGTH = ("setter-by-master", "tool-on-setter", "probe-on-setter", "closure", "step-by-probe")

FINEST_MM = 1e-6  #: a nanometre: nothing here is better, and what claims so could not be reckoned with


class Observation(Strict):
    """One thing measured again: by how much it changed, and what that is good for."""

    what: What
    subject: int | None = Field(None, ge=1, le=1_000_000)  #: the tool, of what is measured on tools
    change_mm: Number
    u_mm: Annotated[float, Field(ge=FINEST_MM, le=LARGEST, allow_inf_nan=False)]
    length_mm: Number = 0.0  #: of the master, tool, probe or step
    probe_length_mm: Number = 0.0  #: of a closure

    @model_validator(mode="after")
    def _names_its_tool(self) -> Observation:
        if (self.what in OF_TOOLS) != (self.subject is not None):
            raise ValueError("subject: tool-on-setter and closure name their tool's number, the others none")
        return self


class Evidence(Strict):
    """What was seen, what happened before, and what looking again would cost."""

    format: Literal["nonna-evidence/1"] = "nonna-evidence/1"
    observations: list[Observation] = Field(min_length=1, max_length=200)
    events: list[str] = Field([], max_length=200)
    minutes: dict[What, Positive] = {}
