"""Text of strangers (templates, names, patterns) stays text: never code, blocks, paths or a machine that hangs."""

from functools import cache

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nonna.adapters.shop_files.shop_folder import ShopFolder
from nonna.adapters.shop_files.templates import lay_out, read_templates
from nonna.errors import NonnaError
from nonna.programs.dialects.listing import dialect_of
from nonna.programs.language.blocks import parse
from nonna.programs.writing.results import from_log
from nonna.programs.writing.writer import TEMPLATES, Writer, comment
from nonna.shop.cards.job import JobTool
from nonna.stations.mill.planning.plan import plan_job
from nonna.stations.mill.standin.rehearsing import rehearse
from nonna.stations.mill.standin.template_check import check
from tests.support.dialects import DIALECTS
from tests.support.plans import MACHINE, drill, planned, table

PLAN = planned([drill()])[0].program


@pytest.fixture
def mine(tmp_path):
    folder = tmp_path / "shop" / "templates"
    lay_out(folder)
    return folder


def with_line(folder, line):
    whole = (TEMPLATES / "program.j2").read_text()
    (folder / "program.j2").write_text(line + "\n" + whole)
    return Writer(read_templates(folder))


@pytest.mark.parametrize(
    "line",
    [
        "{{ cycler.__init__.__globals__.os.system('touch PWNED') }}",
        "{{ ''.__class__.__mro__[1].__subclasses__() }}",
        "{{ self.__init__.__globals__ }}",
        "{{ plan.__class__ }}",
        "{{ lipsum.__globals__['os'].popen('id').read() }}",
        "{{ settings.update({'modes': 'G91'}) }}",
        "{{ plan.touches.append(1) }}",
        "{% include '/etc/passwd' %}",
        "{% include '../masters.json' %}",
        "{% import 'os' as os %}",
        "{{ nothing }}",
        "{% for i in range(10000000) %}{% endfor %}",
        "{{ 1 / 0 }}",
    ],
)
def test_a_template_reaches_nothing_but_its_plan(mine, line, tmp_path):
    with pytest.raises(NonnaError, match="cannot be used") as caught:
        with_line(mine, line).write(PLAN)
    assert caught.value.code == "wrong-format" and "program.j2" in caught.value.where
    assert not list(tmp_path.rglob("PWNED"))
    assert any("cannot be used" in finding.words for finding in check(lambda: read_templates(mine), MACHINE))


@pytest.mark.parametrize(
    "line",
    [
        "{% macro m(n) %}{% for i in range(90000) %}{% for j in range(90000) %}{% endfor %}{% endfor %}{% endmacro "
        "%}{{ m(1) }}",
        "{{ 'x' * 999999999999 }}",
        "{% set a = 'x' * 1000000 %}{% set b = a * 1000 %}{% set c = b ~ b ~ b ~ b %}{{ c | length }}",
        "{{ 9 ** (9 ** (9 ** 9)) }}",
    ],
)
def test_a_template_comes_to_an_end(mine, line):
    with pytest.raises(
        NonnaError, match=r"cannot be used: (?:it takes too long|MemoryError|it reaches)"
    ):  # the other process is bounded
        with_line(mine, line).write(PLAN)


def test_templates_stay_in_their_folder(mine, tmp_path):
    (tmp_path / "outside.j2").write_text("secret")
    (mine / "link.j2").symlink_to(tmp_path / "outside.j2")
    with pytest.raises(NonnaError, match="leads out of the folder"):
        Writer(read_templates(mine)).write(PLAN)
    (mine / "link.j2").unlink()
    (mine / "program.j2").write_bytes(b"\xff\xfe")
    with pytest.raises(NonnaError, match="not UTF-8"):
        Writer(read_templates(mine)).write(PLAN)
    (mine / "program.j2").write_text("x" * 300_000)
    with pytest.raises(NonnaError, match="longer than"):
        Writer(read_templates(mine)).write(PLAN)


def test_a_shop_writes_with_its_own_templates_and_gets_the_same_text(mine, tmp_path):
    folder = ShopFolder(tmp_path / "shop")
    for dialect in DIALECTS:
        own = Writer(folder.templates(), dialect_of(dialect))
        assert own.own is not None and set(own.own) == {path.name for path in mine.glob("*.j2")}
        assert own.write(PLAN) == Writer(dialect=dialect_of(dialect)).write(PLAN)


NASTY = st.text(st.sampled_from("ab()[]%;#\n\r\t\v\x0b\x1c\x85\u2028G0X5 M3S9999é×"), max_size=80)


@cache
def sound_blocks():
    plan = plan_job(MACHINE, [JobTool.model_validate({**drill(), "measure": ["length"]})], 2, 0.005)
    return [line for line in Writer().write(plan.program).splitlines() if not line.startswith("(")]


@given(name=NASTY, words=NASTY)
def test_names_never_leave_their_comment(name, words):
    machine = MACHINE.model_copy(update={"name": name})
    tool = JobTool.model_validate({**drill(), "description": words, "measure": ["length"]})
    plan = plan_job(machine, [tool], 2, 0.005)
    text = Writer().write(plan.program)
    blocks = [line for line in text.splitlines() if not line.startswith("(")]
    assert blocks == sound_blocks()
    parse(text)
    assert rehearse(text, MACHINE, table(drill())).clean


@given(words=st.text(max_size=200))
def test_a_comment_is_one_plain_line(words):
    made = comment(words)
    assert made.isascii() and made.isprintable() and not set(made) & set("()%;\n\r")


def test_a_pattern_that_could_run_away_is_bounded():
    text = ("a" * 480 + "\n") * 400
    with pytest.raises(NonnaError) as caught:
        from_log(text, "{skip}a" * 9 + "b{tool}{z}")
    assert caught.value.code in ("too-large", "wrong-format")
    for bad in ("{tool}{z}" + "x" * 400, "{tool}{z}" + "{skip}" * 30, "{tool}{z}{wide}"):
        with pytest.raises(NonnaError):
            from_log("T1 Z2", bad)
