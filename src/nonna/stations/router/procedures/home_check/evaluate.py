"""Home check: one touch of a pin that never changes, after each start; how far did the home move?"""

from __future__ import annotations

import math

from nonna.errors import TooFewReadingsError
from nonna.metrology.doubt.decision import worst
from nonna.metrology.doubt.means import TOUCH, by_axis, enter_by_axis
from nonna.metrology.doubt.scatter import TouchScatter, scatter_by_axis
from nonna.metrology.doubt.uncertain import Influences, Uncertain
from nonna.procedures.evaluation import Check, Evaluation, Quantity, check_limit
from nonna.procedures.telling import saying
from nonna.stations.router.procedures.home_check.model import AXES, NAMES, HomeReadings, HomeSetup

said = saying("home-check")

SAME_DOF = 1e-3  #: a carried freedom is worked back from its k


def _pin(setup: HomeSetup, axis: str, touch: TouchScatter, influences: Influences) -> Uncertain:
    """Enter where the pin was found first.

    A doubt with the freedom of the repeatability in use rests on that very estimate, as the touches of today do: where
    it is too small, it is so in both, and two independent ones would cover 93 % for 95.
    """
    dof, source = getattr(setup, f"pin_{axis}_dof"), "first check of the pin"
    if touch.from_history and dof is not None and math.isclose(dof, touch.dof, rel_tol=SAME_DOF):
        value, u = getattr(setup, f"pin_{axis}_mm"), getattr(setup, f"pin_{axis}_u_mm")
        return influences.add(source, value, u, touch.dof, field=f"setup.pin_{axis}_mm", pool=TOUCH)
    return setup.enter(influences, f"pin_{axis}", source)


def evaluate(file: HomeReadings) -> Evaluation:
    """``moved = mean - pin`` on each axis; without a pin known, what is found becomes it."""
    setup, rule = file.setup, file.rule.rule()
    groups = {a: [r.position_mm for r in file.readings if r.axis == a] for a in AXES}
    groups = {a: values for a, values in groups.items() if values}
    if not groups:
        raise TooFewReadingsError("The pin was not touched yet.")
    along = by_axis(groups)
    touch = scatter_by_axis(along, **setup.history())
    influences = Influences()
    means = enter_by_axis(along, touch, influences)
    quantities: list[Quantity] = []
    checks: list[Check] = []
    moved: list[Quantity] = []
    for axis in groups:
        if getattr(setup, f"pin_{axis}_mm") is None:
            quantities.append(Quantity.of(f"pin_{axis}_mm", f"Pin in {NAMES[axis]}", influences.estimate(means[axis])))
            continue
        pin = _pin(setup, axis, touch.by_axis[axis], influences)
        estimate = influences.estimate(means[axis] - pin)
        moved.append(Quantity.of(f"moved_{axis}_mm", f"Home moved in {NAMES[axis]}", estimate))
        known = Quantity(f"pin_{axis}_mm", f"Pin in {NAMES[axis]}", getattr(setup, f"pin_{axis}_mm"))
        if hasattr(pin, "u_component"):
            known = Quantity.of(known.name, known.title, influences.estimate(pin))
        quantities += [moved[-1], known]
        if setup.limit_mm is not None:
            checks.append(
                check_limit(
                    f"Moved in {NAMES[axis]}", estimate.value, setup.limit_mm, rule, estimate, of=moved[-1].name
                )
            )
    most = max(moved, key=lambda q: abs(q.value), default=None)
    verdict = worst(c.verdict for c in checks)
    todo = {"pass": "go-on", "fail": "correct", "undecided": "open"}.get(str(verdict), "sign")
    headline = said("first")
    if most is not None and most.estimate is not None:
        headline = said("moved", moved=most.value, axis=most.title[-1], U=most.estimate.expanded)
    return Evaluation(file.procedure, tuple(quantities), rule, headline, said(todo), tuple(checks), touch.flags)
