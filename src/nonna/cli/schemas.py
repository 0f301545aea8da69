"""``nonna schema``: the published JSON Schemas, made from the same models that check the files."""

from __future__ import annotations

import argparse
import json

from pydantic import BaseModel

from nonna.errors import NonnaError
from nonna.procedures.catalogue import procedure
from nonna.procedures.listing import PROCEDURES

DIALECT = "https://json-schema.org/draft/2020-12/schema"


def schema(given: argparse.Namespace) -> int:
    """Print one schema, or the names there are. Raises: NonnaError."""
    names = sorted({*PROCEDURES, *_FORMATS})
    if not given.name:
        print(json.dumps({"schemas": names}))
        return 0
    print(json.dumps(make(given.name, names), indent=1))
    return 0


def make(name: str, names: list[str]) -> dict[str, object]:
    """Return a schema by the name of a procedure or a format. Raises: NonnaError ``unknown-procedure``."""
    key = _FORMATS.get(name, name)
    if key in PROCEDURES:
        body = procedure(key).model.model_json_schema()
    elif key == "readings":
        body = {"anyOf": [procedure(each).model.model_json_schema() for each in PROCEDURES]}
        for part in body["anyOf"]:
            body.setdefault("$defs", {}).update(part.pop("$defs", {}))
    elif key in _WORDS and key != "result":
        from nonna.bench.control import results_file
        from nonna.shop.cards import answers, control_tables, gear, job, machine, masters, rules
        from nonna.shop.links import evidence, series

        models: dict[str, type[BaseModel]] = {
            "machine": machine.Machine,
            "tools": machine.Tools,
            "masters": masters.Shelf,
            "shop": masters.Shop,
            "gear": gear.Gear,
            "rules": rules.Rules,
            "job": job.Job,
            "answers": answers.Answers,
            "series": series.Series,
            "evidence": evidence.Evidence,
            "control": control_tables.ControlTablesFile,
            "results": results_file.ResultsFile,
        }
        body = models[key].model_json_schema()
    elif key == "result":
        body = _RESULT
    else:
        raise NonnaError(
            "unknown-procedure",
            "There is no schema {value!r}; there are: {names}.",
            "name",
            value=name[:60],
            names=", ".join(names),
        )
    return {"$schema": DIALECT, **body}


_WORDS = (
    "readings",
    "result",
    "machine",
    "tools",
    "masters",
    "shop",
    "gear",
    "rules",
    "job",
    "answers",
    "series",
    "evidence",
    "control",
    "results",
)
_FORMATS = {
    **{word: word for word in _WORDS},
    **{f"nonna-{word}/1": word for word in _WORDS},
}
_QUANTITY = {
    "type": "object",
    "required": ["value", "unit"],
    "properties": {
        "value": {"type": "number"},
        "unit": {"type": "string"},
        "u": {"type": "number", "minimum": 0},
        "dof": {"type": ["number", "null"]},
        "k": {"type": "number"},
        "U": {"type": "number", "minimum": 0},
    },
    "additionalProperties": False,
}
_BUDGET_ROW = {
    "type": "object",
    "required": ["source", "u", "share"],
    "properties": {"source": {"type": "string"}, "u": {"type": "number"}, "share": {"type": "number"}},
}
_RESULT = {
    "title": "nonna-result/1",
    "type": "object",
    "required": ["format", "procedure", "results", "budget", "verdict", "rule", "flags", "advice"],
    "properties": {
        "format": {"const": "nonna-result/1"},
        "procedure": {"type": "string"},
        "results": {"type": "object", "additionalProperties": _QUANTITY},
        "budget": {"type": "object", "additionalProperties": {"type": "array", "items": _BUDGET_ROW}},
        "verdict": {"enum": ["pass", "fail", "undecided", "none"]},
        "rule": {"type": "object", "required": ["kind", "risk"]},
        "flags": {"type": "array", "items": {"type": "string"}},
        "advice": {"type": "array", "items": {"type": "string"}},
    },
}
