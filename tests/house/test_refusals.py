"""Refusals are codes with facts: the sentence is a template, and each of its places has its fact."""

import ast
import string
from pathlib import Path

import pytest

import nonna
from nonna.errors import NonnaError, TooFewReadingsError

AT = {  # where the template stands among the arguments, and the names that are no facts
    "NonnaError": (1, {"where"}), "ProgramError": (1, {"line", "column"}), "TooFewReadingsError": (0, {"where"}),
    "DegenerateGeometryError": (0, {"where"}), "NoRepeatabilityError": (0, {"where"}),
    "ReadsLikeTheLast": (0, {"then"}),
}  # fmt: skip


def refusals():
    """Every place that refuses something: its file and line, the template's node, the names of its facts."""
    for file in sorted(Path(nonna.__file__).parent.rglob("*.py")):
        tree = ast.parse(file.read_text("utf-8"))
        named = [a for a in ast.walk(tree) if isinstance(a, ast.Assign) and isinstance(a.targets[0], ast.Name)]
        for call in (n for n in ast.walk(tree) if isinstance(n, ast.Call) and isinstance(n.func, ast.Name)):
            at, own = AT.get(call.func.id, (None, set()))
            if at is not None and len(call.args) > at:
                node = call.args[at]
                if isinstance(node, ast.Name):
                    before = [a for a in named if a.targets[0].id == node.id and a.lineno < call.lineno]
                    node = max(before, key=lambda a: a.lineno).value if before else node
                yield f"{file.name}:{call.lineno}", node, {k.arg for k in call.keywords} - own


def test_each_fact_of_a_refusal_has_its_place_and_nothing_is_worded_where_it_is_refused():
    found = 0
    for place, node, facts in refusals():
        assert not isinstance(node, ast.JoinedStr), f"{place}: a fact is put into words here already"
        if isinstance(node, ast.Constant) and facts:
            names = {name for _, name, _, _ in string.Formatter().parse(node.value) if name is not None}
            assert names == facts, place
            found += 1
    assert found > 150


def test_a_refusal_keeps_its_facts_apart_from_its_words():
    error = NonnaError("out-of-range", "T{number} is {length:.3f} mm long.", "tools[2]", number=3, length=1.23456)
    assert (error.code, error.where, error.facts) == ("out-of-range", "tools[2]", {"number": 3, "length": 1.23456})
    assert str(error) == error.message == "T3 is 1.235 mm long."
    assert NonnaError("out-of-range", "Two braces {} stay.").message == "Two braces {} stay."
    stranger = NonnaError("out-of-range", "{name} is not known.", name="{error.__class__}")
    assert stranger.message == "{error.__class__} is not known."  # what comes from a file is never a template
    with pytest.raises(TooFewReadingsError, match="3 are needed"):
        raise TooFewReadingsError("{count} are needed.", count=3)
