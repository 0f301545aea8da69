"""A lathe, its turret and its programs."""

import json
from dataclasses import replace

from nonna import demo
from nonna.bench.sheet.opening import prepared
from nonna.bench.sheet.signing import recorded
from nonna.bench.sheet.standin_jobs import job_of
from nonna.procedures.session import Session
from nonna.shop.cards.machine import Machine, Tools
from nonna.standin.world import World
from nonna.stations.lathe.rehearsal import rehearse
from nonna.stations.lathe.standin import measure
from nonna.stations.lathe.tip_program import tip_program
from tests.support.dialects import PLAIN_OR_BRANCHING

WILLOW = json.loads((demo.FOLDER / "machines" / "willow.json").read_text())


TURRET = json.loads((demo.FOLDER / "tools" / "willow.json").read_text())


TIPS = (1, 3, 5, 7, 9, 11)


RUNS = {"at": 0}


def machine(**more):
    return Machine.model_validate({**WILLOW, **more})


def turret(**by_number):
    """The turret with fields of some tools changed: ``T3={"edge": "outside"}``."""
    rows = [{**row, **by_number.get(f"T{row['number']}", {})} for row in TURRET["tools"]]
    return Tools.model_validate({**TURRET, "tools": rows})


def text_of(*numbers, branching=False, on=None, tools=None):
    held = tools or turret()
    wanted = [t for t in held.tools if t.number in (numbers or TIPS)]
    return tip_program(on or machine(), wanted, dialect=PLAIN_OR_BRANCHING[bool(branching)]).text


def codes(text, on=None, tools=None, branching=False):
    found = rehearse(text, on or machine(), tools or turret(), dialect=PLAIN_OR_BRANCHING[bool(branching)])
    return [p.code for p in found.problems if p.severity == "stop"], found


def measured(site, name, subject, *, seed=3, variant="", **setup):
    """One sheet on the stand-in, ready to be signed."""
    opening = prepared(site, name, subject, variant=variant)
    session = Session(name, opening.facts).with_setup(**setup)
    RUNS["at"] += 1
    found = measure(replace(job_of(site, session), run=RUNS["at"]), World.from_seed(seed))
    session = session.with_setup(**found.setup).take_all(found.readings, "stand-in", "2026-11-20T08:00:00+00:00")
    return session, opening, session.evaluate()


def signed(site, name, subject, **more):
    session, opening, result = measured(site, name, subject, **more)
    site.folder.book.sign([recorded(site, session, opening, result, "K. Amsel")])
    return result


RADIUS = machine(x_shows="radius", travel_mm={**WILLOW["travel_mm"], "x": [-85, 20]})


LONGER = {
    f"T{n}": {"offset_x_mm": next(t["offset_x_mm"] for t in TURRET["tools"] if t["number"] == n) - 24.0} for n in TIPS
}
