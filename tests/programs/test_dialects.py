"""A dialect is a folder: what it understands and its macros; everything else asks the list."""

import json
import re
from pathlib import Path

import pytest

import nonna.programs.dialects
from nonna.adapters.shop_files.templates import lay_out, read_templates
from nonna.cli.main import run
from nonna.errors import NonnaError
from nonna.programs.dialects.listing import USUAL, dialect_for, dialect_of, dialects
from nonna.programs.writing.writer import Writer, our_templates
from nonna.standin.world import World
from nonna.stations.lathe.rehearsal import rehearse
from nonna.stations.lathe.tip_program import tip_program
from nonna.stations.mill.planning.snippets import snippet
from nonna.stations.mill.standin.batch import measure_tools
from nonna.stations.mill.standin.template_check import check
from nonna.stations.mill.standin.trial import tried, tried_piece
from tests.support.lathe import machine as lathe
from tests.support.lathe import turret
from tests.support.plans import MACHINE, drill, planned, table
from tests.support.tool_programs import as_plan

TOYS = Path(__file__).parents[1] / "toys" / "dialects"


@pytest.fixture
def elsewhere():
    """Put the toy beside the real ones, as if it lay there."""
    nonna.programs.dialects.__path__.append(str(TOYS))
    our_templates.cache_clear()
    yield dialect_of("elsewhere")
    nonna.programs.dialects.__path__.remove(str(TOYS))
    our_templates.cache_clear()


def test_a_toy_dialect_plans_rehearses_measures_and_is_offered(elsewhere, tmp_path, capsys):
    assert next(each.key for each in dialects()) == USUAL.key and elsewhere in dialects()
    plan, text = planned([drill()], dialect="elsewhere")
    assert re.search(r"#1001 = \[#4103", text) and "M0 (NOTHING THERE)" in text
    writer = Writer(dialect=elsewhere)
    trial = tried(text, MACHINE, table(drill()), dialect=elsewhere)
    assert trial.rehearsal.problems == ()
    (found,) = measure_tools(as_plan(plan, trial, table(drill()).tools, writer), World.from_seed(5), 1)
    assert len(found.tops) == 2 and not found.failed
    piece = snippet(plan.tools[0], MACHINE, "measure", writer)
    assert tried_piece(piece, MACHINE, table(drill()), dialect=elsewhere).clean
    assert check(lambda: None, MACHINE) == ()
    lay_out(tmp_path / "own")
    assert (tmp_path / "own" / "search.elsewhere.j2").exists()
    assert Writer(read_templates(tmp_path / "own"), elsewhere).write(plan.program) == text
    job = {"format": "nonna-job/1", "machine": json.loads(MACHINE.model_dump_json(exclude_none=True)),
        "tools": [{**drill(), "measure": ["length"]}]}  # fmt: skip
    (tmp_path / "job.json").write_text(json.dumps(job))
    assert (
        run(["plan", str(tmp_path / "job.json"), "-o", str(tmp_path / "p.ngc"), "--dialect", "elsewhere"], lambda _: 9)
        == 0
    )
    assert "#4103" in (tmp_path / "p.ngc").read_text()


def test_a_lathe_writes_its_tips_in_it_too(elsewhere):
    made = tip_program(lathe(), turret().tools[:1], dialect=elsewhere)
    assert "#4101" in made.text and rehearse(made.text, lathe(), turret(), dialect=elsewhere).problems == ()


def test_what_is_not_there_is_refused_by_name(tmp_path, capsys):
    with pytest.raises(NonnaError, match=r"rs274.* are known, not 'klingon'"):
        dialect_of("klingon")
    assert run(["plan", str(tmp_path), "-o", str(tmp_path / "p"), "--dialect", "klingon"], lambda _: 9) == 2


def test_a_strange_program_is_read_in_the_dialect_whose_search_it_uses():
    assert dialect_for("G0 X1\nG38.2 Z-5 F10\n", USUAL) is USUAL
    assert dialect_for("g31 z-5 f10\n", USUAL).skips
