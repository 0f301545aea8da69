"""What a shop decided for itself: limits, how its verdicts are made, how long its links hold and who hears of it."""

from __future__ import annotations

from typing import Annotated, Literal, TypeAlias

from pydantic import Field

from nonna.metrology.doubt.decision import RuleKind
from nonna.shop.texts.strict_model import LARGEST, Positive, Strict

Limit: TypeAlias = Annotated[float, Field(gt=0.0, le=LARGEST, allow_inf_nan=False)] | None  #: None: no limit at all
LONGEST_DAYS = 3650


class LinkRule(Strict):
    """What a shop changed of one link of a station's loop; nothing said leaves it as its kind has it."""

    holds_days: int | None = Field(None, title="Holds", description="Days until it is due again.", ge=1,
        le=LONGEST_DAYS, json_schema_extra={"unit": "days"})  # fmt: skip
    minutes: Positive | None = Field(
        None,
        title="Takes",
        description="Minutes, until your own times are known from the book.",
        json_schema_extra={"unit": "min"},
    )
    fetch: Annotated[list[str], Field(max_length=20)] | None = Field(None, title="To be fetched",
        description="What the hands need for it, separated by semicolons.")  # fmt: skip
    told: str = Field("", title="Who is told", description="Who has to hear of it when it is due or broken.",
        max_length=120)  # fmt: skip


class Rules(Strict):
    """The file ``rules.json``; a shop without one keeps what the procedures and loops offer."""

    format: Literal["nonna-rules/1"] = "nonna-rules/1"
    limits: dict[str, dict[str, Limit]] = {}  #: by procedure and field of its setup
    rule: dict[str, RuleKind] = {}  #: by procedure
    links: dict[str, dict[str, LinkRule]] = {}  #: by station and link
