"""Try a shop's own program templates on the stand-in before they are believed."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from nonna.errors import NonnaError
from nonna.programs.dialects.listing import dialects
from nonna.programs.writing.writer import TemplateFaultError, Writer
from nonna.shop.cards.job import JobTool
from nonna.shop.cards.machine import Machine, Tool, Tools
from nonna.stations.mill.planning.plan import plan_job
from nonna.stations.mill.planning.snippets import Purpose, snippet
from nonna.stations.mill.standin.rehearsing import rehearse
from nonna.stations.mill.standin.trial import tried_piece
from nonna.stations.tool_program import Finding
from nonna.stations.touched_tools import ToolPlan

_SAMPLES: tuple[dict[str, object], ...] = (
    {"kind": "drill", "diameter_mm": 8.0, "length_mm": 110.0, "point_angle_deg": 140.0, "measure": ["length"]},
    {"kind": "face-mill", "diameter_mm": 50.0, "length_mm": 60.0, "centre_cutting": False,
        "measure": ["length", "diameter"]},
    {
        "kind": "end-mill", "diameter_mm": 5.0, "length_mm": 70.0, "measure": ["breakage"], "reference_mm": 70.0,
        "tolerance_short_mm": 0.2, "tolerance_long_mm": 0.2,
    },
)  # fmt: skip


def check(templates: Callable[[], Mapping[str, str] | None], machine: Machine) -> tuple[Finding, ...]:
    """Write sample programs in every dialect from a set of templates and rehearse them at all lengths.

    Returns what is wrong, nothing when they are sound. Raises: NonnaError (the machine has no setter).
    """
    wanted = [
        JobTool.model_validate({"number": i + 1, "length_uncertainty_mm": 0.2, **row}) for i, row in enumerate(_SAMPLES)
    ]
    names = set(Tool.model_fields)
    held = Tools(format="nonna-tools/1", tools=[Tool.model_validate(t.model_dump(include=names)) for t in wanted])
    plan = plan_job(machine, wanted, 2, 0.005)
    found: list[Finding] = []
    for dialect in dialects():
        try:
            writer = Writer(templates(), dialect)
            text, *pieces = [
                writer.write(plan.program),
                *(snippet(t, machine, _purpose(t), writer) for t in plan.tools),
            ]
        except TemplateFaultError as error:
            found.append(Finding(dialect.key, error.line, f"the template cannot be used: {error.words}"))
            continue
        except NonnaError as error:
            found.append(Finding(dialect.key, 0, error.message))
            continue
        tried = rehearse(text, machine, held, sweep=True, dialect=writer.dialect)
        for piece in pieces if not tried.problems else ():
            inside = tried_piece(piece, machine, held, dialect=writer.dialect).rehearsal
            found += [
                Finding(dialect.key, p.line, f"inside a part program, {p.code}: {p.message}") for p in inside.problems
            ]
        found += [Finding(dialect.key, p.line, f"{p.code}: {p.message}") for p in tried.problems]
        missed = [t.tool.number for t in plan.tools if not t.refused and t.tool.number not in tried.results]
        if missed and not tried.problems:
            found.append(Finding(dialect.key, 0, f"it never touches T{missed[0]}, though it is asked to"))
    return tuple(found)


def _purpose(plan: ToolPlan) -> Purpose:
    return "check" if "breakage" in plan.tool.measure else "measure"
